"""Pedal position."""

PLACE = 20
"""Where people see it in lists, from the lowest."""
