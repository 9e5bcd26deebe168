"""Coil primary voltage."""

PLACE = 210
"""Where people see it in lists, from the lowest."""
