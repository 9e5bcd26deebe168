"""The demo: an invented evening class half-way through its course, made by the trainer with fixed seeds."""
