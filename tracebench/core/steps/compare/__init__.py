"""Holding a reading against something: a limit, a reference, what was before, or the other cylinders."""
