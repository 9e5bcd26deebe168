"""Pulses of coils, crystals and gaps from closed forms, with known answers. Independent of the trainer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Coil:
    """A series R-L switched on at `starts` for `on_ms`: i = U/R (1 - exp(-t R/L)), then an exponential fall.

    The needle takes `dip_a` off the rise in a bell of `dip_ms` half width about `pintle_ms`.
    """

    volts: float = 14.0
    ohm: float = 16.0
    henry: float = 0.016
    on_ms: float = 3.0
    decay_tau_ms: float = 0.15
    pintle_ms: float = 1.4
    dip_a: float = 0.05
    dip_ms: float = 0.22

    @property
    def full_a(self) -> float:
        return self.volts / self.ohm

    @property
    def tau_ms(self) -> float:
        return 1000 * self.henry / self.ohm

    @property
    def peak_a(self) -> float:
        return self.full_a * (1 - np.exp(-self.on_ms / self.tau_ms))

    def amperes(self, times_s: np.ndarray, starts_s) -> np.ndarray:
        out = np.zeros(times_s.size)
        for start in np.atleast_1d(starts_s):
            t = 1000 * (times_s - start)
            on = (t >= 0) & (t < self.on_ms)
            rise = self.full_a * (1 - np.exp(-np.maximum(t, 0) / self.tau_ms))
            rise = rise - self.dip_a * np.exp(-(((t - self.pintle_ms) / self.dip_ms) ** 2))
            out += np.where(on, rise, 0.0)
            fall = self.peak_a * np.exp(-np.maximum(t - self.on_ms, 0) / self.decay_tau_ms)
            out += np.where(t >= self.on_ms, fall, 0.0)
        return out


def axis(seconds: float, rate_hz: float) -> np.ndarray:
    return np.arange(round(seconds * rate_hz)) / rate_hz


def noisy(values: np.ndarray, sigma: float, seed: int = 1, step: float = 0.0) -> np.ndarray:
    out = values + np.random.default_rng(seed).normal(0, sigma, values.size) if sigma else values
    return np.round(out / step) * step if step else out


def control_wire(
    times_s: np.ndarray,
    starts_s,
    supply: float = 14.0,
    on: float = 0.25,
    on_ms: float = 3.0,
    kick: float = 68.0,
    tau_ms: float = 0.35,
    flat_ms: float = 0.06,
    bump_ms: float | None = 1.1,
    bump_v: float = 2.0,
    rings: int = 0,
) -> np.ndarray:
    """An injector's switched wire: down, up to a clamped top, an exponential decay with a bell of a bump, and rings."""
    out = np.full(times_s.size, supply)
    for start in np.atleast_1d(starts_s):
        t = 1000 * (times_s - start)
        out = np.where((t >= 0) & (t < on_ms), on, out)
        u = t - on_ms
        course = np.where(u < flat_ms, kick, supply + (kick - supply) * np.exp(-np.maximum(u - flat_ms, 0) / tau_ms))
        if bump_ms is not None:
            course = course + bump_v * np.exp(-(((u - bump_ms) / 0.12) ** 2))
        back = 3.2
        if rings:
            ring = 3.0 * np.sin(2 * np.pi * (u - back) / 0.4) * np.exp(-np.maximum(u - back, 0) / (0.4 * rings))
            course = course + np.where((u > back) & (u < back + 0.4 * rings), ring, 0.0)
        out = np.where((u >= 0) & (u < back + 4), course, out)
    return out


def spark(
    times_s: np.ndarray,
    fired_s,
    peak: float = 10.0,
    burn: float = 1.5,
    burn_ms: float = 1.4,
    rise: float = 0.3,
    roughness: float = 0.0,
    rings: int = 5,
    ring_ms: float = 0.3,
    seed: int = 3,
) -> np.ndarray:
    """A spark over a rest of zero: firing line, a burn that climbs by `rise` of its level, a damped ring-out."""
    out = np.zeros(times_s.size)
    rng = np.random.default_rng(seed)
    for at in np.atleast_1d(fired_s):
        t = 1000 * (times_s - at)
        line = peak * np.exp(-np.maximum(t, 0) / 0.012)
        inside = (t >= 0) & (t < burn_ms)
        arc = burn * (1 + rise * (t / max(burn_ms, 1e-9) - 0.5)) + burn * roughness * rng.normal(size=t.size)
        out = np.where(inside, np.maximum(line, arc if burn_ms > 0 else 0.0), out)
        u = t - burn_ms
        amplitude = 0.9 * burn if burn_ms > 0 else 0.5 * peak
        ring = (
            amplitude * np.exp(-np.maximum(u, 0) / (0.5 * ring_ms * max(rings, 0.4))) * np.cos(2 * np.pi * u / ring_ms)
        )
        out = np.where((u >= 0) & (u < 4), ring, out)
    return out


def piezo(
    times_s: np.ndarray, cycles_s, offsets_ms=(0.0, 1.0, 2.2), widths_ms=(0.25, 0.25, 0.7), charge=8.0
) -> np.ndarray:
    """Half-sines of 0.1 ms: up to `charge`, and down to three quarters of it a width later."""
    out = np.zeros(times_s.size)
    for cycle in np.atleast_1d(cycles_s):
        for offset, width in zip(offsets_ms, widths_ms, strict=True):
            for begin, peak in ((offset, charge), (offset + width, -0.75 * charge)):
                t = 1000 * (times_s - cycle) - begin
                out += np.where((t >= 0) & (t < 0.1), peak * np.sin(np.pi * t / 0.1), 0.0)
    return out


def coil_ramp(times_s, starts_s, dwell_ms=3.0, peak=7.5, ring_a=0.35, ring_ms=0.06, limit=None, decay_ms=0.02):
    """A coil's ramp with a damped ripple at turn-on, cut at a current limit where one is given."""
    out = np.zeros(times_s.size)
    for start in np.atleast_1d(starts_s):
        t = 1000 * (times_s - start)
        on = (t >= 0) & (t < dwell_ms)
        ramp = peak * t / dwell_ms + ring_a * np.sin(2 * np.pi * t / ring_ms) * np.exp(
            -np.maximum(t, 0) / (2.5 * ring_ms)
        )
        if limit is not None:
            ramp = np.minimum(ramp, limit)
        top = min(peak, limit) if limit is not None else peak
        out += np.where(on, np.maximum(ramp, 0), 0)
        out += np.where(t >= dwell_ms, top * np.exp(-np.maximum(t - dwell_ms, 0) / decay_ms), 0)
    return out
