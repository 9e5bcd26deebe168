import unittest

from tests.support.waves import Sweep
from tracebench.core.answer import Limit
from tracebench.core.circuits import circuit, measure
from tracebench.core.grading import CRITERIA, grade
from tracebench.core.grading.criteria.concluding import brier_score
from tracebench.core.grading.criteria.reading_values import tolerance
from tracebench.core.grading.result import Attempt
from tracebench.core.jobcard import checked_card

CODE = "throttle-position"
KIND = circuit(CODE)
MAKER = [Limit("closed_v", 0.45, 0.75, "maker"), Limit("open_v", 3.6, None, "maker")]

CARD = checked_card(
    {
        "circuit": CODE,
        "title": "A card",
        "source": {"kind": "upload"},
        "steps": [
            {"kind": "cautions"},
            {"kind": "capture"},
            {"kind": "reading", "reading": "closed_v"},
            {"kind": "reading", "reading": "opening_s"},
            {"kind": "reading", "reading": "dropout_depth_v"},
            {"kind": "compare", "reading": "open_v"},
            {"kind": "call"},
        ],
    }
)


def worn() -> Sweep:
    plain = Sweep(rate_hz=2000)
    places = [plain.instant_of_travel(0.14, s, c) for s in (0, 1) for c in (False, True)]
    return Sweep(rate_hz=2000, noise_v=0.004, dips=tuple((p, 0.01, 1.2) for p in places))


def right(sweep: Sweep) -> dict:
    """The answers of somebody who reads this trace right."""
    measured = measure(sweep.capture(), CODE, limits=MAKER)
    faulty = measured.call == "faulty"
    finding = next((f for f in measured.findings if f.kind == "fault"), None)
    opening = next(p for p in measured.phases if p.name == "opening")
    depth = measured.reading("dropout_depth_v")
    return {
        "cautions": {"read": [c.key for c in KIND.cautions]},
        "capture": {},
        "reading-closed_v": {"value": round(measured.reading("closed_v").value, 3), "pegs": [0.5]},
        "reading-opening_s": {"value": round(measured.reading("opening_s").value, 2)},
        "reading-dropout_depth_v": {"value": round(depth.value, 2)} if depth else {"absent": True},
        "compare-open_v": {"state": "inside"},
        "call": {
            "verdict": measured.call,
            "cause": "worn-track" if faulty else "none",
            "evidence": [[finding.from_s, finding.to_s]] if finding else [[opening.from_s, opening.to_s]],
            "next_test": "wiring" if faulty else "none",
            "confidence": 100,
        },
    }


def graded(sweep: Sweep, **changes) -> dict:
    answers = right(sweep)
    for step, answer in changes.items():
        answers[step.replace("__", "-")] = answer
    return grade(Attempt(KIND, CARD, answers, measure(sweep.capture(), CODE, limits=MAKER)))


def row(result: dict, criterion: str) -> dict:
    return next(r for r in result["results"] if r["criterion"] == criterion)


class Evidence(unittest.TestCase):
    def test_the_whole_record_points_at_nothing(self):
        sweep = worn()
        call = {**right(sweep)["call"], "evidence": [[0.0, sweep.duration_s]]}
        found = row(graded(sweep, call=call), "evidence")
        self.assertEqual(found["score"], 0.0)
        self.assertIn("points at nothing", found["reason"])


class WholeAttempt(unittest.TestCase):
    def test_right_answers_earn_every_point_sound_and_faulty(self):
        for sweep in (Sweep(), worn()):
            result = graded(sweep)
            self.assertEqual(result["earned"], result["points"], [r for r in result["results"] if r["score"] < 1])

    def test_the_same_attempt_is_always_graded_alike(self):
        self.assertEqual(graded(worn()), graded(worn()))

    def test_nothing_handed_in_earns_nothing_and_does_not_crash(self):
        result = grade(Attempt(KIND, CARD, {}, None))
        self.assertEqual(result["earned"], 0)
        self.assertTrue(all(r["reason"] for r in result["results"]))

    def test_every_mark_has_a_reason_and_every_reading_its_piece_of_trace(self):
        for r in graded(worn())["results"]:
            self.assertGreater(len(r["reason"]), 10)
            if r["criterion"].startswith("reading:"):
                self.assertEqual(len(r["stretches"]), 1)

    def test_points_of_the_card_outrank_the_defaults_and_zero_leaves_out(self):
        card = {**CARD, "points": {"call": 10.0, "confidence": 0.0}}
        result = grade(Attempt(KIND, card, right(Sweep()), measure(Sweep().capture(), CODE, limits=MAKER)))
        self.assertEqual(row(result, "call")["points"], 10)
        self.assertNotIn("confidence", [r["criterion"] for r in result["results"]])

    def test_criteria_are_listed_once(self):
        self.assertEqual(len({c.key for c in CRITERIA}), len(CRITERIA))


