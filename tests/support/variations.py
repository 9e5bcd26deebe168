"""Random recordings of the trainer: sound ones and ones with a fault, over rates, bits, noise, hum and hands."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tests.support.rooms import fact, facts
from tracebench.bench.hand import SweepPlan
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure

EXPECTED = facts("EXPECTED")
"""What each of the trainer's faults must be called, by circuit and fault."""

OTHER_PART_HZ = 5000
SLOW_RATES = (500, 1000, 2000, 5000)

ORDERS = {3: "1-2-3", 4: "1-3-4-2", 6: "1-5-3-6-2-4"}
EVENTS = ("injector", "coil", "secondary", "igniter")
"""Beginnings of circuits whose ranges are made for a spike and hold a much smaller course beside it."""


@dataclass(frozen=True)
class Variation:
    code: str
    seed: int
    fault: str = "none"

    def settings(self) -> tuple[ScopeSettings, dict]:
        """Scope and manoeuvre of this variation; the same for the same seed."""
        rng = np.random.default_rng((self.seed, len(self.code)))
        source = SOURCES[self.code]
        rates = fact(self.code, "RATES", SLOW_RATES)
        range_v = source.range_v
        noise = float(rng.choice([0.0, 0.001, 0.003, 0.006])) * (range_v / 5)
        bits = fact(self.code, "BITS", (8, 12, 16))
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
        other = fact(self.code, "OTHER_PART")
        told = self.fault == "none" or fact(self.code, "OTHER_PART_WITH_FAULTS", False)
        if other and told and rng.random() < 0.3 and scope.rate_hz >= OTHER_PART_HZ:
            more["part"] = dict(other)
        if source.by_cylinder:
            cylinders = int(rng.choice([3, 4, 6]))
            more["part"] = {"cylinders": cylinders, "cylinder": int(rng.integers(1, cylinders + 1))}
        return scope, more

    def options(self) -> dict[str, str]:
        """What is told with the capture."""
        if told := fact(self.code, "OPTIONS"):
            return dict(told)
        if self.fault == "reversed":
            # Either sense is read; which is wrong must be told.
            return {"sense": "falling"}
        if SOURCES[self.code].by_cylinder:
            return {"firing_order": ORDERS[self.settings()[1]["part"]["cylinders"]]}
        return {}

    def found(self, answer: Answer, wanted: set[str]) -> bool:
        """Whether the fault is called what it must be, at the cylinder that has it where cylinders are known."""
        if not SOURCES[self.code].by_cylinder:
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
