"""Injector current."""

PLACE = 150
"""Where people see it in lists, from the lowest."""
