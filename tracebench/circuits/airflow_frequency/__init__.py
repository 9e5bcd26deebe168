"""Airflow, frequency."""

PLACE = 50
"""Where people see it in lists, from the lowest."""
