"""Wheel speed."""

PLACE = 100
"""Where people see it in lists, from the lowest."""
