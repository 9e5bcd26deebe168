"""What was never measured earns nothing, and a sound part is shown by no more than it needs.

Every mark is written down from the rules of marking (common practice, no published source) before it is worked out:
built answers whose places and figures are known by construction.
"""

from __future__ import annotations

import unittest

from tests.core.grading.built import SCALE, SPARK, measured, rows, spark_card, sparks
from tests.core.grading.table import CARD, LOW, SOUND, WORN, read
from tracebench.core.answer import Finding, Reading
from tracebench.core.cards.documents import card_from_json


def card(*steps, circuit="throttle-position", **more):
    document = {"circuit": circuit, "title": "A card", "source": {"kind": "upload"}, "steps": list(steps), **more}
    return card_from_json(document)


def sound(*pieces):
    evidence = [list(p) for p in pieces]
    return {"call": {"verdict": "sound", "cause": "none", "evidence": evidence, "next_test": "none", "confidence": 90}}


class LengthOfSoundness(unittest.TestCase):
    """The throttle's sweeps are built of movements of 10, 10, 8 and 10 s in a record of 100 s."""

    def score(self, *pieces, answer=SOUND, on=CARD):
        return rows(on, sound(*pieces), answer)["evidence"]["score"]

    def test_one_movement_and_up_to_twice_its_length_is_whole(self):
        for piece in ((10.0, 20.0), (9.0, 21.0), (30.0, 40.0)):
            self.assertEqual(self.score(piece), 1, piece)

    def test_beyond_twice_it_falls_with_its_length_over_the_pieces(self):
        # Twice 10 s of 45: less than the part of the piece that shows a movement at all.
        self.assertAlmostEqual(self.score((0.0, 45.0)), 20 / 45, places=3)
        self.assertLess(self.score((0.0, 48.0)), self.score((0.0, 35.0)))

    def test_three_wide_pieces_are_worth_no_more_than_one(self):
        self.assertAlmostEqual(self.score((0.0, 45.0), (1.0, 46.0), (2.0, 47.0)), 20 / 45, places=3)

    def test_events_the_same(self):
        # Twelve firings every 100 ms; two show a sound part, so that four are whole.
        found = sparks(())
        on = spark_card()
        for piece, least, most in (((0.0, 0.11), 1, 1), ((0.0, 0.31), 1, 1), ((0.0, 0.59), 0.65, 0.7)):
            got = self.score(piece, answer=found, on=on)
            self.assertTrue(least <= got <= most, (piece, got))

    def test_a_call_on_a_movement_that_is_not_whole_is_half_as_before(self):
        self.assertEqual(self.score((12.0, 15.0)), 0.5)


class RuledOutByAPlace(unittest.TestCase):
    ASKS = card({"kind": "call", "asks": ["ruled_out"]})

    def score(self, *ruled, answer=WORN):
        given = sound()["call"] | {"verdict": "faulty", "cause": "worn-track"}
        given["ruled_out"] = [{"cause": c, "by": list(by)} for c, by in ruled]
        return rows(self.ASKS, {"call": given}, answer)["ruled_out"]["score"]

    def test_where_that_cause_would_show(self):
        # A travel that is short shows in the open phases, a closed stop in the closed ones.
        self.assertEqual(self.score(("short-travel", (21.0, 29.0)), ("closed-stop", (1.0, 9.0))), 1)

    def test_elsewhere_it_is_a_word_without_a_place(self):
        self.assertEqual(self.score(("short-travel", (1.0, 9.0)), ("closed-stop", (1.0, 9.0))), 0.75)
        self.assertEqual(self.score(("short-travel", (1.0, 9.0)), ("closed-stop", (21.0, 29.0))), 0.5)


