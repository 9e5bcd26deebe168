"""Shared detectors: samples in, numbers with units out. No circuit is named here."""
