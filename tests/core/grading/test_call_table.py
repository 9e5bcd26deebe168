"""The call and what goes with it at their boundaries: a row each, with mark and slip right by construction."""

import unittest
from dataclasses import replace

from tests.core.grading import built
from tests.core.grading.built import (
    CLIPPED,
    DROPOUT,
    NO_OPEN,
    SCALE,
    measured,
    rows,
    spark_card,
    sparks,
    throttle_card,
)
from tests.core.grading.table import CARD, LOW, NEAR, SOUND, WORN, Table, read
from tracebench.core.answer import Finding, Limit, Reading


def call(verdict, cause="none", evidence=(), next_test="none", sure=100):
    return {
        "call": {
            "verdict": verdict,
            "cause": cause,
            "evidence": [list(e) for e in evidence],
            "next_test": next_test,
            "confidence": sure,
        }
    }


class Call(Table):
    def test_verdicts(self):
        self.hold(
            "call",
            (
                ("sound", SOUND, call("sound"), 1, None),
                ("faulty", WORN, call("faulty"), 1, None),
                ("cannot tell", measured((NO_OPEN,)), call("inconclusive"), 1, None),
                ("held back from sound", SOUND, call("inconclusive"), 0.4, "held_back"),
                ("held back from faulty", WORN, call("inconclusive"), 0.4, "held_back"),
                ("sound where nobody can tell", measured((NO_OPEN,)), call("sound"), 0, "over_passed"),
                ("faulty where nobody can tell", measured((NO_OPEN,)), call("faulty"), 0, "over_called"),
                ("condemned", SOUND, call("faulty"), 0, "over_called"),
                ("passed", WORN, call("sound"), 0, "over_passed"),
                ("marginal condemned", NEAR, call("faulty"), 0, "over_called"),
                ("marginal is sound", NEAR, call("sound"), 1, None),
                ("put right: its call", measured((SCALE,)), call("sound"), 1, None),
                ("put right: capture again", measured((SCALE,)), call("inconclusive"), 1, None),
                ("put right, and condemned", measured((SCALE,)), call("faulty"), 0, "over_called"),
                ("no call", SOUND, {"call": {}}, 0, None),
                ("no capture", None, call("sound"), 0, None),
            ),
        )

    def test_soft_limits_never_condemn(self):
        fast = measured(readings=(replace(built.READINGS[4], value=2.0),))
        self.assertEqual(fast.call, "sound")
        self.assertEqual(rows(CARD, call("sound"), fast)["call"]["score"], 1)


class FollowThrough(Table):
    """A call that follows by the limits from a wrong reading of this trace is wrong for the trace, and it is said."""

    def of(self, verdict, cause, next_test, *reading):
        return {"reading-closed_v": read(*reading), **call(verdict, cause, next_test=next_test)}

    def test_call(self):
        tenth = measured(readings=(replace(built.READINGS[0], value=0.06),))
        mistaken = Finding("other_design", "set-up", 0.0, 10.0, "another design", "signal")
        # A tenth of 0.7 V is under 0.5 V; ten times 0.06 V is inside; the open level is over 1 V.
        condemned = self.of("faulty", "closed-stop", "mechanical", 0.07, 5.0)
        self.hold(
            "call",
            (
                ("condemned on a tenth", SOUND, condemned, 0, "over_called"),
                ("on the open level", SOUND, self.of("faulty", "none", "none", 4.0, 25.0), 0, "over_called"),
                ("passed on ten times", tenth, self.of("sound", "none", "none", 0.6, 5.0), 0, "over_passed"),
                ("right for the capture after all", SOUND, self.of("sound", "none", "none", 0.07, 5.0), 1, None),
                ("a value from nowhere", SOUND, self.of("faulty", "closed-stop", "none", 0.3, 5.0), 0, "over_called"),
                ("a value from nowhere, passed", LOW, self.of("sound", "none", "none", 0.75, 5.0), 0, "over_passed"),
                ("the fault is in the shape", WORN, self.of("sound", "none", "none", 7.0, 5.0), 0, "over_passed"),
                ("the set-up hides it", measured((CLIPPED,)), condemned, 0, "over_called"),
                ("the limit is another design's", measured((mistaken,)), condemned, 0, "over_called"),
            ),
        )

    def test_what_goes_with_it_where_a_card_lets_it_count(self):
        for criterion, cause, test, mark in (
            ("cause", "closed-stop", "mechanical", 1),
            ("cause", "worn-track", "mechanical", 0),
            ("cause", "none", "mechanical", 0),
            ("next_test", "closed-stop", "mechanical", 1),
            ("next_test", "closed-stop", "compare-part", 0.5),
            ("next_test", "closed-stop", "none", 0),
            ("confidence", "closed-stop", "mechanical", 1),
            ("evidence", "closed-stop", "mechanical", 0),
            ("reading:closed_v", "closed-stop", "mechanical", 0.25),
        ):
            row = rows(throttle_card(rubric={"call_follows": 1}), self.of("faulty", cause, test, 0.07, 5.0), SOUND)[
                criterion
            ]
            self.assertEqual(row["score"], mark, (criterion, cause, test, row["reason"]))

    def test_the_share_is_the_rubrics(self):
        card = throttle_card(rubric={"follow_through": 0.4, "call_follows": 0.4})
        given = self.of("faulty", "closed-stop", "mechanical", 0.07, 5.0)
        given["compare-closed_v"] = {"state": "outside"}
        found = rows(card, given, SOUND)
        for criterion in ("call", "cause", "next_test", "compare:closed_v"):
            self.assertAlmostEqual(found[criterion]["score"], 0.4, msg=criterion)


