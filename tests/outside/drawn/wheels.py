"""Toothed wheels: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import numpy as np

from tests.outside.drawing import EXACT, TIMES, Drawn, adc, axis, pick, within


def crank(rng, kind):
    rate = pick(rng, 50000, 100000, 200000)
    teeth = pick(rng, 36, 60)
    gap = 2 if teeth == 60 else 1
    rpm = within(rng, 750, 1100)
    length = 1.0
    t = axis(rate, length)
    w = rpm / 60 * 2 * np.pi
    ph = w * t + 0.03 * np.sin(2 * 2 * np.pi * rpm / 60 * t) / 2  # two firings a turn
    th = (ph / (2 * np.pi)) % 1
    turn = np.floor(ph / (2 * np.pi))
    tooth = np.floor(th * teeth).astype(int)
    s = th * teeth - tooth
    height = within(rng, 1.5, 6)
    shape = -np.sin(2 * np.pi * s) * (1 - 0.25 * np.cos(2 * np.pi * s))  # not a sine
    amp = np.full(t.size, height)
    f = ()
    if kind == "tooth_damaged":
        amp = np.where(tooth == teeth // 3, 0.35 * height, amp)
        f = ("tooth_damaged",)
    if kind == "runout":
        amp = height * (1 + 0.35 * np.cos(2 * np.pi * th))
        f = ("runout",)
    y = np.where(tooth >= teeth - gap, 0, shape * amp)
    hall = kind.startswith("hall")
    if hall:
        y = np.where((tooth < teeth - gap) & (s < 0.5), 4.9, 0.15)
    if kind == "dropout":
        y = np.where((turn == 5) & (tooth >= 10) & (tooth < 14), 0, y)
        f = ("dropout",)
    lanes = dict(signal=adc(rng, y, 10 if hall else 20, 0.02 if hall else 0.01 * height, pick(rng, 10, 12)))
    reads = {"teeth_per_rev": (teeth, EXACT), "gap_teeth": (gap, EXACT), "rpm": (rpm, TIMES)}
    if kind == "sound":
        reads["amplitude_v"] = (np.ptp(shape) * height, 2 * height)
    if hall:
        reads |= {"level_low_v": (0.15, 4.75), "level_high_v": (4.9, 4.75)}
    return Drawn("crank-position", kind, rate, lanes, f, reads)


def wheel(rng, kind):
    rate = pick(rng, 5000, 20000, 50000)
    teeth = int(rng.integers(40, 52))
    length = 8
    t = np.arange(length * rate) / rate
    rps = within(rng, 1.0, 1.6)
    ph = rps * t * (1 - 0.02 * t)  # turns
    th = ph % 1
    tooth = np.floor(th * teeth).astype(int)
    s = th * teeth - tooth
    height = within(rng, 0.3, 0.8)
    amp = np.full(t.size, height)
    f = ()
    if kind == "tooth_damaged":
        amp = np.where(tooth == 7, 0.3 * height, amp)
        f = ("tooth_damaged",)
    y = -np.sin(2 * np.pi * s) * amp
    if kind == "dropout":
        y = np.where((np.floor(ph) == 3) & (tooth >= 10) & (tooth < 16), 0, y)
        f = ("dropout",)
    lanes = dict(signal=adc(rng, y, 2, 0.012 * height, 12))
    return Drawn(
        "wheel-speed",
        kind,
        rate,
        lanes,
        f,
        {"tooth_hz": (teeth * rps * 0.84, "1%")},
        {"teeth": str(teeth)},
    )


KINDS = {
    crank: ("sound", "hall", "tooth_damaged", "runout", "dropout"),
    wheel: ("sound", "tooth_damaged", "dropout"),
}
