"""Temperature, feeds and charging: drawn within the spans of common practice, by no formula of core or trainer."""

from __future__ import annotations

import numpy as np

from tests.outside.drawing import Drawn, adc, axis, pick, volts, within


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


KINDS = {
    temperature: ("sound", "open_circuit", "short_circuit", "dropout"),
    supply: ("sound", "supply_low", "reference_low", "reference_high", "ground_high"),
    charging: ("sound", "undercharge", "overcharge", "diode_ripple", "ground_lifted"),
}