class Unshown(unittest.TestCase):
    """A card that counts a call only as far as it is shown on the trace."""

    CARD = throttle_card(rubric={"unshown": 0.2})

    def test_as_far_as_it_is_shown(self):
        # Evidence 1, 0.5 (one instant) and 0: 0.2 and as much of the other 0.8.
        for answer, given, mark in (
            (SOUND, call("sound", "none", [(10.0, 20.0)]), 1.0),
            (SOUND, call("sound", "none", [(15.0,)]), 0.6),
            (SOUND, call("sound", "none", [(0.0, 100.0)]), 0.2),
            (WORN, call("faulty", "worn-track", [(15.0, 15.2)], "wiring"), 1.0),
            (WORN, call("faulty", "worn-track", [], "wiring"), 0.2),
            (measured((NO_OPEN,)), call("inconclusive", "not-shown", [], "recapture-manoeuvre"), 1.0),
        ):
            found = rows(self.CARD, given, answer)
            for criterion in ("call", "cause", "next_test"):
                self.assertAlmostEqual(found[criterion]["score"], mark, msg=(criterion, found[criterion]["reason"]))
            self.assertEqual(found["confidence"]["score"], 1)

    def test_a_call_held_back_is_marked_as_ever(self):
        self.assertEqual(rows(self.CARD, call("inconclusive", "not-shown"), WORN)["call"]["score"], 0.4)


class Cause(Table):
    def test_causes(self):
        ground = Finding("ground_high", "fault", 0.0, 100.0, "0.4 V", "ground", None, 0.4, "V")
        low = Finding("low_closed", "fault", 0.0, 10.0, "rests low", "signal", None, 0.3, "V")
        both = measured((ground, low))
        unexplained = measured(
            readings=(Reading("reversal_v", 0.4, "V", 0.001, 12.0, 13.0, "signal"),),
            limits=(Limit("reversal_v", None, 0.05),),
        )
        self.hold(
            "cause",
            (
                ("none", SOUND, call("sound", "none"), 1, None),
                ("what the finding speaks for", WORN, call("faulty", "worn-track"), 1, None),
                ("another", WORN, call("faulty", "supply"), 0, None),
                ("the shared ground", both, call("faulty", "ground-drop"), 1, None),
                ("a level that hangs on it", both, call("faulty", "closed-stop"), 0.5, None),
                ("a limit that no finding explains", unexplained, call("faulty", "worn-track"), 1, None),
                ("but not nothing", unexplained, call("faulty", "none"), 0, None),
                ("not shown", measured((NO_OPEN,)), call("inconclusive", "not-shown"), 1, None),
                ("the clip", measured((CLIPPED,)), call("inconclusive", "connection"), 1, None),
                ("put right, captured again", measured((SCALE,)), call("inconclusive", "connection"), 1, None),
                ("put right, called", measured((SCALE,)), call("sound", "none"), 1, None),
                ("no cause", WORN, {"call": {"verdict": "faulty"}}, 0, None),
                ("no capture", None, call("sound"), 0, None),
            ),
        )


