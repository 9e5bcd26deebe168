import json
import unittest

from tracebench.core.cards.answers import answer_from_json, answers_from_json, unanswered
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.cards.learner_view import learner_view
from tracebench.core.errors import BadAnswer, BadOption

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
        ids = [s.id for s in card_from_json(DOCUMENT).steps]
        self.assertEqual(ids, ["cautions", "capture", "reading-closed_v", "compare-closed_v", "call"])

    def test_a_document_comes_back_as_it_went_in_with_its_defaults(self):
        rich = {
            **DOCUMENT,
            "complaint": "hot",
            "schools": {"sweep": "any", "ground": "battery"},
            "rubric": {"no_peg": 1},
            "options": {"reference_v": "5.1"},
            "steps": [*DOCUMENT["steps"], {"kind": "reading", "reading": "open_v", "prompt": "Where?"}],
            "further": [
                {
                    "key": "feeds",
                    "circuit": "supply-ground",
                    "source": {"kind": "upload"},
                    "limits": [{"reading": "ground_v", "high": 0.05, "low": None, "marginal": 0.01, "source": "p. 4"}],
                }
            ],
        }
        rich["steps"].append({"kind": "reading", "reading": "ground_v", "capture": "feeds"})
        card = card_from_json(rich)
        self.assertEqual(card_from_json(json.loads(json.dumps(card_as_json(card)))), card)
        self.assertEqual([s.id for s in card.steps][-2:], ["reading-open_v", "feeds/reading-ground_v"])
        self.assertEqual(card.options("first"), {"reference_v": "5.1", "sweep": "any", "complaint": "hot"})
        self.assertEqual(card.options("feeds"), {})
        self.assertEqual(card.asked("feeds").limits[0].zone, 0.01)

    def test_a_card_from_before_there_were_several_schools(self):
        card = card_from_json({**DOCUMENT, "school": "any"})
        self.assertEqual(card.options("first")["sweep"], "any")

    def test_a_limit_keeps_all_of_itself(self):
        whole = {
            "reading": "closed_v",
            "low": 0.45,
            "high": 0.75,
            "basis": "maker",
            "marginal": 0.2,
            "condemns": False,
            "source": "data sheet, page 12",
        }
        card = card_from_json({**DOCUMENT, "limits": [whole]})
        self.assertEqual(card_as_json(card)["limits"], [whole])

    def test_what_schools_change(self):
        slow, rolled = (card_from_json({**DOCUMENT, "schools": s}) for s in ({}, {"engine": "running"}))
        self.assertIn("engine-off", [c.key for c in slow.cautions_of("first")])
        self.assertNotIn("engine-off", [c.key for c in rolled.cautions_of("first")])
        self.assertEqual(slow.ground_wanted("first"), "sensor ground")
        self.assertIsNone(card_from_json({**DOCUMENT, "schools": {"ground": "free"}}).ground_wanted("first"))
        self.assertTrue(card_from_json({**DOCUMENT, "schools": {"filter": "view"}}).allows_filter("first"))
        held = {x.reading for x in card_from_json({**DOCUMENT, "schools": {"sweep": "any"}}).limits_in_force("first")}
        self.assertNotIn("opening_s", held)
        self.assertIn("opening_s", {x.reading for x in slow.limits_in_force("first")})

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
            ({"schools": {"sweep": "slow", "fashion": "old"}}, "unknown question 'fashion'"),
            ({"schools": {"ground": "roof"}}, "school ground: one of sensor, battery"),
            ({"rubric": {"close": 2}}, "rubric close: a number from 0 to 1"),
            ({"rubric": {"mercy": 1}}, "unknown share 'mercy'"),
            ({"complaint": "sometimes"}, "complaint must be one of always"),
            ({"steps": [{"kind": "call", "capture": "second"}]}, "no capture 'second'"),
            ({"steps": [{"kind": "reading", "reading": "open_v", "cylinder": 99}]}, "cylinder: a whole number"),
            ({"further": [{"key": "first", "circuit": "charging"}]}, "a name of its own"),
            ({"limits": [{"reading": "open_v", "low": 1, "marginal": -1}]}, "0 or wider"),
            ({"limits": [{"reading": "open_v", "low": 1, "condemns": "no"}]}, "condemns must be true or false"),
        ):
            with self.subTest(change=change), self.assertRaisesRegex(BadOption, words):
                card_from_json({**DOCUMENT, **change})


