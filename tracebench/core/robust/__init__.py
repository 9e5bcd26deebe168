"""Robust statistics of rows of samples: noise, codes of the recorder, running figures. Knows no capture."""