class NextTest(Table):
    def test_ranks(self):
        by_thumb, by_maker = (
            LOW,
            measured(
                readings=(replace(built.READINGS[0], value=0.30),), limits=(Limit("closed_v", 0.5, 1.0, "maker"),)
            ),
        )
        found = [Finding("low_closed", "fault", 0.0, 10.0, "rests low", "signal", None, 0.3, "V") for _ in range(1)]
        by_thumb, by_maker = (replace(a, findings=tuple(found), call="faulty") for a in (by_thumb, by_maker))
        ranked = measured((NO_OPEN,))
        self.hold(
            "next_test",
            (
                ("nothing more", SOUND, call("sound", next_test="none"), 1, None),
                ("a part renewed for nothing", SOUND, call("sound", next_test="compare-part"), 0, None),
                ("a marginal figure looked up", NEAR, call("sound", next_test="look-up"), 1, None),
                ("a marginal figure left", NEAR, call("sound", next_test="none"), 1, None),
                ("the first in rank", WORN, call("faulty", next_test="wiring"), 1, None),
                ("supply and ground first", WORN, call("faulty", next_test="supply-ground"), 1, None),
                ("renewed at once", WORN, call("faulty", next_test="compare-part"), 0.5, "supply_not_shown"),
                ("blind", WORN, call("faulty", next_test="recapture-manoeuvre"), 0, None),
                ("a rule of thumb looked up", by_thumb, call("faulty", next_test="look-up"), 1, None),
                ("the first in rank of a level", by_thumb, call("faulty", next_test="mechanical"), 1, None),
                ("a maker's figure looked up", by_maker, call("faulty", next_test="look-up"), 0.5, None),
                ("captured again", ranked, call("inconclusive", next_test="recapture-manoeuvre"), 1, None),
                ("the second in rank", ranked, call("inconclusive", next_test="recapture-condition"), 0.5, None),
                ("put right", measured((SCALE,)), call("inconclusive", next_test="recapture-secure"), 1, None),
                ("no step", WORN, {"call": {"verdict": "faulty"}}, 0, None),
                ("no capture", None, call("sound"), 0, None),
            ),
        )

    def test_renewing_is_right_once_the_wires_were_shown_good(self):
        given = call("faulty", "worn-track", next_test="compare-part")
        by_record = rows(CARD, given, WORN, wires_shown=True)["next_test"]
        self.assertEqual((by_record["score"], by_record["slip"]), (1, None))
        lanes = (
            Reading("reference_v", 5.0, "V", 0.01, 0.0, 100.0, "reference"),
            Reading("ground_v", 0.02, "V", 0.001, 0.0, 100.0, "ground"),
        )
        limits = (*built.LIMITS, Limit("reference_v", 4.9, 5.1), Limit("ground_v", None, 0.1))
        for volts, mark in ((0.02, 1), (0.102, 0.5)):
            both = (lanes[0], replace(lanes[1], value=volts))
            answer = measured((DROPOUT,), readings=(*built.READINGS, *both), limits=limits)
            self.assertEqual(rows(CARD, given, answer)["next_test"]["score"], mark, volts)

    def test_the_controller_is_blamed_after_its_grounds(self):
        given = call("faulty", "driver", next_test="compare-part")
        row = rows(spark_card(), given, sparks())["next_test"]
        self.assertEqual((row["score"], row["slip"]), (0.5, "controller_before_grounds"))

    def test_what_the_school_goes_on_with(self):
        given = call("faulty", "coil", next_test="drop-test")
        for schools, circuit, test, mark in (
            ({"dead-cylinder": "swap"}, "secondary-voltage", "swap", 1),
            ({}, "secondary-voltage", "swap", 0.5),
        ):
            given = call("faulty", "coil", next_test=test)
            self.assertEqual(rows(spark_card(schools=schools), given, sparks())["next_test"]["score"], mark, circuit)


