"""Coils on the trainer: primary ramp with the secondary's ripple, breakdown, arc, ring-out, and a module on the bench.

Breakdown of the gap by Paschen's law (F. Paschen 1889) with the constants of air, at the density in the cylinder; the
arc burns from the energy that the coil holds, 1/2 L i^2. Figures of the coils are invented.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tracebench.bench.parts.engine_sensors import START_UP_S, fired
from tracebench.bench.parts.injectors import STEP_S
from tracebench.bench.source import Fault, Layout, Manoeuvre, Order, Volts, at
from tracebench.bench.vehicle.firing import Firing

PASCHEN_A, PASCHEN_B, SECOND_EMISSION = 11.25, 273.8, 0.01
"""Air: 15 /(cm Torr) and 365 V/(cm Torr) in SI units, 1/(Pa m) and V/(Pa m), and Townsend's second coefficient."""

COMPRESSION, POLYTROPIC = 7.0, 1.3
"""Of the volume at the spark against the manifold's, and the exponent of the stroke."""

LAYOUTS = (
    Layout("coil-per-plug", "A coil for each plug"),
    Layout("paired", "Paired coils: the partner's plug fires in its exhaust stroke", pairs=True),
    Layout("distributor", "One coil and a distributor"),
)

EXHAUST_PA, EXHAUST_K, ROOM_K = 110e3, 700.0, 293.0
"""Of the cylinder in which a paired coil's second plug fires."""

ROTOR_GAP_M = 0.35e-3
"""Between rotor and cap of a distributor, in the open air."""

PLUG_GAP_M = {"coil-per-plug": 0.95e-3, "paired": 0.80e-3, "distributor": 0.75e-3}
HENRY = {"coil-per-plug": 4.2e-3, "paired": 6.5e-3, "distributor": 7.0e-3}
DWELL_S = {"coil-per-plug": 3.0e-3, "paired": 4.2e-3, "distributor": 4.4e-3}
"""A coil that feeds two gaps, or every plug in turn, is built larger, is charged longer, and has narrower gaps."""

OF_THE_COIL = frozenset(("short-burn", "no-rings", "secondary-open", "shorted", "short-dwell", "low-peak", "low-kick"))
"""Faults of a coil or its driver, which every cylinder that shares it has; others are a plug's or a lead's own."""

NEAR_S = 8e-3
"""A firing is worked out until so long after its spark."""


def breakdown_v(pressure_pa: float, gap_m: float) -> float:
    """Voltage at which a uniform gap breaks down at room temperature; raises ValueError left of the curve's pole."""
    product = pressure_pa * gap_m
    under = np.log(PASCHEN_A * product) - np.log(np.log(1 + 1 / SECOND_EMISSION))
    if under <= 0:
        raise ValueError(f"no breakdown at a pressure times gap of {product:g} Pa m")
    return float(PASCHEN_B * product / under)


@dataclass(frozen=True, slots=True)
class Coil:
    """Figures of a coil, its plug and its driver; faults are other figures."""

    ohm: float = 0.6
    henry: float = 4.2e-3
    ratio: float = 75.0
    held: float = 0.62
    """Part of the energy that reaches the secondary; shorted turns and leaks keep more."""
    gap_m: float = 0.95e-3
    insulation_kv: float = 40.0
    """Where coil and boot hold no longer and the spark goes to ground outside the cylinder."""
    burn_v: float = 1250.0
    """Arc voltage at idle's pressure; it grows with the density."""
    hash: float = 0.015
    ring_s: float = 0.26e-3
    rings: float = 5.0
    ripple_a: float = 0.38
    driver_v: float = 0.7
    open_secondary: bool = False
    least_kv: float = 0.0
    """A path that flashes over or fouls fires at no more than this."""
    dwell_s: float = 3.0e-3
    beside_kv: float = 0.0
    """Voltage of another gap in series: the partner's plug in its exhaust stroke, or a rotor in a cap."""
    beside_burn_v: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Spark:
    """Courses of one firing on the grid of `STEP_S`: the ramp from its start, and what follows the release."""

    ramp_a: Volts
    secondary_kv: Volts
    primary_v: Volts
    """After the release, over the supply."""


