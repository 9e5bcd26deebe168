"""More captures of an outsider: sound and failing parts as a workshop meets them, in recorders of its own.

Arctangents, logistic curves, rectified waves and relaxation curves: shapes that neither the core nor the trainer draws.
"""

from __future__ import annotations

import numpy as np

from tests.outside.captures import NOT_FAULTY, NOT_SOUND, RNG, Outside
from tests.support.courses import captured
from tests.support.pulses import Coil, axis, coil_ramp, control_wire, noisy, spark
from tracebench.core.capture import Capture

ORDER = {"firing_order": "1-3-4-2"}


def logistic(t: np.ndarray, at: float, width: float) -> np.ndarray:
    """0 to 1 about `at`; 10 to 90 % take 4.394 widths."""
    return 1 / (1 + np.exp(np.clip(-(t - at) / width, -60, 60)))


def scope(lane: np.ndarray, full: float, bits: int, noise: float, seed: int = 1) -> np.ndarray:
    """A recorder of `bits` over plus and minus `full`."""
    step = 2 * full / 2**bits
    return np.clip(np.round((lane + RNG(seed).normal(0, noise, lane.size)) / step), -(2 ** (bits - 1)), 2**bits) * step


def sweep(closed: float = 0.62, opened: float = 4.2, torn: float | None = None) -> Capture:
    """Two slow sweeps up and down by logistic curves; a gap in the track at a share `torn` of the travel."""
    t = axis(36, 1000)
    x = sum(s * logistic(t, at, 0.4) for s, at in ((1, 5), (-1, 13), (1, 21), (-1, 29)))
    lane = closed + (opened - closed) * x
    if torn is not None:
        lane = np.where(np.abs(x - torn) < 0.012, 0.3 * lane, lane)
    return captured("throttle-position", 1000, signal=scope(lane, 10, 12, 0.003))


def pedal(bent: bool = False) -> Capture:
    t = axis(20, 1000)
    x = sum(s * logistic(t, at, 0.25) for s, at in ((1, 4), (-1, 9), (1, 13), (-1, 17)))
    second = 0.4 + 1.5 * x + (0.35 * np.sin(np.pi * x) if bent else 0)
    return captured(
        "pedal-position", 1000, track1=scope(0.8 + 3 * x, 10, 12, 0.003), track2=scope(second, 10, 12, 0.003, 2)
    )


def loop(hertz: float = 1.2, low: float = 0.12, high: float = 0.86, edge: float = 0.012) -> Capture:
    """A switching sensor: arctangents of a sine, steep through the middle."""
    t = axis(20, 2000)
    steep = 1 / (2 * np.pi * hertz * edge)
    wave = np.arctan(steep * np.sin(2 * np.pi * hertz * t)) / np.arctan(steep)
    return captured("oxygen-switching", 2000, signal=scope((low + high) / 2 + (high - low) / 2 * wave, 2.5, 12, 0.004))


def lean() -> Capture:
    """A sensor that rests at 0.1 V, and at 0.03 V while the fuel is cut: a tenth of a rich one's levels."""
    t = axis(22, 2000)
    lane = 0.1 - 0.07 * (logistic(t, 16, 0.05) - logistic(t, 18, 0.05))
    throttle = 0.6 + 3.4 * (logistic(t, 15, 0.02) - logistic(t, 15.9, 0.02))
    return captured(
        "oxygen-switching", 2000, signal=scope(lane, 2.5, 12, 0.004), throttle=scope(throttle, 10, 12, 0.005, 2)
    )


def breathing(idle: float, after: float, overrun: float) -> Capture:
    """Key on, a start, idle, a snap of 0.7 s, an overrun and idle again, by logistic curves."""
    t = axis(18, 2000)
    steps = ((2, idle - 4.5, 0.1), (8, 4.45 - idle, 0.01), (8.7, overrun - 4.45, 0.03), (10.2, after - overrun, 0.1))
    return captured(
        "manifold-pressure", 2000, signal=scope(4.5 + sum(v * logistic(t, at, w) for at, v, w in steps), 10, 12, 0.004)
    )


def pump(level: float = 2.5, wander: float = 0.08) -> Capture:
    t = axis(30, 1000)
    lane = level + wander * np.sin(2 * np.pi * 0.31 * t) * np.cos(2 * np.pi * 0.083 * t)
    return captured(
        "oxygen-wideband",
        1000,
        pump_voltage=scope(lane, 10, 12, 0.01),
        reference_low=scope(np.full(t.size, 2.2), 10, 12, 0.004, 2),
        reference_high=scope(np.full(t.size, 2.8), 10, 12, 0.004, 3),
    )