class Evidence(Table):
    def test_faulty(self):
        def of(*pieces):
            return call("faulty", "worn-track", pieces)

        self.hold(
            "evidence",
            (
                ("at the fault", WORN, of((15.0, 15.2)), 1, None),
                ("at its other place", WORN, of((53.0, 53.2)), 1, None),
                ("an instant of it", WORN, of((15.1,)), 1, None),
                ("a hand's breadth beside it: 2 % of the record", WORN, of((13.0, 13.0)), 1, None),
                ("further off", WORN, of((12.9, 12.9)), 0, None),
                ("half of a long piece", WORN, of((15.2, 19.2)), 0.5, None),
                ("one of two pieces", WORN, of((15.0, 17.0), (80.0, 82.0)), 0.5, None),
                (
                    "overlapping pieces over everything",
                    WORN,
                    of((0.0, 48.0), (2.0, 50.0), (4.0, 52.0)),
                    13.6 / 144,
                    None,
                ),
                (
                    "the fourth piece does not count",
                    WORN,
                    of((1.0, 2.0), (3.0, 4.0), (5.0, 6.0), (15.0, 15.2)),
                    0,
                    None,
                ),
                ("exactly half the record", WORN, of((0.0, 50.0)), 4.2 / 50, None),
                ("more than half the record", WORN, of((0.0, 50.1)), 0, "points_at_nothing"),
                ("nothing", WORN, of(), 0, None),
                ("no capture", None, of((15.0, 15.2)), 0, None),
            ),
        )

    def test_sound(self):
        def of(*pieces):
            return call("sound", "none", pieces)

        self.hold(
            "evidence",
            (
                ("a whole stroke", SOUND, of((10.0, 20.0)), 1, None),
                ("four fifths of it, as a hand cuts", SOUND, of((11.0, 19.0)), 1, None),
                ("less than that", SOUND, of((11.0, 18.9)), 0.5, None),
                ("one instant of it", SOUND, of((15.0,)), 0.5, None),
                ("at rest, where no fault would show", SOUND, of((83.0, 97.0)), 0, None),
                ("the whole record", SOUND, of((0.0, 100.0)), 0, "points_at_nothing"),
                ("nothing", SOUND, of(), 0, None),
            ),
        )

    def test_cannot_tell(self):
        def of(*pieces):
            return call("inconclusive", "not-shown", pieces)

        self.hold(
            "evidence",
            (
                ("nothing is asked where a phase is missing", measured((NO_OPEN,)), of(), 1, None),
                ("what hides it", measured((CLIPPED,)), of((59.0, 61.0)), 1, None),
                ("elsewhere", measured((CLIPPED,)), of((20.0, 22.0)), 0, None),
                ("nothing, where there is something to show", measured((CLIPPED,)), of(), 0, None),
                ("put right, over the whole record", measured((SCALE,)), of(), 1, None),
            ),
        )

    def test_under_a_wrong_call(self):
        self.hold(
            "evidence",
            (
                ("the fault that was denied", WORN, call("sound", "none", [(15.0, 15.2)]), 0, None),
                ("held back, pointing at the fault", WORN, call("inconclusive", "not-shown", [(15.0, 15.2)]), 0, None),
                ("condemned for nothing", SOUND, call("faulty", "worn-track", [(15.0, 15.2)]), 0, None),
                ("a marginal level condemned", NEAR, call("faulty", "closed-stop", [(2.0, 8.0)]), 0.5, None),
                ("what hides, condemned", measured((CLIPPED,)), call("faulty", "supply", [(59.0, 61.0)]), 0.5, None),
                ("what hides, passed", measured((CLIPPED,)), call("sound", "none", [(59.0, 61.0)]), 0, None),
                ("no call", WORN, {"call": {"evidence": [[15.0, 15.2]]}}, 0, None),
            ),
        )

    def test_in_a_row_of_events_the_neighbour_is_not_meant(self):
        # Twelve firings 100 ms apart in 1.2 s: 2 % of the record, 24 ms, is what a hand may miss by.
        for pieces, verdict, findings, mark in (
            ([(0.1, 0.102)], "faulty", None, 1),
            ([(0.9, 0.902)], "faulty", None, 1),
            ([(0.2, 0.202)], "faulty", None, 0),
            ([(0.0, 0.21)], "sound", (), 1),
            ([(0.0, 0.002)], "sound", (), 0.5),
        ):
            answer = sparks() if findings is None else sparks(findings)
            cause = "secondary" if verdict == "faulty" else "none"
            if findings is not None:
                answer = replace(answer, call="sound", because=())
            row = rows(spark_card(), call(verdict, cause, pieces), answer)["evidence"]
            self.assertEqual(row["score"], mark, (pieces, row["reason"]))


class Neighbours(Table):
    def test_a_quarter_of_the_way_to_the_next_event_is_as_far_as_a_hand_may_miss(self):
        # Twelve seconds: 2 % would be 240 ms, two and a half firings; a quarter of 100 ms is 25 ms.
        long = replace(sparks(), duration_s=12.0)
        for instant, mark in ((0.126, 1), (0.128, 0), (0.200, 0)):
            row = rows(spark_card(), call("faulty", "secondary", [(instant,)]), long)["evidence"]
            self.assertEqual(row["score"], mark, instant)
        step = {"cylinder": 3}
        for peg, mark in ((0.124, 1), (0.128, 0.5)):
            given = {"reading-burn_ms@3": read(0.60, peg)}
            self.assertEqual(rows(spark_card(step), given, long)["reading:burn_ms@3"]["score"], mark, peg)


class Confidence(Table):
    def test_brier(self):
        # Brier 1950: the squared distance of what was stated from what happened.
        self.hold(
            "confidence",
            (
                ("sure and right", SOUND, call("sound", sure=100), 1, None),
                ("sure and wrong", SOUND, call("faulty", sure=100), 0, None),
                ("half", SOUND, call("sound", sure=50), 0.75, None),
                ("70 and wrong", SOUND, call("faulty", sure=70), 0.51, None),
                ("both right calls are right", measured((SCALE,)), call("inconclusive", sure=100), 1, None),
                ("not said", SOUND, {"call": {"verdict": "sound"}}, 0, None),
                ("no call to be sure of", SOUND, {"call": {"confidence": 0}}, 0, None),
            ),
        )
