"""How a demo learner works through a card: settings, readings and a call, as able as they are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.circuits import circuit as circuit_of
from tracebench.demo.cast import COMPARED, READINGS, Learner
from tracebench.usecases.shelf.recordings import TrainerSettings

_NEXT = {"dropout": "wiring", "low_open": "mechanical", "none": "none"}


def settings_of(learner: Learner, rng: np.random.Generator) -> TrainerSettings:
    """Scope and sweep settings: an able one sweeps slowly and twice on a fitting range."""
    good = rng.random() < learner.setting_up
    return {
        "range_v": 10.0 if good or rng.random() < 0.5 else 5.0,
        "duration_s": 32.0 if good else 16.0,
        "rate_hz": 1000.0,
        "ground": "sensor ground" if good else "battery negative",
        "sweeps": 2,
        "way_s": 6.2 if good else 2.4,
        "hold_s": 0.8,
    }


def answers_of(
    learner: Learner,
    measured: Answer,
    rng: np.random.Generator,
    readings: Sequence[str] = READINGS,
    compared: Sequence[str] = COMPARED,
) -> dict[str, Mapping[str, object]]:
    """Answers by step id, right as often as the learner is able."""
    kind = circuit_of(measured.circuit)
    out: dict[str, Mapping[str, object]] = {
        "cautions": {"read": [c.key for c in kind.cautions]},
        "capture": {"note": ""},
    }
    for reading_id in readings:
        out[f"reading-{reading_id}"] = _reading(learner, measured, reading_id, rng)
    for reading_id in compared:
        judged = measured.deciding_limit(reading_id)
        right = judged.state if judged else "inside"
        guess = str(rng.choice(["inside", "marginal", "outside"]))
        out[f"compare-{reading_id}"] = {"state": right if rng.random() < learner.measuring else guess}
    out["call"] = _call(learner, measured, rng)
    return out


def _reading(learner: Learner, measured: Answer, reading_id: str, rng: np.random.Generator) -> Mapping[str, object]:
    name, _, cylinder = reading_id.partition("@")
    reading = measured.reading(name, cylinder=int(cylinder) if cylinder else None)
    if reading is None:
        return (
            {"absent": True} if rng.random() < learner.measuring + 0.1 else {"value": round(rng.uniform(0.1, 0.6), 2)}
        )
    value = reading.value
    spec = circuit_of(measured.circuit).reading(name)
    by_ends = spec is not None and spec.how == "span"
    pegs = [reading.from_s, reading.to_s] if by_ends else [0.5 * (reading.from_s + reading.to_s)]
    if rng.random() >= learner.measuring:
        slip = rng.random()
        if slip < 0.3:
            value *= 1000
        elif slip < 0.5:
            value *= 10
        elif slip < 0.75:
            value *= 1 + rng.uniform(0.06, 0.3)
        else:
            return {"absent": True}
    else:
        value *= 1 + rng.normal(0, 0.004)
    return {"value": round(float(value), 3), "pegs": [round(p, 4) for p in pegs]}


def _call(learner: Learner, measured: Answer, rng: np.random.Generator) -> Mapping[str, object]:
    right = rng.random() < learner.concluding
    verdict = measured.call if right else str(rng.choice([v for v in ("sound", "faulty") if v != measured.call]))
    faults = [f for f in measured.findings if f.kind == "fault"]
    code = faults[0].code if faults and right else "none"
    causes = {"dropout": "worn-track", "low_open": "short-travel", "none": "none"}
    spec = circuit_of(measured.circuit).finding(code)
    cause = causes.get(code) or (spec.cause if spec is not None else "supply")
    if verdict == "faulty" and code == "none":
        # Condemned for nothing: the part that comes first to mind.
        cause = circuit_of(measured.circuit).causes[1].key
    moving = next((p for p in measured.phases if p.name in circuit_of(measured.circuit).proof.phases), None)
    if faults and right:
        evidence = [[round(faults[0].from_s, 4), round(faults[0].to_s, 4)]]
    else:
        evidence = (
            [[round(moving.from_s, 3), round(moving.to_s, 3)]]
            if moving
            else [[0.1 * measured.duration_s, 0.2 * measured.duration_s]]
        )
    sure = 55 + 40 * learner.concluding * rng.random() + 30 * learner.bold
    hidden = [f.code for f in measured.findings if f.hides]
    usual = spec.next_tests[0] if spec is not None and spec.next_tests else "supply-ground"
    again = "recapture-condition" if "condition_not_shown" in hidden else "recapture-manoeuvre"
    next_test = again if verdict == "inconclusive" and hidden else _NEXT.get(code, usual)
    return {
        "verdict": verdict,
        "cause": "not-shown" if verdict == "inconclusive" else cause,
        "evidence": evidence,
        "next_test": next_test,
        "confidence": float(min(99, round(sure))),
        "words": "",
    }