def warming(cut: bool = False) -> Capture:
    """A coolant sensor that falls from 3.4 V to 0.8 V, and is pulled to 5 V for 60 ms twice where its wire breaks."""
    t = axis(120, 200)
    lane = 0.8 + 2.6 / (1 + (t / 40) ** 2)
    if cut:
        lane = np.where((np.abs(t - 50) < 0.03) | (np.abs(t - 83) < 0.03), 5.0, lane)
    return captured("temperature", 200, signal=scope(lane, 10, 12, 0.004))


def feeds(supply: float = 14.0, reference: float = 5.0, ground: float = 0.02) -> Capture:
    t = axis(8, 2000)
    ripple = 0.05 * np.abs(np.sin(2 * np.pi * 160 * t))
    return captured(
        "supply-ground",
        2000,
        supply=scope(supply + ripple, 20, 12, 0.01),
        reference=scope(np.full(t.size, reference), 10, 12, 0.003, 2),
        ground=scope(np.full(t.size, ground), 1, 12, 0.001, 3),
        battery=scope(14.15 + ripple, 20, 12, 0.01, 4),
    )


def alternator(volts: float = 14.1, lost_phase: bool = False) -> Capture:
    """Three rectified phases of 300 Hz; with a diode open one of six humps is gone."""
    t = axis(6, 10_000)
    angle = 2 * np.pi * 300 * t
    waves = [np.cos(angle - k * np.pi / 3) for k in range(5 if lost_phase else 6)]
    lane = volts + (np.max(waves, axis=0) - 0.955) * 1.3
    return captured(
        "charging",
        10_000,
        sense=scope(lane, 20, 12, 0.01),
        case_ground=scope(np.full(t.size, 0.03), 1, 12, 0.002, 2),
    )


def injected(**wire: object) -> Capture:
    t = axis(0.6, 200_000)
    return captured(
        "injector-voltage", 200_000, control=scope(control_wire(t, np.arange(0.03, 0.57, 0.08), **wire), 100, 12, 0.05)
    )


def current(code: str = "injector-current", **coil: float) -> Capture:
    t = axis(0.6, 100_000)
    return captured(code, 100_000, current=scope(Coil(**coil).amperes(t, np.arange(0.03, 0.57, 0.08)), 2.5, 12, 0.003))


def boosted(hold: float = 2.5, boost: float = 10.0) -> Capture:
    """A ramp to the boost in 0.4 ms, a relaxation to the hold with its chopping, and off."""
    t = axis(0.4, 500_000)
    out = np.zeros(t.size)
    for start in np.arange(0.02, 0.37, 0.06):
        u = 1000 * (t - start)
        rise = boost * np.sinh(np.clip(u, 0, 0.4)) / np.sinh(0.4)
        held = hold + (boost - hold) / (1 + (np.clip(u - 0.4, 0, None) / 0.12) ** 2)
        held = held + 0.15 * (2 * np.abs((u / 0.09) % 1 - 0.5) - 0.5) * (u > 1.2)
        out += np.where((u >= 0) & (u < 0.4), rise, 0) + np.where((u >= 0.4) & (u < 2.4), held, 0)
        out += np.where(u >= 2.4, hold * np.exp(-np.clip(u - 2.4, 0, None) / 0.05), 0)
    return captured("injector-peak-hold", 500_000, current=scope(out, 20, 12, 0.02))


def coil_wire(burn_ms: float = 1.3, kick: float = 330.0, burn: float = 40.0, dwell_v: float = 0.9) -> Capture:
    """A coil's control wire: dwell, a kick in a bell of 15 us, a burn that climbs, three rings and more about 14 V."""
    t = axis(0.5, 1_000_000)
    out = np.full(t.size, 14.0)
    for start in np.arange(0.03, 0.46, 0.075):
        u = 1000 * (t - start)
        out = np.where((u >= 0) & (u < 3.0), dwell_v, out)
        v = u - 3.0
        line = 14 + burn * (1 + 0.15 * v / max(burn_ms, 0.1))
        out = np.where((v >= 0) & (v < burn_ms), line, out)
        out += np.where((v >= 0) & (v < 0.2), (kick - line) * np.exp(-(((v - 0.03) / 0.015) ** 2)), 0)
        w = np.clip(v - burn_ms, 0, None)
        ring = 0.8 * burn * np.exp(-w / 0.35) * np.cos(2 * np.pi * w / 0.22)
        out = np.where((v >= burn_ms) & (v < burn_ms + 4), 14 + ring, out)
    return captured("coil-primary-voltage", 1_000_000, control=scope(out, 500, 14, 0.1))


