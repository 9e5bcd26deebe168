"""Cautions and the quality of the capture."""

from __future__ import annotations

from tracebench.core.grading.result import Attempt, Criterion, Result, Stretch

SPEED_SHARE = 0.25
"""Part of the points that a set-up finding costs when it does not hide the answer."""


def _cautions(attempt: Attempt, points: float) -> list[Result]:
    step = next((s for s in attempt.card["steps"] if s["kind"] == "cautions"), None)
    if step is None:
        return []
    read = set((attempt.answers.get(step["id"]) or {}).get("read", []))
    wanted = [c.key for c in attempt.circuit.cautions]
    share = len(read & set(wanted)) / len(wanted) if wanted else 1.0
    reason = (
        f"All {len(wanted)} cautions were acknowledged before the work."
        if share == 1
        else f"{len(read & set(wanted))} of {len(wanted)} cautions were acknowledged."
    )
    return [Result("cautions", CAUTIONS.title, CAUTIONS.skill, step["id"], share, points, 1.0, reason)]


def _quality(attempt: Attempt, points: float) -> list[Result]:
    step = next((s for s in attempt.card["steps"] if s["kind"] == "capture"), None)
    if step is None:
        return []
    if attempt.measured is None:
        reason = "No capture was handed in, so there is nothing to measure."
        return [Result("capture_quality", QUALITY.title, QUALITY.skill, step["id"], 0.0, points, 1.0, reason)]
    found = attempt.measured.findings_of("set-up")
    score = 1.0
    for finding in {f.code: f for f in found}.values():
        score -= 1.0 if finding.hides else SPEED_SHARE
    score = max(0.0, score)
    if not found:
        m = attempt.measured
        reason = (
            f"A clean capture: {m.duration_s:.3g} s at {m.rate_hz:,.0f} samples a second, nothing hides the answer."
        )
    else:
        reason = " ".join(_sentence(f.text) for f in {f.code: f for f in found}.values())
    stretches = [Stretch(f.from_s, f.to_s, f.lane) for f in found[:3]]
    certainty = 1.0 if score in (0.0, 1.0) else 0.75
    return [
        Result(
            "capture_quality",
            QUALITY.title,
            QUALITY.skill,
            step["id"],
            score,
            points,
            certainty,
            reason,
            stretches,
        )
    ]


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:].rstrip(".") + "."


CAUTIONS = Criterion(
    "cautions",
    "Cautions",
    "connect",
    1.0,
    "The share of the circuit's cautions that were acknowledged.",
    _cautions,
)
QUALITY = Criterion(
    "capture_quality",
    "Quality of the capture",
    "capture",
    4.0,
    "Full points without a set-up finding; none for one that hides the answer; a quarter off for any other.",
    _quality,
)
