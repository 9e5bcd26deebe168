"""Captures from formulas that neither the core nor the trainer uses, with what a careful reader says of each.

Kinds of record that real scopes bring: begun in the middle, cut off, dead, swapped, coarse, in noise as large as
a feature.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from tests.support.courses import captured
from tests.support.pulses import Coil, axis, coil_ramp, control_wire, noisy, piezo, spark
from tracebench.core.capture import Capture

RNG = np.random.default_rng


@dataclass(frozen=True)
class Outside:
    """`calls` are right, `finds` must be found, `denies` must not, `reads` are values and what they may be off."""

    name: str
    circuit: str
    capture: Callable[[], Capture]
    calls: tuple[str, ...]
    finds: tuple[str, ...] = ()
    denies: tuple[str, ...] = ()
    reads: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    absent: tuple[str, ...] = ()
    options: Mapping[str, str] = field(default_factory=dict)
    phases: tuple[tuple[str, float, float], ...] = ()
    lane: str | None = None
    """The lane that a finding must name."""
    cylinder: int | None = None


def smooth(
    seconds: float, rate: float, *points: tuple[float, float], noise: float = 0.004, seed: int = 1
) -> np.ndarray:
    """Half-cosine passages between points: no corner anywhere."""
    t = np.arange(round(seconds * rate)) / rate
    times, values = (np.array(x, dtype=float) for x in zip(*points, strict=True))
    k = np.clip(np.searchsorted(times, t, side="right") - 1, 0, times.size - 2)
    share = np.clip((t - times[k]) / (times[k + 1] - times[k]), 0, 1)
    course = values[k] + (values[k + 1] - values[k]) * (1 - np.cos(np.pi * share)) / 2
    return course + RNG(seed).normal(0, noise, t.size)


def flat(seconds: float, rate: float, level: float, noise: float = 0.003, seed: int = 2) -> np.ndarray:
    return level + RNG(seed).normal(0, noise, round(seconds * rate))


def throttle_cut() -> Capture:
    signal = smooth(7.0, 1000, (0, 0.6), (1.5, 0.6), (9.0, 4.3))
    return captured("throttle-position", 1000, signal=signal)


def throttle_dead() -> Capture:
    return captured("throttle-position", 1000, signal=flat(20, 1000, 0.02), reference=flat(20, 1000, 5.0, seed=3))


TRAVEL = (
    (0, 0.6),
    (1, 0.6),
    (6, 4.3),
    (8, 4.3),
    (13, 0.6),
    (14, 0.6),
    (19, 4.3),
    (21, 4.3),
    (26, 0.6),
    (28, 0.6),
)


def throttle_clipped() -> Capture:
    signal = smooth(28, 1000, *TRAVEL)
    return captured("throttle-position", 1000, signal=np.minimum(signal, 3.5))


def throttle_steps() -> Capture:
    """Eight bits over 20 V, no noise: 0.078 V a step."""
    signal = smooth(28, 1000, *TRAVEL, noise=0)
    step = 20 / 256
    return captured("throttle-position", 1000, signal=np.round(signal / step) * step)


def pedal_floats() -> Capture:
    x = smooth(14, 1000, (0, 0), (1, 0), (6, 1), (7, 1), (12, 0), (14, 0), noise=0)
    t = np.arange(x.size) / 1000
    off = (t > 4.0) & (t < 4.5)
    lanes = {
        "track1": 0.8 + 3.0 * x,
        "track2": 0.4 + 1.5 * x,
        "reference1": np.full(x.size, 5.0),
        "reference2": np.full(x.size, 5.0),
    }
    lanes = {n: v + RNG(k).normal(0, 0.004, x.size) for k, (n, v) in enumerate(lanes.items())}
    for k, n in enumerate(("track1", "track2")):
        lanes[n] = np.where(off, RNG(9 + k).normal(0.0, 0.01, x.size), lanes[n])
    return captured("pedal-position", 1000, **lanes)


MAP = (
    (0, 4.5),
    (2, 4.5),
    (3.2, 1.3),
    (8, 1.3),
    (8.08, 4.45),
    (8.7, 4.4),
    (8.95, 0.6),
    (10.4, 0.6),
    (11, 1.3),
    (15, 1.3),
)


def pressure() -> np.ndarray:
    return smooth(15, 2000, *MAP, noise=0.01)


def pressure_swapped() -> Capture:
    throttle = smooth(15, 2000, (0, 0.6), (7.98, 0.6), (8.06, 4.2), (8.68, 4.2), (8.78, 0.6), (15, 0.6), noise=0.005)
    return captured("manifold-pressure", 2000, signal=throttle, throttle=pressure())


def pressure_midway() -> Capture:
    """Begins in the overrun of one snap; idles; snaps again at 6 s."""
    points = (
        (0, 0.7),
        (0.8, 0.6),
        (1.6, 1.3),
        (6, 1.3),
        (6.08, 4.45),
        (6.7, 4.4),
        (6.95, 0.6),
        (8.4, 0.6),
        (9, 1.3),
        (12, 1.3),
    )
    return captured("manifold-pressure", 2000, signal=smooth(12, 2000, *points, noise=0.01))


def pressure_dead() -> Capture:
    throttle = smooth(15, 2000, (0, 0.6), (7.98, 0.6), (8.06, 4.2), (8.68, 4.2), (8.78, 0.6), (15, 0.6), noise=0.005)
    return captured("manifold-pressure", 2000, signal=flat(15, 2000, 0.02, 0.002), throttle=throttle)


AIR = (
    (0, 0.4),
    (2, 0.4),
    (2.2, 1.4),
    (2.9, 1.4),
    (3.2, 1.05),
    (7, 1.05),
    (7.7, 1.7),
    (10, 1.7),
    (10.7, 2.4),
    (13, 2.4),
    (13.6, 1.05),
    (16, 1.05),
)


def air_surge() -> Capture:
    """A first surge of 10 ms about its top of 3.0 V, over the climb with speed."""
    signal = smooth(21, 5000, *AIR, (16.06, 2.2), (16.7, 2.7), (17.4, 1.3), (18.5, 1.05), (21, 1.05), noise=0.004)
    t = np.arange(signal.size) / 5000
    return captured("airflow-voltage", 5000, signal=signal + 0.8 * np.exp(-(((t - 16.06) / 0.005) ** 2)))


def air_dead() -> Capture:
    return captured(
        "airflow-voltage",
        1000,
        signal=flat(20, 1000, 0.02, 0.002),
        supply=flat(20, 1000, 12.6, 0.01),
        ground=flat(20, 1000, 0.02),
    )


def air_told() -> Capture:
    """Three plateaus without key-on or start, as a told record has them."""
    return captured(
        "airflow-voltage",
        1000,
        signal=smooth(15, 1000, (0, 1.05), (5, 1.05), (5.5, 1.7), (10, 1.7), (10.5, 2.3), (15, 2.3)),
    )


def pulses_too_coarse() -> Capture:
    """5 kHz pulses at 12,000 samples a second."""
    t = np.arange(60_000) / 12_000
    hertz = 2000 + 3000 * np.clip((t - 2.5) / 0.1, 0, 1) * (t < 3.2)
    signal = np.where(np.cumsum(hertz) / 12_000 % 1 < 0.5, 5.0, 0.1)
    return captured("airflow-frequency", 12_000, signal=signal + RNG(3).normal(0, 0.02, t.size))


def oxygen_rich() -> Capture:
    """Biased rich: rests at 0.78 V with a ripple of the loop, and never crosses."""
    t = np.arange(20_000) / 1000
    signal = 0.78 + 0.06 * np.sin(2 * np.pi * 0.9 * t) + RNG(4).normal(0, 0.005, t.size)
    return captured("oxygen-switching", 1000, signal=signal)


def rail(*points: tuple[float, float]) -> Capture:
    return captured("rail-pressure", 1000, signal=smooth(points[-1][0], 1000, *points, noise=0.01))


def wheel(
    teeth: int = 60,
    missing: int = 2,
    rpm: float = 900,
    low: int | None = None,
    top: float | None = None,
    sign: float = 1.0,
) -> Capture:
    """One sine period a tooth of 4 V peak to peak; tooth `low` of each turn a fifth as high; cut at `top`."""
    t = np.arange(round(8.4 * 60 / rpm * 100_000)) / 100_000
    place = t * rpm / 60 * teeth % teeth
    wave = np.where(place < teeth - missing, 2.0 * np.sin(2 * np.pi * place), 0.0)
    if low is not None:
        wave = np.where(np.floor(place) == low, 0.2 * wave, wave)
    wave = sign * wave + RNG(5).normal(0, 0.02, t.size)
    return captured("crank-position", 100_000, signal=wave if top is None else np.clip(wave, -top, top))


def wire(
    bump: float = 2.0, noise: float = 0.05, second: bool = False, seed: int = 1, rate: float = 200_000, rings: int = 0
) -> Capture:
    t = axis(0.6, rate)
    starts = np.arange(0.02, 0.55, 0.075)
    one = noisy(control_wire(t, starts, bump_v=bump, rings=rings), noise, seed, 120 / 4096)
    if not second:
        return captured("injector-voltage", rate, control=one)
    other = noisy(control_wire(t, starts + 0.037, bump_ms=None), noise, seed + 1, 120 / 4096)
    return captured("injector-voltage", rate, control=one, control2=other)


def amps(
    code: str, scale: float, rate: float = 100_000, seconds: float = 0.8, sync: bool = False, **coil: float
) -> Capture:
    t = axis(seconds, rate)
    at = np.arange(0.02, seconds - 0.02, 0.037)
    lanes = {"current": noisy(scale * Coil(**coil).amperes(t, at), 0.004 * scale, 2)}
    if sync:
        lanes["sync"] = np.where((t >= 0.02) & (t < 0.0215), 5.0, 0.0) + RNG(6).normal(0, 0.02, t.size)
    return captured(code, rate, **lanes)


def ramps(rate: float, ring: float = 0.35, scale: float = 1.0) -> Capture:
    t = axis(0.8, rate)
    lane = coil_ramp(t, np.arange(0.02, 0.75, 0.037), ring_a=ring)
    return captured("coil-primary-current", rate, current=noisy(scale * lane, 0.02 * scale))


def sparks(peak: float, burn: float = 1.5) -> Capture:
    t = axis(1.0, 500_000)
    lane = sum(spark(t, [s], peak=peak, burn=burn, seed=k) for k, s in enumerate(np.arange(0.02, 0.97, 0.075)))
    return captured("secondary-voltage", 500_000, secondary=noisy(-lane, 0.02))


def crystals(cycles: np.ndarray, seconds: float, **more: object) -> Capture:
    t = axis(seconds, 500_000)
    return captured("injector-piezo", 500_000, current=noisy(piezo(t, cycles, **more), 0.05))


ANY = ("sound", "faulty", "inconclusive")
NOT_SOUND = ("faulty", "inconclusive")
NOT_FAULTY = ("sound", "inconclusive")

CAPTURES = (
    Outside(
        "throttle that never opened fully before the record ended",
        "throttle-position",
        throttle_cut,
        ("inconclusive",),
        denies=("low_open",),
    ),
    Outside(
        "throttle dead at 20 mV under a live reference",
        "throttle-position",
        throttle_dead,
        ("faulty",),
        ("stuck_low",),
        ("scale_suspect",),
    ),
    Outside(
        "throttle clipped at 3.5 V",
        "throttle-position",
        throttle_clipped,
        ("inconclusive",),
        ("clipped",),
        ("low_open",),
    ),
    Outside(
        "throttle in coarse steps",
        "throttle-position",
        throttle_steps,
        ANY,
        reads={"closed_v": (0.6, 0.045), "open_v": (4.3, 0.045)},
    ),
    Outside(
        "two tracks that float at once", "pedal-position", pedal_floats, NOT_FAULTY, ("probe_slip",), ("track_lost",)
    ),
    Outside(
        "pressure and throttle exchanged",
        "manifold-pressure",
        pressure_swapped,
        NOT_FAULTY,
        ("lanes_swapped",),
        reads={"idle_v": (1.3, 0.02)},
    ),
    Outside(
        "pressure begun in an overrun",
        "manifold-pressure",
        pressure_midway,
        ("sound",),
        reads={"idle_v": (1.3, 0.02), "snap_peak_v": (4.45, 0.05)},
        absent=("key_on_v",),
    ),
    Outside(
        "pressure dead at 20 mV through a snap",
        "manifold-pressure",
        pressure_dead,
        NOT_SOUND,
        denies=("scale_suspect",),
    ),
    Outside("surge of 10 ms", "airflow-voltage", air_surge, ANY, reads={"snap_peak_v": (3.0, 0.08)}),
    Outside(
        "airflow dead at 20 mV under supply",
        "airflow-voltage",
        air_dead,
        ("faulty",),
        ("no_signal",),
        ("scale_suspect",),
    ),
    Outside(
        "airflow phases told",
        "airflow-voltage",
        air_told,
        ("sound",),
        reads={"idle_v": (1.05, 0.02), "v_2500": (1.7, 0.02), "v_4000": (2.3, 0.03)},
        phases=(("idle", 0.5, 4.5), ("steady_2500", 6.0, 9.5), ("steady_4000", 11.0, 14.8)),
    ),
    Outside(
        "airflow pulses too coarsely sampled",
        "airflow-frequency",
        pulses_too_coarse,
        ("inconclusive",),
        ("undersampled",),
        ("missing_pulses", "low_swing", "low_under_load"),
    ),
    Outside(
        "oxygen biased rich, no cycle", "oxygen-switching", oxygen_rich, ("faulty",), reads={"mean_v": (0.78, 0.02)}
    ),
    Outside(
        "rail begun in an acceleration",
        "rail-pressure",
        lambda: rail((0, 2.9), (1, 3.0), (1.5, 1.2), (7, 1.2), (7.4, 3.0), (9, 3.0), (9.4, 1.2), (13, 1.2)),
        ("sound",),
        reads={"idle_v": (1.2, 0.03), "peak_v": (3.0, 0.05)},
        absent=("key_on_v",),
    ),
    Outside(
        "rail that does not fall after the stop",
        "rail-pressure",
        lambda: rail((0, 0.5), (2, 0.5), (2.6, 1.2), (9, 1.2), (9.3, 3.0), (11, 3.0), (11.4, 1.2), (20, 1.19)),
        ("faulty",),
        ("no_decay",),
        phases=(("stop", 15.0, 20.0),),
    ),
    Outside(
        "crank of 36 teeth, one a fifth as high",
        "crank-position",
        lambda: wheel(36, 1, low=12),
        ("faulty",),
        ("tooth_damaged",),
        reads={"teeth_per_rev": (36, 0), "rpm": (900, 5), "gap_teeth": (1, 0)},
    ),
    Outside(
        "crank clipped",
        "crank-position",
        lambda: wheel(top=1.2),
        NOT_FAULTY,
        ("clipped",),
        ("weak_amplitude", "tooth_damaged"),
    ),
    Outside(
        "crank flat",
        "crank-position",
        lambda: captured("crank-position", 100_000, signal=flat(0.5, 100_000, 0.0, 0.005)),
        ("inconclusive",),
        ("flat_line",),
    ),
    Outside(
        "crank of either sense", "crank-position", lambda: wheel(sign=-1.0), ("sound",), denies=("reversed_polarity",)
    ),
    Outside(
        "crank of the other sense than told",
        "crank-position",
        lambda: wheel(sign=-1.0),
        NOT_FAULTY,
        ("reversed_polarity",),
        options={"sense": "falling"},
    ),
    Outside(
        "bump in noise",
        "injector-voltage",
        lambda: wire(bump=1.2, noise=0.4),
        NOT_FAULTY,
        denies=("no_bump", "tail_ringing"),
    ),
    Outside("noise is no ringing", "injector-voltage", lambda: wire(noise=0.6), NOT_FAULTY, denies=("tail_ringing",)),
    Outside(
        "noise is no ringing at 100,000 samples a second",
        "injector-voltage",
        lambda: wire(bump=1.2, noise=0.6, rate=100_000),
        NOT_FAULTY,
        denies=("tail_ringing", "no_bump"),
    ),
    Outside(
        "ringing in noise",
        "injector-voltage",
        lambda: wire(noise=0.4, rings=5),
        NOT_SOUND,
        denies=("no_bump",),
    ),
    Outside(
        "the second injector does not seat",
        "injector-voltage",
        lambda: wire(second=True),
        ("faulty",),
        ("no_bump",),
        lane="control2",
    ),
    Outside(
        "a group at a tenth of its current",
        "injector-current-group",
        lambda: amps("injector-current-group", 0.5),
        NOT_FAULTY,
        ("scale_suspect",),
        options={"injectors": "6", "each_a": "0.7"},
    ),
    Outside(
        "half a cycle of a parade",
        "injector-current-parade",
        lambda: amps("injector-current-parade", 1.0, seconds=0.1, sync=True),
        NOT_FAULTY,
        denies=("flat_line",),
        options={"firing_order": "1-3-4-2"},
    ),
    Outside(
        "turn-on ripple missing at 100,000 samples a second",
        "coil-primary-current",
        lambda: ramps(100_000, ring=0.0),
        NOT_SOUND,
    ),
    Outside(
        "turn-on ripple missing at 50,000 samples a second",
        "coil-primary-current",
        lambda: ramps(50_000, ring=0.0),
        NOT_SOUND,
    ),
    Outside(
        "ramps undersampled",
        "coil-primary-current",
        lambda: ramps(2_000),
        ("inconclusive",),
        ("undersampled",),
        ("missing_ramp", "short_dwell", "low_peak"),
    ),
    Outside(
        "a coil's current ten times what it can be",
        "coil-primary-current",
        lambda: ramps(500_000, scale=10.0),
        NOT_FAULTY,
        ("scale_suspect",),
        reads={"peak_a": (7.5, 0.1)},
    ),
    Outside("a firing line of 38 kV at idle", "secondary-voltage", lambda: sparks(38.0), ("faulty",), ("high_firing",)),
    Outside(
        "a firing line of 2.4 kV over a burn of 1 kV",
        "secondary-voltage",
        lambda: sparks(2.4, 1.0),
        ("faulty",),
        ("low_firing",),
        ("scale_suspect",),
    ),
    Outside(
        "piezo, a single cycle",
        "injector-piezo",
        lambda: crystals(np.array([0.02]), 0.06),
        NOT_FAULTY,
        denies=("power_stage_off", "missing_event"),
        reads={"events_count": (3, 0)},
    ),
    Outside(
        "piezo, one event a cycle",
        "injector-piezo",
        lambda: crystals(np.arange(0.02, 0.46, 0.1), 0.5, offsets_ms=(0.0,), widths_ms=(0.6,)),
        NOT_FAULTY,
        denies=("power_stage_off", "missing_event"),
        reads={"events_count": (1, 0)},
        options={"events": "1"},
    ),
)
