"""Drawn records of injectors and ignition, within the spans of common practice; no formula of core or trainer."""

from __future__ import annotations

import itertools
import math

import numpy as np

from tests.outside.drawing import EXACT, TIMES, Drawn, adc, axis, pick, within

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
    injector_voltage: ("sound", "low_kick", "weak_ground", "missing_pulses", "no_bump", "tail_ringing"),
    injector_current: ("sound", "high_resistance", "shorted_winding", "no_pintle_dip"),
    injector_group: ("sound", "shorted_winding"),
    parade: ("sound", "weak_current", "shorted_winding", "missing_pulse"),
    peak_hold: ("sound", "no_hold", "no_boost"),
    piezo: ("sound", "missing_event", "low_charge", "charge_without_discharge"),
    coil_current: ("sound", "short_dwell", "low_peak", "shorted_winding", "turn_on_abnormal", "missing_ramp"),
    coil_voltage: ("sound", "weak_driver", "low_kick", "short_burn", "long_burn", "no_burn", "no_rings"),
    secondary: ("sound", "high_firing", "low_firing", "short_burn", "burn_hash", "no_rings", "no_burn"),
    igniter: ("sound", "unstable_width", "misses", "no_switching"),
}
"""Makers with the kinds that each draws."""
