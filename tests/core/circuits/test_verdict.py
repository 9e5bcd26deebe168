"""From limits and findings to the call, on answers put together by hand, for the tables of every circuit."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.courses import captured, course
from tracebench.core.answer import Finding, Limit, Reading
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.circuit import Measured
from tracebench.core.circuits.verdict import call, from_limits, hidden_by_noise
from tracebench.core.limits import judge, state_of

ANY = captured("rail-pressure", 100, signal=course([(0, 1.0), (5, 1.0)], 100))


def read(reading_id, value, uncertainty=0.001, unit="V"):
    return Reading(reading_id, value, unit, uncertainty, 1.0, 2.0, "signal")


def found(code, kind="fault", hides=False):
    return Finding(code, kind, 0.0, 1.0, "said", "signal", hides=hides)


def outcome(kind, readings, limits, findings=()):
    """The finding codes that limits add, and the call with its reasons."""
    measured = Measured(ANY, (), tuple(readings), tuple(findings), ())
    judged = judge(readings, limits)
    noisy = hidden_by_noise(measured, judged)
    every = [
        *findings,
        *from_limits(kind, measured.readings, judged, {f.code for f in findings}),
        *(f for _, f in noisy),
    ]
    return [f.code for f in every], call(kind, every, judged)


def beyond(limit, side):
    """A value clearly past one side of a limit."""
    bound = limit.low if side == "low" else limit.high
    step = 0.5 * max(abs(bound), 1.0)
    return bound - step if side == "low" else bound + step


class EveryTable(unittest.TestCase):
    def rows(self):
        for kind in CIRCUITS.values():
            for row in kind.limit_findings:
                for limit in kind.limits:
                    if limit.reading == row.reading and getattr(limit, row.side) is not None:
                        yield kind, row, limit

    def test_past_a_limit_is_its_finding_and_the_finding_is_the_reason(self):
        self.assertGreater(len(list(self.rows())), 15)
        for kind, row, limit in self.rows():
            with self.subTest(circuit=kind.code, reading=row.reading, side=row.side):
                value = beyond(limit, row.side)
                self.assertEqual(state_of(value, limit), "outside")
                codes, (said, because) = outcome(kind, [read(row.reading, value)], [limit])
                self.assertIn(row.code, codes)
                self.assertEqual(said, "faulty")
                self.assertIn(row.code, because)
                self.assertTrue(row.reading not in because or row.reading == row.code)

    def test_its_text_gives_value_limit_and_what_the_limit_rests_on(self):
        for kind, row, limit in self.rows():
            self.assertIn("{value}", row.text)
            measured = Measured(ANY, (), (read(row.reading, beyond(limit, row.side)),), (), ())
            for finding in from_limits(kind, measured.readings, judge(measured.readings, [limit]), ()):
                self.assertNotIn("{", finding.text)
                self.assertIn("common practice; look the maker's figure up", finding.text)
                self.assertEqual((finding.from_s, finding.to_s), (1.0, 2.0))

    def test_the_other_side_of_a_limit_is_another_matter(self):
        for kind, row, limit in self.rows():
            other = "high" if row.side == "low" else "low"
            if getattr(limit, other) is None:
                continue
            codes, _ = outcome(kind, [read(row.reading, beyond(limit, other))], [limit])
            same = [r for r in kind.limit_findings if (r.reading, r.side) == (row.reading, other)]
            self.assertEqual(codes, [r.code for r in same], (kind.code, row.reading))

    def test_inside_all_limits_is_sound_for_no_reason(self):
        for kind in CIRCUITS.values():
            readings = []
            for limit in kind.limits:
                sides = [s for s in (limit.low, limit.high) if s is not None]
                readings.append(read(limit.reading, sum(sides) / len(sides), 0.0))
            self.assertEqual(outcome(kind, readings, kind.limits), ([], ("sound", ())), kind.code)


class Order(unittest.TestCase):
    KIND = CIRCUITS["supply-ground"]
    TIGHT = Limit("ground_v", None, 0.02, "maker")
    WIDE = Limit("ground_v", None, 0.1)

    def test_the_maker_outranks_common_practice_both_ways(self):
        reading = [read("ground_v", 0.06)]
        self.assertEqual(outcome(self.KIND, reading, [self.WIDE])[1][0], "sound")
        self.assertEqual(outcome(self.KIND, reading, [self.WIDE, self.TIGHT])[1], ("faulty", ("ground_high",)))
        loose = Limit("ground_v", None, 0.5, "maker")
        self.assertEqual(outcome(self.KIND, [read("ground_v", 0.3)], [self.WIDE, loose])[1][0], "sound")

    def test_a_fault_stands_whatever_hides(self):
        hidden = found("undersampled", "set-up", hides=True)
        self.assertEqual(outcome(self.KIND, [], [], [found("supply_low"), hidden])[1], ("faulty", ("supply_low",)))

    def test_hidden_is_not_sound(self):
        hidden = found("undersampled", "set-up", hides=True)
        self.assertEqual(outcome(self.KIND, [], [], [hidden])[1], ("inconclusive", ("undersampled",)))

    def test_a_set_up_finding_that_hides_nothing_is_named_beside_sound(self):
        said = outcome(self.KIND, [], [], [found("reversed_polarity", "set-up")])[1]
        self.assertEqual(said, ("sound", ("reversed_polarity",)))
        self.assertEqual(outcome(self.KIND, [], [], [found("remark", "note")])[1], ("sound", ()))

    def test_marginal_is_sound_and_named(self):
        self.assertEqual(outcome(self.KIND, [read("ground_v", 0.102)], [self.WIDE])[1], ("sound", ("ground_v",)))

    def test_a_limit_on_the_hand_never_condemns(self):
        quick = Limit("opening_s", 4.0, None, condemns=False)
        throttle = CIRCUITS["throttle-position"]
        self.assertEqual(outcome(throttle, [read("opening_s", 1.0)], [quick])[1], ("sound", ("opening_s",)))

    def test_a_reason_is_given_once(self):
        twice = [found("dropout"), found("dropout")]
        self.assertEqual(outcome(self.KIND, [], [], twice)[1], ("faulty", ("dropout",)))

    @given(st.floats(0.0005, 0.2))
    def test_noise_over_a_quarter_of_the_span_hides_the_answer(self, uncertainty):
        limit = Limit("reference_v", 4.9, 5.1)
        codes, (said, _) = outcome(self.KIND, [read("reference_v", 5.0, uncertainty)], [limit])
        hides = uncertainty > 0.25 * (limit.high - limit.low)
        self.assertEqual((codes, said), (["noisy"], "inconclusive") if hides else ([], "sound"))
