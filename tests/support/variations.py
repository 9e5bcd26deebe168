"""Random recordings of the trainer: sound ones and ones with a fault, over rates, bits, noise, hum and hands."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tracebench.bench.hand import SweepPlan
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

RATES = {
    "airflow-frequency": (100_000, 200_000),
    "crank-position": (50_000, 100_000, 200_000, 500_000),
    "charging": (1000, 5000, 10_000),
    "wheel-speed": (5000, 20_000, 50_000),
    "temperature": (100, 500),
    "throttle-position": (100, 500, 1000, 5000),
    "supply-ground": (100, 1000, 5000),
    "injector-voltage": (100_000, 200_000, 500_000),
    "injector-current": (50_000, 100_000, 500_000),
    "injector-current-group": (50_000, 100_000, 500_000),
    "injector-current-parade": (50_000, 100_000, 500_000),
    "injector-peak-hold": (100_000, 200_000, 500_000),
    "injector-piezo": (200_000, 500_000, 1_000_000),
    "coil-primary-current": (200_000, 500_000),
    "coil-primary-voltage": (200_000, 500_000),
    "secondary-voltage": (500_000,),
    "igniter-bench": (10_000, 20_000, 50_000),
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
    "wheel-speed": {
        "damaged-tooth": {"tooth_damaged"},
        "weak": {"weak_amplitude"},
        "dropout": {"dropout"},
        "runout": {"runout"},
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
    "injector-voltage": {
        "ringing": {"tail_ringing"},
        "low-kick": {"low_kick"},
        "stuck": {"no_bump"},
        "weak-ground": {"weak_ground"},
        "missing": {"missing_pulses"},
        "no-pulse": {"no_pulse"},
    },
    "injector-current": {
        "shorted": {"shorted_winding"},
        "stuck": {"no_pintle_dip"},
        "late": set(),  # judged only against a limit of the injector's own
        "high-resistance": {"high_resistance"},
    },
    # Too little current has no finding of its own: the reading that is outside its limit says it.
    "injector-current-group": {"shorted": {"shorted_winding"}, "open": {"excess_ratio"}},
    "injector-current-parade": {
        "shorted": {"shorted_winding"},
        "high-resistance": {"weak_current"},
        "missing": {"missing_pulse"},
        "missing-once": {"missing_pulse"},
    },
    "injector-peak-hold": {"no-boost": {"no_boost"}, "no-hold": {"no_hold"}, "short": {"short_on_time"}},
    "injector-piezo": {
        "missing": {"missing_event"},
        "low-charge": {"low_charge"},
        "no-discharge": {"charge_without_discharge"},
        "power-off": {"power_stage_off"},
    },
    "coil-primary-current": {
        "secondary-open": {"turn_on_abnormal"},
        "shorted": {"shorted_winding"},
        "missing": {"missing_ramp"},
        "short-dwell": {"short_dwell"},
        "low-peak": {"low_peak"},
    },
    "coil-primary-voltage": {
        "open": {"no_burn"},
        "short-burn": {"short_burn"},
        "long-burn": {"long_burn"},
        "low-kick": {"low_kick"},
        "no-rings": {"no_rings"},
        "weak-driver": {"weak_driver"},
        "no-switching": {"no_switching"},
    },
    "secondary-voltage": {
        "open": {"no_burn"},
        "fouled": {"low_firing"},
        "wide-gap": {"high_firing"},
        "hash": {"burn_hash"},
        "short-burn": {"short_burn"},
        "weak-coil": {"burn_collapses_on_snap"},
        "no-rings": {"no_rings"},
        "misfire": {"misfire_intermittent"},
    },
    "igniter-bench": {
        "dead": {"no_switching"},
        "misses": {"misses"},
        "unstable": {"unstable_width"},
        "heats-up": {"misses"},
    },
}
"""What each of the trainer's faults must be called, by circuit and fault."""

