"""Random recordings of the trainer: sound ones and ones with a fault, over rates, bits, noise, hum and hands."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tracebench.bench.circuits import SOURCES
from tracebench.bench.hand import SweepPlan
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.trainer import record
from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

RATES = {
    "airflow-frequency": (100_000, 200_000),
    "crank-position": (50_000, 100_000, 200_000, 500_000),
    "charging": (1000, 5000, 10_000),
    "temperature": (100, 500),
    "throttle-position": (100, 500, 1000, 5000),
    "supply-ground": (100, 1000, 5000),
}
SLOW_RATES = (500, 1000, 2000, 5000)

EXPECTED: dict[str, dict[str, set[str]]] = {
    "throttle-position": {
        "worn-idle": {"dropout"},
        "worn-mid": {"dropout"},
        "low-closed": {"low_closed"},
        "high-closed": {"high_closed"},
        "short-travel": {"low_open"},
        "low-reference": {"reference_low"},
        "open-ground": {"stuck_high"},
        "open-signal": {"stuck_low"},
        "probe-slip": {"probe_slip"},
    },
    "pedal-position": {
        "track-lost": {"track_lost"},
        "reference-lost": {"reference_lost"},
        "disagree": {"tracks_disagree"},
        "worn": {"dropout"},
        "ground-lifted": {"ground_lifted"},
        "probe-slip": {"probe_slip"},
    },
    "manifold-pressure": {
        "leak": {"high_idle_pressure"},
        "slow-hose": {"slow_rise"},
        "restricted-exhaust": {"high_idle_pressure"},
        "bad-baro": {"baro_wrong"},
        "stuck": {"sensor_stuck"},
        "dropout": {"dropout"},
        "probe-slip": {"probe_slip"},
    },
    "airflow-voltage": {
        "contaminated": {"low_under_load"},
        "key-on-high": {"key_on_high"},
        "no-surge": {"missing_surge"},
        "no-signal": {"no_signal"},
        "low-supply": {"supply_low"},
        "high-ground": {"ground_high"},
        "dropout": {"dropout"},
        "probe-slip": {"probe_slip"},
    },
    "airflow-frequency": {
        "missing-pulses": {"missing_pulses"},
        "low-swing": {"low_swing"},
        "contaminated": {"low_under_load"},
        "no-signal": {"no_signal"},
    },
    "oxygen-switching": {
        "lazy": {"lazy"},
        "low-swing": {"contaminated_low_swing"},
        "stuck": {"stuck"},
        "rich": {"biased_rich"},
        "lean": {"biased_lean"},
        "no-drop": {"no_overrun_drop"},
    },
    "oxygen-wideband": {
        "slow-fuel": {"slow_fuel_response"},
        "stuck": {"stuck_in_window"},
        "lean": {"biased_lean"},
        "rich": {"biased_rich"},
        "heater": {"heater_fault"},
    },
    "rail-pressure": {
        "slow-build": {"slow_build"},
        "hunting": {"pressure_hunting"},
        "low-peak": {"low_peak"},
        "dropout": {"dropout"},
        "probe-slip": {"probe_slip"},
    },
    "crank-position": {
        "damaged-tooth": {"tooth_damaged"},
        "weak": {"weak_amplitude"},
        "dropout": {"dropout"},
        "runout": {"runout"},
        "cam-shift": set(),  # judged only against a limit of the engine's own
        "reversed": {"reversed_polarity"},
    },
    "temperature": {
        "open": {"open_circuit"},
        "short": {"short_circuit"},
        "offset": set(),  # judged only against what other sensors read
        "dropout": {"dropout"},
    },
    "supply-ground": {
        "low-supply": {"supply_low"},
        "low-reference": {"reference_low"},
        "high-reference": {"reference_high"},
        "high-ground": {"ground_high"},
    },
    "charging": {
        "regulator": {"overcharge"},
        "command": {"command_driven"},
        "ground-lifted": {"ground_lifted"},
        "undercharge": {"undercharge"},
        "diode": {"diode_ripple"},
    },
}
"""What each of the trainer's faults must be called, by circuit and fault."""


@dataclass(frozen=True)
class Variation:
    code: str
    seed: int
    fault: str = "none"

    def settings(self) -> tuple[ScopeSettings, dict]:
        """Scope and manoeuvre of this variation; the same for the same seed."""
        rng = np.random.default_rng((self.seed, len(self.code)))
        source = SOURCES[self.code]
        rates = RATES.get(self.code, SLOW_RATES)
        range_v = source.range_v
        noise = float(rng.choice([0.0, 0.001, 0.003, 0.006])) * (range_v / 5)
        scope = ScopeSettings(
            range_v=range_v,
            duration_s=source.manoeuvres[0].duration_s,
            rate_hz=float(rng.choice(rates)),
            bits=int(rng.choice([8, 12, 16])),
            noise_v=noise,
            hum_v=float(rng.choice([0.0, 0.001, 0.003])) * (range_v / 5),
            ground=str(rng.choice(["sensor ground", "battery negative", "engine metal"])),
        )
        more: dict = {"severity": float(rng.uniform(0.5, 1.0))}
        if source.by_hand:
            way = float(rng.uniform(4.8, 6.6))
            more["movement"] = SweepPlan(2, way, float(rng.uniform(0.6, 1.2)), float(rng.uniform(0, 0.6)))
        if self.code == "crank-position" and self.fault == "none" and rng.random() < 0.3:
            more["part"] = {"type": "hall"}
        if self.code == "charging" and rng.random() < 0.3 and scope.rate_hz >= 5000:
            more["part"] = {"command": "pulses"}
        return scope, more

    def capture(self) -> Capture:
        scope, more = self.settings()
        return record(self.code, scope, self.seed, self.fault, **more)

    def in_noise(self) -> Capture:
        """With noise of a third of what the fault changes, but no more than 1 % of the range."""
        scope, more = self.settings()
        noise = min(self.effect() / 3, 0.01 * scope.range_v)
        return record(self.code, replace(scope, noise_v=noise), self.seed, self.fault, **more)

    def effect(self) -> float:
        """How far the fault moves the lane that it moves most, at its furthest (the first few samples aside)."""
        scope, more = self.settings()
        still = replace(scope, noise_v=0.0, hum_v=0.0, bits=16, ground="sensor ground")
        with_it, without = (record(self.code, still, self.seed, f, **more).lanes for f in (self.fault, "none"))
        apart = [np.sort(np.abs(with_it[n].samples - without[n].samples)) for n in with_it]
        return max(float(a[-max(1, min(a.size // 1000, 20))]) for a in apart)

    def answer(self, in_noise: bool = False) -> Answer:
        return measure(self.in_noise() if in_noise else self.capture(), self.code)
