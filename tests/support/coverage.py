"""Captures with known answers and random noise, for checking stated uncertainties by simulation."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from tests.support.courses import captured, course
from tests.support.pulses import Coil, axis, coil_ramp, control_wire, piezo, spark
from tests.support.recorders import RECORDERS
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

K_95 = 1.96


@dataclass(frozen=True)
class Case:
    """`make` draws a capture from a random source and answers it with the true values by reading."""

    code: str
    make: Callable[[np.random.Generator], tuple[Capture, dict[str, float]]]
    options: dict[str, str] = field(default_factory=dict)


def misses(case: Case, count: int, recorder: str = "as drawn") -> dict[str, np.ndarray]:
    """How many stated uncertainties each reading lies off the true value, by reading, of so many captures."""
    off: dict[str, list[float]] = {}
    for seed in range(count):
        capture, truth = case.make(np.random.default_rng(seed))
        read = RECORDERS[recorder](capture, np.random.default_rng(seed + 5000))
        answer = measure(read, case.code, (), case.options)
        for reading_id, value in truth.items():
            reading = answer.reading(reading_id)
            if reading is not None:
                off.setdefault(reading_id, []).append(abs(reading.value - value) / max(reading.uncertainty, 1e-12))
    return {r: np.array(x) for r, x in off.items()}


def covered(case: Case, count: int) -> dict[str, float]:
    """Share of captures in which the true value lies within 1.96 stated uncertainties, by reading."""
    return {r: float(np.mean(x <= K_95)) for r, x in misses(case, count).items()}


def _noisy(values: np.ndarray, sigma: float, rng: np.random.Generator, step: float = 0.0) -> np.ndarray:
    out = values + rng.normal(0, sigma, values.size)
    return np.round(out / step) * step if step else out


def _shifted(points: list[tuple[float, float]], rate: float, rng: np.random.Generator) -> np.ndarray:
    """Drawn with a random part of a sample of delay, so that instants fall anywhere between samples."""
    return _later(points, rate, rng.uniform(0, 1) / rate)


def _later(points: list[tuple[float, float]], rate: float, delay: float) -> np.ndarray:
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


def air_snap(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Steps of a snap: first surge, dip and second rise, each long enough that its level is its own."""
    idle, surge, dip, top = rng.uniform(1.0, 1.15), rng.uniform(2.6, 2.9), rng.uniform(2.1, 2.3), rng.uniform(3.7, 4.0)
    crank, load = rng.uniform(1.35, 1.5), rng.uniform(2.1, 2.3)
    at, points = 2.8, [(0, 0.4), (2, 0.4), (2.1, crank), (2.8, crank), (3.0, idle), (7.0, idle)]
    for level, seconds in ((1.75, 3.0), (load, 3.0), (idle, 4.0)):
        at = points[-1][0]
        points += [(at + 0.6, level), (at + 0.6 + seconds, level)]
    at = points[-1][0]
    points += [(at + 0.05, surge), (at + 0.10, surge), (at + 0.16, dip), (at + 0.24, dip), (at + 0.6, top)]
    points += [(at + 0.9, top), (at + 1.1, idle), (at + 5, idle)]
    signal = _noisy(_shifted(points, 1000, rng), 0.01, rng, 10 / 4096)
    truth = {"crank_v": crank, "v_4000": load, "snap_peak_v": surge, "snap_dip_v": dip, "snap_top_v": top}
    return captured("airflow-voltage", 1000, signal=signal), truth


