"""Airflow, voltage."""

PLACE = 40
"""Where people see it in lists, from the lowest."""
