"""A folder for each circuit, as in tracebench/circuits; its `facts.py` is what tests that go over all know of it."""