ORDERS = {3: "1-2-3", 4: "1-3-4-2", 6: "1-5-3-6-2-4"}
TWELVE_BITS = ("coil-primary-current", "coil-primary-voltage", "secondary-voltage")
"""Lanes whose ripple or burn is under a twentieth of their range: eight bits put it into a code or two."""

EVENTS = ("injector", "coil", "secondary", "igniter")
"""Beginnings of circuits whose ranges are made for a spike and hold a much smaller course beside it."""

BY_CYLINDER = ("injector-current-parade", "coil-primary-current", "secondary-voltage")


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
        bits = [8, 12, 16] if self.code not in TWELVE_BITS else [12, 16]
        scope = ScopeSettings(
            range_v=range_v,
            duration_s=source.manoeuvres[0].duration_s,
            rate_hz=float(rng.choice(rates)),
            bits=int(rng.choice(bits)),
            noise_v=noise,
            hum_v=float(rng.choice([0.0, 0.001, 0.003])) * (range_v / 5),
            ground=str(rng.choice(["sensor ground", "battery negative", "engine metal"])),
        )
        more: dict = {"severity": float(rng.uniform(0.5, 1.0))}
        if source.by_hand:
            way = float(rng.uniform(4.8, 6.6))
            more["movement"] = SweepPlan(2, way, float(rng.uniform(0.6, 1.2)), float(rng.uniform(0, 0.6)))
        if self.code in ("crank-position", "wheel-speed") and self.fault == "none" and rng.random() < 0.3:
            more["part"] = {"type": "hall"}
        if self.code == "charging" and rng.random() < 0.3 and scope.rate_hz >= 5000:
            more["part"] = {"command": "pulses"}
        if self.code in BY_CYLINDER:
            cylinders = int(rng.choice([3, 4, 6]))
            more["part"] = {"cylinders": cylinders, "cylinder": int(rng.integers(1, cylinders + 1))}
        return scope, more

    def options(self) -> dict[str, str]:
        """What is told with the capture."""
        if self.code == "wheel-speed":
            return {"teeth": "48"}
        if self.code == "injector-current-group":
            return {"injectors": "6", "each_a": "0.7"}
        if self.fault == "reversed":
            # Either sense is read; which is wrong must be told.
            return {"sense": "falling"}
        if self.code in BY_CYLINDER:
            return {"firing_order": ORDERS[self.settings()[1]["part"]["cylinders"]]}
        return {}

    def found(self, answer: Answer, wanted: set[str]) -> bool:
        """Whether the fault is called what it must be, at the cylinder that has it where cylinders are known."""
        if self.code not in BY_CYLINDER:
            return wanted <= {f.code for f in answer.findings} | set(answer.because if answer.call == "faulty" else ())
        own = self.settings()[1]["part"]["cylinder"]
        return wanted <= {f.code for f in answer.findings if f.cylinder == own}

    def capture(self) -> Capture:
        scope, more = self.settings()
        return record(self.code, scope, self.seed, self.fault, **more)

    def in_noise(self) -> Capture:
        """With noise of a third of what the fault changes, but no more than 1 % of the range (0.2 % under spikes
        and of a wheel spun by hand, which gives a small part of it)."""
        scope, more = self.settings()
        noise = min(self.effect() / 3, (0.002 if self.code.startswith((*EVENTS, "wheel")) else 0.01) * scope.range_v)
        return record(self.code, replace(scope, noise_v=noise), self.seed, self.fault, **more)

    def effect(self) -> float:
        """How far the fault moves the lane that it moves most, at its furthest (the first few samples aside)."""
        scope, more = self.settings()
        still = replace(scope, noise_v=0.0, hum_v=0.0, bits=16, ground="sensor ground")
        with_it, without = (record(self.code, still, self.seed, f, **more).lanes for f in (self.fault, "none"))
        apart = [np.sort(np.abs(with_it[n].samples - without[n].samples)) for n in with_it]
        return max(float(a[-max(1, min(a.size // 1000, 20))]) for a in apart)

    def answer(self, in_noise: bool = False) -> Answer:
        return measure(self.in_noise() if in_noise else self.capture(), self.code, options=self.options())