class LearnerView(unittest.TestCase):
    def test_hides_fault_reference_points_and_limits_not_asked_about(self):
        text = json.dumps(learner_view(card_from_json(DOCUMENT)))
        for secret in ("worn", "severity", "reference", "points", "3.6"):
            self.assertNotIn(secret, text)
        self.assertIn("0.45", text)  # the compare step gives its limit, as a data sheet would
        zones = [x["zone"] for x in learner_view(card_from_json(DOCUMENT))["limits"] if x["basis"] == "maker"]
        self.assertAlmostEqual(zones[0], 0.015)
        # Common practice is graded where no other limit stands, and so it is shown.
        bare = learner_view(card_from_json({**DOCUMENT, "limits": []}))["limits"]
        self.assertEqual([(x["basis"], x["low"]) for x in bare], [("common-practice", 0.5)])
        self.assertIn("Bay 1", text)

    def test_notes_of_a_school_do_not_tell_what_a_step_asks(self):
        connect = {"kind": "connect", "wires": [], "asks": ["ground", "probe"]}
        told = [s["key"] for s in learner_view(card_from_json(DOCUMENT))["schools"]]
        self.assertIn("ground", told)
        asked = learner_view(card_from_json({**DOCUMENT, "steps": [*DOCUMENT["steps"], connect]}))
        self.assertEqual([s["key"] for s in asked["schools"]], [k for k in told if k != "ground"])
        self.assertNotIn("sensor's own ground", json.dumps(asked))
        # A step that asks for the probe alone hides nothing of it.
        probe = learner_view(
            card_from_json({**DOCUMENT, "steps": [*DOCUMENT["steps"], {**connect, "asks": ["probe"]}]})
        )
        self.assertEqual([s["key"] for s in probe["schools"]], told)


class CheckedAnswer(unittest.TestCase):
    CARD = card_from_json(DOCUMENT)

    def test_values_and_pegs(self):
        found = answer_from_json(self.CARD, "reading-closed_v", {"value": 0.6, "pegs": [2.0, 1.0], "junk": 1}).as_json()
        self.assertEqual(found, {"value": 0.6, "pegs": [1.0, 2.0]})
        gone = answer_from_json(self.CARD, "reading-closed_v", {"absent": True, "value": 3})
        self.assertEqual(gone.as_json(), {"absent": True})

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
                answer_from_json(self.CARD, step, answer)


class Unanswered(unittest.TestCase):
    CARD = card_from_json(DOCUMENT)

    def test_everything_at_first(self):
        self.assertEqual(len(unanswered(self.CARD, {}, captured=False)), 5)

    def test_nothing_when_complete(self):
        answers = {
            "cautions": {"read": ["engine-off"]},
            "reading-closed_v": {"absent": True},
            "compare-closed_v": {"state": "inside"},
            "call": {"verdict": "sound", "cause": "none", "evidence": [[1, 2]], "next_test": "none", "confidence": 0},
        }
        self.assertEqual(unanswered(self.CARD, answers_from_json(self.CARD, answers), captured=True), [])

    def test_open_parts_of_the_call_are_named(self):
        for verdict, still in (
            ("sound", "cause, evidence, next test, how sure"),
            # Where one cannot tell, there need be nothing to point at.
            ("inconclusive", "cause, next test, how sure"),
        ):
            given = answers_from_json(self.CARD, {"call": {"verdict": verdict}})
            (missing,) = [m for m in unanswered(self.CARD, given, True) if m["step"] == "call"]
            self.assertEqual(missing["what"], f"still open: {still}")
