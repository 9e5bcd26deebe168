"""Temperature sensor: what is peculiar to measuring it."""

from __future__ import annotations

import math

import numpy as np

from tracebench.core.circuits import probe, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.levels import level_of
from tracebench.core.robust.codes import code_doubt, resolution
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import robust_sigma, sample_noise
from tracebench.core.robust.series import bridged, joined, runs
from tracebench.core.transfer import INTAKE, INTAKE_DIVIDER, Divider, SteinhartHart, beta_thermistor

RAIL_PART = Threshold(0.02, "", "Within this part of the supply a level is a rail, not a temperature")

COLD_SOAK_C = Threshold(
    5.0, "°C", "Sensors of an engine that stood overnight agree within this (common practice, no published source)"
)
WARMING_C = Threshold(1.0, "°C", "A rise of less is no warming")


DROPOUT_V = Threshold(0.06, "V", "Depth from which a fall is a dropout (from memory)")
NOISY_V = Threshold(0.5, "V", "Noise in which a dropout of a volt cannot be seen")


def measure(work: Work) -> Work:
    """Level, temperature through divider and thermistor, warming, dropouts, opens and shorts."""
    work.settle_phases([])
    divider, thermistor = _sensor(work)
    setup.put_scale_right(work, "signal", 0.12 * divider.supply_v, 1.02 * divider.supply_v)
    samples = work.samples("signal")
    rails = _rails(work, divider)
    live = bridged(samples, [(a, b) for a, b, _ in rails])
    if rails and sum(b - a for a, b, _ in rails) > 0.98 * samples.size:
        _all_rail(work, rails, divider)
    else:
        for a, b, code in rails:
            span = work.span(a, b)
            text = (
                "rests at the supply: open"
                if code == "open_circuit"
                else "rests at 0 V: short to ground or open supply"
            )
            work.fault(code, f"{text}, for {span[1] - span[0]:.2f} s", span, "signal", median(samples[a:b]), "V")
        _read(work, live, divider, thermistor)
    if sample_noise(work.samples("signal")) > NOISY_V:
        work.setup("noisy", "noise hides dropouts: another ground, a shielded lead", "signal", hides=True)
    return work


def _sensor(work: Work) -> tuple[Divider, SteinhartHart]:
    number = work.number
    divider = Divider(
        number("supply_v", INTAKE_DIVIDER.supply_v, 1, 24), number("pull_up_ohm", INTAKE_DIVIDER.pull_up_ohm, 10, 1e6)
    )
    if "sh_a" in work.told.options:
        return divider, SteinhartHart(number("sh_a", 0, -1, 1), number("sh_b", 0, -1, 1), number("sh_c", 0, -1, 1))
    if "beta" in work.told.options or "ohm_25" in work.told.options:
        return divider, beta_thermistor(number("ohm_25", 2046, 1, 1e7), number("beta", 3500, 100, 20_000))
    return divider, INTAKE


def _rails(work: Work, divider: Divider) -> list[tuple[int, int, str]]:
    """Stretches over 150 ms at either rail: (start, stop, finding)."""
    samples = work.samples("signal")
    sigma = robust_sigma(np.diff(thinning.thin(samples))) / np.sqrt(2)
    near = max(RAIL_PART * divider.supply_v, 3 * sigma)
    out: list[tuple[int, int, str]] = []
    least = 0.150 / work.capture.interval_s
    for code, mask in (
        ("open_circuit", samples > divider.supply_v - near),
        ("short_circuit", samples < near),
    ):
        found = joined(runs(mask), max(2, round(0.005 / work.capture.interval_s)))
        out += [(a, b, code) for a, b in found if b - a > least]
    return sorted(out)


def _all_rail(work: Work, rails: list[tuple[int, int, str]], divider: Divider) -> None:
    level = level_of(thinning.thin(work.samples("signal")), work.code("signal"))
    work.add("volts", level.value, "V", level.uncertainty, work.whole, "signal")
    work.miss("celsius", "the level is a rail, not a temperature")
    if rails[0][2] == "open_circuit":
        text = f"rests at {level.value:.2f} V, the supply: sensor, plug or wire open"
        work.fault("open_circuit", text, None, "signal", level.value, "V")
    elif work.told.phases:
        text = f"rests at {level.value:.2f} V while powered: short to ground"
        work.fault("short_circuit", text, None, "signal", level.value, "V")
    else:
        probe.note_dead(work, "signal", level.value)


def _read(work: Work, live: np.ndarray, divider: Divider, thermistor: SteinhartHart) -> None:
    found, own = probe.judge_dropouts(work, live, "signal", DROPOUT_V)
    leaps = [e for e in own if e.depth > 0]
    for e in leaps:
        span = work.span(e.start, e.stop)
        text = f"signal leaps {e.depth:.2f} V above its trend for {1000 * (span[1] - span[0]):.3g} ms: a loose contact"
        work.fault("dropout", text, span, "signal", e.depth, "V")
    work.add("dropouts_count", len(own), "", 0.0, work.whole, "signal")
    clean = bridged(live, [(e.start, e.stop) for e in found])
    level = level_of(thinning.thin(clean), work.code("signal"))
    work.add("volts", level.value, "V", level.uncertainty, work.whole, "signal")
    celsius = _celsius(level.value, divider, thermistor)
    slope = abs(_celsius(level.value + 1e-3, divider, thermistor) - celsius) / 1e-3
    work.add("celsius", celsius, "°C", slope * level.uncertainty, work.whole, "signal")
    ends = np.array_split(clean, 10)
    # Means: a tenth of a warm-up is a slope, over which a median is no better known than the slope's own codes.
    means = [float(part.mean()) for part in (ends[0], ends[-1])]
    first, last = (_celsius(volts, divider, thermistor) for volts in means)
    minutes = 0.9 * work.capture.duration_s / 60
    if abs(last - first) > WARMING_C:
        step = resolution(clean)
        noise = sample_noise(clean, step)
        # The mean of a slope over many codes hardly hangs on where they lie; that of a tenth within one does.
        codes = code_doubt(step, noise) / max(1.0, 4 * abs(means[1] - means[0]) / 9 / step) if step else 0.0
        ends_v = math.hypot(noise / math.sqrt(ends[0].size), codes)
        slopes = [(_celsius(v + 1e-3, divider, thermistor) - _celsius(v, divider, thermistor)) / 1e-3 for v in means]
        doubt = float(np.hypot(slopes[0], slopes[1])) * ends_v / minutes
        work.add("rate_c_per_min", (last - first) / minutes, "°C/min", doubt, work.whole, "signal")
    else:
        work.miss("rate_c_per_min", "the temperature does not change in this capture")
    if "ambient_c" in work.told.options:
        _cold_start(work, first)


def _cold_start(work: Work, first_c: float) -> None:
    ambient = work.number("ambient_c", 20.0, -60, 60)
    if abs(first_c - ambient) > COLD_SOAK_C:
        span = (work.whole[0], work.whole[0] + 0.1 * work.capture.duration_s)
        text = f"reads {first_c:.1f} °C after a cold soak where the others read {ambient:.1f} °C"
        work.fault("implausible_cold_start", text, span, "signal", first_c - ambient, "°C")


def _celsius(volts: float, divider: Divider, thermistor: SteinhartHart) -> float:
    inside = min(max(volts, 1e-3 * divider.supply_v), 0.999 * divider.supply_v)
    return thermistor.celsius(divider.ohm(inside))
