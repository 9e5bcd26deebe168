"""What of a lane's movement lies in one line: ripple and teeth have one, noise has none."""

from __future__ import annotations

import numpy as np

from tracebench.core.samples import Samples


def strongest_line(samples: Samples) -> float:
    """Part of the power that lies in the strongest line of the spectrum and its two neighbours, 0 to 1; 1 of a rest."""
    power = np.abs(np.fft.rfft((samples - samples.mean()) * np.hanning(samples.size))) ** 2
    total = float(power.sum())
    return float(np.convolve(power, np.ones(3), mode="same").max()) / total if total > 0 else 1.0
