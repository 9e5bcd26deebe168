"""Charging."""

PLACE = 130
"""Where people see it in lists, from the lowest."""
