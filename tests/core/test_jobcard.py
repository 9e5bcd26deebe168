import json
import unittest

from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.jobcard import checked_answer, checked_card, learner_view, unanswered

DOCUMENT = {
    "circuit": "throttle-position",
    "title": "Hesitates",
    "source": {"kind": "trainer", "fault": "worn-idle", "severity": 0.9, "vehicle": "Bay 1"},
    "reference_version_id": 7,
    "limits": [
        {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker"},
        {"reading": "open_v", "low": 3.6, "high": None, "basis": "maker"},
    ],
    "steps": [
        {"kind": "cautions"},
        {"kind": "capture"},
        {"kind": "reading", "reading": "closed_v"},
        {"kind": "compare", "reading": "closed_v"},
        {"kind": "call"},
    ],
    "points": {"call": 6},
}


class CheckedCard(unittest.TestCase):
    def test_steps_get_ids(self):
        ids = [s["id"] for s in checked_card(DOCUMENT)["steps"]]
        self.assertEqual(ids, ["cautions", "capture", "reading-closed_v", "compare-closed_v", "call"])

    def test_refusals_name_the_field(self):
        for change, words in (
            ({"title": " "}, "title"),
            ({"source": {"kind": "magic"}}, "source"),
            ({"attempts": 0}, "attempts"),
            ({"school": "fast"}, "school"),
            ({"steps": []}, "at least one step"),
            ({"steps": [{"kind": "dance"}]}, "step 1"),
            ({"steps": [{"kind": "reading", "reading": "x"}]}, "no reading 'x'"),
            ({"steps": [{"kind": "call"}, {"kind": "call"}]}, "twice"),
            ({"points": {"call": -1}}, "points for call"),
        ):
            with self.subTest(change=change), self.assertRaisesRegex(BadOption, words):
                checked_card({**DOCUMENT, **change})


class LearnerView(unittest.TestCase):
    def test_hides_fault_reference_points_and_limits_not_asked_about(self):
        text = json.dumps(learner_view(checked_card(DOCUMENT)))
        for secret in ("worn", "severity", "reference", "points", "3.6"):
            self.assertNotIn(secret, text)
        self.assertIn("0.45", text)  # the compare step gives its limit, as a data sheet would
        self.assertIn("Bay 1", text)


class CheckedAnswer(unittest.TestCase):
    CARD = checked_card(DOCUMENT)

    def test_values_and_pegs(self):
        found = checked_answer(self.CARD, "reading-closed_v", {"value": 0.6, "pegs": [2.0, 1.0], "junk": 1})
        self.assertEqual(found, {"value": 0.6, "pegs": [1.0, 2.0]})
        self.assertEqual(checked_answer(self.CARD, "reading-closed_v", {"absent": True, "value": 3}), {"absent": True})

    def test_refusals_say_what_was_expected(self):
        for step, answer, words in (
            ("nope", {}, "no step"),
            ("reading-closed_v", {"value": "x"}, "must be a number"),
            ("reading-closed_v", {"value": float("inf")}, "must be a number"),
            ("reading-closed_v", {"pegs": [1, 2, 3]}, "one or two instants"),
            ("compare-closed_v", {"state": "odd"}, "inside, marginal, outside"),
            ("call", {"verdict": "maybe"}, "sound, faulty, inconclusive"),
            ("call", {"confidence": 101}, "between 0 and 100"),
            ("call", {"evidence": [[1]] * 11}, "up to ten"),
            ("cautions", {"read": ["x"]}, "expected read"),
            ("call", [], "expected an object"),
        ):
            with self.subTest(step=step, answer=answer), self.assertRaisesRegex(BadAnswer, words):
                checked_answer(self.CARD, step, answer)


class Unanswered(unittest.TestCase):
    CARD = checked_card(DOCUMENT)

    def test_everything_at_first(self):
        self.assertEqual(len(unanswered(self.CARD, {}, has_capture=False)), 5)

    def test_nothing_when_complete(self):
        answers = {
            "cautions": {"read": ["engine-off"]},
            "reading-closed_v": {"absent": True},
            "compare-closed_v": {"state": "inside"},
            "call": {"verdict": "sound", "cause": "none", "evidence": [[1, 2]], "next_test": "none", "confidence": 0},
        }
        self.assertEqual(unanswered(self.CARD, answers, has_capture=True), [])

    def test_open_parts_of_the_call_are_named(self):
        (missing,) = [m for m in unanswered(self.CARD, {"call": {"verdict": "sound"}}, True) if m["step"] == "call"]
        self.assertIn("cause, evidence, next test, how sure", missing["what"])