class RecordsThatSayNothingNew(unittest.TestCase):
    DROP = card({"kind": "record", "of": "cylinder-drop", "least": 4})

    def score(self, rows_, of=None):
        one = of or self.DROP
        return rows(one, {one.steps[0].id: {"rows": rows_}}, SOUND)[f"record:{one.steps[0].of.key}"]["score"]

    def drop(self, *cylinders):
        told = {"before_rpm": "850"}
        return [{"cylinder": f"{c}", "disabled_rpm": f"{790 + 3 * k}", **told} for k, c in enumerate(cylinders)]

    def test_a_cylinder_counts_once(self):
        self.assertEqual(self.score(self.drop(1, 2, 3, 4)), 1)
        self.assertEqual(self.score(self.drop(1, 1, 1, 1)), 0.25)
        self.assertEqual(self.score(self.drop(1, 2, 2, 3)), 0.75)

    def test_rows_that_are_all_the_same_count_once(self):
        ohms = card({"kind": "record", "of": "resistance", "least": 3})
        row = {"terminals": "1 and 2", "value": "1.2", "unit": "kohm"}
        self.assertEqual(self.score([row, row, row], ohms), 0.3333)
        others = [{**row, "terminals": t} for t in ("1 and 2", "2 and 3", "1 and ground")]
        self.assertEqual(self.score(others, ohms), 1)

    def test_a_cylinder_that_the_vehicle_has_not(self):
        found = sparks()
        four = card({"kind": "record", "of": "cylinder-drop", "least": 4}, circuit=SPARK)
        given = {four.steps[0].id: {"rows": self.drop(1, 2, 3, 12)}}
        self.assertEqual(rows(four, given, found)["record:cylinder-drop"]["score"], 0.75)


class SettingsOfNoInstrument(unittest.TestCase):
    STEP = card({"kind": "set_up", "highest": 5.0, "lasts_s": 10.0, "sees_s": 0.005})

    def score(self, **settings):
        return rows(self.STEP, {"set_up": settings}, SOUND)["set_up"]["score"]

    def test_each_of_them_is_none(self):
        self.assertEqual(self.score(range_v=10, duration_s=20, rate_hz=10_000), 1)
        self.assertEqual(self.score(range_v=1_000_000, duration_s=20, rate_hz=10_000), 0.6667)
        self.assertEqual(self.score(range_v=10, duration_s=20, rate_hz=1e9), 0.6667)
        self.assertEqual(self.score(range_v=10, duration_s=1e7, rate_hz=10_000), 0.3333)


class FiguresFromNowhere(unittest.TestCase):
    """The open level is 4.000 V, the closed one 0.700 V; through 200 ohm 4 V are 20 mA."""

    SUM = {
        "kind": "work_out",
        "calculation": "resistance",
        "figures": {"amperes": 0.02},
        "readings": {"volts": "open_v"},
    }
    BOTH = card({"kind": "reading", "reading": "open_v"}, SUM)

    def score(self, value, volts, own=None):
        given = {"work_out-resistance": {"value": value, "figures": {"volts": volts, "amperes": 0.02}}}
        if own is not None:
            given["reading-open_v"] = own
        row = rows(self.BOTH, given, SOUND)["work_out:resistance"]
        return row["score"], row["slip"]

    def test_from_ones_own_reading_of_this_trace_it_follows(self):
        # The closed level given for the open one is a figure of this trace, taken in the wrong place.
        self.assertEqual(self.score(35.0, 0.7, read(0.7, 5.0)), (1, "follow_through"))

    def test_from_a_figure_that_no_reading_gave_it_does_not(self):
        for own in (None, read(4.0, 25.0), read(3.0, 25.0)):
            self.assertEqual(self.score(150.0, 3.0, own), (0, "from_nowhere"), own)

    def test_the_trace_itself_needs_no_reading_of_the_card(self):
        self.assertEqual(self.score(200.0, 4.0)[0], 1)


class ComparedWithoutAReading(unittest.TestCase):
    def score(self, state, *own):
        row = rows(CARD, {"compare-closed_v": {"state": state}, "reading-closed_v": read(*own)}, LOW)[
            "compare:closed_v"
        ]
        return row["score"], row["slip"]

    def test_a_value_with_its_pegs_where_it_is_read(self):
        self.assertEqual(self.score("inside", 0.6, 5.0), (1, "follow_through"))

    def test_a_value_without_or_with_pegs_elsewhere_is_no_reading(self):
        self.assertEqual(self.score("inside", 0.6), (0, None))
        self.assertEqual(self.score("inside", 0.6, 25.0), (0, None))


