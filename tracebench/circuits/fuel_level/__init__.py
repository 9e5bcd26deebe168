"""Fuel level sender."""

PLACE = 115
"""Where people see it in lists, from the lowest."""
