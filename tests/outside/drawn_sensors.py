"""Drawn records of sensors, feeds and charging, within the spans of common practice; no formula of core or trainer."""

from __future__ import annotations

import math

import numpy as np

from tests.outside.drawing import EXACT, FROM_10_TO_90, TIMES, Drawn, adc, axis, lagged, path, pick, volts, within


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


def manifold(rng, kind):
    rate = pick(rng, 1000, 2000, 5000)
    key = within(rng, 4.45, 4.6)
    idle = within(rng, 1.15, 1.7)
    peak = key - within(rng, 0.03, 0.1)
    over = within(rng, 0.5, 0.7)
    if kind == "high_idle_pressure":
        idle = within(rng, 2.5, 2.9)
    if kind == "baro_wrong":
        key = within(rng, 3.4, 3.7)
        peak = key - 0.05
    if kind == "no_overrun_gain":
        over = idle
    tk, tc = within(rng, 1.5, 3), within(rng, 0.8, 1.4)
    ti = within(rng, 4, 6)
    hold = within(rng, 0.5, 0.9)
    to = within(rng, 1.2, 2)
    ts = within(rng, 2, 4)
    t = np.arange(round((tk + tc + ti + hold + to + ts) * rate)) / rate
    b = np.cumsum([tk, tc, ti, hold, to])
    tau = within(rng, 0.015, 0.035) if kind != "slow_rise" else within(rng, 0.14, 0.2)
    target = np.select([t < b[0], t < b[1], t < b[2], t < b[3], t < b[4]], [key, key - 0.25, idle, peak, over], idle)
    y = lagged(rate, target, tau, within(rng, 0.06, 0.1))
    # cranking, and the firing of an idling engine
    rpm = within(rng, 700, 900)
    y += np.where((t > b[0]) & (t < b[1]), 0.06 * np.sin(2 * np.pi * 7 * t), 0) + np.where(
        (t > b[1] + 0.5) & (t < b[2]), 0.025 * np.sin(2 * np.pi * rpm / 30 * t), 0
    )
    th = np.where((t > b[2] - 0.03) & (t < b[3] - 0.01), 4.2, 0.65)
    th = lagged(rate, th, 0.012, 0.012)
    lanes = dict(signal=volts(rng, y), throttle=volts(rng, th))
    reads = {"key_on_v": (key, peak - over), "idle_v": (idle, peak - over), "overrun_v": (over, peak - over)}
    if kind != "slow_rise":
        reads["rise_ms"] = (2197.2 * tau, TIMES)
        reads["snap_peak_v"] = (peak, peak - over)
    if kind == "no_overrun_gain":
        reads.pop("overrun_v")
    f = () if kind == "sound" else (kind,)
    if kind == "dropout":
        at = int((b[1] + within(rng, 1.5, ti - 1.5)) * rate)
        w = int(within(rng, 0.008, 0.03) * rate) + 2
        s = lanes["signal"]
        s[at : at + w] = 0.05
    if kind == "slow_rise":
        f = ("slow_rise",)
    return Drawn("manifold-pressure", kind, rate, lanes, f, reads)


def airflow_voltage(rng, kind):
    rate = pick(rng, 1000, 2000, 5000)
    k0 = within(rng, 0.37, 0.44)
    i = within(rng, 0.95, 1.15)
    a = within(rng, 1.55, 1.8)
    b = within(rng, 2.1, 2.4)
    p = within(rng, 3.2, 3.8)
    if kind == "low_under_load":
        a, b, p = i + 0.18, i + 0.36, i + 0.8
    if kind == "key_on_high":
        k0 = within(rng, 0.65, 0.85)
    length = [
        within(rng, 1.5, 2.5),
        0.8,
        within(rng, 3, 5),
        within(rng, 3, 4),
        within(rng, 3, 4),
        within(rng, 1.5, 2.5),
        0.07,
        0.25,
        0.7,
        1.0,
        2.5,
    ]
    e = np.cumsum(length)
    t = np.arange(round(e[-1] * rate)) / rate
    tgt = np.select(
        [t < x for x in e[:-1]], [k0, (k0 + i) / 2 + 0.15, i, a, b, i, p, 0.62 * p + 0.1, 0.9 * p, i * 0.93], i
    )
    y = lagged(rate, tgt, 0.02, 0.05)
    if kind == "missing_surge":
        tgt = np.select(
            [t < x for x in e[:-1]], [k0, (k0 + i) / 2 + 0.15, i, a, b, i, i + 0.5, i + 1.0, 0.9 * p, i * 0.93], i
        )
        y = lagged(rate, tgt, 0.15, 0.05)
    y = y + np.where(t > e[1], 0.02 * np.sin(2 * np.pi * 27 * t), 0)
    th = np.where((t > e[5]) & (t < e[8]), 4.1, 0.6)
    th = lagged(rate, th, 0.01, 0.02)
    lanes = dict(
        signal=volts(rng, y),
        throttle=volts(rng, th),
        supply=adc(rng, np.full(t.size, 12.3 if kind != "supply_low" else 10.0), 20, 0.02, 12),
        ground=volts(rng, np.full(t.size, 0.02 if kind != "ground_high" else 0.4), 0.002),
    )
    f = () if kind == "sound" else (kind,)
    reads = {"key_on_v": (k0, p - k0), "idle_v": (i, p - k0), "v_2500": (a, p - k0), "v_4000": (b, p - k0)}
    if kind == "low_under_load":
        # Nothing tells a load of little more than idle from another.
        del reads["v_2500"], reads["v_4000"]
    return Drawn("airflow-voltage", kind, rate, lanes, f, reads, options={"type": "A"})