class WhatFollows(unittest.TestCase):
    """A tenth of the closed level is read, and the part condemned for it: it follows, and it is wrong for the trace."""

    TENTH = {"reading-closed_v": read(0.07, 5.0)}

    def given(self, cause="closed-stop", test="mechanical"):
        said = {"verdict": "faulty", "cause": cause, "evidence": [[1.0, 9.0]], "next_test": test, "confidence": 90}
        return {**self.TENTH, "call": said, "compare-closed_v": {"state": "outside"}}

    def test_only_the_comparison_is_right_for_it(self):
        found = rows(CARD, self.given(), SOUND)
        self.assertEqual((found["compare:closed_v"]["score"], found["compare:closed_v"]["slip"]), (1, "follow_through"))
        for criterion in ("call", "cause", "next_test"):
            self.assertEqual(found[criterion]["score"], 0, criterion)
        self.assertEqual(found["call"]["slip"], "over_called")
        self.assertIn("follows from what you read", found["call"]["reason"])
        self.assertAlmostEqual(found["confidence"]["score"], 1 - 0.81, places=3)

    def test_an_instructor_may_set_a_share(self):
        kind = card(*({"kind": s.kind, **s.as_json()} for s in CARD.steps), rubric={"call_follows": 0.4})
        found = rows(kind, self.given(), SOUND)
        for criterion in ("call", "cause", "next_test"):
            self.assertAlmostEqual(found[criterion]["score"], 0.4, msg=criterion)

    def test_where_the_scale_is_suspect_nothing_follows(self):
        kind = card(*({"kind": s.kind, **s.as_json()} for s in CARD.steps), rubric={"call_follows": 0.4})
        found = rows(kind, self.given(), measured((SCALE,)))
        self.assertEqual([found[c]["score"] for c in ("call", "cause", "next_test")], [0, 0, 0])


class Slips(unittest.TestCase):
    def test_the_whole_record_under_any_call_is_named(self):
        for answer, verdict in ((SOUND, "sound"), (WORN, "faulty"), (SOUND, "faulty"), (WORN, "inconclusive")):
            given = sound((0.0, 100.0))
            given["call"] |= {"verdict": verdict}
            row = rows(CARD, given, answer)["evidence"]
            self.assertEqual((row["score"], row["slip"]), (0, "points_at_nothing"), verdict)

    def test_the_odd_cylinder_for_the_rows_summary_is_a_quarter(self):
        # Cylinder 3 burns 0.60 ms; the summary is 1.40 ms, and any ordinary firing's own value may be given for it.
        on = spark_card({})
        for value, score, slip in ((1.40, 1, None), (1.44, 1, None), (0.60, 0.25, "wrong_cylinder")):
            row = rows(on, {"reading-burn_ms": read(value, 0.0, 0.0014)}, sparks())["reading:burn_ms"]
            self.assertEqual((row["score"], row["slip"]), (score, slip), value)

    def test_true_figures_taken_in_the_wrong_way(self):
        # By what each is: 30 % high is 70 % low; 900 rpm turn once in 66.7 ms, and a cycle is two turns; a dwell of
        # 5.00 ms held for the last 1.50 is 3.50 ms to where it is held; an exponential falls to a tenth in 2.303 of its
        # time constant and to the half in 0.693.
        for circuit, reading, unit, value, given, slip in (
            ("airflow-frequency", "duty_pct", "%", 30.0, 70.0, "inverted_duty"),
            ("charging", "command_duty_pct", "%", 62.0, 38.0, "inverted_duty"),
            ("crank-position", "rpm", "rpm", 900.0, 0.0667, "turn_for_speed"),
            ("crank-position", "rpm", "rpm", 900.0, 66.7, "turn_for_speed"),
            ("crank-position", "rpm", "rpm", 900.0, 450.0, "half_forgotten"),
            ("crank-position", "rpm", "rpm", 900.0, 1800.0, "half_forgotten"),
            ("secondary-voltage", "cycle_ms", "ms", 133.3, 66.65, "half_forgotten"),
            ("coil-primary-current", "dwell_ms", "ms", 5.0, 3.5, "wrong_edge"),
            ("rail-pressure", "stop_decay_s", "s", 2.0, 4.61, "wrong_edge"),
            ("rail-pressure", "stop_decay_s", "s", 2.0, 1.386, "wrong_edge"),
        ):
            own = Reading(reading, value, unit, value / 1000, 0.0, 1.0, "signal")
            held = Reading("limit_flat_ms", 1.5, "ms", 0.01, 0.0, 1.0, "current")
            found = measured(readings=(own, held), limits=(), code=circuit, phases=())
            on = card({"kind": "reading", "reading": reading}, circuit=circuit)
            row = rows(on, {f"reading-{reading}": read(given)}, found)[f"reading:{reading}"]
            with self.subTest(reading=reading, given=given):
                self.assertEqual((row["score"], row["slip"]), (0.25, slip), row["reason"])

    def test_a_value_that_is_right_is_no_slip_where_half_of_it_lies_near(self):
        own = Reading("duty_pct", 50.0, "%", 0.05, 0.0, 1.0, "signal")
        found = measured(readings=(own,), limits=(), code="airflow-frequency", phases=())
        on = card({"kind": "reading", "reading": "duty_pct"}, circuit="airflow-frequency")
        self.assertEqual(rows(on, {"reading-duty_pct": read(50.0)}, found)["reading:duty_pct"]["score"], 1)


