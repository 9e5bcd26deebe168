"""Ignition circuits: coil current, coil voltage, secondary voltage, and a switching module on the bench."""
