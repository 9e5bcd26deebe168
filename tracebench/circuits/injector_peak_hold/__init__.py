"""Injector, peak and hold."""

PLACE = 180
"""Where people see it in lists, from the lowest."""
