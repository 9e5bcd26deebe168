"""Throttle and pedal, swept by hand: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import numpy as np

from tests.outside.drawing import EXACT, FROM_10_TO_90, TIMES, Drawn, path, pick, volts, within


def throttle(rng, kind):
    rate = pick(rng, 500, 1000, 2000, 10000)
    c = within(rng, 0.55, 0.92)
    o = within(rng, 4.05, 4.45)
    n = int(rng.integers(2, 5))
    if kind == "low_open":
        o = within(rng, 2.9, 3.3)
    if kind == "high_closed":
        c = within(rng, 1.15, 1.5)
    if kind == "low_closed":
        c = within(rng, 0.15, 0.3)
    pts = [(0, c)]
    t = within(rng, 0.8, 2)
    pts.append((t, c))
    ups = []
    downs = []
    for _ in range(n):
        d = within(rng, 6.5, 9)
        ups.append(d * FROM_10_TO_90)
        t += d
        pts.append((t, o))
        t += within(rng, 0.8, 1.8)
        pts.append((t, o))
        d = within(rng, 6.5, 9)
        downs.append(d * FROM_10_TO_90)
        t += d
        pts.append((t, c))
        t += within(rng, 0.9, 1.8)
        pts.append((t, c))
    t, x = path(rate, pts)
    travel = (x - c) / (o - c)
    if kind in ("worn", "spike"):
        place = within(rng, 0.08, 0.28)
        half = within(rng, 0.004, 0.008)
        depth = within(rng, 0.6, 1.6) * (1 if kind == "spike" else -1)
        if kind == "worn":
            depth = max(depth, -c * 0.8)
        x = x + depth * np.exp(-(((travel - place) / half) ** 4))
    lanes = {"signal": volts(rng, x)}
    if rng.random() < 0.5:
        lanes["reference"] = volts(rng, np.full(x.size, within(rng, 4.95, 5.05)))
    reads = {"closed_v": (c, o - c), "open_v": (o, o - c), "sweeps_count": (n, EXACT)}
    if kind != "worn" and kind != "spike":
        reads |= {"opening_s": (max(ups), TIMES), "closing_s": (max(downs), TIMES)}
    f = {
        "worn": ("dropout",),
        "spike": ("spike",),
        "low_open": ("low_open",),
        "high_closed": ("high_closed",),
        "low_closed": ("low_closed",),
    }.get(kind, ())
    return Drawn("throttle-position", kind, rate, lanes, f, reads)


def pedal(rng, kind):
    rate = pick(rng, 500, 1000, 5000)
    r1 = within(rng, 0.7, 0.85)
    f1 = within(rng, 3.6, 4.1)
    pts = [(0, 0)]
    t = within(rng, 0.8, 1.5)
    pts.append((t, 0))
    for _ in range(int(rng.integers(1, 4))):
        t += within(rng, 2.5, 5)
        pts.append((t, 1))
        t += within(rng, 0.8, 1.5)
        pts.append((t, 1))
        t += within(rng, 2.5, 5)
        pts.append((t, 0))
        t += within(rng, 0.8, 1.5)
        pts.append((t, 0))
    t, x = path(rate, pts)
    a = r1 + (f1 - r1) * x
    b = a / 2
    ref1 = np.full(x.size, within(rng, 4.95, 5.03))
    ref2 = np.full(x.size, within(rng, 4.95, 5.03))
    g = np.full(x.size, within(rng, 0.0, 0.03))
    mid = np.argmax(x > 0.55) / rate
    w = (t > mid) & (t < mid + within(rng, 0.25, 0.8))
    f = ()
    if kind == "track_lost":
        b = np.where(w, 0.01, b)
        f = ("track_lost",)
    if kind == "reference_lost":
        a = np.where(w, 0.02, a)
        ref1 = np.where(w, 0.03, ref1)
        f = ("reference_lost",)
    if kind == "tracks_disagree":
        b = b + 0.35 * np.sin(np.pi * x) ** 2
        f = ("tracks_disagree",)
    if kind == "ground_lifted":
        g = np.full(x.size, within(rng, 0.25, 0.5))
        a = a + g * (1 - a / 5)
        b = b + g * (1 - b / 5)
        f = ("ground_lifted",)
    lanes = dict(
        track1=volts(rng, a),
        track2=volts(rng, b),
        reference1=volts(rng, ref1),
        reference2=volts(rng, ref2),
        ground=volts(rng, g, 0.002),
    )
    reads = (
        {}
        if kind in ("ground_lifted", "tracks_disagree")
        else {
            "track1_released_v": (r1, f1 - r1),
            "track1_full_v": (f1, f1 - r1),
            "track2_released_v": (r1 / 2, (f1 - r1) / 2),
            "track2_full_v": (f1 / 2, (f1 - r1) / 2),
            "ratio": (2.0, TIMES),
        }
    )
    return Drawn("pedal-position", kind, rate, lanes, f, reads)


KINDS = {
    throttle: ("sound", "worn", "spike", "low_open", "high_closed", "low_closed"),
    pedal: ("sound", "track_lost", "reference_lost", "tracks_disagree", "ground_lifted"),
}
