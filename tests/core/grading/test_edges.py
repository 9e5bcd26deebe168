"""Rules at their edges that a change of one sign or number by hand once survived."""

from __future__ import annotations

import unittest
from dataclasses import replace

from tests.core.grading.built import measured, rows, throttle_card
from tests.core.grading.table import CARD, SOUND, WORN, read
from tests.core.grading.test_order import handed
from tracebench.core.answer import Finding, Limit, Reading
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.errors import BadOption
from tracebench.core.grading.attempt import Attempt, Taken
from tracebench.core.grading.certainty import WORTH_A_LOOK
from tracebench.core.grading.grade import grade
from tracebench.core.grading.order import LEAST_APART, looks
from tracebench.core.limits import judge, merged, state_of


class Limits(unittest.TestCase):
    CP = Limit("closed_v", 0.5, 1.0)

    def test_the_same_basis_is_replaced_with_its_zone_and_another_stands_beside(self):
        own = Limit("closed_v", 0.6, 0.9, marginal=0.02, condemns=False)
        self.assertEqual(merged((self.CP,), (own,)), (own,))
        maker = replace(own, basis="maker")
        self.assertEqual(set(merged((self.CP,), (maker,))), {self.CP, maker})

    def test_what_an_older_card_wrote_down_without_its_zone_keeps_it_and_what_is_soft_stays_soft(self):
        declared = Limit("closed_v", 0.5, 1.0, marginal=0.1, condemns=False)
        written = Limit("closed_v", 0.5, 1.0)
        self.assertEqual(merged((declared,), (written,)), (declared,))
        other = merged((declared,), (replace(written, high=1.1),))
        self.assertEqual((other[0].marginal, other[0].condemns), (None, False))

    def test_equal_ends_are_a_value_with_a_zone_round_it(self):
        exact = Limit("sweeps_count", 2.0, 2.0, marginal=1.0)
        for value, state in (
            (2.0, "inside"),
            (1.0, "marginal"),
            (3.0, "marginal"),
            (3.01, "outside"),
            (0.99, "outside"),
        ):
            self.assertEqual(state_of(value, exact), state, value)

    def test_a_limit_that_does_not_condemn_judges_and_decides_nothing(self):
        soft = replace(self.CP, condemns=False)
        low = Reading("closed_v", 0.2, "V", 0.001, 0.0, 10.0, "signal")
        self.assertEqual(judge((low,), (soft,))[0].state, "outside")
        self.assertEqual(measured((), (low,), (soft,)).call, "sound")
        self.assertEqual(measured((), (low,), (self.CP,)).call, "faulty")


class Marks(unittest.TestCase):
    def test_a_hint_takes_its_share_of_what_was_earned_and_never_of_nothing(self):
        for value, before in ((0.700, 1.0), (0.727, 0.5), (3.0, 0.0)):
            given = answers_from_json(CARD, {"reading-closed_v": read(value, 5.0)})
            taken = {"first": Taken(SOUND)}
            plain, hinted = (
                {r["criterion"]: r for r in grade(Attempt(CARD, given, taken, hints))["results"]}["reading:closed_v"]
                for hints in (frozenset(), frozenset({"reading-closed_v"}))
            )
            self.assertAlmostEqual(plain["score"], before, msg=value)
            self.assertAlmostEqual(hinted["score"], max(0.0, before - 0.25), delta=0.13, msg=value)
            self.assertLessEqual(hinted["score"], plain["score"])

    def test_a_worked_out_figure_is_right_from_both_sides_alike(self):
        clamp = {"kind": "work_out", "calculation": "clamp", "figures": {"volts": 0.45, "mv_per_a": 100}}
        one = card_from_json(
            {"circuit": "throttle-position", "title": "A", "source": {"kind": "upload"}, "steps": [clamp]}
        )
        # 4.5 A within a hundredth of itself for rounding.
        for value, score in ((4.456, 1), (4.544, 1), (4.44, 0), (4.56, 0)):
            given = {"work_out-clamp": {"value": value, "figures": {"volts": 0.45, "mv_per_a": 100}}}
            self.assertEqual(rows(one, given, SOUND)["work_out:clamp"]["score"], score, value)

    def test_the_tool_is_sure_of_a_cause_that_a_finding_names_and_less_of_one_that_none_does(self):
        said = {"call": {"verdict": "faulty", "cause": "worn-track"}}
        unexplained = measured(
            readings=(Reading("reversal_v", 0.4, "V", 0.001, 12.0, 13.0, "signal"),),
            limits=(Limit("reversal_v", None, 0.05),),
        )
        self.assertEqual(rows(CARD, said, WORN)["cause"]["certainty"], 0.9)
        self.assertEqual(rows(CARD, said, unexplained)["cause"]["certainty"], 0.6)

    def test_half_of_a_capture_covered_by_a_set_up_finding_hides_only_what_lies_on_it(self):
        half = Finding("clipped", "set-up", 0.0, 50.0, "rests on the rail", "signal", hides=True)
        self.assertEqual(measured((half,)).call, "inconclusive")
        self.assertEqual(measured((replace(half, hides=False),)).call, "sound")

    def test_points_are_never_negative_nor_over_a_hundred(self):
        for points in (-0.01, 100.01, float("nan")):
            with self.assertRaisesRegex(BadOption, "points for call"):
                throttle_card(points={"call": points})
        self.assertEqual(throttle_card(points={"call": 0}).points, {"call": 0})


class OrderOfTheDesk(unittest.TestCase):
    def test_as_sure_as_it_must_be_is_clear_and_a_hair_less_is_not(self):
        rows_ = [handed(1, certainty=WORTH_A_LOOK), handed(2, certainty=WORTH_A_LOOK - 0.001, unsure=("Cause",))]
        self.assertEqual({x.id: x.clear for x in looks(rows_)}, {1: True, 2: False})

    def test_as_far_from_the_class_as_it_takes(self):
        usual = [handed(k, 0.80) for k in range(10, 16)]
        for share, clear in ((0.80 - LEAST_APART + 0.01, True), (0.80 - LEAST_APART - 0.01, False)):
            found = {x.id: x.clear for x in looks([handed(1, share), *usual])}
            self.assertEqual(found[1], clear, share)


if __name__ == "__main__":
    unittest.main()
