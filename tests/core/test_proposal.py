"""Which circuit a record holds, told of captures from formulas that the looks were not drawn from."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as npst

from tests.outside.captures import CAPTURES
from tests.outside.workshop import WORKSHOP
from tracebench.core.circuits import CIRCUITS
from tracebench.core.miniature import COLUMNS, miniature
from tracebench.core.proposal.looks import LOOKS, Row
from tracebench.core.proposal.propose import Column, propose


def columns_of(capture, named=False):
    """Channels as a scope names them, or by their lanes' names."""
    lanes = capture.lanes.values()
    return [Column(x.name if named else f"Channel {k}", x.unit, x.samples) for k, x in enumerate(lanes)]


class Proposed(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = []
        for one in (*CAPTURES, *WORKSHOP):
            capture = one.capture()
            order = [p.circuit for p in propose(columns_of(capture), capture.interval_s)]
            cls.found.append((one, order.index(one.circuit)))

    def test_the_signal_alone_tells_most(self):
        wrong = [one.name for one, place in self.found if place > 0]
        far = [one.name for one, place in self.found if place > 2]
        # Two are dead lanes, one is flat, one never switches, some look as much like another circuit as like their own.
        self.assertLessEqual(len(wrong), 9, wrong)
        self.assertLessEqual(len(far), 2, far)

    def test_with_the_lanes_names_every_one_is_among_the_first_three(self):
        for one in (*CAPTURES, *WORKSHOP):
            capture = one.capture()
            order = [p.circuit for p in propose(columns_of(capture, named=True), capture.interval_s)]
            self.assertIn(one.circuit, order[:3], one.name)

    def test_each_circuit_of_a_sound_part_is_told(self):
        """From formulas of their own, each circuit that is drawn sound at least once."""
        sound = [(one.circuit, place) for one, place in self.found if one.calls == ("sound",)]
        self.assertGreaterEqual(len({circuit for circuit, _ in sound}), 15)
        self.assertEqual({circuit for circuit, _ in sound} - {circuit for circuit, place in sound if place == 0}, set())

    def test_a_name_decides_between_what_looks_alike(self):
        flat = Column("Channel A", "V", np.full(4000, 12.4) + np.random.default_rng(1).normal(0, 0.01, 4000))
        by_file = {name: propose([flat], 0.001, name)[0] for name in ("alternator at rest", "Feed B+ 12")}
        self.assertEqual(by_file["alternator at rest"].circuit, "charging")
        self.assertEqual(by_file["Feed B+ 12"].circuit, "supply-ground")
        self.assertIn("called", by_file["alternator at rest"].reasons[0])

    def test_a_lane_on_which_nothing_moves_is_known_by_where_it_lies_and_how_it_was_recorded(self):
        """Noise, hum and a flickering last digit are no events, whichever figures could be taken of them."""
        noise = np.random.default_rng(5)
        grid = np.arange(40_000)
        for what, level, interval_s, unit, name, circuit in (
            ("noise", 5.02, 0.003, "V", "signal", "temperature"),
            ("digit", 4.98, 0.003, "V", "signal", "temperature"),
            ("noise", 0.02, 0.0005, "V", "signal", "throttle-position"),
            ("hum", 4.95, 0.00001, "V", "signal", "airflow-frequency"),
            ("digit", 13.9, 0.00001, "V", "control", "injector-voltage"),
            ("noise", 12.3, 0.00001, "V", "control", "coil-primary-voltage"),
            ("digit", 0.0, 0.00001, "A", "current", "injector-peak-hold"),
        ):
            moves = {
                "noise": noise.normal(0, 0.01, grid.size),
                "hum": 0.012 * np.sin(2 * np.pi * 50 * interval_s * grid) + noise.normal(0, 0.001, grid.size),
                "digit": 0.0097 * (noise.random(grid.size) < 0.03),
            }[what]
            found = propose([Column(name, unit, level + moves)], interval_s)
            with self.subTest(what=what, circuit=circuit):
                place = [p.circuit for p in found].index(circuit)
                self.assertLess(place, 5 if unit == "A" else 3, [p.circuit for p in found[:5]])
                self.assertTrue(found[place].reasons[0].startswith("lies still at"), found[place].reasons)

    def test_the_unit_rules_out_another_quantity(self):
        ramps = next(one for one in WORKSHOP if one.circuit == "coil-primary-current").capture()
        amperes = columns_of(ramps)
        volts = [Column(c.name, "V", c.samples) for c in amperes]
        self.assertEqual(propose(amperes, ramps.interval_s)[0].circuit, "coil-primary-current")
        self.assertNotIn("coil-primary-current", [p.circuit for p in propose(volts, ramps.interval_s)[:3]])

    def test_reasons_are_words_with_their_figures(self):
        one = next(one for one in WORKSHOP if one.circuit == "throttle-position").capture()
        first = propose(columns_of(one), one.interval_s)[0]
        self.assertEqual(first.reasons[0], "rests at 0.615 V")
        self.assertEqual((first.column, first.lane), (0, "signal"))


class Facts(unittest.TestCase):
    def test_every_circuit_has_a_look_at_a_lane_of_its_own(self):
        self.assertEqual(list(LOOKS), list(CIRCUITS))
        for code, looks in LOOKS.items():
            for look in looks:
                self.assertIn(look.lane, [lane.name for lane in CIRCUITS[code].lanes])
                self.assertTrue(look.called)
                for row in (*look.rows, *look.beside):
                    self.assertLess(row.some[0], row.full[0], (code, row.figure))
                    self.assertTrue(row.full[1] < row.some[1] or row.full[1] == np.inf, (code, row.figure))

    def test_a_figure_speaks_fully_within_and_in_proportion_without(self):
        row = Row("x", (0.0, 10.0), (2.0, 6.0))
        for value, fits in ((2, 1), (6, 1), (1, 0.5), (8, 0.5), (0, 0), (11, 0), (float("nan"), 0)):
            self.assertAlmostEqual(row.fits(value), fits)


ROWS = npst.arrays(
    np.float64,
    st.integers(16, 400),
    elements=st.floats(-1e4, 1e4, allow_nan=False).map(lambda v: round(v, 3)),
)


class AnyRows(unittest.TestCase):
    @settings(max_examples=30, deadline=None)
    @given(st.lists(ROWS, min_size=1, max_size=3), st.floats(1e-7, 10), st.text(max_size=20))
    def test_anything_is_ranked_whole(self, rows, interval_s, name):
        size = min(r.size for r in rows)
        found = propose([Column(name, "", r[:size]) for r in rows], interval_s, name)
        self.assertEqual({p.circuit for p in found}, set(CIRCUITS))
        self.assertAlmostEqual(sum(p.share for p in found), 1.0, places=6)
        self.assertEqual([p.share for p in found], sorted((p.share for p in found), reverse=True))

    @settings(max_examples=30, deadline=None)
    @given(ROWS)
    def test_a_miniature_touches_both_ends_and_misses_no_extreme(self, row):
        picture = np.frombuffer(miniature(row), np.uint8)
        low, high = picture[: picture.size // 2], picture[picture.size // 2 :]
        self.assertLessEqual(low.size, COLUMNS)
        self.assertTrue(np.all(low <= high))
        self.assertEqual(low.min(), 0)
        if np.ptp(row) > 0:
            self.assertEqual(high.max(), 255)
            at = int(np.argmax(row)) * high.size // row.size
            self.assertEqual(high[max(0, at - 1) : at + 2].max(), 255)


if __name__ == "__main__":
    unittest.main()
