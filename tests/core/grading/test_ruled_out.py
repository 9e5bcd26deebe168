"""What is ruled out and by what, and what is done where the first test does not cure it: marks by the rules."""

from __future__ import annotations

import unittest

from tests.core.grading.built import CLIPPED, DROPOUT, measured, rows
from tracebench.core.cards.answers import unanswered
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.errors import BadAnswer, BadOption

ASKS = {"kind": "call", "prompt": "Call", "asks": ["ruled_out", "otherwise"]}
HERE = [21.0, 29.0]
"""In an open phase, where a travel that is short would show."""

REST = [2.0, 8.0]
"""In a closed phase, where a stop out of place would show."""


def card(step=ASKS):
    steps = [step]
    return card_from_json({"circuit": "throttle-position", "title": "C", "source": {"kind": "upload"}, "steps": steps})


def said(found, **more):
    """A call of a worn track (its places at 15 and 53 s), with more said of it."""
    answer = {
        "verdict": "faulty",
        "cause": "worn-track",
        "evidence": [[15.0, 15.2]],
        "next_test": "compare-part",
        "confidence": 90,
        **more,
    }
    return rows(card(), {"call": answer}, found)


WORN = measured((DROPOUT,))


class RuledOut(unittest.TestCase):
    def score(self, *ruled, found=WORN):
        return said(found, ruled_out=[{"cause": cause, "by": by} for cause, by in ruled])["ruled_out"]["score"]

    def test_two_that_the_capture_does_not_support_each_with_its_place(self):
        self.assertEqual(self.score(("short-travel", HERE), ("closed-stop", [1.0, 9.0])), 1)

    def test_what_the_capture_supports_is_not_ruled_out(self):
        self.assertEqual(self.score(("worn-track", HERE), ("closed-stop", REST)), 0.5)
        self.assertEqual(self.score(("worn-track", HERE)), 0)

    def test_one_alone_is_half_and_without_a_place_half_of_that(self):
        self.assertEqual(self.score(("short-travel", HERE)), 0.5)
        self.assertEqual(self.score(("short-travel", [])), 0.25)
        self.assertEqual(self.score(("short-travel", []), ("closed-stop", REST)), 0.75)

    def test_the_whole_record_shows_nothing_in_particular(self):
        self.assertEqual(self.score(("short-travel", [0.0, 90.0]), ("closed-stop", REST)), 0.75)

    def test_none_is_nothing_and_a_third_wrong_one_costs(self):
        self.assertEqual(self.score(), 0)
        three = self.score(("short-travel", HERE), ("closed-stop", REST), ("worn-track", HERE))
        self.assertAlmostEqual(three, 2 / 3, places=3)

    def test_where_the_answer_is_hidden_nothing_is_ruled_out(self):
        hidden = measured((CLIPPED,))
        self.assertEqual(self.score(found=hidden), 1)
        self.assertEqual(self.score(("short-travel", HERE), ("closed-stop", REST), found=hidden), 0)

    def test_what_is_no_part_cannot_be_ruled_out(self):
        with self.assertRaisesRegex(BadAnswer, "ruled_out"):
            self.score(("none", HERE))


class Otherwise(unittest.TestCase):
    def score(self, test, found=WORN, **more):
        return said(found, otherwise=test, **more)["otherwise"]["score"]

    def test_another_that_follows_from_the_findings(self):
        self.assertEqual(self.score("supply-ground"), 1)
        self.assertEqual(self.score("wiring"), 1)

    def test_the_same_once_more_cures_nothing(self):
        self.assertEqual(self.score("wiring", next_test="wiring"), 0)

    def test_what_does_not_follow_earns_nothing(self):
        self.assertEqual(self.score("none"), 0)
        self.assertEqual(self.score(None), 0)

    def test_of_a_sound_part_nothing_is_left(self):
        sound = measured()
        more = {"verdict": "sound", "cause": "none", "next_test": "none", "evidence": [[10.0, 20.0]]}
        self.assertEqual(self.score("none", sound, **more), 1)
        self.assertEqual(self.score("compare-part", sound, **more), 0)


class Asked(unittest.TestCase):
    def test_only_where_the_card_asks(self):
        plain = rows(card({"kind": "call", "prompt": "Call"}), {"call": {"verdict": "sound"}}, measured())
        self.assertNotIn("ruled_out", plain)
        self.assertNotIn("otherwise", plain)
        self.assertEqual(card_as_json(card())["steps"][0]["asks"], ["ruled_out", "otherwise"])

    def test_what_is_still_open_names_them(self):
        (left,) = unanswered(card(), {}, True)
        self.assertIn("what is ruled out", left["what"])
        self.assertIn("what if that does not cure it", left["what"])

    def test_an_unknown_question_is_refused(self):
        with self.assertRaisesRegex(BadOption, "step 1: asks"):
            card({**ASKS, "asks": ["why"]})

    def test_answers_that_do_not_fit_are_refused(self):
        for wrong in ({"otherwise": "no such"}, {"ruled_out": [{"cause": "no such", "by": []}]}, {"ruled_out": "x"}):
            with self.assertRaises(BadAnswer):
                rows(card(), {"call": wrong}, WORN)


if __name__ == "__main__":
    unittest.main()
