"""Measuring of manifold pressure: phases, and what is read in them."""
