"""Injector, piezo."""

PLACE = 190
"""Where people see it in lists, from the lowest."""
