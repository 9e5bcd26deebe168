"""Coil primary current."""

PLACE = 200
"""Where people see it in lists, from the lowest."""
