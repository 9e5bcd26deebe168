"""Whole diagnoses: who is suspected in a case, and cases drawn on the trainer. Nothing of them is kept."""