def spark_of(coil: Coil, supply: float, manifold_kpa: float, rng: np.random.Generator) -> Spark:
    """One firing at a supply voltage and manifold pressure; the arc's turbulence is drawn from `rng`."""
    ramp = ramp_of(coil, supply)
    held = coil.held * 0.5 * coil.henry * float(ramp[-1]) ** 2
    pressure = manifold_kpa * 1000 * COMPRESSION**POLYTROPIC
    # Paschen's curve stands for room temperature: what counts is density, which compression heats down.
    dense = pressure / COMPRESSION ** (POLYTROPIC - 1)
    needed = breakdown_v(dense, coil.gap_m) / 1000
    if coil.least_kv:
        needed = coil.least_kv
    needed += coil.beside_kv
    able = np.sqrt(2 * held / 70e-12) / 1000
    t = np.arange(round(NEAR_S / STEP_S)) * STEP_S
    fires = not coil.open_secondary and able > needed
    outside = fires and needed > coil.insulation_kv
    top = min(needed, able, coil.insulation_kv) if fires else min(able, 32.0)
    # The coil's stray capacity shapes the line's way up within a few microseconds.
    line = top * np.where(t <= 4e-6, t / 4e-6, np.exp(-(t - 4e-6) / 9e-6))
    burn_kv = coil.burn_v / 1000 * (0.75 + 0.25 * dense / 240e3) + coil.beside_burn_v / 1000
    burns_s = 0.0
    if fires:
        # Charge through the arc: the current falls evenly to nothing, so that E = 1/2 I V t with I = i / ratio.
        left = held - 0.5 * 70e-12 * (needed * 1000) ** 2
        burns_s = max(0.0, left / (0.5 * float(ramp[-1]) / coil.ratio * burn_kv * 1000))
    if outside:
        # Over the surface of the insulation: a short, low burn.
        burns_s, burn_kv = 0.25 * burns_s, 0.6 * burn_kv
    arc = burn_kv * (1 + 0.25 * (t / max(burns_s, 1e-6) - 0.5)) * (1 + coil.hash * rng.normal(size=t.size))
    lit = t < burns_s
    u = np.maximum(t - burns_s, 0)
    ring = np.exp(-u / (0.45 * coil.rings * coil.ring_s)) * np.cos(2 * np.pi * u / coil.ring_s)
    amplitude = 0.75 * burn_kv if fires else 0.8 * top
    secondary = np.where(lit, np.maximum(line, arc), amplitude * ring)
    clamp = 385.0
    spike = min(clamp, 150.0 + 22.0 * float(ramp[-1])) * (coil.held / 0.62) ** 0.8
    kick = np.minimum(clamp, spike + (0.0 if fires else 90.0)) * np.exp(-t / 14e-6)
    reflected = 1000 * secondary / coil.ratio
    primary = np.where(t < 60e-6, np.maximum(kick, np.where(lit, 1000 * arc / coil.ratio, 0)), reflected)
    return Spark(ramp, secondary, primary)


def ramp_of(coil: Coil, supply: float) -> Volts:
    """i = U/R (1 - exp(-t R/L)) with the secondary's own ringing on it at turn-on, cut at the release."""
    t = np.arange(round(coil.dwell_s / STEP_S)) * STEP_S
    full = (supply - coil.driver_v) / coil.ohm
    ripple = coil.ripple_a * np.exp(-t / 0.16e-3) * np.sin(2 * np.pi * t / 0.07e-3)
    return np.asarray(np.maximum(full * (1 - np.exp(-t * coil.ohm / coil.henry)) + ripple, 0.0))