def airflow_frequency(rng, kind):
    rate = pick(rng, 100000, 200000)
    f0 = within(rng, 1800, 2300)
    f1 = f0 * 1.6
    f2 = f0 * 2.2
    pk = f0 * 3.2
    length = [2.5, 1.6, 1.6, 1.2, 0.15, 0.3, 0.6, 1.5]
    e = np.cumsum(length)
    t = np.arange(round(e[-1] * rate)) / rate
    fr = np.select([t < x for x in e[:-1]], [f0, f1, f2, f0, pk, pk * 0.7, pk * 0.95], f0)
    fr = np.convolve(np.pad(fr, (2000, 2000), "edge"), np.ones(4001) / 4001, "valid")
    ph = np.cumsum(fr) / rate
    y = np.where(ph % 1 < 0.5, 4.85, 0.12)
    f = ()
    if kind == "missing_pulses":
        for at in rng.uniform(0.3, 2.2, 4):
            n = int(at * f0)
            y = np.where(np.floor(ph) == n, 0.12, y)
        f = ("missing_pulses",)
    if kind == "low_swing":
        y = np.where(y > 2, 3.1, 0.12)
        f = ("low_swing",)
    lanes = dict(signal=adc(rng, y, 10, 0.03, pick(rng, 8, 10, 12)))
    reads = {
        "idle_hz": (f0, TIMES),
        "duty_pct": (50, TIMES),
        "low_v": (0.12, 4.7),
        "high_v": (4.85 if kind != "low_swing" else 3.1, 4.7),
    }
    return Drawn("airflow-frequency", kind, rate, lanes, f, reads)


def oxygen(rng, kind):
    rate = pick(rng, 1000, 2000, 5000)
    hz = within(rng, 0.8, 2.2)
    lo, hi = within(rng, 0.06, 0.16), within(rng, 0.8, 0.88)
    tau = within(rng, 0.012, 0.03)
    if kind == "lazy":
        tau = within(rng, 0.16, 0.2)
        hz = 0.8
    if kind == "contaminated_low_swing":
        lo, hi = 0.33, 0.58
    t = np.arange(round(22 * rate)) / rate
    ph = np.cumsum(hz * (1 + 0.04 * np.sin(2 * np.pi * 0.11 * t))) / rate
    tgt = np.where(ph % 1 < 0.5, hi, lo)
    if kind == "biased_rich":
        tgt = np.full(t.size, 0.82)
    if kind == "biased_lean":
        tgt = np.full(t.size, 0.1)
    a, b, c = 15.0, 16.0, 18.0
    tgt = np.where((t > a) & (t < b), 0.87 if kind not in ("contaminated_low_swing", "biased_lean") else tgt, tgt)
    tgt = np.where(
        (t > b) & (t < c),
        0.03
        if kind not in ("biased_rich", "no_overrun_drop", "contaminated_low_swing")
        else (0.72 if kind == "no_overrun_drop" else tgt),
        tgt,
    )
    y = lagged(rate, tgt, tau, tau)
    th = np.where((t > a - 0.15) & (t < b - 0.1), 4.0, 0.6)
    th = lagged(rate, th, 0.02, 0.02)
    lanes = dict(signal=adc(rng, y, 2, within(rng, 0.002, 0.006), pick(rng, 10, 12)), throttle=volts(rng, th))
    f = () if kind == "sound" else (kind,)
    reads = {}
    if kind == "sound":
        # exponential: time from .3 to .6
        up = tau * math.log((hi - 0.3) / (hi - 0.6))
        dn = tau * math.log((0.6 - lo) / (0.3 - lo))
        reads = {
            "max_v": (hi, hi - lo),
            "min_v": (lo, hi - lo),
            "crossings_hz": (hz, "5%"),
            "rise_ms": (1000 * up, "3%"),
            "fall_ms": (1000 * dn, "3%"),
            "snap_rich_v": (0.87, 0.8),
            "overrun_v": (0.03, 0.8),
        }
    return Drawn("oxygen-switching", kind, rate, lanes, f, reads)


