"""Capture, readings and comparison at their boundaries: a row each, with mark and slip right by construction."""

from dataclasses import replace

from tests.core.grading import built
from tests.core.grading.built import CLIPPED, SCALE, SLOW, measured, rows, spark_card, sparks, throttle_card
from tests.core.grading.table import CARD, CUT, FLEET, LOW, NEAR, SOUND, WORN, Table, read
from tracebench.core.answer import Finding, Reading


class Capture(Table):
    def test_quality(self):
        four = [replace(SLOW, code=c) for c in ("low_range_use", "zero_not_set", "reversed_polarity", "lanes_swapped")]
        self.hold(
            "capture_quality",
            (
                ("clean", SOUND, {}, 1, None),
                ("a fault is no slip of the capture", WORN, {}, 1, None),
                ("a fast hand", measured((SLOW,)), {}, 0.75, None),
                ("the same twice counts once", measured((SLOW, SLOW)), {}, 0.75, None),
                ("two of them", measured((SLOW, four[0])), {}, 0.5, None),
                ("never under a quarter", measured((SLOW, *four)), {}, 0.25, None),
                ("one that hides", measured((CLIPPED,)), {}, 0, None),
                ("a factor of ten, put right", measured((SCALE,)), {}, 0, None),
                ("no capture", None, {}, 0, None),
            ),
        )

    def test_the_ground_point_of_the_school(self):
        for card, ground, mark in (
            (CARD, "sensor ground", 1),
            (CARD, "battery negative", 0.75),
            (throttle_card(schools={"ground": "battery"}), "battery negative", 1),
            (throttle_card(schools={"ground": "free"}), "engine metal", 1),
            (CARD, None, 1),
        ):
            self.assertEqual(rows(card, {}, SOUND, ground=ground)["capture_quality"]["score"], mark, ground)
        said = rows(CARD, {"capture": {"ground": "engine metal"}}, SOUND)["capture_quality"]
        self.assertEqual(said["score"], 0.75)
        self.assertIn("engine metal", said["reason"])

    def test_a_filter_costs_by_the_school(self):
        filtered = measured((Finding("over_filtered", "set-up", 0.0, 100.0, "slow edges", "signal"),))
        self.assertEqual(rows(CARD, {}, filtered)["capture_quality"]["score"], 0.75)
        view = throttle_card(schools={"filter": "view"})
        self.assertEqual(rows(view, {}, filtered)["capture_quality"]["score"], 1)

    def test_cautions_by_share_without_those_that_the_school_waives(self):
        four = [c.key for c in CARD.first.circuit.cautions]
        self.assertEqual(rows(CARD, {"cautions": {"read": four[:1]}}, SOUND)["cautions"]["score"], 0.25)
        self.assertEqual(rows(CARD, {"cautions": {"read": four}}, SOUND)["cautions"]["score"], 1)
        rolled = throttle_card(schools={"engine": "running"})
        three = [c for c in four if c != "engine-off"]
        self.assertEqual(rows(rolled, {"cautions": {"read": three}}, SOUND)["cautions"]["score"], 1)


