"""What drawings of repeated events share: order, instants, a winding's current."""

from __future__ import annotations

import itertools
import math

import numpy as np

from tests.outside.drawing import axis

ORDER = {"cylinders": "4", "firing_order": "1-3-4-2"}
FIRED = (1, 3, 4, 2)


def in_order(length, cycle):
    """Place in the firing order and instant of each firing, from 20 ms on."""
    at = 0.02
    for k in itertools.count():
        if at >= length:
            return
        yield k % 4, at
        at += cycle / 4


def inj_i(t, feed, ohm, henry, on, pintle, dip, stuck=False, fall=3e-4):
    """current of one injector from t=0: RL rise with a back-EMF pulse at the needle's lift."""
    tau = henry / ohm
    full = feed / ohm
    y = full * (1 - np.exp(-np.clip(t, 0, None) / tau))
    if not stuck:
        x = (t - pintle) / 2.2e-4
        y = y - dip * np.exp(-0.5 * x * x)
    end = full * (1 - math.exp(-on / tau))
    return np.where(t < 0, 0, np.where(t < on, y, end * np.exp(-np.clip(t - on, 0, None) / fall)))


def repeated(rate, length, period, first, f, jit=0, rng=None):
    t = axis(rate, length)
    y = np.zeros(t.size)
    n = 0
    at = first
    while at < length:
        a = int(max(0, (at - 0.002) * rate))
        b = min(t.size, int((at + period * 0.95) * rate))
        y[a:b] += f(t[a:b] - at, n)
        n += 1
        at += period
    return y, n
