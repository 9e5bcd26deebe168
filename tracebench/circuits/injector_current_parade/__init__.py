"""Injector currents, all in order."""

PLACE = 170
"""Where people see it in lists, from the lowest."""