class Readings(Table):
    """Closed 0.700 V: three uncertainties 0.006, a hand 0.02 and 2 % = 0.014, half a digit 0.0005: 0.02 in all."""

    def test_a_level(self):
        def of(*given):
            return {"reading-closed_v": read(*given)}

        self.hold(
            "reading:closed_v",
            (
                ("on the tolerance", SOUND, of(0.720, 5.0), 1, None),
                ("just beyond it", SOUND, of(0.7201, 5.0), 0.5, None),
                ("on twice the tolerance", SOUND, of(0.660, 5.0), 0.5, None),
                ("beyond it", SOUND, of(0.6599, 5.0), 0, None),
                ("beyond that, between two sweeps", SOUND, of(0.8, 5.0), 0, None),
                ("another sweep's own level", SOUND, of(0.760, 45.0), 1, None),
                ("no peg", SOUND, of(0.700), 0.5, "no_peg"),
                ("a peg in another phase", SOUND, of(0.700, 25.0), 0.5, "peg_elsewhere"),
                ("a peg just outside its phase, as hands do", SOUND, of(0.700, 11.9), 1, None),
                ("a peg further away", SOUND, of(0.700, 12.1), 0.5, "peg_elsewhere"),
                ("pegs about the level", SOUND, of(0.700, 2.0, 8.0), 1, None),
                ("millivolts", SOUND, of(700.0, 5.0), 0.25, "factor_1000"),
                ("a thousandth", SOUND, of(0.0007, 5.0), 0.25, "factor_0.001"),
                ("ten times", SOUND, of(7.0, 5.0), 0.25, "factor_10"),
                ("a tenth", SOUND, of(0.07, 5.0), 0.25, "factor_0.1"),
                ("a hundred times", SOUND, of(70.0, 5.0), 0.25, "factor_100"),
                ("a hundredth", SOUND, of(0.007, 5.0), 0.25, "factor_0.01"),
                ("the wrong sign", SOUND, of(-0.700, 5.0), 0.25, "factor_-1"),
                ("the open level", SOUND, of(4.000, 25.0), 0.25, "wrong_phase"),
                ("nonsense from an open phase", SOUND, of(2.222, 25.0), 0, "wrong_phase"),
                ("nonsense", SOUND, of(2.222, 5.0), 0, None),
                ("nothing", SOUND, {}, 0, None),
                ("no capture", None, of(0.700, 5.0), 0, None),
                ("said not to be there", SOUND, {"reading-closed_v": {"absent": True}}, 0, "overlooked"),
            ),
        )

    def test_a_time_whose_summary_is_the_slowest(self):
        def of(*given):
            return {"reading-opening_s": read(*given)}

        self.hold(
            "reading:opening_s",
            (
                ("both ends", SOUND, of(8.0, 11.0, 19.0), 1, None),
                ("five per cent of it", SOUND, of(8.4, 11.0, 19.4), 1, None),
                ("another sweep", SOUND, of(6.4, 50.8, 57.2), 0.5, "wrong_sweep"),
                ("end to end", SOUND, of(10.0, 10.0, 20.0), 0.25, "wrong_edge"),
                ("20 to 80 per cent", SOUND, of(6.0, 12.0, 18.0), 0.25, "wrong_edge"),
                ("milliseconds", SOUND, of(8000.0, 11.0, 19.0), 0.25, "factor_1000"),
                ("a rate for the time", SOUND, of(0.125, 11.0, 19.0), 0.25, "period_for_frequency"),
                ("its movement is cut off", CUT, {"reading-opening_s": {"absent": True}}, 1, None),
            ),
        )

    def test_a_count_is_right_or_not_and_needs_no_peg(self):
        self.hold(
            "reading:sweeps_count",
            (
                ("two", SOUND, {"reading-sweeps_count": read(2)}, 1, None),
                ("three: off by the last digit", SOUND, {"reading-sweeps_count": read(3)}, 0.5, None),
                ("four", SOUND, {"reading-sweeps_count": read(4)}, 0, None),
                ("twenty is no power of ten of a count", SOUND, {"reading-sweeps_count": read(20)}, 0, None),
            ),
        )

    def test_what_the_capture_cannot_give(self):
        self.hold(
            "reading:dropout_depth_v",
            (
                ("none, as it is", SOUND, {"reading-dropout_depth_v": {"absent": True}}, 1, None),
                ("one that is not there", SOUND, {"reading-dropout_depth_v": read(0.4, 15.0)}, 0, "not_there"),
            ),
        )

    def test_a_rounded_difference(self):
        spread = Reading("open_spread_v", 0.06, "V", 0.001, 21.0, 69.0, "signal")
        card = throttle_card(steps=[{"kind": "reading", "reading": "open_spread_v"}])
        answer = measured(readings=(*built.READINGS, spread))
        # 4.2 less 4.1 where the samples give 4.16 less 4.10: a digit of the figures that were rounded first.
        row = rows(card, {"reading-open_spread_v": read(0.1, 25.0, 65.0)}, answer)["reading:open_spread_v"]
        self.assertEqual((row["score"], row["slip"]), (0.5, "rounded_difference"))

    def test_half_the_last_digit_shown_is_never_wrong(self):
        fine = Reading("crossings_hz", 0.1249, "Hz", 0.0, 10.0, 50.0, "signal")
        card = throttle_card(
            circuit="oxygen-switching", steps=[{"kind": "reading", "reading": "crossings_hz"}], options={}
        )
        answer = measured(readings=(fine,), limits=(), code="oxygen-switching", phases=())
        self.assertEqual(rows(card, {"reading-crossings_hz": read(0.12)}, answer)["reading:crossings_hz"]["score"], 1)

    def test_what_the_rubric_says_of_a_missing_peg(self):
        for share in (0.0, 0.8, 1.0):
            card = throttle_card(rubric={"no_peg": share})
            self.assertEqual(rows(card, {"reading-closed_v": read(0.7)}, SOUND)["reading:closed_v"]["score"], share)

    def test_a_named_cylinder_and_a_named_event(self):
        third, any_one, second = {"cylinder": 3}, {}, {"event": 6}
        for step, name, given, mark, slip in (
            (third, "burn_ms@3", read(0.60, 0.1, 0.1006), 1, None),
            (third, "burn_ms@3", read(0.60, 0.5, 0.5006), 1, None),
            (third, "burn_ms@3", read(1.80, 0.3, 0.3018), 0.25, "wrong_cylinder"),
            (third, "burn_ms@3", read(0.60, 0.0, 0.0014), 0.5, "peg_elsewhere"),
            (any_one, "burn_ms", read(1.80, 0.3, 0.3018), 1, None),
            (second, "burn_ms#6", read(0.60, 0.5, 0.5006), 1, None),
            (second, "burn_ms#6", read(1.44, 0.6, 0.6014), 0.25, "wrong_cylinder"),
            ({"cylinder": 7}, "burn_ms@7", {"absent": True}, 1, None),
        ):
            with self.subTest(step=step, given=given):
                row = rows(spark_card(step), {f"reading-{name}": given}, sparks())[f"reading:{name}"]
                self.assertEqual((row["score"], row["slip"]), (mark, slip), row["reason"])

    def test_certainty_is_low_near_the_edge_of_the_tolerance_and_for_what_is_close(self):
        def sure(value):
            return rows(CARD, {"reading-closed_v": read(value, 5.0)}, SOUND)["reading:closed_v"]["certainty"]

        self.assertEqual(sure(0.700), 1.0)
        self.assertAlmostEqual(sure(0.7199), 0.505, places=2)
        self.assertEqual(sure(0.735), 0.5)
        self.assertEqual(sure(2.222), 1.0)


