"""Rail pressure."""

PLACE = 80
"""Where people see it in lists, from the lowest."""
