"""Comparing beside a reference, before a repair and the other cylinders: states worked out by hand."""

from __future__ import annotations

import unittest

from tests.core.grading.built import SPARK, THROTTLE, measured, rows, sparks
from tracebench.core.cards.answers import answers_from_json, unanswered
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.cards.learner_view import learner_view
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading.attempt import Taken
from tracebench.core.grading.blind import floor_of
from tracebench.core.grading.mistakes import own_score
from tracebench.core.grading.right_answers import right_answers


def card(*steps, circuit=THROTTLE, **more):
    steps = [{"kind": "compare", **s} for s in steps]
    return card_from_json({"circuit": circuit, "title": "A", "source": {"kind": "upload"}, "steps": steps, **more})


def beside(value, uncertainty=0.002, reading="closed_v", **more):
    """A step that holds the closed level, 0.700 V in the built record, beside another value."""
    other = {"value": value, "uncertainty": uncertainty, "from": 1, "to": 2}
    return {"reading": reading, "against": "reference", "version_id": 7, "other": other, **more}


def mark(one, state, found=None):
    got = rows(one, {one.steps[0].id: {} if state is None else {"state": state}}, found or measured())
    return next(iter(got.values()))


class BesideAReference(unittest.TestCase):
    def test_lower_alike_or_higher_by_the_part_that_the_card_says(self):
        # 0.700 V; a tenth of the other one's value is alike, at the least what a hand reads by (0.02 V).
        for other, within, state in (
            (0.70, 10, "alike"),
            (0.64, 10, "alike"),  # 0.060 of 0.064
            (0.63, 10, "higher"),  # 0.070 of 0.063
            (0.77, 10, "alike"),  # 0.070 of 0.077
            (0.78, 10, "lower"),  # 0.080 of 0.078
            (0.64, 5, "higher"),
            (0.69, 0, "alike"),  # 0.010 of a hand's 0.020
            (0.67, 0, "higher"),
        ):
            one = card(beside(other, within_pct=within))
            with self.subTest(other=other, within=within):
                marks = {s: mark(one, s)["score"] for s in ("lower", "alike", "higher")}
                self.assertEqual(max(marks, key=marks.get), state)
                self.assertEqual(marks[state], 1)
                # One step off is half, the other way round nothing.
                self.assertEqual(sorted(marks.values()), [0.5, 0.5, 1] if state == "alike" else [0, 0.5, 1])

    def test_what_neither_record_can_tell_apart_is_alike(self):
        self.assertEqual(mark(card(beside(0.60, 0.04, within_pct=0)), "alike")["score"], 1)
        self.assertLess(mark(card(beside(0.60, 0.03, within_pct=0)), "alike")["certainty"], 0.7)

    def test_the_reason_tells_both_values_and_how_much_is_alike(self):
        said = mark(card(beside(0.63)), "alike")
        self.assertIn("0.700 V is higher than the reference's, 0.630 V (alike within 0.063 V)", said["reason"])
        self.assertEqual(said["title"], "Closed level beside the reference")
        self.assertIn("that before the repair", mark(card(beside(0.63, against="before")), "alike")["reason"])
        self.assertIn("No state was chosen", mark(card(beside(0.63)), None)["reason"])

    def test_right_for_ones_own_reading(self):
        document = {"circuit": THROTTLE, "title": "A", "source": {"kind": "upload"}}
        steps = [{"kind": "reading", "reading": "closed_v"}, {"kind": "compare", **beside(0.63)}]
        one = card_from_json({**document, "steps": steps})
        given = {"reading-closed_v": {"value": 0.5, "pegs": [5.0]}, "compare-closed_v-reference": {"state": "lower"}}
        got = rows(one, given, measured())["compare:closed_v-reference"]
        self.assertEqual((got["score"], got["slip"]), (1, "follow_through"))

    def test_without_a_value_none_is_right(self):
        one = card(beside(0.63))
        nothing = measured(readings=())
        self.assertEqual([mark(one, s, nothing)["score"] for s in (None, "alike")], [1, 0])
        self.assertEqual(mark(card({"reading": "closed_v", "against": "reference"}), "alike")["score"], 0)


