"""Throttle sweeps from a formula of their own, not from the trainer: answers are known by construction."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from tracebench.core.capture import Capture, Lane, capture_from_stamps


@dataclass(frozen=True)
class Sweep:
    """Two or more sweeps with straight or eased strokes; every duration in seconds, every level in volts."""

    closed_v: float = 0.7
    open_v: float = 4.2
    way_s: float = 5.5
    hold_s: float = 1.0
    sweeps: int = 2
    rate_hz: float = 1000.0
    noise_v: float = 0.0
    hum_v: float = 0.0
    hum_hz: float = 50.0
    bits: int | None = None
    range_v: float = 10.0
    seed: int = 1
    start_s: float = 0.0
    dips: tuple[tuple[float, float, float], ...] = field(default=())
    """(centre seconds, width seconds, depth volts) of rectangular dips."""

    @property
    def duration_s(self) -> float:
        return self.hold_s + self.sweeps * 2 * (self.way_s + self.hold_s)

    def travel(self, times_s: np.ndarray) -> np.ndarray:
        """Straight strokes: 10 to 90 % takes exactly 0.8 of a stroke."""
        knots_t, knots_p = [0.0, self.hold_s], [0.0, 0.0]
        at = self.hold_s
        for _ in range(self.sweeps):
            for level in (1.0, 0.0):
                at += self.way_s
                knots_t += [at, at + self.hold_s]
                knots_p += [level, level]
                at += self.hold_s
        return np.interp(times_s, knots_t, knots_p)

    def instant_of_travel(self, part: float, sweep: int = 0, closing: bool = False) -> float:
        """When the throttle passes a part of its travel, seconds from the start of the record."""
        begin = self.hold_s + sweep * 2 * (self.way_s + self.hold_s)
        if closing:
            return begin + self.way_s + self.hold_s + (1 - part) * self.way_s
        return begin + part * self.way_s

    def samples(self) -> tuple[np.ndarray, np.ndarray]:
        """Times and volts as a recorder would keep them."""
        times = np.arange(round(self.duration_s * self.rate_hz)) / self.rate_hz
        volts = self.closed_v + (self.open_v - self.closed_v) * self.travel(times)
        for centre, width, depth in self.dips:
            volts = volts - depth * (np.abs(times - centre) < width / 2)
        rng = np.random.default_rng(self.seed)
        volts = volts + rng.normal(0, self.noise_v, times.size) if self.noise_v else volts
        volts = volts + self.hum_v * np.sin(2 * np.pi * self.hum_hz * times)
        if self.bits:
            step = self.range_v / 2**self.bits
            volts = np.clip(np.round(volts / step) * step, 0, self.range_v - step)
        return times + self.start_s, volts

    def capture(self, **others: np.ndarray) -> Capture:
        """The capture, with further lanes by name."""
        times, volts = self.samples()
        lanes = {"signal": Lane("signal", volts, "V")}
        lanes |= {name: Lane(name, values, "V") for name, values in others.items()}
        return capture_from_stamps(times, lanes)


def steady(sweep: Sweep, volts: float, noise_v: float = 0.003, seed: int = 9) -> np.ndarray:
    """A lane that stays at a level, as long as the sweep."""
    times, _ = sweep.samples()
    return volts + np.random.default_rng(seed).normal(0, noise_v, times.size)
