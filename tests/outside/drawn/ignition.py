"""Coils, secondary, switching modules: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import math

import numpy as np

from tests.outside.drawing import TIMES, Drawn, adc, axis, pick, within
from tests.outside.drawn.row import FIRED, ORDER, in_order


def coil_current(rng, kind):
    rate = pick(rng, 200000, 500000)
    cyc = within(rng, 0.13, 0.16)
    length = 1.0
    t = axis(rate, length)
    y = np.zeros(t.size)
    s = np.zeros(t.size)
    bad = int(rng.integers(4))
    dwell = within(rng, 2.6, 3.4) * 1e-3
    ampere = within(rng, 6.5, 8.5)
    ra = within(rng, 0.25, 0.4)
    for j, at in in_order(length - 0.01, cyc):
        a = int((at - 0.001) * rate)
        b = int((at + 0.006) * rate)
        u = t[a:b] - at
        d = dwell
        ring = ra
        top = ampere
        hit = j == bad
        if hit and kind == "short_dwell":
            d = 0.62 * dwell
            top = ampere * 0.64
        if hit and kind == "low_peak":
            top = 0.6 * ampere
        g = top * (1 - np.exp(-np.clip(u, 0, None) / (2.2 * d))) / (1 - math.exp(-1 / 2.2))
        if hit and kind == "shorted_winding":
            g = top * (1 - np.exp(-np.clip(u, 0, None) / (0.02 * d)))
        if not (hit and kind == "shorted_winding"):
            g = (
                g + ring * np.exp(-np.clip(u, 0, None) / 1.2e-4) * np.sin(2 * np.pi * 14e3 * np.clip(u, 0, None))
                if not (hit and kind == "turn_on_abnormal")
                else g
            )
        g = np.where((u >= 0) & (u < d), g, 0)
        if not (hit and kind == "missing_ramp"):
            y[a:b] += g
        if j == 0:
            s[(t > at - 0.0003) & (t < at + 0.002)] = 4.9
    ff = () if kind == "sound" else (kind,)
    reads = {"dwell_ms": (1000 * dwell, TIMES), "peak_a": (ampere, ampere)} if kind == "sound" else {}
    return Drawn(
        "coil-primary-current",
        kind,
        rate,
        dict(current=adc(rng, y, 20, 0.02, 14), sync=adc(rng, s, 10, 0.02, 12)),
        ff,
        reads,
        ORDER,
        cylinder=FIRED[bad] if ff else None,
    )


def coil_voltage(rng, kind):
    rate = pick(rng, 500000, 1000000)
    per = within(rng, 0.03, 0.045)
    length = 0.6
    t = axis(rate, length)
    bat = within(rng, 13.6, 14.4)
    dwell_v = within(rng, 0.4, 1.0)
    dwell = within(rng, 2.6, 3.6) * 1e-3
    kick = within(rng, 290, 390)
    bv = within(rng, 35, 50)
    bms = within(rng, 1.1, 1.7) * 1e-3
    y = np.full(t.size, bat)
    at = 0.01
    if kind == "weak_driver":
        dwell_v = within(rng, 2.4, 3.2)
    if kind == "low_kick":
        kick = within(rng, 120, 170)
    if kind == "short_burn":
        bms = 0.45e-3
    if kind == "long_burn":
        bms = 2.7e-3
    while at + 0.012 < length:
        a = int(at * rate)
        b = int((at + 0.011) * rate)
        u = t[a:b] - at - dwell
        g = np.where(u < 0, dwell_v, bat)
        k = (kick - bv) * np.exp(-(((u - 1.5e-5) / 9e-6) ** 2))
        burn = np.where(
            (u > 1.2e-5) & (u < bms),
            bv + 6 * (u / bms) ** 2 + 8 * np.exp(-np.clip(u, 0, None) / 6e-5) * np.cos(2 * np.pi * 45e3 * u),
            0,
        )
        if kind == "no_burn":
            burn = np.where(
                u > 1.2e-5, bat + 90 * np.exp(-np.clip(u, 0, None) / 2.2e-4) * np.cos(2 * np.pi * 7e3 * u), 0
            )
        ro = (
            np.where(
                u >= bms,
                bat
                + (bv + 6 - bat)
                * np.exp(-np.clip(u - bms, 0, None) / 3.2e-4)
                * np.cos(2 * np.pi * 3.6e3 * np.clip(u - bms, 0, None)),
                0,
            )
            if kind != "no_rings"
            else np.where(u >= bms, bat + (bv - bat) * np.exp(-np.clip(u - bms, 0, None) / 9e-5), 0)
        )
        g = np.where(u >= 0, burn if kind == "no_burn" else burn + ro, g)
        g = np.where(u >= 0, np.maximum(g, k) if kind != "no_burn" else g + k, g)
        y[a:b] = g
        at += per
    ff = () if kind == "sound" else (kind,)
    reads = {"supply_v": (bat, bat), "dwell_ms": (1000 * dwell, TIMES)}
    if kind == "sound":
        reads |= {"burn_ms": (1000 * bms, "5%")}
    return Drawn(
        "coil-primary-voltage",
        kind,
        rate,
        dict(control=adc(rng, y, 500, 0.3, 14)),
        ff,
        reads,
    )


def secondary(rng, kind):
    rate = pick(rng, 500000, 1000000)
    cyc = within(rng, 0.13, 0.15)
    length = 0.9
    t = axis(rate, length)
    y = np.zeros(t.size)
    s = np.zeros(t.size)
    bad = int(rng.integers(4))
    fk = within(rng, 8, 11)
    bk = within(rng, 1.3, 1.9)
    bm = within(rng, 1.1, 1.6) * 1e-3
    sign = pick(rng, 1, -1)
    ring_s = within(rng, 4.5e-4, 7e-4)
    for j, at in in_order(length - 0.01, cyc):
        hit = j == bad
        a = int((at - 0.004) * rate) if at > 0.004 else 0
        b = int((at + 0.008) * rate)
        u = t[a:b] - at
        line_kv, burn_kv, burn_s, h, rings = fk + 0.6 * ((j * 7) % 3 - 1), bk, bm, 0, True
        if hit and kind == "high_firing":
            line_kv = fk + 9
        if hit and kind == "low_firing":
            line_kv = 2.6
        if hit and kind == "short_burn":
            burn_s = 0.4e-3
        if hit and kind == "burn_hash":
            h = 0.35
        if hit and kind == "no_rings":
            rings = False
        dwl = np.where(
            (u > -0.003) & (u < 0),
            -0.25 * np.exp(-np.clip(u + 0.003, 0, None) / 2e-4) * np.cos(2 * np.pi * 9e3 * (u + 0.003)),
            0,
        )
        line = line_kv * np.exp(-(((u - 6e-6) / 5e-6) ** 2))
        burn = np.where(
            (u > 1e-5) & (u < burn_s),
            burn_kv * (1 + 0.25 * (u / burn_s) ** 3) + 0.4 * burn_kv * np.exp(-np.clip(u, 0, None) / 4e-5),
            0,
        ) + np.where((u > 1e-4) & (u < burn_s - 5e-5), h * burn_kv * rng.normal(0, 0.6, u.size), 0)
        ring = (
            np.where(
                u >= burn_s,
                0.6
                * burn_kv
                * np.exp(-np.clip(u - burn_s, 0, None) / ring_s)
                * np.cos(2 * np.pi * 4e3 * (u - burn_s) + 0.5),
                0,
            )
            if rings
            else np.where(u >= burn_s, 0.9 * burn_kv * np.exp(-np.clip(u - burn_s, 0, None) / 7e-5), 0)
        )
        if hit and kind == "no_burn":
            burn = np.where(
                u > 1e-5, 0.8 * line_kv * np.exp(-np.clip(u, 0, None) / 1.5e-4) * np.cos(2 * np.pi * 6e3 * u), 0
            )
            ring = 0
            line_kv = fk + 11
            line = line_kv * np.exp(-(((u - 6e-6) / 5e-6) ** 2))
        y[a:b] += sign * (dwl + np.maximum(line, 0) * 1.0 + burn + ring)
        if j == 0:
            s[(t > at - 0.0005) & (t < at + 0.002)] = 4.9
    ff = () if kind == "sound" else (kind,)
    reads = {"burn_ms": (1000 * bm, "5%"), "cycle_ms": (1000 * cyc, TIMES)} if kind == "sound" else {}
    return Drawn(
        "secondary-voltage",
        kind,
        rate,
        dict(secondary=adc(rng, y, 40, 0.03, 14), sync=adc(rng, s, 10, 0.02, 12)),
        ff,
        reads,
        ORDER,
        cylinder=FIRED[bad] if ff else None,
    )


def igniter(rng, kind):
    rate = pick(rng, 10000, 20000, 50000)
    t = axis(rate, 8)
    tr = np.zeros(t.size)
    o = np.full(t.size, 12.3)
    at = 0.4
    low = within(rng, 5, 9) * 1e-3
    n = 0
    while at < 7.4:
        d = within(rng, 0.08, 0.5)
        tr[(t > at) & (t < at + d)] = 4.9
        w = low if kind != "unstable_width" else low * within(rng, 0.3, 1.7)
        if not (kind == "misses" and n % 4 == 2) and kind != "no_switching":
            o[(t > at + 0.001) & (t < at + 0.001 + w)] = 0.35
        at += d + within(rng, 0.2, 0.5)
        n += 1
    ff = () if kind == "sound" else (kind,)
    return Drawn(
        "igniter-bench",
        kind,
        rate,
        dict(trigger=adc(rng, tr, 10, 0.02, 12), output=adc(rng, o, 20, 0.03, 12)),
        ff,
        {"output_low_ms": (1000 * low, TIMES)} if kind == "sound" else {},
        # A cold module on the bench says nothing of the hot one.
        calls=("inconclusive",) if kind == "sound" else ("faulty",),
    )


KINDS = {
    coil_current: ("sound", "short_dwell", "low_peak", "shorted_winding", "turn_on_abnormal", "missing_ramp"),
    coil_voltage: ("sound", "weak_driver", "low_kick", "short_burn", "long_burn", "no_burn", "no_rings"),
    secondary: ("sound", "high_firing", "low_firing", "short_burn", "burn_hash", "no_rings", "no_burn"),
    igniter: ("sound", "unstable_width", "misses", "no_switching"),
}
