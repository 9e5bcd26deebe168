"""Switching module, bench."""

PLACE = 230
"""Where people see it in lists, from the lowest."""
