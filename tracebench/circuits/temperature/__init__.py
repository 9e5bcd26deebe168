"""Temperature sensor."""

PLACE = 110
"""Where people see it in lists, from the lowest."""