class Comparison(Table):
    def test_states(self):
        def of(state, *own):
            return {"compare-closed_v": {"state": state}, **({"reading-closed_v": read(*own)} if own else {})}

        self.hold(
            "compare:closed_v",
            (
                ("inside", SOUND, of("inside"), 1, None),
                ("one step off", SOUND, of("marginal"), 0.5, None),
                ("two steps off", SOUND, of("outside"), 0, None),
                ("marginal, 5 % of 0.5 V beyond", NEAR, of("marginal"), 1, None),
                ("outside", LOW, of("outside"), 1, None),
                ("right for the value that was read", LOW, of("inside", 0.6, 5.0), 1, "follow_through"),
                ("right for the capture, whatever was read", LOW, of("outside", 0.6), 1, None),
                ("own zone: 0.71 is the far edge", FLEET, of("marginal"), 1, None),
                ("by common practice, which does not decide", FLEET, of("inside"), 0.5, "lower_basis"),
                ("nothing chosen", SOUND, {}, 0, None),
                ("nothing to hold against it", measured(readings=()), {}, 1, None),
                ("a state of nothing", measured(readings=()), of("inside"), 0, None),
                ("no capture", None, of("inside"), 0, None),
            ),
        )

    def test_a_cylinders_own_value(self):
        card = spark_card(steps=[{"kind": "compare", "reading": "burn_ms", "cylinder": 3}])
        for state, mark in (("outside", 1), ("inside", 0)):
            row = rows(card, {"compare-burn_ms@3": {"state": state}}, sparks())["compare:burn_ms@3"]
            self.assertEqual(row["score"], mark, row["reason"])