class Readings(unittest.TestCase):
    def given(self, value, pegs=(), sweep=None):
        answer = {"value": value, "pegs": list(pegs)}
        return row(graded(sweep or Sweep(), **{"reading-closed_v": answer}), "reading:closed_v")

    def test_on_the_tolerance_is_right_beyond_it_is_close_then_wrong(self):
        reading = measure(Sweep().capture(), CODE).reading("closed_v")
        allowed = tolerance(reading)
        self.assertEqual(self.given(reading.value + allowed)["score"], 1)
        self.assertEqual(self.given(reading.value + 1.5 * allowed)["score"], 0.5)
        self.assertEqual(self.given(reading.value + 4 * allowed)["score"], 0)

    def test_slips_are_named(self):
        for value, slip in ((700.0, "factor_1000"), (7.0, "factor_10"), (0.07, "factor_0.1"), (-0.7, "factor_-1")):
            found = self.given(value)
            self.assertEqual((found["slip"], found["score"]), (slip, 0.25), value)
        self.assertIn("millivolts", self.given(700.0)["reason"])

    def test_wrong_phase_by_value_and_by_place(self):
        self.assertEqual(self.given(4.2)["slip"], "wrong_phase")
        self.assertEqual(self.given(2.0, pegs=[3.0])["slip"], "wrong_phase")

    def test_wrong_sweep(self):
        times = Sweep(rate_hz=1000)
        answer = measure(times.capture(), CODE)
        slowest, other = answer.reading("opening_s", 1), answer.reading("opening_s", 2)
        self.assertAlmostEqual(slowest.value, other.value, places=2)

    def test_an_overlooked_dropout_and_one_that_is_not_there(self):
        overlooked = row(graded(worn(), **{"reading-dropout_depth_v": {"absent": True}}), "reading:dropout_depth_v")
        self.assertEqual((overlooked["score"], overlooked["slip"]), (0, "overlooked"))
        made_up = row(graded(Sweep(), **{"reading-dropout_depth_v": {"value": 0.4}}), "reading:dropout_depth_v")
        self.assertEqual(made_up["score"], 0)
        self.assertIn("no dropout", made_up["reason"])


class Quality(unittest.TestCase):
    def test_a_quick_sweep_costs_a_quarter(self):
        self.assertEqual(row(graded(Sweep(way_s=2.0)), "capture_quality")["score"], 0.75)

    def test_what_hides_the_answer_costs_all(self):
        self.assertEqual(row(graded(Sweep(sweeps=1)), "capture_quality")["score"], 0)

    def test_cautions_by_share(self):
        found = row(graded(Sweep(), cautions={"read": [KIND.cautions[0].key]}), "cautions")
        self.assertAlmostEqual(found["score"], 1 / len(KIND.cautions), places=3)


class Comparison(unittest.TestCase):
    def test_one_step_off_earns_half_and_two_nothing(self):
        for state, score in (("inside", 1), ("marginal", 0.5), ("outside", 0)):
            found = row(graded(Sweep(), **{"compare-open_v": {"state": state}}), "compare:open_v")
            self.assertEqual(found["score"], score)

    def test_the_makers_limit_decides(self):
        found = row(graded(Sweep(open_v=3.77)), "compare:open_v")
        self.assertIn("inside the maker's limit", found["reason"])


class Concluding(unittest.TestCase):
    def call(self, sweep, **changes):
        answers = {**right(sweep)["call"], **changes}
        return graded(sweep, call=answers)

    def test_holding_back_is_cheaper_than_condemning(self):
        over = row(self.call(Sweep(), verdict="faulty"), "call")
        held = row(self.call(Sweep(), verdict="inconclusive"), "call")
        self.assertEqual(over["score"], 0)
        self.assertEqual(held["score"], 0.4)

    def test_evidence_decides_not_the_planted_fault(self):
        # One sweep only: 'sound' would be more than the capture shows.
        result = self.call(Sweep(sweeps=1), verdict="sound")
        self.assertIn("more than the capture shows", row(result, "call")["reason"])

    def test_wrong_cause_names_the_right_one(self):
        found = row(self.call(worn(), cause="supply"), "cause")
        self.assertEqual(found["score"], 0)
        self.assertIn("Worn or dirty track", found["reason"])

    def test_evidence_must_touch_the_finding(self):
        self.assertEqual(row(self.call(worn(), evidence=[[8.0, 8.2]]), "evidence")["score"], 0)
        self.assertEqual(row(self.call(worn(), evidence=[]), "evidence")["score"], 0)

    def test_part_of_a_movement_is_half_a_proof_of_soundness(self):
        self.assertEqual(row(self.call(Sweep(), evidence=[[2.0, 2.5]]), "evidence")["score"], 0.5)

    def test_next_test_follows_the_finding(self):
        self.assertEqual(row(self.call(worn(), next_test="none"), "next_test")["score"], 0)


class Confidence(unittest.TestCase):
    def test_brier_scores(self):
        # Brier 1950: the squared difference of forecast and outcome.
        for stated, was_right, expected in ((100, True, 1.0), (100, False, 0.0), (50, True, 0.75), (70, False, 0.51)):
            self.assertAlmostEqual(brier_score(stated, was_right), expected)

    def test_saying_what_one_believes_is_best(self):
        for belief in (20, 55, 80):
            expected = [
                belief / 100 * brier_score(said, True) + (1 - belief / 100) * brier_score(said, False)
                for said in range(101)
            ]
            self.assertEqual(expected.index(max(expected)), belief)
