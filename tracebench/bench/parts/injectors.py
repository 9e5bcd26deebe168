"""Injectors on the trainer: a winding with a moving needle, its driver and clamp, and the piezo stack.

Winding: L di/dt = u - R i - e, with e the back-EMF of the needle while it moves; on release the driver's clamp drives
the current to zero and then lets the wire fall back, with a bump as the needle seats. Figures are invented.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tracebench.bench.parts.engine_sensors import drive, fired
from tracebench.bench.source import Fault, Layout, Manoeuvre, Order, Volts, at
from tracebench.bench.vehicle import script
from tracebench.bench.vehicle.firing import Firing

STEP_S = 2e-6
"""Step of the winding's own grid."""

SETTLE_S = 9e-3
"""A pulse is worked out until so long after its release."""


@dataclass(frozen=True, slots=True)
class Winding:
    """Figures of an injector and its driver; faults are other figures."""

    ohm: float = 15.5
    henry: float = 0.014
    lift_a: float = 0.55
    """Current at which the needle begins to move."""
    emf_v: float = 5.5
    """Back-EMF at the needle's highest speed; a stuck one has none."""
    moves_s: float = 0.35e-3
    driver_ohm: float = 0.25
    clamp_v: float = 66.0
    falls_s: float = 0.32e-3
    """Of the wire's way back once the current is gone."""
    seats_s: float = 1.05e-3
    bump_v: float = 2.6
    ring_v: float = 0.0
    """A winding with broken damping rings after its decay."""


@dataclass(frozen=True, slots=True, eq=False)
class Pulse:
    """Course of one pulse on the grid of `STEP_S` from its start: current, and volts of the switched wire."""

    amperes: Volts
    volts: Volts


def pulse_of(w: Winding, supply: float, on_s: float) -> Pulse:
    """One pulse from switch-on until the wire is back at the supply."""
    total = round((on_s + SETTLE_S) / STEP_S)
    on = round(on_s / STEP_S)
    amperes, volts = np.zeros(total), np.full(total, supply)
    moved, current, begun = 0.0, 0.0, -1
    loop = w.ohm + w.driver_ohm
    for k in range(on):
        if begun < 0 and current >= w.lift_a:
            begun = k
        emf = 0.0
        if begun >= 0 and moved < 1.0:
            moved = (k - begun) * STEP_S / w.moves_s
            emf = w.emf_v * np.sin(np.pi * min(moved, 1.0)) ** 2
        current += (supply - loop * current - emf) / w.henry * STEP_S
        amperes[k] = current
        volts[k] = current * w.driver_ohm + 0.05
    k = on
    while current > 0 and k < total:
        amperes[k], volts[k] = current, w.clamp_v
        current -= (w.clamp_v - supply + w.ohm * current) / w.henry * STEP_S
        k += 1
    t = np.arange(total - k) * STEP_S
    back = (w.clamp_v - supply) * np.exp(-t / w.falls_s)
    if begun >= 0:
        # The needle falls on its seat some time after the release, with the field that is left.
        late = t + (k - on) * STEP_S - w.seats_s
        back = back + w.bump_v * np.exp(-((late / 0.11e-3) ** 2))
    if w.ring_v:
        u = t - 6 * w.falls_s
        back = back + (u > 0) * w.ring_v * np.exp(-np.maximum(u, 0) / 1.2e-3) * np.sin(
            2 * np.pi * np.maximum(u, 0) / 0.38e-3
        )
    volts[k:] = supply + back
    return Pulse(amperes, volts)


def laid(times_s: Volts, starts_s: Sequence[float], courses: Sequence[Volts], rest: float) -> Volts:
    """Courses on the grid of `STEP_S` laid on the times from each start on; lane and courses rest at `rest`."""
    out = np.full(times_s.size, rest)
    for start, course in zip(starts_s, courses, strict=True):
        a, b = np.searchsorted(times_s, (start, start + (course.size - 1) * STEP_S))
        out[a:b] += np.interp(times_s[a:b] - start, np.arange(course.size) * STEP_S, course) - rest
    return out


IDLE = Manoeuvre("idle", "Warm idle, 2 s", 2.0)

LAYOUTS = (
    Layout("sequential", "One injector a cylinder, once a cycle"),
    Layout("group", "Group: once a turn"),
    Layout("throttle-body", "Throttle body: at every cylinder's turn"),
)
"""Where one injector is looked at: how often it is opened in a cycle, and for how long, follows from it."""

ROWS = {"sequential": (1,), "group": (1, 2), "throttle-body": (1, 3, 4, 2)}
_SHARES = {"sequential": 1.0, "group": 0.62, "throttle-body": 0.5}

COMMON = (Fault("none", "Sound"),)


