"""Captures with known answers and random noise, for checking stated uncertainties by simulation."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tests.support.courses import captured, course
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

K_95 = 1.96


@dataclass(frozen=True)
class Case:
    """`make` draws a capture from a random source and answers it with the true values by reading."""

    code: str
    make: Callable[[np.random.Generator], tuple[Capture, dict[str, float]]]


def covered(case: Case, count: int) -> dict[str, float]:
    """Share of captures in which the true value lies within 1.96 stated uncertainties, by reading."""
    hits: Counter[str] = Counter()
    seen: Counter[str] = Counter()
    for seed in range(count):
        capture, truth = case.make(np.random.default_rng(seed))
        answer = measure(capture, case.code)
        for reading_id, value in truth.items():
            reading = answer.reading(reading_id)
            if reading is not None:
                seen[reading_id] += 1
                hits[reading_id] += abs(reading.value - value) <= K_95 * reading.uncertainty
    return {r: hits[r] / seen[r] for r in truth if seen[r]}


def _noisy(values: np.ndarray, sigma: float, rng: np.random.Generator, step: float = 0.0) -> np.ndarray:
    out = values + rng.normal(0, sigma, values.size)
    return np.round(out / step) * step if step else out


def _shifted(points: list[tuple[float, float]], rate: float, rng: np.random.Generator) -> np.ndarray:
    """Drawn with a random part of a sample of delay, so that instants fall anywhere between samples."""
    delay = rng.uniform(0, 1) / rate
    return course([(0, points[0][1]), *((t + delay, v) for t, v in points[1:])], rate)


def throttle(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    closed, opened = rng.uniform(0.55, 0.9), rng.uniform(3.9, 4.4)
    points = [(0.0, closed), (1.2, closed)]
    at = 1.2
    for level in (opened, closed, opened, closed):
        points += [(at + 5.5, level), (at + 6.6, level)]
        at += 6.6
    signal = _noisy(_shifted(points, 500, rng), 0.012, rng, 10 / 4096)
    # Straight from rest to rest in 5.5 s: 10 to 90 % of it.
    truth = {"closed_v": closed, "open_v": opened, "opening_s": 4.4, "closing_s": 4.4}
    return captured("throttle-position", 500, signal=signal), truth


def pressure(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    idle, peak = rng.uniform(1.1, 1.5), rng.uniform(4.3, 4.6)
    points = [
        (0, 4.5),
        (2, 4.5),
        (2.8, idle),
        (6, idle),
        (6.08, peak),
        (6.8, peak),
        (7, 0.5),
        (8, 0.5),
        (8.5, idle),
        (11, idle),
    ]
    signal = _noisy(_shifted(points, 1000, rng), 0.01, rng, 10 / 4096)
    truth = {"key_on_v": 4.5, "idle_v": idle, "idle_kpa": 20 + 85 / 4.2 * (idle - 0.5), "rise_ms": 64.0}
    truth |= {"snap_peak_v": peak, "overrun_v": 0.5}
    return captured("manifold-pressure", 1000, signal=signal), truth


def feeds(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    supply, reference, ground = rng.uniform(12.3, 12.7), rng.uniform(4.95, 5.05), rng.uniform(0.0, 0.08)
    size = 2000
    lanes = {
        "supply": _noisy(np.full(size, supply), 0.02, rng, 20 / 4096),
        "battery": _noisy(np.full(size, supply + 0.1), 0.02, rng, 20 / 4096),
        "reference": _noisy(np.full(size, reference), 0.006, rng, 10 / 4096),
        "ground": _noisy(np.full(size, ground), 0.003, rng, 1 / 4096),
    }
    truth = {"supply_v": supply, "supply_drop_v": 0.1, "reference_v": reference, "ground_v": ground}
    return captured("supply-ground", 1000, **lanes), truth


def thermistor(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    volts = rng.uniform(1.0, 3.0)
    signal = _noisy(np.full(1500, volts), 0.008, rng, 10 / 4096)
    ohm = 3750 * volts / (5.0 - volts)
    celsius = 1 / (1 / 298.15 + np.log(ohm / 2046.0) / 3500.0) - 273.15
    return captured("temperature", 100, signal=signal), {"volts": volts, "celsius": celsius}


def rail(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    idle = rng.uniform(1.1, 1.4)
    points = [(0, 0.5), (2, 0.5), (2.6, idle), (7, idle), (7.4, 3.0), (9, 3.0), (9.4, idle), (12, idle)]
    signal = _noisy(_shifted(points, 1000, rng), 0.012, rng, 10 / 4096)
    return captured("rail-pressure", 1000, signal=signal), {
        "key_on_v": 0.5,
        "idle_v": idle,
        "peak_v": 3.0,
        "rise_ms": 320.0,
    }


def charge(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    sense = rng.uniform(13.8, 14.4)
    lanes = {"sense": _noisy(np.full(6000, sense), 0.03, rng, 20 / 4096)}
    return captured("charging", 1000, **lanes), {"sense_v": sense}


def pedal(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    ratio = rng.uniform(1.98, 2.02)
    x = _shifted([(0, 0), (1, 0), (5, 1), (6, 1), (10, 0), (11.5, 0)], 500, rng)
    track = 0.75 + 3.0 * x
    lanes = {
        "track1": _noisy(track, 0.008, rng, 10 / 4096),
        "track2": _noisy(track / ratio, 0.004, rng, 10 / 4096),
    }
    truth = {
        "track1_released_v": 0.75,
        "track1_full_v": 3.75,
        "track2_released_v": 0.75 / ratio,
        "track2_full_v": 3.75 / ratio,
        "ratio": ratio,
    }
    return captured("pedal-position", 500, **lanes), truth


def air(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    idle, load = rng.uniform(1.0, 1.15), rng.uniform(1.6, 1.85)
    points = [(0, 0.4), (2, 0.4), (2.2, 1.4), (2.8, 1.4), (3, idle), (7, idle), (7.6, load), (10, load)]
    signal = _noisy(_shifted(points, 1000, rng), 0.01, rng, 10 / 4096)
    return captured("airflow-voltage", 1000, signal=signal), {"key_on_v": 0.4, "idle_v": idle, "v_2500": load}


def pulses(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    hertz, duty = rng.uniform(1900, 2300), rng.uniform(0.45, 0.55)
    phase = (np.arange(100_000) / 100_000 * hertz + rng.uniform()) % 1
    # An edge takes 20 us, as the recorder's own bandwidth makes it; its middle is where it should be.
    reach = 10e-6 * hertz
    up = np.clip((np.minimum(phase, 1 - phase) * np.where(phase < 0.5, 1, -1)) / reach, -1, 1)
    down = np.clip((phase - duty) / reach, -1, 1)
    wave = np.where(np.abs(phase - duty) < 0.25, -down, up)
    signal = _noisy(2.5 + 2.4 * wave, 0.03, rng, 10 / 4096)
    truth = {"idle_hz": hertz, "low_v": 0.1, "high_v": 4.9, "duty_pct": 100 * duty}
    return captured("airflow-frequency", 100_000, signal=signal), truth


def oxygen(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Trapezoids about 0.45 V: the mean of a whole cycle is its middle where both flanks and both rests are alike."""
    low, flank, rest = rng.uniform(0.08, 0.15), rng.uniform(0.06, 0.11), rng.uniform(0.3, 0.4)
    high, points, at = 0.9 - low, [(0.0, low), (0.2, low)], 0.2
    for k in range(20):
        level = high if k % 2 == 0 else low
        points += [(at + flank, level), (at + flank + rest, level)]
        at += flank + rest
    signal = _noisy(_shifted(points, 1000, rng), 0.006, rng, 2 / 4096)
    passing = 1000 * 0.3 * flank / (high - low)
    truth = {"mean_v": 0.45, "crossings_hz": 0.5 / (flank + rest), "rise_ms": passing, "fall_ms": passing}
    return captured("oxygen-switching", 1000, signal=signal), truth


def wheel(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    rpm = rng.uniform(700, 1000)
    angle = np.arange(50_000) / 50_000 * rpm / 60 + rng.uniform()
    place = angle * 60 % 60
    tooth = np.floor(place)
    wave = np.sin(2 * np.pi * (place - tooth)) * (tooth < 58)
    signal = _noisy(2.0 * wave, 0.03, rng, 10 / 4096)
    return captured("crank-position", 50_000, signal=signal), {"rpm": rpm}


CASES: dict[str, Case] = {
    "throttle": Case("throttle-position", throttle),
    "pedal": Case("pedal-position", pedal),
    "manifold pressure": Case("manifold-pressure", pressure),
    "airflow, voltage": Case("airflow-voltage", air),
    "airflow, frequency": Case("airflow-frequency", pulses),
    "oxygen, switching": Case("oxygen-switching", oxygen),
    "rail pressure": Case("rail-pressure", rail),
    "crank": Case("crank-position", wheel),
    "temperature": Case("temperature", thermistor),
    "supply and ground": Case("supply-ground", feeds),
    "charging": Case("charging", charge),
}
