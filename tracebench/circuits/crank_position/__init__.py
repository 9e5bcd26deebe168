"""Crank position."""

PLACE = 90
"""Where people see it in lists, from the lowest."""