def rail(rng, kind):
    rate = pick(rng, 1000, 2000)
    k = within(rng, 0.48, 0.52)
    i = within(rng, 1.1, 1.4)
    p = within(rng, 2.6, 3.6)
    cr = within(rng, 0.95, 1.05) * i
    tb = within(rng, 0.12, 0.25) if kind != "slow_build" else within(rng, 1.0, 1.5)
    if kind == "low_peak":
        p = within(rng, 1.6, 1.8)
    length = [2.0, within(rng, 1.2, 1.5) if kind != "slow_build" else 4.0, within(rng, 4, 5), 2.5, 3.0, 5.0]
    e = np.cumsum(length)
    t = np.arange(round(e[-1] * rate)) / rate
    tgt = np.select([t < x for x in e[:-1]], [k, cr, i, p, i], k)
    tr = within(rng, 0.06, 0.12)
    y = np.empty(t.size)
    v = k
    td = within(rng, 0.6, 1.2)
    for n, g in enumerate(tgt.tolist()):
        s = t[n]
        tau = tb if s < e[1] else tr if s < e[4] else td
        v += (1 - math.exp(-1 / (rate * tau))) * (g - v)
        y[n] = v
    amp = 0.012 if kind != "pressure_hunting" else 0.16
    y = y + np.where(
        (t > e[1] - 0.2) & (t < e[4]), amp * np.sin(2 * np.pi * (9 if kind != "pressure_hunting" else 1.3) * t), 0
    )
    lanes = dict(signal=volts(rng, y))
    if kind == "dropout":
        at = int((e[1] + 2) * rate)
        lanes["signal"][at : at + int(0.02 * rate)] = 0.02
    if kind == "no_decay":
        pass
    f = () if kind == "sound" else (kind,)
    if kind == "low_peak":
        f = ("low_peak",)
    # The pump's own ripple is part of the peak.
    reads = {"key_on_v": (k, p - k), "idle_v": (i, p - k), "peak_v": (p + 0.5 * amp, p - k)}
    if kind == "pressure_hunting":
        # Neither level is one while the pressure hunts.
        del reads["peak_v"], reads["idle_v"]
    if kind == "sound":
        reads["stop_decay_s"] = (td, "5%")
    return Drawn("rail-pressure", kind, rate, lanes, f, reads)


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


def temperature(rng, kind):
    rate = pick(rng, 100, 200, 500)
    length = within(rng, 150, 260)
    t = axis(rate, length)
    c = 20 + 65 * (1 - np.exp(-t / (0.45 * length)))
    lanes = {}
    ohm_25, beta, pull_up, feed = 2500.0, 3400.0, 2200.0, 5.0
    ohm = ohm_25 * np.exp(beta * (1 / (c + 273.15) - 1 / 298.15))
    y = feed * ohm / (ohm + pull_up)
    f = ()
    if kind == "open_circuit":
        y = np.where((t > 0.4 * length) & (t < 0.45 * length), 4.99, y)
        f = ("open_circuit",)
    if kind == "short_circuit":
        y = np.where((t > 0.4 * length), 0.01, y)
        f = ("short_circuit",)
    if kind == "dropout":
        for at in (0.3, 0.5, 0.7):
            y = np.where((t > at * length) & (t < at * length + 0.06), 0.02, y)
        f = ("dropout",)
    lanes = dict(signal=volts(rng, y))
    return Drawn(
        "temperature",
        kind,
        rate,
        lanes,
        f,
        {},
        {"supply_v": "5", "pull_up_ohm": "2200", "ohm_25": "2500", "beta": "3400"},
    )


def supply(rng, kind):
    rate = pick(rng, 1000, 5000, 10000)
    t = np.arange(6 * rate) / rate
    run = rng.random() < 0.5
    bat = within(rng, 13.8, 14.4) if run else within(rng, 12.45, 12.75)
    rip = (0.06 * np.abs(np.sin(2 * np.pi * 190 * t)) - 0.038) if run and rate >= 5000 else 0 * t
    sup = bat - within(rng, 0.05, 0.25)
    ref = within(rng, 4.95, 5.05)
    g = within(rng, 0.005, 0.035)
    f = ()
    if kind == "supply_low":
        sup = bat - within(rng, 1.2, 2.5)
    if kind == "reference_low":
        ref = within(rng, 4.3, 4.7)
    if kind == "reference_high":
        ref = within(rng, 5.4, 6.5)
    if kind == "ground_high":
        g = within(rng, 0.2, 0.6)
    f = () if kind == "sound" else (kind,)
    lanes = dict(
        supply=adc(rng, sup + rip, 20, 0.01, 12),
        reference=volts(rng, np.full(t.size, ref)),
        ground=adc(rng, np.full(t.size, g), 2, 0.002, 12),
        battery=adc(rng, bat + rip, 20, 0.01, 12),
    )
    return Drawn(
        "supply-ground",
        kind,
        rate,
        lanes,
        f,
        {"supply_v": (sup, sup), "reference_v": (ref, ref), "ground_v": (g, 0.4)},
        {"state": "running" if run else "key_on"},
    )