class BesideTheOthers(unittest.TestCase):
    def test_a_cylinder_beside_the_middle_of_the_others(self):
        # Burns of 1.40, 0.60, 1.44 and 1.80 ms in cylinders 1, 3, 4 and 2.
        for cylinder, state in ((3, "lower"), (1, "alike"), (4, "alike"), (2, "higher")):
            one = card({"reading": "burn_ms", "cylinder": cylinder, "against": "siblings"}, circuit=SPARK)
            with self.subTest(cylinder=cylinder):
                self.assertEqual(mark(one, state, sparks())["score"], 1)
        # The last one's others are 1.40, 0.60 and 1.44 ms.
        self.assertIn("higher than the middle of the other cylinders', 1.40 ms", mark(one, "alike", sparks())["reason"])

    def test_a_cylinders_own_limit_is_held_to_its_own_value(self):
        # Cylinder 3 burns for 0.60 ms where 0.8 is the least; the capture as a whole, 1.40, is inside.
        one = card({"reading": "burn_ms", "cylinder": 3}, {"reading": "burn_ms"}, circuit=SPARK)
        answers = right_answers(one, {"first": Taken(sparks())})
        self.assertEqual([a.state for a in answers.values()], ["outside", "inside"])

    def test_whose_is_to_be_said(self):
        with self.assertRaisesRegex(BadOption, "say which cylinder"):
            card({"reading": "burn_ms", "against": "siblings"}, circuit=SPARK)


class Documents(unittest.TestCase):
    def test_one_reading_may_be_held_against_several_things(self):
        steps = ({"reading": "closed_v"}, beside(0.6), beside(0.5, against="before", version_id=9, within_pct=3))
        one = card(*steps)
        self.assertEqual(
            [s.id for s in one.steps], ["compare-closed_v", "compare-closed_v-reference", "compare-closed_v-before"]
        )
        self.assertEqual(card_from_json(card_as_json(one)), one)
        self.assertEqual(len(unanswered(one, {}, True)), 3)

    def test_bad_ones_are_named(self):
        for step, said in (
            (beside(0.6, against="magic"), "against must be one of limit, reference, before, siblings"),
            (beside(0.6, within_pct=101), "within_pct: a number from 0 to 100"),
            (beside("high"), "other: value must be a number"),
            (beside(0.6, -1), "uncertainty"),
            (beside(0.6, version_id="x"), "version_id"),
        ):
            with self.subTest(said), self.assertRaisesRegex(BadOption, said):
                card(step)
        one = card({"reading": "closed_v"}, beside(0.6))
        for step, state in (("compare-closed_v", "alike"), ("compare-closed_v-reference", "inside")):
            with self.assertRaisesRegex(BadAnswer, f"{step}: state must be one of"):
                answers_from_json(one, {step: {"state": state}})

    def test_a_learner_is_shown_the_other_value_and_not_whose_it_is(self):
        shown = learner_view(card(beside(0.63), {"reading": "open_v"}))
        self.assertEqual(shown["steps"][0]["other"]["value"], 0.63)
        self.assertNotIn("version_id", shown["steps"][0])
        self.assertEqual({limit["reading"] for limit in shown["limits"]}, {"open_v"})

    def test_the_tool_sits_it_and_so_do_those_who_do_not_look(self):
        one = card(beside(0.63), {"reading": "closed_v"})
        taken = {"first": Taken(measured())}
        found = own_score(one, taken)
        self.assertEqual(found.right["earned"], found.right["points"])
        self.assertIn(("state", 0.25), [(m.key, m.cost) for m in found.mistakes])
        # Always inside and alike: right of the limit, half of the reference.
        self.assertEqual(floor_of(one, taken)["sound"], 0.75)


if __name__ == "__main__":
    unittest.main()