def wide(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Idle about the middle, a snap with enrichment after a delay, an overrun that goes lean, and back."""
    delay, rich, lean = rng.uniform(0.06, 0.09), rng.uniform(1.4, 1.8), rng.uniform(3.2, 3.7)
    after, own = rng.uniform(0, 0.001, 2)
    current = _later(
        [
            (0, 2.5),
            (4, 2.5),
            (4 + delay, 2.5),
            (4.1 + delay, rich),
            (5.2, rich),
            (5.5, lean),
            (7.0, lean),
            (7.4, 2.5),
            (12, 2.5),
        ],
        1000,
        after,
    )
    air = _later([(0, 1.1), (4, 1.1), (4.1, 3.5), (5.1, 3.5), (5.3, 0.8), (7.0, 0.8), (7.3, 1.1), (12, 1.1)], 1000, own)
    lanes = {"pump_voltage": _noisy(current, 0.01, rng, 5 / 4096), "airflow": _noisy(air, 0.008, rng, 5 / 4096)}
    return captured("oxygen-wideband", 1000, **lanes), {
        "overrun_peak": lean,
        # Load is asked at a tenth of the airflow's 100 ms; the mixture is rich below the lower reference.
        "response_ms": 1000 * (after + delay + 0.1 * 0.3 / (2.5 - rich) - own - 0.01),
        "recovery_ms": 400 * 0.9 * (lean - 2.8) / (lean - 2.5),
    }


def hall(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """A switched wheel of 60 less 2 with a cam that falls at an angle of its own."""
    rpm, phase = rng.uniform(700, 1000), rng.uniform(40, 300)
    low, high = rng.uniform(0.1, 0.4), rng.uniform(4.6, 5.0)
    turns = np.arange(100_000) / 200_000 * rpm / 60 + rng.uniform()
    place = turns * 60 % 60
    # Edges take 10 us, as the recorder's bandwidth makes them.
    reach = 5e-6 * rpm
    within = place % 1
    rise = np.clip((np.minimum(within, 1 - within) * np.where(within < 0.5, 1, -1)) / reach, -1, 1)
    fall = np.clip((within - 0.5) / reach, -1, 1)
    wave = np.where(np.abs(within - 0.5) < 0.25, -fall, rise)
    wave = np.where((place < 58) | (place > 59.75), wave, -1.0)
    signal = (low + high) / 2 + (high - low) / 2 * wave
    cam = np.where((turns * 180 - phase / 2) % 360 < 180, 5.0, 0.1)
    lanes = {"signal": _noisy(signal, 0.02, rng, 10 / 4096), "cam": _noisy(cam, 0.02, rng, 10 / 4096)}
    return captured("crank-position", 200_000, **lanes), {
        "rpm": rpm,
        "level_low_v": low,
        "level_high_v": high,
        # A tooth is where its falling edge is, half a tooth after its rising one.
        "cam_phase_deg": phase - 3.0,
    }


def coil_wheel(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """An inductive wheel: peak to peak is twice the sine's amplitude."""
    amplitude, rate = rng.uniform(1.5, 3.0), float(rng.choice([25_000, 50_000, 100_000, 200_000]))
    place = (np.arange(0.6 * rate) / rate * rng.uniform(13, 25) + rng.uniform()) * 60 % 60
    wave = np.sin(2 * np.pi * place) * (place < 58)
    signal = _noisy(amplitude * wave, amplitude * 10 ** rng.uniform(-2.7, -1.3), rng, 10 / 4096)
    return captured("crank-position", rate, signal=signal), {"amplitude_v": 2 * amplitude}


_WAVES: tuple[Callable[[np.ndarray], np.ndarray], ...] = (
    lambda turns: np.sin(2 * np.pi * turns),
    lambda turns: 4 * np.abs(turns % 1 - 0.5) - 1,
    lambda turns: 2 * (np.abs(np.sin(np.pi * turns)) - np.sqrt(0.5)),
    lambda turns: 2 * (turns % 1) - 1,
)
"""Sine, triangle, rectified sine and ramp of the turns gone by, each of two from trough to crest and no median."""


def _wave(rng: np.random.Generator, low: float, high: float) -> tuple[Callable[[np.ndarray], np.ndarray], float]:
    """One of the waves, and its range between two percentiles, from a dense row of one turn."""
    shape = _WAVES[int(rng.integers(len(_WAVES)))]
    return shape, float(np.subtract(*np.percentile(shape(np.arange(200_000) / 200_000), (high, low))))


def ripples(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Ripples of several shapes in little or much noise."""
    peak, hertz = rng.uniform(0.08, 0.15), rng.uniform(300, 420)
    shape, reach = _wave(rng, 1.0, 99.0)
    t = np.arange(50_000) / 10_000
    sense = 14.1 + peak * shape(hertz * t + rng.uniform())
    duty, lifted = rng.uniform(20, 60), rng.uniform(0.005, 0.05)
    lanes = {
        "sense": _noisy(sense, peak * 10 ** rng.uniform(-2, -1), rng, 20 / 4096),
        "case_ground": _noisy(np.full(t.size, lifted), 0.002, rng, 1 / 4096),
        "command": _noisy(np.full(t.size, duty), 0.2, rng),
    }
    truth = {"ripple_v": peak * reach, "command_duty_pct": duty, "case_ground_max_v": lifted}
    return captured("charging", 10_000, **lanes), truth


def rail_ripple(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Injection ripple of several shapes at idle, and a decay after the stop."""
    idle, peak, tau = 1.25, rng.uniform(0.02, 0.04), rng.uniform(0.8, 1.4)
    shape, reach = _wave(rng, 5.0, 95.0)
    points = [(0, 0.5), (2, 0.5), (2.8, idle), (8, idle), (8.4, 3.0), (10, 3.0), (10.4, idle), (13, idle), (20, idle)]
    signal = _shifted(points, 1000, rng)
    t = np.arange(signal.size) / 1000
    stop = 13 + rng.uniform(0, 0.001)
    signal += peak * shape(rng.uniform(20, 30) * t) * ((t > 2.9) & (t < stop))
    signal = np.where(t > stop, 0.5 + (signal - 0.5) * np.exp(-np.maximum(0, t - stop) / tau), signal)
    truth = {"idle_ripple_mv": 1000 * peak * reach, "stop_decay_s": -tau * float(np.log(0.37)), "build_ms": 720.0}
    noise = 10 ** rng.uniform(-3, -2.2)
    return captured("rail-pressure", 1000, signal=_noisy(signal, noise, rng, 5 / 4096)), truth


def narrow(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Sine-like switching, a snap that goes rich and an overrun that goes lean."""
    low, high = rng.uniform(0.08, 0.14), rng.uniform(0.76, 0.84)
    points, at = [(0.0, low), (0.2, low)], 0.2
    for k in range(14):
        level = high if k % 2 == 0 else low
        points += [(at + 0.08, level), (at + 0.45, level)]
        at += 0.45
    snap, lean = rng.uniform(0.87, 0.92), rng.uniform(0.03, 0.06)
    points += [
        (at + 0.1, snap),
        (at + 1.2, snap),
        (at + 1.4, lean),
        (at + 3.4, lean),
        (at + 3.6, high),
        (at + 4.2, high),
    ]
    throttle = [(0.0, 0.7), (at - 0.05, 0.7), (at + 0.05, 4.0), (at + 1.1, 4.0), (at + 1.2, 0.6), (at + 4.2, 0.6)]
    delayed = _shifted(points, 1000, rng)
    lanes = {
        "signal": _noisy(delayed, 0.006, rng, 2 / 4096),
        "throttle": _noisy(np.resize(course(throttle, 1000), delayed.size), 0.008, rng, 10 / 4096),
    }
    truth = {"min_v": low, "max_v": high, "snap_rich_v": snap, "overrun_v": lean}
    return captured("oxygen-switching", 1000, **lanes), truth


def warming(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Degrees rise evenly through the thermistor of the circuit."""
    begin, per_min = rng.uniform(15, 25), rng.uniform(6, 12)
    t = np.arange(9000) / 100
    celsius = begin + per_min * t / 60
    ohm = 2046.0 * np.exp(3500.0 * (1 / (celsius + 273.15) - 1 / 298.15))
    signal = _noisy(5.0 * ohm / (3750 + ohm), 0.008, rng, 10 / 4096)
    return captured("temperature", 100, signal=signal), {"rate_c_per_min": per_min}


def _starts(rng: np.random.Generator, rate: float, count: int, pitch_s: float) -> np.ndarray:
    """Events a pitch apart, each with its own part of a sample of delay."""
    return 0.01 + pitch_s * np.arange(count) + rng.uniform(0, 1, count) / rate


def winding(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    coil = Coil(ohm=rng.uniform(15, 17), on_ms=rng.uniform(2.6, 3.4), decay_tau_ms=rng.uniform(0.12, 0.2))
    times = axis(0.25, 200_000)
    samples = _noisy(coil.amperes(times, _starts(rng, 200_000, 4, 0.055)), 0.004, rng, 2 / 4096)
    # Least squares over 5 to 30 % of the peak: the slope of the exponential between these levels.
    inside = np.linspace(*(-coil.tau_ms * np.log(1 - part * coil.peak_a / coil.full_a) for part in (0.05, 0.30)), 400)
    slope = np.polyfit(inside, coil.full_a * (1 - np.exp(-inside / coil.tau_ms)), 1)[0]
    truth = {
        "on_ms": coil.on_ms,
        "peak_a": coil.peak_a,
        "ramp": float(slope),
        "pintle_ms": coil.pintle_ms,
        "decay_ms": float(np.log(9)) * coil.decay_tau_ms,
    }
    return captured("injector-current", 200_000, current=samples), truth


def wire(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    supply, on, on_ms = rng.uniform(13.8, 14.4), rng.uniform(0.15, 0.4), rng.uniform(2.5, 3.5)
    times = axis(0.25, 200_000)
    lane = control_wire(times, _starts(rng, 200_000, 4, 0.055), supply=supply, on=on, on_ms=on_ms)
    truth = {"supply_v": supply, "on_v": on, "on_ms": on_ms, "kick_v": 68.0, "bump_ms": 1.1}
    return captured("injector-voltage", 200_000, control=_noisy(lane, 0.05, rng, 110 / 65536)), truth


def ramps(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    dwell, peak = rng.uniform(2.6, 3.4), rng.uniform(6.5, 8.5)
    times = axis(0.25, 200_000)
    ring = {"ring_a": rng.uniform(0.0, 0.5), "ring_ms": rng.uniform(0.04, 0.09)}
    lane = coil_ramp(times, _starts(rng, 200_000, 6, 0.037), dwell_ms=dwell, peak=peak, **ring)
    truth = {"dwell_ms": dwell, "peak_a": peak, "ramp": peak / dwell}
    return captured("coil-primary-current", 200_000, current=_noisy(lane, 0.02, rng, 40 / 4096)), truth


def firing(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    burn, burn_ms, peak = rng.uniform(1.3, 1.8), rng.uniform(1.0, 1.6), rng.uniform(8, 14)
    times = axis(0.25, 500_000)
    shot = {"peak": peak, "burn": burn, "burn_ms": burn_ms, "seed": int(rng.integers(1 << 30))}
    lane = spark(times, _starts(rng, 500_000, 6, 0.037), **shot)
    truth = {"burn_kv": burn, "burn_ms": burn_ms, "firing_kv": peak}
    return captured("secondary-voltage", 500_000, secondary=-_noisy(lane, 0.02, rng, 100 / 65536)), truth


def crystals(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    charge, width, begin = rng.uniform(6.5, 8.5), rng.uniform(0.5, 0.9), rng.uniform(2.0, 2.4)
    times, pitch = axis(0.25, 1_000_000), rng.uniform(0.05, 0.06)
    cycles = 0.01 + pitch * np.arange(4) + rng.uniform(0, 1) / 1_000_000
    lane = piezo(times, cycles, (0.0, 1.0, begin), widths_ms=(0.25, 0.25, width), charge=charge)
    samples = _noisy(lane, 0.04, rng, 40 / 4096)
    truth = {"charge_a": charge, "discharge_a": -0.75 * charge, "width_ms": width, "start_ms": begin}
    return captured("injector-piezo", 1_000_000, current=samples), truth | {"cycle_ms": 1000 * pitch}


def group(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    coil = Coil(ohm=14 / rng.uniform(3.8, 4.8), henry=rng.uniform(0.003, 0.004), on_ms=rng.uniform(2.6, 3.4), dip_a=0.0)
    samples = _noisy(coil.amperes(axis(0.25, 200_000), _starts(rng, 200_000, 4, 0.055)), 0.02, rng, 20 / 4096)
    truth = {"peak_a": coil.peak_a, "on_ms": coil.on_ms, "excess_ratio": coil.peak_a / 4.2}
    return captured("injector-current-group", 200_000, current=samples), truth


def parade(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    coil, pitch = Coil(ohm=rng.uniform(15, 17), on_ms=rng.uniform(2.6, 3.4)), rng.uniform(0.034, 0.040)
    times = axis(0.5, 200_000)
    starts = 0.01 + rng.uniform(0, 1) / 200_000 + pitch * np.arange(12)
    sync = np.zeros(times.size)
    for start in starts[::4]:
        sync += 8.0 * np.exp(-(((times - start - 0.004) / 0.0004) ** 2))
    lanes = {"current": _noisy(coil.amperes(times, starts), 0.004, rng, 2 / 4096), "sync": _noisy(sync, 0.02, rng)}
    truth = {"peak_a": coil.peak_a, "on_ms": coil.on_ms, "cycle_ms": 4000 * pitch}
    return captured("injector-current-parade", 200_000, **lanes), truth


def boosted(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """Up in a straight line to the boost, down to a hold that ripples."""
    boost, hold, rise = rng.uniform(9, 11), rng.uniform(2.2, 2.8), rng.uniform(0.25, 0.35)
    on_ms, hertz = rng.uniform(2.8, 3.4), rng.uniform(11_000, 13_000)
    times = axis(0.25, 200_000)
    lane = np.zeros(times.size)
    for start in _starts(rng, 200_000, 4, 0.055):
        u = 1000 * (times - start)
        ripple = 0.25 * np.sin(2 * np.pi * hertz / 1000 * u) * (u > 0.9)
        held = hold + (boost - hold) * np.exp(-np.maximum(u - rise, 0) / 0.12) + ripple
        lane += np.where((u >= 0) & (u < rise), boost * u / rise, 0) + np.where((u >= rise) & (u < on_ms), held, 0)
        lane += np.where(u >= on_ms, hold * np.exp(-np.maximum(u - on_ms, 0) / 0.05), 0)
    truth = {"boost_a": boost, "boost_ms": rise, "hold_a": hold, "on_ms": on_ms, "ripple_hz": hertz}
    return captured("injector-peak-hold", 200_000, current=_noisy(lane, 0.03, rng, 40 / 4096)), truth


def primary(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """A coil's driven wire: supply, dwell near ground, kick, burn and ring-out."""
    supply, dwell_v, dwell, kick = (
        rng.uniform(13.8, 14.4),
        rng.uniform(0.4, 0.9),
        rng.uniform(2.8, 3.4),
        rng.uniform(300, 340),
    )
    burn, burn_ms = rng.uniform(26, 34), rng.uniform(1.2, 1.6)
    times = axis(0.25, 500_000)
    starts = _starts(rng, 500_000, 6, 0.037)
    shot = {"peak": kick - supply, "burn": burn, "burn_ms": burn_ms, "seed": int(rng.integers(1 << 30))}
    lane = supply + spark(times, starts + dwell / 1000, **shot)
    for start in starts:
        lane = np.where((times >= start) & (times < start + dwell / 1000), dwell_v, lane)
    truth = {"supply_v": supply, "dwell_v": dwell_v, "dwell_ms": dwell, "kick_v": kick}
    truth |= {"burn_v": supply + burn, "burn_ms": burn_ms}
    return captured("coil-primary-voltage", 500_000, control=_noisy(lane, 0.2, rng, 800 / 65536)), truth


def bench(rng: np.random.Generator) -> tuple[Capture, dict[str, float]]:
    """A module that answers each trigger with the same low time."""
    low_ms = rng.uniform(3.0, 3.8)
    times = axis(0.8, 50_000)
    output, trigger = np.full(times.size, 14.0), np.zeros(times.size)
    for k, start in enumerate(_starts(rng, 50_000, 10, 0.07)):
        trigger[(times >= start) & (times < start + 0.002 + 0.002 * k)] = 5.0
        output[(times >= start) & (times < start + low_ms / 1000)] = 0.3
    lanes = {"trigger": _noisy(trigger, 0.03, rng, 10 / 4096), "output": _noisy(output, 0.05, rng, 40 / 4096)}
    return captured("igniter-bench", 50_000, **lanes), {"output_low_ms": low_ms}


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
    "airflow, in a snap": Case("airflow-voltage", air_snap),
    "oxygen, wideband": Case("oxygen-wideband", wide),
    "crank, Hall": Case("crank-position", hall),
    "crank, inductive": Case("crank-position", coil_wheel),
    "charging, moving": Case("charging", ripples),
    "rail, moving": Case("rail-pressure", rail_ripple),
    "oxygen, extremes": Case("oxygen-switching", narrow),
    "temperature, rising": Case("temperature", warming),
    "injector voltage": Case("injector-voltage", wire),
    "injector current": Case("injector-current", winding),
    "injector, piezo": Case("injector-piezo", crystals),
    "coil, primary current": Case("coil-primary-current", ramps),
    "secondary": Case("secondary-voltage", firing),
    "injectors, group": Case("injector-current-group", group, {"injectors": "6", "each_a": "0.7"}),
    "injectors, parade": Case("injector-current-parade", parade, {"firing_order": "1-3-4-2"}),
    "injector, peak and hold": Case("injector-peak-hold", boosted),
    "coil, primary voltage": Case("coil-primary-voltage", primary),
    "igniter": Case("igniter-bench", bench),
}