class TheConditionOfTheComplaint(unittest.TestCase):
    """A clean record in which the complaint's condition does not show is no bad capture."""

    MISSED = Finding("condition_not_shown", "set-up", 0.0, 100.0, "never hot", "signal", hides=True)
    SLOW = Finding("sweep_too_fast", "set-up", 10.0, 20.0, "a fast hand", "signal")

    def score(self, prompt, *findings, **more):
        one = card({"kind": "capture", "prompt": prompt}, {"kind": "call"}, **more)
        return rows(one, {}, measured(findings))["capture_quality"]["score"]

    def test_full_as_the_card_told_and_half_where_it_was_the_learners_to_make(self):
        self.assertEqual(self.score("Two slow sweeps, cold.", self.MISSED), 1)
        self.assertEqual(self.score("", self.MISSED), 0.5)
        self.assertEqual(self.score("", self.MISSED, rubric={"condition_unmade": 0.8}), 0.8)

    def test_with_anything_else_wrong_it_hides_the_answer_as_before(self):
        self.assertEqual(self.score("Two slow sweeps, cold.", self.MISSED, self.SLOW), 0)


class NextTestsThatTellAsMuch(unittest.TestCase):
    def score(self, circuit, finding, test):
        found = measured((Finding(finding, "fault", 1.0, 2.0, "so it is", None),), (), (), circuit, ())
        one = card({"kind": "call"}, circuit=circuit)
        given = {"verdict": "faulty", "cause": "none", "evidence": [], "next_test": test, "confidence": 50}
        return rows(one, {"call": given}, found)["next_test"]["score"]

    def test_forcing_the_mixture_for_a_lazy_sensor_and_swapping_for_a_missing_pulse(self):
        self.assertEqual(self.score("oxygen-switching", "lazy", "force-mixture"), 1)
        self.assertEqual(self.score("oxygen-switching", "lazy", "exhaust-leak"), 1)
        self.assertEqual(self.score("oxygen-switching", "lazy", "fuel-pressure"), 0)
        self.assertEqual(self.score("injector-voltage", "missing_pulses", "swap"), 1)
        self.assertEqual(self.score("injector-voltage", "missing_pulses", "flow"), 0)
