"""Injector voltage."""

PLACE = 140
"""Where people see it in lists, from the lowest."""
