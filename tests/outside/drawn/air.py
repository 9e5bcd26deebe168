"""Manifold pressure and airflow: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import numpy as np

from tests.outside.drawing import TIMES, Drawn, adc, lagged, pick, volts, within


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


KINDS = {
    manifold: ("sound", "slow_rise", "high_idle_pressure", "no_overrun_gain", "baro_wrong", "dropout"),
    airflow_voltage: ("sound", "low_under_load", "key_on_high", "missing_surge", "supply_low", "ground_high"),
    airflow_frequency: ("sound", "missing_pulses", "low_swing"),
}