def fired(bad: dict[str, float] | None = None) -> Capture:
    """Four cylinders 1-3-4-2 with a sync pulse at cylinder 1; every third event in the row, cylinder 4, is `bad`."""
    t = axis(1.3, 250_000)
    lane = np.zeros(t.size)
    for k, at in enumerate(np.arange(0.02, 1.27, 0.04)):
        shape = {"peak": 9.0 + 0.3 * (k % 3), **((bad or {}) if k % 4 == 2 else {})}
        lane += spark(t, [at], seed=k, **shape)
    sync = np.zeros(t.size)
    for at in np.arange(0.02, 1.27, 0.16):
        sync += 4 * np.exp(-(((t - at) / 0.0008) ** 2))
    return captured("secondary-voltage", 250_000, secondary=noisy(-lane, 0.03), sync=noisy(sync, 0.05, 7))


def ramped(lost: int | None = None) -> Capture:
    t = axis(1.3, 500_000)
    starts = np.arange(0.02, 1.27, 0.04)
    kept = [s for k, s in enumerate(starts) if lost is None or k % 4 != lost]
    sync = sum(4 * np.exp(-(((t - at) / 0.0008) ** 2)) for at in np.arange(0.021, 1.27, 0.16))
    return captured("coil-primary-current", 500_000, current=noisy(coil_ramp(t, kept), 0.02), sync=noisy(sync, 0.05, 8))


def module(widths_ms: np.ndarray) -> Capture:
    t = axis(6, 20_000)
    trigger, output = np.zeros(t.size), np.full(t.size, 12.0)
    for k, width in enumerate(widths_ms):
        u = t - 0.4 - 0.7 * k
        held = 0.1 + 0.05 * ((k * 5) % 7)
        trigger = np.where((u >= 0) & (u < held), 5.0, trigger)
        output = np.where((u >= 0) & (u < width / 1000), 0.4, output)
    return captured("igniter-bench", 20_000, trigger=noisy(trigger, 0.02), output=noisy(output, 0.03, 2))


