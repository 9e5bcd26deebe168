"""Injector current, group."""

PLACE = 160
"""Where people see it in lists, from the lowest."""
