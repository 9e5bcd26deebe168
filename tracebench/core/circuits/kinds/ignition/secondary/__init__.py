"""Measuring of the secondary: firings, the engine's state at each, and what is judged of them."""
