"""Simulated circuits, one module each."""
