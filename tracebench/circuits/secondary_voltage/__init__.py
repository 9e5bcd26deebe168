"""Secondary voltage."""

PLACE = 220
"""Where people see it in lists, from the lowest."""
