"""A simulated three-wire potentiometer: wiper, track, supply and ground, sound or with a fault.

Circuit: the controller feeds the reference through a small resistance; wiper voltage divides it in
proportion to travel and passes a contact resistance to the controller's input, which pulls down (or up)
weakly. A worn spot raises the contact resistance, so that the input's pull wins for a moment. An open
ground lifts the whole track to the reference; an open signal or supply leaves only the pull-down.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.source import Fault

Volts = NDArray[np.float64]

PULL_OHM = 220_000.0
REFERENCE_V = 5.01


FAULTS = (
    Fault("none", "Sound"),
    Fault("worn-idle", "Track worn just off idle"),
    Fault("worn-mid", "Track worn at half travel"),
    Fault("low-closed", "Closed stop low"),
    Fault("high-closed", "Closed stop high"),
    Fault("short-travel", "Does not open fully"),
    Fault("low-reference", "Reference from the controller low"),
    Fault("open-ground", "Sensor ground open"),
    Fault("open-signal", "Signal wire open"),
    Fault("probe-slip", "Probe slips once"),
)


@dataclass(frozen=True, slots=True)
class Potentiometer:
    """Volts at the three pins for a travel of 0-1, as an ideal meter would see them against battery negative."""

    closed_v: float = 0.62
    open_v: float = 4.25
    ground_v: float = 0.02
    fault: str = "none"
    severity: float = 1.0

    def volts(self, times_s: Volts, travel: Volts, reference_v: Volts, rng: np.random.Generator) -> dict[str, Volts]:
        """Lanes signal, reference and ground, shape of `times_s`, as are travel and the controller's reference.

        `severity` 0-1 scales the fault; the stops are told for a reference of `REFERENCE_V`.
        """
        reference = reference_v.copy()
        ground = np.full_like(times_s, self.ground_v)
        closed, opened = self._stops()
        if self.fault == "low-reference":
            reference -= 0.2 + 0.6 * self.severity
        wiper = (closed + (opened - closed) * travel) * (reference - ground) / (REFERENCE_V - self.ground_v)
        wiper = wiper + ground - self.ground_v
        if self.fault in ("worn-idle", "worn-mid"):
            place = 0.14 if self.fault == "worn-idle" else 0.5
            wiper = self._worn(wiper, travel, place + rng.uniform(-0.03, 0.03), rng)
        elif self.fault == "open-ground":
            wiper = reference - 0.02 * (1 - travel)
        elif self.fault == "open-signal":
            wiper = np.zeros_like(wiper) + 0.01
        elif self.fault == "probe-slip":
            wiper = self._slip(times_s, wiper, rng)
        return {"signal": wiper, "reference": reference, "ground": ground}

    def _stops(self) -> tuple[float, float]:
        closed, opened = self.closed_v, self.open_v
        if self.fault == "low-closed":
            closed -= 0.15 + 0.2 * self.severity
        elif self.fault == "high-closed":
            closed += 0.45 + 0.3 * self.severity
        elif self.fault == "short-travel":
            opened -= 0.75 + 0.6 * self.severity
        return closed, opened

    def _worn(self, wiper: Volts, travel: Volts, place: float, rng: np.random.Generator) -> Volts:
        """Three gouges in the film next to each other: contact resistance high where travel crosses them."""
        contact = np.full_like(wiper, 150.0)
        for centre, width, depth in zip(
            place + np.array([0.0, 0.004, -0.005]),
            (0.0012, 0.0006, 0.0008),
            rng.uniform(0.5, 1.0, 3),
            strict=True,
        ):
            near = np.exp(-(((travel - centre) / width) ** 2))
            contact += near * depth * self.severity * 1.2e6
        return wiper * PULL_OHM / (PULL_OHM + contact)

    def _slip(self, times_s: Volts, wiper: Volts, rng: np.random.Generator) -> Volts:
        start = times_s[0] + (times_s[-1] - times_s[0]) * rng.uniform(0.3, 0.7)
        off = (times_s >= start) & (times_s < start + rng.uniform(0.25, 0.6))
        return np.where(off, 0.004, wiper)
