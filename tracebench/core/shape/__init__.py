"""Shapes of traces: elastic comparison, the nearest of many, and the corridor that sound ones stay within."""
