"""Ready-made cards: every circuit at three levels, and each is solved to the last point by its own trace."""

from __future__ import annotations

import unittest
from typing import Any

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.answer import Answer
from tracebench.core.cards.answers import answers_from_json, unanswered
from tracebench.core.cards.card import Card
from tracebench.core.cards.documents import card_from_json
from tracebench.core.circuits import CIRCUITS, finding_spec
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade
from tracebench.core.steps.name import parts_of
from tracebench.demo.ready_cards import ready_cards

SEED = 3
MEASURED: dict[tuple[Any, ...], Answer] = {}

SHOWS_NOTHING_COLD = ("igniter-bench",)
"""A clean short run says nothing of a part that fails when it has been on for minutes: cannot tell is right."""


def taken(card: Card, dealt: str | None = None) -> Answer:
    """What somebody captures who does as the circuit's source is meant to be used, of the part that they were dealt."""
    source = SOURCES[card.first.circuit.code]
    scope = ScopeSettings(source.range_v, source.manoeuvres[0].duration_s, source.rate_hz)
    part = {k: v for k, v in card.first.source.part.items() if k not in ("fault", "severity")}
    fault, severity = dealt or str(card.first.source.part["fault"]), float(str(card.first.source.part["severity"]))
    code = card.first.circuit.code
    # The three levels deal out the same three parts.
    key = code, fault, severity, repr(sorted(part.items())), repr(sorted(card.options("first").items()))
    if key not in MEASURED:
        MEASURED[key] = measured_under(card, "first", record(code, scope, SEED, fault, severity, part=part))
    return MEASURED[key]


def solved(card: Card, measured: Answer) -> dict[str, Any]:
    """What the trace itself says, step by step."""
    kind = card.first.circuit
    faults = [f for f in measured.findings if f.kind == "fault"]
    out: dict[str, Any] = {}
    for step in card.steps:
        if step.kind == "cautions":
            out[step.id] = {"read": [c.key for c in kind.cautions]}
        elif step.kind == "capture":
            out[step.id] = {"ground": "sensor ground"}
        elif step.kind == "name":
            spans = {name: parts_of(measured, name)[:1] for name in step.names}
            out[step.id] = {"marks": {name: [p[0].from_s, p[0].to_s] for name, p in spans.items() if p}}
        elif step.kind == "spot":
            odd = next((f.cylinder for f in faults if f.cylinder is not None), None)
            out[step.id] = {"absent": True} if odd is None else {"value": odd}
        elif step.kind == "reading":
            reading = measured.reading(step.reading)
            out[step.id] = (
                {"absent": True}
                if reading is None
                else {"value": reading.value, "pegs": [reading.from_s, reading.to_s]}
            )
        elif step.kind == "compare":
            judged = measured.deciding_limit(step.reading)
            out[step.id] = {} if judged is None else {"state": judged.state}
        elif step.kind == "call":
            out[step.id] = call(measured, faults)
    return out


def call(measured: Answer, faults: list[Any]) -> dict[str, Any]:
    kind = CIRCUITS[measured.circuit]
    if measured.call == "inconclusive":
        hides = next(f for f in measured.findings if f.hides)
        return {
            "verdict": "inconclusive",
            "cause": "not-shown",
            "evidence": [[hides.from_s, min(hides.to_s, hides.from_s + 0.4)]],
            "next_test": {"cold_only": "heat"}.get(hides.code, "recapture-condition"),
            "confidence": 100,
        }
    because = next((f for f in faults if f.code in measured.because), None)
    spec = finding_spec(kind, because.code) if because else None
    if because is not None:
        shows = because.shows_in[0]
        evidence = [[shows[0], min(shows[1], shows[0] + 0.4)]]
    else:
        evidence = [proof(measured)]
    return {
        "verdict": measured.call,
        "cause": spec.cause if spec else "none",
        "evidence": evidence,
        "next_test": spec.next_tests[0] if spec else "none",
        "confidence": 100,
    }


def proof(measured: Answer) -> list[float]:
    """What one points at to show a sound part: a whole phase, so many whole events, or a stretch of the signal."""
    wanted = CIRCUITS[measured.circuit].proof
    phase = next((p for p in measured.phases if p.name in wanted.phases), None)
    if phase is not None and phase.to_s - phase.from_s < 0.45 * measured.duration_s:
        return [phase.from_s, phase.to_s]
    if wanted.events and measured.events:
        return [measured.events[0].from_s, measured.events[min(wanted.events, len(measured.events)) - 1].to_s]
    first = measured.phases[0].from_s if measured.phases else 0.0
    rpm = measured.reading("rpm")
    if wanted.turns and rpm is not None:
        # A turn, and half as much again for the hand.
        return [first + 0.1, first + 0.1 + 1.5 * wanted.turns * 60 / rpm.value]
    return [first + 0.1, first + 0.1 + max(wanted.steady_s, 0.3)]


class ReadyCards(unittest.TestCase):
    def test_every_circuit_has_three_levels(self):
        made = [(code, level) for code, level, _ in ready_cards()]
        self.assertEqual(sorted(made), sorted((code, level) for code in CIRCUITS for level in (1, 2, 3)))
        briefs = [document["brief"] for _, _, document in ready_cards()]
        self.assertEqual(len(set(briefs)), len(briefs))

    def test_each_is_solved_to_the_last_point_by_its_own_trace(self):
        for code, level, document in ready_cards():
            card = card_from_json(document)
            measured = taken(card)
            with self.subTest(circuit=code, level=level):
                sound = "inconclusive" if code in SHOWS_NOTHING_COLD else "sound"
                self.assertEqual(measured.call, sound if level == 1 else "faulty")
                answers = answers_from_json(card, solved(card, measured))
                result = grade(Attempt(card, answers, {"first": Taken(measured, "sensor ground")}))
                lost = [(r["title"], r["reason"]) for r in result["results"] if r["score"] < 1]
                self.assertEqual(lost, [])
                left = {u["step"] for u in unanswered(card, answers, True)}
                self.assertLessEqual(left, {s.id for s in card.steps if s.kind in ("compare", "name")})

    def test_the_other_parts_that_it_deals_out_are_told_apart_by_their_traces(self):
        for code, level, document in ready_cards():
            card = card_from_json(document)
            self.assertNotIn(document["source"]["fault"], document["source"]["instead"])
            for dealt in card.first.source.instead:
                with self.subTest(circuit=code, level=level, dealt=dealt):
                    measured = taken(card, dealt)
                    sound = "inconclusive" if code in SHOWS_NOTHING_COLD else "sound"
                    self.assertEqual(measured.call, sound if dealt == "none" else "faulty")


if __name__ == "__main__":
    unittest.main()
