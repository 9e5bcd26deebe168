"""Oxygen, wideband."""

PLACE = 70
"""Where people see it in lists, from the lowest."""