def faulty(order: Order, sound: Coil) -> Coil:
    """The coil as the fault makes it."""
    s = order.severity
    made = {
        "open": lambda: replace(sound, open_secondary=True),
        "fouled": lambda: replace(sound, least_kv=2.6 - 0.6 * s, burn_v=0.72 * sound.burn_v),
        "wide-gap": lambda: replace(sound, gap_m=(2.0 + 0.5 * s) * 1e-3),
        "hash": lambda: replace(sound, hash=0.14 + 0.1 * s),
        "short-burn": lambda: replace(sound, held=sound.held * (0.40 - 0.06 * s), burn_v=1.1 * sound.burn_v),
        "weak-coil": lambda: replace(sound, insulation_kv=15.0 - 1.5 * s),
        "no-rings": lambda: replace(sound, rings=0.25),
        "low-kick": lambda: replace(sound, held=sound.held * (0.5 - 0.12 * s)),
        "long-burn": lambda: replace(sound, least_kv=2.0, burn_v=(0.55 - 0.1 * s) * sound.burn_v),
        "weak-driver": lambda: replace(sound, driver_v=2.2 + 0.8 * s),
        "secondary-open": lambda: replace(sound, ripple_a=0.0),
        "shorted": lambda: replace(sound, henry=0.10e-3, ohm=1.1, ripple_a=0.0),
        "short-dwell": lambda: replace(sound, dwell_s=(0.62 - 0.1 * s) * sound.dwell_s),
        "low-peak": lambda: replace(sound, ohm=2.4 + 0.8 * s),
    }
    return made[order.fault]() if order.fault in made else sound


IDLE = Manoeuvre("idle", "Warm idle, 1.5 s", 1.5)
START = Manoeuvre("start", "Crank, start and idle, 3 s", 3.0)
COMMON = (Fault("none", "Sound"),)


def run_of(order: Order, row: tuple[int, ...]) -> tuple[list[Firing], Volts, Volts, Volts]:
    """Sparks of the record, its instants, and the supply and manifold pressure at each spark."""
    key = order.manoeuvre if order.manoeuvre in START_UP_S else "idle"
    found, result, instants = fired(order, row, key, 0.02)
    when = np.array([f.at_s for f in found])
    return found, instants, at(result.battery_v, when), at(result.manifold_kpa, when)


def coils_of(order: Order, row: tuple[int, ...]) -> dict[int, Coil]:
    """Coils that differ by a few hundredths, one of them with the fault."""
    layout, odd = order.layout(LAYOUTS), order.odd()
    gaps = {c: PLUG_GAP_M[layout] * float(order.rng.uniform(0.95, 1.05)) for c in row}
    held = {c: 0.62 * float(order.rng.uniform(0.98, 1.02)) for c in row}
    out = {}
    for c in row:
        shares = sharing(row, c, layout)
        sound = Coil(gap_m=gaps[c], held=held[shares[0]], henry=HENRY[layout], dwell_s=DWELL_S[layout])
        if layout == "paired":
            partner = shares[1] if shares[0] == c else shares[0]
            sound = _with_partner(order, sound, gaps[partner], partner == odd)
        elif layout == "distributor":
            sound = replace(sound, beside_kv=breakdown_v(101.3e3, ROTOR_GAP_M) / 1000, beside_burn_v=150.0)
        has_it = c == odd or (order.fault in OF_THE_COIL and odd in shares)
        out[c] = faulty(order, sound) if has_it else sound
    return out


def sharing(row: tuple[int, ...], cylinder: int, layout: str) -> tuple[int, ...]:
    """Cylinders whose plugs the coil of one fires: itself, the pair half a row apart, or all."""
    if layout == "distributor":
        return row
    if layout == "paired":
        half = row.index(cylinder) % (len(row) // 2)
        return row[half], row[half + len(row) // 2]
    return (cylinder,)


def _with_partner(order: Order, coil: Coil, gap_m: float, odd: bool) -> Coil:
    """The coil with the gap of its second plug in series, in burnt gas of little density."""
    partner = faulty(order, Coil(gap_m=gap_m)) if odd and order.fault not in OF_THE_COIL else Coil(gap_m=gap_m)
    kv = breakdown_v(EXHAUST_PA * ROOM_K / EXHAUST_K, partner.gap_m) / 1000
    return replace(
        coil,
        beside_kv=min(kv, partner.least_kv) if partner.least_kv else kv,
        beside_burn_v=0.4 * partner.burn_v,
        open_secondary=partner.open_secondary,
    )
