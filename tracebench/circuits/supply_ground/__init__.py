"""Supply and ground."""

PLACE = 120
"""Where people see it in lists, from the lowest."""