WORKSHOP = (
    Outside(
        "throttle, sound",
        "throttle-position",
        sweep,
        ("sound",),
        reads={"closed_v": (0.62, 0.01), "open_v": (4.2, 0.01)},
    ),
    Outside("throttle, track torn at 40 %", "throttle-position", lambda: sweep(torn=0.4), ("faulty",), ("dropout",)),
    Outside(
        "pedal, sound",
        "pedal-position",
        pedal,
        ("sound",),
        reads={"track1_full_v": (3.8, 0.01), "track2_released_v": (0.4, 0.01)},
    ),
    Outside("pedal, second track bent", "pedal-position", lambda: pedal(True), ("faulty",)),
    Outside(
        "oxygen, sound at 1.2 Hz",
        "oxygen-switching",
        loop,
        ("sound",),
        reads={"crossings_hz": (1.2, 0.05), "mean_v": (0.49, 0.02)},
    ),
    Outside("oxygen, lazy", "oxygen-switching", lambda: loop(0.6, edge=0.25), ("faulty",), ("lazy",)),
    Outside(
        "oxygen, small swing",
        "oxygen-switching",
        lambda: loop(low=0.36, high=0.55),
        ("faulty",),
        ("contaminated_low_swing",),
    ),
    Outside("wideband in its window", "oxygen-wideband", pump, NOT_FAULTY, reads={"in_window_pct": (100, 1)}),
    Outside("wideband lean at 3.3 V", "oxygen-wideband", lambda: pump(3.3), ("faulty",), ("biased_lean",)),
    Outside("wideband rich at 1.7 V", "oxygen-wideband", lambda: pump(1.7), ("faulty",), ("biased_rich",)),
    Outside("temperature, warming", "temperature", warming, ("sound",), denies=("open_circuit", "dropout")),
    Outside(
        "temperature, wire opens twice",
        "temperature",
        lambda: warming(True),
        ("faulty",),
        ("dropout",),
        reads={"dropouts_count": (2, 0)},
    ),
    Outside(
        "feeds, sound",
        "supply-ground",
        feeds,
        ("sound",),
        reads={"reference_v": (5.0, 0.005), "ground_v": (0.02, 0.003)},
    ),
    Outside("feeds, ground lifted", "supply-ground", lambda: feeds(ground=0.35), ("faulty",), ("ground_high",)),
    Outside(
        "feeds, supply 1.2 V under battery", "supply-ground", lambda: feeds(supply=12.95), ("faulty",), ("supply_low",)
    ),
    Outside("alternator, sound", "charging", alternator, ("sound",), denies=("diode_ripple",)),
    Outside("alternator, diode open", "charging", lambda: alternator(lost_phase=True), ("faulty",), ("diode_ripple",)),
    Outside("alternator, flat at 12.4 V", "charging", lambda: alternator(12.4), ("faulty",), ("undercharge",)),
    Outside(
        "injector wire, sound",
        "injector-voltage",
        injected,
        ("sound",),
        reads={"on_ms": (3.0, 0.02), "supply_v": (14.0, 0.06), "kick_v": (68, 1)},
    ),
    Outside(
        "injector wire, three rings", "injector-voltage", lambda: injected(rings=4), ("faulty",), ("tail_ringing",)
    ),
    Outside("injector wire, kick of 30 V", "injector-voltage", lambda: injected(kick=30.0), ("faulty",), ("low_kick",)),
    Outside(
        "injector wire, driver at 1.4 V", "injector-voltage", lambda: injected(on=1.4), ("faulty",), ("weak_ground",)
    ),
    Outside(
        "injector current, sound",
        "injector-current",
        current,
        ("sound",),
        reads={"pintle_ms": (1.4, 0.12), "on_ms": (3.0, 0.03)},
    ),
    Outside(
        "injector current, stuck needle",
        "injector-current",
        lambda: current(dip_a=0.0),
        ("faulty",),
        ("no_pintle_dip",),
    ),
    Outside(
        "peak and hold, sound",
        "injector-peak-hold",
        boosted,
        ("sound",),
        reads={"boost_a": (10, 0.15), "hold_a": (2.5, 0.1), "on_ms": (2.4, 0.05)},
    ),
    Outside("peak and hold, no hold", "injector-peak-hold", lambda: boosted(hold=0.15), NOT_SOUND, ("no_hold",)),
    Outside(
        "coil wire, sound",
        "coil-primary-voltage",
        coil_wire,
        ("sound",),
        reads={"dwell_ms": (3.0, 0.02), "burn_ms": (1.3, 0.06), "kick_v": (330, 8)},
    ),
    Outside(
        "coil wire, short burn", "coil-primary-voltage", lambda: coil_wire(burn_ms=0.5), ("faulty",), ("short_burn",)
    ),
    Outside(
        "coil wire, driver at 2.6 V",
        "coil-primary-voltage",
        lambda: coil_wire(dwell_v=2.6),
        ("faulty",),
        ("weak_driver",),
    ),
    Outside("sparks, sound", "secondary-voltage", fired, ("sound",), options=ORDER),
    Outside(
        "sparks, cylinder 4 needs 19 kV",
        "secondary-voltage",
        lambda: fired({"peak": 19.0}),
        ("faulty",),
        ("high_firing",),
        options=ORDER,
        cylinder=4,
    ),
    Outside(
        "sparks, cylinder 4 has no burn",
        "secondary-voltage",
        lambda: fired({"burn_ms": 0.0, "peak": 22.0}),
        ("faulty",),
        ("no_burn",),
        options=ORDER,
        cylinder=4,
    ),
    Outside(
        "ramps, sound",
        "coil-primary-current",
        ramped,
        ("sound",),
        reads={"dwell_ms": (3.0, 0.02), "peak_a": (7.5, 0.08)},
        options=ORDER,
    ),
    Outside(
        "ramps, cylinder 3 is gone",
        "coil-primary-current",
        lambda: ramped(1),
        ("faulty",),
        ("missing_ramp",),
        options=ORDER,
        cylinder=3,
    ),
    Outside(
        "module, fixed dwell",
        "igniter-bench",
        lambda: module(np.full(8, 6.0)),
        ("inconclusive",),
        denies=("unstable_width", "misses"),
    ),
    Outside(
        "module, misses one",
        "igniter-bench",
        lambda: module(np.array([6, 6, 6, 0, 6, 6, 6, 6.0])),
        ("faulty",),
        ("misses",),
    ),
    Outside(
        "oxygen, lean without a switch", "oxygen-switching", lean, ("faulty",), ("biased_lean",), ("scale_suspect",)
    ),
    Outside(
        "pressure, idle over half of the swing",
        "manifold-pressure",
        lambda: breathing(2.75, 2.75, 0.6),
        ("faulty",),
        ("high_idle_pressure",),
        reads={"idle_v": (2.75, 0.03)},
    ),
    Outside(
        "pressure, no overrun, the later idle a touch higher",
        "manifold-pressure",
        lambda: breathing(1.5, 1.52, 1.5),
        ("faulty",),
        ("no_overrun_gain",),
        reads={"idle_v": (1.5, 0.03)},
    ),
    Outside(
        "module, unsteady",
        "igniter-bench",
        lambda: module(np.array([6, 3, 9, 5, 8, 2, 7, 4.0])),
        ("faulty",),
        ("unstable_width",),
    ),
)
