"""Trace Bench: reference captures, exercises, grading and skill at reading traces."""
