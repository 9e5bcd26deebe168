"""The tool sits ready cards: its own answers earn everything, and a mistake costs what the rubric says."""

from __future__ import annotations

import unittest
from functools import lru_cache

from tests.usecases.test_ready_cards import taken
from tracebench.core.cards.card import Card
from tracebench.core.cards.documents import card_from_json
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.grade import grade
from tracebench.core.grading.mistakes import MISTAKES, OwnScore, own_score
from tracebench.demo.cast import LOOM_STEPS
from tracebench.demo.ready_cards import ready_cards

CIRCUITS = ("throttle-position", "secondary-voltage", "igniter-bench", "charging")


@lru_cache(maxsize=1)
def sat() -> dict[tuple[str, int], tuple[Card, OwnScore]]:
    out = {}
    for code, level, document in ready_cards():
        if code in CIRCUITS:
            card = card_from_json(document)
            out[code, level] = (card, own_score(card, {"first": Taken(taken(card), "sensor ground")}))
    return out


def costs(code: str, level: int) -> dict[str, float]:
    return {m.key: m.cost for m in sat()[code, level][1].mistakes}


class OwnScores(unittest.TestCase):
    def test_right_answers_earn_every_point(self):
        for (code, level), (_, own) in sat().items():
            lost = [(r["title"], r["reason"]) for r in own.right["results"] if r["score"] < 1]
            self.assertEqual(lost, [], (code, level))
            self.assertEqual(own.right["earned"], own.right["points"])

    def test_a_wrong_call_costs_all_that_hangs_on_it(self):
        # Evidence 6, call 2, cause 1, next test 1, and the whole of confidence 1 when one is sure of it.
        self.assertEqual(costs("throttle-position", 2)["other-call"], 11)

    def test_what_a_single_mistake_costs_is_what_the_rubric_says(self):
        found = costs("throttle-position", 2)
        # Of a reading's 3 points nothing is left where it is off, and a quarter where a power of ten is named.
        self.assertEqual(found["misread"], 3)
        self.assertAlmostEqual(found["power-of-ten"], 3 * 0.75, places=2)
        self.assertEqual((found["cause"], found["cautions"]), (1, 1))
        # Brier's score of one half, 1 - 0.5^2, leaves three quarters of the point.
        self.assertAlmostEqual(found["modesty"], 0.25, places=2)

    def test_a_mistake_that_a_card_gives_no_room_for_is_not_told(self):
        for (code, level), (card, own) in sat().items():
            kinds = {s.kind for s in card.steps}
            told = {m.key for m in own.mistakes}
            self.assertEqual("names" in told, "name" in kinds, (code, level))
            self.assertEqual("spot" in told, "spot" in kinds, (code, level))
            self.assertLessEqual(told - {"hints"}, {m.key for m in MISTAKES})

    def test_the_dearest_comes_first_and_none_earns_points(self):
        for _, own in sat().values():
            told = [m.cost for m in own.mistakes]
            self.assertEqual(told, sorted(told, reverse=True))
            self.assertGreaterEqual(told[-1], 0)

    def test_what_only_a_learner_answers_is_left_out(self):
        _, _, document = next(c for c in ready_cards() if c[0] == "throttle-position")
        steps = [dict(s) for s in LOOM_STEPS]
        steps[0]["hint"] = "They stand on the sheet."
        card = card_from_json({**document, "steps": steps})
        taken_once = {"first": Taken(taken(card), "sensor ground")}
        own = own_score(card, taken_once)
        self.assertEqual(set(own.left_out), {s.id for s in card.steps if s.kind in ("record", "explain")})
        whole = grade(Attempt(card, {}, taken_once))["points"]
        self.assertEqual(own.right["points"], whole - 4)
        self.assertEqual(own.right["earned"], own.right["points"])
        told = {m.key: m.cost for m in own.mistakes}
        # Two of three wires exchanged, beside a right ground point and probe, lose two fifths of two points; a range
        # too small a third of two.
        self.assertAlmostEqual(told["wires"], 4 / 5, places=2)
        self.assertAlmostEqual(told["range"], 2 / 3, places=2)
        self.assertAlmostEqual(told["hints"], card.rubric.hint * 1, places=2)


if __name__ == "__main__":
    unittest.main()