def events_of(order: Order, of: Sequence[int]) -> tuple[list[Firing], Volts, float]:
    """Events of the record's stretch of the run, the record's instants on the run's axis, and the supply."""
    found, result, instants = fired(order, of, "start" if order.manoeuvre == "start" else "idle", 0.13)
    if order.controls is not None:
        # In the overrun nothing is injected.
        now = [min(round(e.at_s / script.STEP_S), result.key.size - 1) for e in found]
        cut = [result.travel[k] < 0.02 and result.rpm[k] > OVERRUN_RPM for k in now]
        found = [replace(e, number=n) for n, e in enumerate(e for e, c in zip(found, cut, strict=True) if not c)]
    return found, instants, float(np.median(at(result.battery_v * result.key, instants)))


OVERRUN_RPM = 1300.0
IDLE_KPA = 34.0
"""Manifold pressure of the idle for which a part's on-time is told."""


def pulses_of(order: Order, events: Sequence[Firing], supply: float, on_s: float) -> list[Pulse]:
    """A pulse for each event: all alike, or as long as the air that hands let in asks for."""
    part = faulty(order, Winding())
    if order.controls is None:
        return [pulse_of(part, supply, on_s)] * len(events)
    result, _ = drive(order)
    made: dict[float, Pulse] = {}
    out = []
    for e in events:
        now = min(round(e.at_s / script.STEP_S), result.key.size - 1)
        share = CRANKING_SHARE if result.rpm[now] < STARTED_RPM else float(result.manifold_kpa[now]) / IDLE_KPA
        width = round(on_s * min(max(share, 0.7), 4.0), 4)
        if width not in made:
            made[width] = pulse_of(part, max(supply, 1.0), width)
        out.append(made[width])
    return out


def on_time_s(order: Order, rng: np.random.Generator) -> float:
    share = _SHARES[order.layout(LAYOUTS)]
    return share * order.number("on_ms", 2.9) / 1000 * float(rng.uniform(0.99, 1.01))


def faulty(order: Order, sound: Winding) -> Winding:
    """The winding as the fault makes it."""
    s = order.severity
    changes: dict[str, Callable[[], Winding]] = {
        # Most of the turns shorted: hardly any inductance, little resistance.
        "shorted": lambda: replace(
            sound, ohm=5.5 - 2 * s, henry=(5.5 - 2 * s) * 40e-6, emf_v=0.0, bump_v=0.0, clamp_v=34.0
        ),
        "high-resistance": lambda: replace(sound, ohm=sound.ohm + 12 + 8 * s),
        "stuck": lambda: replace(sound, lift_a=99.0),
        "late": lambda: replace(sound, lift_a=sound.lift_a + 0.12 + 0.05 * s),
        "ringing": lambda: replace(sound, ring_v=4.5 + 3 * s),
        "low-kick": lambda: replace(sound, clamp_v=44.0 - 10 * s),
        "weak-ground": lambda: replace(sound, driver_ohm=1.1 + 0.8 * s),
    }
    return changes[order.fault]() if order.fault in changes else sound


def lost_of(order: Order, events: list[Firing], share: int = 2, hot: bool = False) -> set[int]:
    """Numbers of the few events that a loose contact swallows, or that fail once the part is warm."""
    if order.controls is not None:
        when = np.array([e.at_s for e in events])
        hit = order.warm(when) & (np.arange(when.size) % 3 == 1) if hot else order.loose(when, (0.12, 0.3))
        return {e.number for e, is_hit in zip(events, hit, strict=True) if is_hit}
    inner = [e.number for e in events[3:-3]]
    return set(order.rng.choice(inner, min(share + round(order.severity), len(inner)), replace=False).tolist())


CRANKING_SHARE, STARTED_RPM = 1.8, 400.0
"""On-time by on-time of idle for a controller that takes the engine as not started, and until when it does (from
memory)."""


def sync_lane(instants: Volts, events: Sequence[Firing]) -> Volts:
    """Cylinder 1's trigger: up for a millisecond and a half from a little before its event."""
    out = np.zeros(instants.size)
    for e in events:
        if e.cylinder == 1:
            out[slice(*np.searchsorted(instants, (e.at_s - 0.4e-3, e.at_s + 1.1e-3)))] = 5.0
    return out


STACK_F, CHARGE_V, HALF_S = 2.3e-6, 120.0, 0.1e-3
"""Capacity of a sound stack, voltage of the controller's capacitor, and time of a half wave with it."""


def half_wave(farad: float, volts: float) -> Volts:
    """Half period of a series R-L-C that is switched on a step: i = U / (w L) exp(-a t) sin(w t)."""
    henry = (HALF_S / np.pi) ** 2 / STACK_F
    alpha = 2.0 / (2 * henry)
    omega = np.sqrt(1 / (henry * farad) - alpha**2)
    t = np.arange(round(np.pi / omega / STEP_S) + 1) * STEP_S
    return np.asarray(volts / (omega * henry) * np.exp(-alpha * t) * np.sin(omega * t))
