"""A wheel of teeth that passes a sensor: what any circuit that has one measures with."""
