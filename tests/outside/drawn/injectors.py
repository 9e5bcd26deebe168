"""Injectors, one by one and together: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import math

import numpy as np

from tests.outside.drawing import EXACT, TIMES, Drawn, adc, axis, pick, within
from tests.outside.drawn.row import FIRED, ORDER, in_order, inj_i, repeated


def injector_voltage(rng, kind):
    rate = pick(rng, 100000, 200000, 500000)
    per = within(rng, 0.13, 0.17)
    on = within(rng, 2.2, 3.8) * 1e-3
    bat = within(rng, 13.6, 14.4)
    kick = within(rng, 55, 80)
    clamp = rng.random() < 0.5
    onv = within(rng, 0.15, 0.4)
    bump = within(rng, 0.7, 1.4) * 1e-3
    if kind == "low_kick":
        kick = within(rng, 22, 35)
    if kind == "weak_ground":
        onv = within(rng, 1.6, 2.6)

    def f(t, n):
        y = np.full(t.size, bat)
        d = (t >= 0) & (t < on)
        if kind == "missing_pulses" and n in (4, 9):
            return y
        y = np.where(d, onv + 0.05 * t / on, y)
        u = t - on
        k = np.where(u >= 0, (kick - bat) * np.exp(-np.clip(u, 0, None) / 2.6e-4), 0)
        if clamp:
            k = np.minimum(
                np.where(u >= 0, (1.5 * (kick - bat)) * np.exp(-np.clip(u, 0, None) / 2.6e-4), 0), kick - bat
            )
        k = np.where(u >= 0, k * (1 - np.exp(-np.clip(u, 0, None) / 4e-6)), 0)
        b = np.where((u > 0), 1.8 * np.exp(-(((u - bump) / 1.1e-4) ** 2)), 0) if kind != "no_bump" else 0
        r = (
            np.where(
                u > 1.6e-3,
                3.5 * np.exp(-np.clip(u - 1.6e-3, 0, None) / 1.2e-3) * np.sin(2 * np.pi * 1500 * (u - 1.6e-3)),
                0,
            )
            if kind == "tail_ringing"
            else 0
        )
        return np.where(d, y, y + k + b + r)

    length = 2.0
    t = axis(rate, length)
    y = np.full(t.size, bat)
    n = 0
    at = within(rng, 0.02, 0.05)
    while at + 0.02 < length:
        a = int((at - 0.001) * rate)
        b = min(t.size, int((at + 0.04) * rate))
        y[a:b] = f(t[a:b] - at, n)
        n += 1
        at += per
    ff = () if kind == "sound" else (kind,)
    reads = (
        {"supply_v": (bat, bat), "on_ms": (1000 * on, TIMES), "rate_hz": (1 / per, TIMES)}
        if kind != "missing_pulses"
        else {}
    )
    if kind in ("sound", "low_kick") and clamp:
        reads["kick_v"] = (kick, kick)
    if kind == "sound":
        reads["bump_ms"] = (None, TIMES)
    reads.pop("bump_ms", TIMES)
    return Drawn(
        "injector-voltage",
        kind,
        rate,
        dict(control=adc(rng, y, 100, within(rng, 0.03, 0.12), pick(rng, 12, 14))),
        ff,
        reads,
    )


def injector_current(rng, kind):
    rate = pick(rng, 50000, 100000, 200000)
    per = within(rng, 0.13, 0.17)
    on = within(rng, 3.0, 4.0) * 1e-3
    feed = within(rng, 13.6, 14.3)
    ohm = within(rng, 14.5, 17)
    henry = within(rng, 0.011, 0.015)
    p = within(rng, 1.3, 1.7) * 1e-3
    if kind == "high_resistance":
        ohm = within(rng, 28, 34)
    if kind == "shorted_winding":
        ohm = within(rng, 4, 5.5)
        henry = 0.0003
    y, _ = repeated(
        rate,
        2.0,
        per,
        0.03,
        lambda t, k: inj_i(
            t, feed, ohm, henry, on, p, 0.055 if ohm < 20 else 0.03, kind in ("no_pintle_dip", "shorted_winding")
        ),
    )
    ff = () if kind == "sound" else (kind,)
    peak = feed / ohm * (1 - math.exp(-on * ohm / henry))
    reads = {"peak_a": (peak, peak), "on_ms": (1000 * on, TIMES), "rate_hz": (1 / per, TIMES)}
    return Drawn(
        "injector-current",
        kind,
        rate,
        dict(current=adc(rng, y, 5, 0.003, 14)),
        ff,
        reads,
    )


def injector_group(rng, kind):
    rate = pick(rng, 50000, 100000)
    per = within(rng, 0.06, 0.08)
    on = within(rng, 3.2, 4.2) * 1e-3
    feed = 14.0
    ohm = 16.0
    n = 6

    def f(t, k):
        y = sum(inj_i(t, feed, ohm * (1 + 0.02 * j), 0.012, on, (1.5 + 0.04 * j) * 1e-3, 0.05) for j in range(n))
        if kind == "shorted_winding":
            y = y - 2 * inj_i(t, feed, ohm, 0.012, on, 1.5e-3, 0.05) + 2 * inj_i(t, feed, 3.2, 0.0003, on, 1, 0, True)
        return y

    y, _ = repeated(rate, 1.0, per, 0.02, f)
    ff = () if kind == "sound" else (kind,)
    return Drawn(
        "injector-current-group",
        kind,
        rate,
        dict(current=adc(rng, y, 20, 0.02, 12)),
        ff,
        {"on_ms": (1000 * on, TIMES)},
        {"injectors": "6", "each_a": "0.85"},
    )


def parade(rng, kind):
    rate = pick(rng, 100000, 200000)
    cyc = within(rng, 0.13, 0.16)
    on = within(rng, 3.0, 3.8) * 1e-3
    length = 1.2
    t = axis(rate, length)
    y = np.zeros(t.size)
    s = np.zeros(t.size)
    bad = int(rng.integers(4))
    for j, at in in_order(length - 0.02, cyc):
        a = int(max(0, (at - 0.001) * rate))
        b = int((at + 0.012) * rate)
        w = t[a:b] - at
        ohm = 16.0
        henry = 0.012
        dip = 0.05
        if j == bad and kind == "weak_current":
            ohm = 27.0
            dip = 0.03
        g = inj_i(w, 14.0, ohm, henry, on, 1.5e-3, dip)
        if j == bad and kind == "shorted_winding":
            g = inj_i(w, 14.0, 4.0, 0.0003, on, 1, 0, True)
        if j == bad and kind == "missing_pulse":
            g = 0 * w
        y[a:b] += g
        if j == 0:
            s[(t > at - 0.0005) & (t < at + 0.002)] = 4.8
    ff = () if kind == "sound" else (kind,)
    return Drawn(
        "injector-current-parade",
        kind,
        rate,
        dict(current=adc(rng, y, 5, 0.004, 12), sync=adc(rng, s, 10, 0.02, 12)),
        ff,
        {"cycle_ms": (1000 * cyc, TIMES)},
        ORDER,
        cylinder=FIRED[bad] if ff else None,
    )


def peak_hold(rng, kind):
    rate = pick(rng, 100000, 200000, 500000)
    per = within(rng, 0.12, 0.16)
    boost = within(rng, 8.5, 12)
    hold = within(rng, 2.2, 3.0)
    tb = within(rng, 0.35, 0.6) * 1e-3
    on = within(rng, 1.4, 2.2) * 1e-3
    rip = within(rng, 0.25, 0.4)
    fr = within(rng, 5e3, 9e3)
    if kind == "no_hold":
        hold = 0

    def f(t, k):
        up = boost * (1 - np.exp(-np.clip(t, 0, None) / (1.2 * tb))) / (1 - math.exp(-1 / 1.2))
        dn = hold + (boost - hold) * np.exp(-np.clip(t - tb, 0, None) / 9e-5)
        if hold:
            dn = dn + np.where(t > tb + 4e-4, rip * (2 * ((fr * t) % 1) - 1) * 0.5, 0)
        off = np.exp(-np.clip(t - on, 0, None) / 4e-5)
        if kind == "no_boost":
            up = hold * 1.0 * (1 - np.exp(-np.clip(t, 0, None) / 3e-4))
            dn = up + np.where(t > 1e-3, rip * 0.5 * (2 * ((fr * t) % 1) - 1), 0)
        y = np.where(t < tb, up, dn)
        return np.where(t < 0, 0, y * off)

    y, _ = repeated(rate, 1.5, per, 0.03, f)
    ff = () if kind == "sound" else (kind,)
    reads = {"on_ms": (1000 * on, TIMES)} if hold else {}
    if kind == "sound":
        reads |= {"boost_a": (boost, boost), "hold_a": (hold, boost), "boost_ms": (1000 * tb, TIMES)}
    return Drawn(
        "injector-peak-hold",
        kind,
        rate,
        dict(current=adc(rng, y, 20, 0.02, 14)),
        ff,
        reads,
    )


def piezo(rng, kind):
    rate = pick(rng, 500000, 1000000)
    cyc = within(rng, 0.1, 0.14)
    length = 0.8
    t = axis(rate, length)
    y = np.zeros(t.size)
    charge = within(rng, 7, 8.5)
    discharge = within(rng, 5.5, 6.5)
    if kind == "low_charge":
        charge, discharge = 3.6, 3.0
    ev = [(0, within(rng, 0.25, 0.35)), (1.8, within(rng, 0.22, 0.3)), (3.2, within(rng, 0.7, 1.0))]
    n = 0
    at = 0.02

    def hump(u, w):
        return np.sin(np.pi * np.clip(u / w, 0, 1)) ** 1.3

    while at + 0.01 < length:
        for k, (s, w) in enumerate(ev):
            if kind == "missing_event" and k == 1 and n % 3 == 1:
                continue
            a = int((at + s * 1e-3 - 2e-4) * rate)
            b = int((at + (s + w) * 1e-3 + 4e-4) * rate)
            u = t[a:b] - at - s * 1e-3
            y[a:b] += charge * hump(u, 1.4e-4)
            if not (kind == "charge_without_discharge" and k == 2 and n % 2 == 0):
                y[a:b] -= discharge * hump(u - w * 1e-3, 1.5e-4)
        n += 1
        at += cyc
    ff = () if kind == "sound" else (kind,)
    reads = {"charge_a": (charge, charge), "cycle_ms": (1000 * cyc, TIMES)} if kind != "missing_event" else {}
    if kind == "sound":
        reads["events_count"] = (3, EXACT)
        reads["discharge_a"] = (-discharge, discharge)
    return Drawn(
        "injector-piezo",
        kind,
        rate,
        dict(current=adc(rng, y, 20, 0.05, 12)),
        ff,
        reads,
    )


KINDS = {
    injector_voltage: ("sound", "low_kick", "weak_ground", "missing_pulses", "no_bump", "tail_ringing"),
    injector_current: ("sound", "high_resistance", "shorted_winding", "no_pintle_dip"),
    injector_group: ("sound", "shorted_winding"),
    parade: ("sound", "weak_current", "shorted_winding", "missing_pulse"),
    peak_hold: ("sound", "no_hold", "no_boost"),
    piezo: ("sound", "missing_event", "low_charge", "charge_without_discharge"),
}
