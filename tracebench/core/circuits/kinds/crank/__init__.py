"""Measuring of crank and cam signals: teeth, the gap, and what departs from an even wheel."""
