"""Attempts built by hand: what the tool measured is written down, not measured, so that every mark is known."""

from __future__ import annotations

from dataclasses import replace

from tracebench.core.answer import Answer, Event, Finding, Limit, Missing, Phase, Reading
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.circuits import circuit
from tracebench.core.circuits.verdict import call
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.grade import grade
from tracebench.core.limits import judge

THROTTLE, SPARK = "throttle-position", "secondary-voltage"

PHASES = (
    Phase("closed", 0.0, 10.0, 1),
    Phase("opening", 10.0, 20.0, 1),
    Phase("open", 20.0, 30.0, 1),
    Phase("closing", 30.0, 40.0, 1),
    Phase("closed", 40.0, 50.0, 2),
    Phase("opening", 50.0, 58.0, 2),
    Phase("open", 58.0, 70.0, 2),
    Phase("closing", 70.0, 80.0, 2),
    Phase("closed", 80.0, 100.0, 3),
)
READINGS = (
    Reading("closed_v", 0.700, "V", 0.002, 1.0, 9.0, "signal"),
    Reading("closed_v", 0.700, "V", 0.002, 1.0, 9.0, "signal", None, 1),
    Reading("closed_v", 0.760, "V", 0.002, 41.0, 49.0, "signal", None, 2),
    Reading("open_v", 4.000, "V", 0.002, 21.0, 29.0, "signal"),
    Reading("opening_s", 8.00, "s", 0.01, 11.0, 19.0, "signal"),
    Reading("opening_s", 8.00, "s", 0.01, 11.0, 19.0, "signal", None, 1),
    Reading("opening_s", 6.40, "s", 0.01, 50.8, 57.2, "signal", None, 2),
    Reading("sweeps_count", 2, "", 0.0, 0.0, 100.0, "signal"),
)
DROPOUT = Finding(
    "dropout", "fault", 15.0, 15.2, "falls 1.20 V", "signal", None, 1.2, "V", places=((15.0, 15.2), (53.0, 53.2))
)
SLOW = Finding("sweep_too_fast", "set-up", 10.0, 20.0, "a fast hand", "signal")
SCALE = Finding("scale_suspect", "set-up", 0.0, 100.0, "ten times too large", "signal")
CLIPPED = Finding("clipped", "set-up", 58.0, 62.0, "rests on the rail", "signal", hides=True)
NO_OPEN = Finding("missing_phase", "set-up", 0.0, 100.0, "no open phase", "signal", hides=True)
LIMITS = (Limit("closed_v", 0.5, 1.0), Limit("open_v", 3.8, None), Limit("opening_s", 4.0, None, condemns=False))


def measured(findings=(), readings=READINGS, limits=LIMITS, code=THROTTLE, phases=PHASES, **more) -> Answer:
    """What the core would say of a record of 100 s, its call worked out by the core's own rule."""
    judged = judge(readings, limits)
    verdict, because = call(circuit(code), findings, judged)
    base = Answer(
        code, "0", 10_000, 100.0, 100.0, (), phases, tuple(readings), judged, tuple(findings), verdict, because
    )
    return replace(base, **more)


def throttle_card(**more):
    steps = [
        {"kind": "cautions"},
        {"kind": "capture"},
        {"kind": "reading", "reading": "closed_v"},
        {"kind": "reading", "reading": "opening_s"},
        {"kind": "reading", "reading": "sweeps_count"},
        {"kind": "reading", "reading": "dropout_depth_v"},
        {"kind": "compare", "reading": "closed_v"},
        {"kind": "call"},
    ]
    document = {"circuit": THROTTLE, "title": "A card", "source": {"kind": "upload"}, "steps": steps}
    return card_from_json({**document, **more})


EVENTS = tuple(Event(k + 1, 0.1 * k, 0.1 * k + 0.002, (1, 3, 4, 2)[k % 4], 0.0, "") for k in range(12))
SPARKS = (
    Reading("burn_ms", 1.40, "ms", 0.01, 0.0, 0.0014, "secondary"),
    *(
        Reading("burn_ms", v, "ms", 0.01, 0.1 * k, 0.1 * k + 0.0014, "secondary", c)
        for k, (c, v) in enumerate(((1, 1.40), (3, 0.60), (4, 1.44), (2, 1.80)))
    ),
    *(
        Reading(
            "burn_ms",
            (1.40, 0.60, 1.44, 1.80)[k % 4],
            "ms",
            0.01,
            e.from_s,
            e.from_s + 0.0014,
            "secondary",
            e.cylinder,
            e.number,
        )
        for k, e in enumerate(EVENTS)
    ),
)
SHORT_BURN = Finding(
    "short_burn",
    "fault",
    0.1,
    0.102,
    "burns for 0.60 ms",
    "secondary",
    3,
    0.6,
    "ms",
    places=tuple((e.from_s, e.to_s) for e in EVENTS if e.cylinder == 3),
)


def sparks(findings=(SHORT_BURN,)) -> Answer:
    """A record of 1.2 s with twelve firings, cylinder 3 burning short."""
    return measured(
        findings, SPARKS, (Limit("burn_ms", 0.8, 2.0),), SPARK, (), duration_s=1.2, rate_hz=500_000.0, events=EVENTS
    )


def spark_card(*readings, **more):
    steps = [{"kind": "reading", "reading": "burn_ms", **r} for r in readings]
    document = {"circuit": SPARK, "title": "A card", "source": {"kind": "upload"}, "steps": [*steps, {"kind": "call"}]}
    return card_from_json({**document, **more})


def rows(card, answers, answer, **taken) -> dict[str, dict]:
    """Results by criterion; `answer` None is no capture."""
    there = {} if answer is None else {"first": Taken(answer, **taken)}
    found = grade(Attempt(card, answers_from_json(card, answers), there))
    return {r["criterion"]: r for r in found["results"]}


MISSING = Missing("dropout_depth_v", "no dropout in this capture")
