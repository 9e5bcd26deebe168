"""Manifold pressure."""

PLACE = 30
"""Where people see it in lists, from the lowest."""