def charging(rng, kind):
    rate = pick(rng, 2000, 5000, 10000)
    length = within(rng, 20, 40)
    t = axis(rate, length)
    base = within(rng, 13.9, 14.4)
    f = ()
    if kind == "undercharge":
        base = within(rng, 12.0, 12.6)
    y = base - 0.25 * np.exp(-t / 3)
    if kind == "overcharge":
        y = np.where(
            t > 0.4 * length, y + within(rng, 1.6, 2.4) * (1 - np.exp(-(t - 0.4 * length) / 1.0).clip(0, 1)), y
        )
    fr = within(rng, 330, 420)
    if rate < 4 * fr:
        fr = rate / 6.3
    rip = 0.05 * np.abs(np.sin(np.pi * fr * t))
    if kind == "diode_ripple":
        s = (fr * t / 6) % 1
        rip = 0.05 * np.abs(np.sin(np.pi * fr * t)) - 0.9 * np.where(s < 1 / 3, np.sin(3 * np.pi * s), 0)
    f = () if kind == "sound" else (kind,)
    g = np.full(t.size, 0.02)
    if kind == "ground_lifted":
        g = np.where((t > 0.5 * length) & (t < 0.6 * length), 1.2, 0.02)
        y = y + np.where(g > 1, 1.1, 0)
    lanes = dict(
        sense=adc(rng, y + rip, 20, 0.01, 12),
        case_ground=adc(rng, g, 2, 0.003, 12),
        command=adc(rng, np.full(t.size, 30.0), 100, 0.3, 12, 0),
    )
    return Drawn(
        "charging",
        kind,
        rate,
        lanes,
        f,
        {"sense_v": (base, base)} if kind == "sound" else {},
    )


def wideband(rng, kind):
    """A pump current about nothing; a load request at 12 s, its mixture and an overrun behind it."""
    rate = pick(rng, 1000, 2000, 5000)
    t = axis(rate, 30)
    at, late = 12.0, within(rng, 0.12, 0.19) if kind != "slow_fuel_response" else within(rng, 0.5, 0.9)
    rest = {"biased_lean": 1.6, "biased_rich": -1.6}.get(kind, 0.0)
    target = np.select(
        [t < at, t < at + late, t < at + 1.6, t < at + 3.2], [rest, rest + 0.1, rest - 1.2, rest + 3.6], rest
    )
    current = lagged(rate, target, 0.03, 0.03) + 0.05 * np.sin(2 * np.pi * 1.7 * t)
    air = lagged(rate, np.where((t > at) & (t < at + 1.6), 2.6, 1.1), 0.02, 0.05)
    lanes = {"pump_current": adc(rng, current, 10, 0.02, 14), "airflow": volts(rng, air)}
    reads = {"in_window_pct": (100.0, "2%")} if kind == "sound" else {}
    return Drawn("oxygen-wideband", kind, rate, lanes, () if kind == "sound" else (kind,), reads)


KINDS = {
    throttle: ("sound", "worn", "spike", "low_open", "high_closed", "low_closed"),
    pedal: ("sound", "track_lost", "reference_lost", "tracks_disagree", "ground_lifted"),
    manifold: ("sound", "slow_rise", "high_idle_pressure", "no_overrun_gain", "baro_wrong", "dropout"),
    airflow_voltage: ("sound", "low_under_load", "key_on_high", "missing_surge", "supply_low", "ground_high"),
    airflow_frequency: ("sound", "missing_pulses", "low_swing"),
    oxygen: ("sound", "lazy", "contaminated_low_swing", "biased_rich", "biased_lean", "no_overrun_drop"),
    wideband: ("sound", "slow_fuel_response", "biased_lean", "biased_rich"),
    rail: ("sound", "slow_build", "pressure_hunting", "low_peak", "dropout"),
    crank: ("sound", "hall", "tooth_damaged", "runout", "dropout"),
    wheel: ("sound", "tooth_damaged", "dropout"),
    temperature: ("sound", "open_circuit", "short_circuit", "dropout"),
    supply: ("sound", "supply_low", "reference_low", "reference_high", "ground_high"),
    charging: ("sound", "undercharge", "overcharge", "diode_ripple", "ground_lifted"),
}
"""Makers with the kinds that each draws."""
