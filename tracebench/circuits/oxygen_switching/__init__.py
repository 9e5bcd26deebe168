"""Oxygen, switching."""

PLACE = 60
"""Where people see it in lists, from the lowest."""
