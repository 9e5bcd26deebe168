"""Throttle position."""

PLACE = 10
"""Where people see it in lists, from the lowest."""
