"""Oxygen sensors and the rail: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import math

import numpy as np

from tests.outside.drawing import Drawn, adc, axis, lagged, pick, volts, within


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


KINDS = {
    oxygen: ("sound", "lazy", "contaminated_low_swing", "biased_rich", "biased_lean", "no_overrun_drop"),
    wideband: ("sound", "slow_fuel_response", "biased_lean", "biased_rich"),
    rail: ("sound", "slow_build", "pressure_hunting", "low_peak", "dropout"),
}
