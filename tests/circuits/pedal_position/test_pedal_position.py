"""Two-track pedal on signals drawn by hand. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course
from tracebench.core.circuits import measure

CODE = "pedal-position"
RATE = 1000
SWEEP = [(0, 0.0), (1, 0.0), (6, 1.0), (7, 1.0), (12, 0.0), (13.5, 0.0)]


def travel() -> np.ndarray:
    return course(SWEEP, RATE)


def lanes(ratio=2.0, noise=0.004, **changes):
    rng = np.random.default_rng(4)
    x = travel()
    made = {
        "track1": 0.75 + 3.0 * x,
        "track2": (0.75 + 3.0 * x) / ratio if ratio > 0 else 4.6 - 3.0 * x,
        "reference1": np.full(x.size, 5.0),
        "reference2": np.full(x.size, 5.0),
        "ground": np.full(x.size, 0.02),
    }
    made = {n: v + rng.normal(0, noise, v.size) for n, v in made.items()}
    return made | changes


def answer(made=None):
    return measure(captured(CODE, RATE, **(made or lanes())), CODE)


def away(values, start_s, stop_s, to=0.01):
    out = values.copy()
    out[round(start_s * RATE) : round(stop_s * RATE)] = to
    return out


class Sound(unittest.TestCase):
    def test_levels_and_ratio(self):
        found = answer()
        self.assertEqual((found.call, codes(found)), ("sound", []))
        self.assertAlmostEqual(found.reading("track1_released_v").value, 0.75, delta=0.005)
        self.assertAlmostEqual(found.reading("track2_full_v").value, 1.875, delta=0.005)
        self.assertAlmostEqual(found.reading("ratio").value, 2.0, delta=0.005)
        self.assertLess(found.reading("ratio_residual_mv").value, 20)

    def test_parallel_and_crossed_tracks(self):
        self.assertAlmostEqual(answer(lanes(ratio=1.0)).reading("ratio").value, 1.0, delta=0.005)
        crossed = answer(lanes(ratio=-1.0))
        self.assertAlmostEqual(crossed.reading("ratio").value, -1.0, delta=0.005)
        self.assertEqual(crossed.call, "sound")

    def test_tracks_alone_are_enough(self):
        made = lanes()
        found = answer({n: made[n] for n in ("track1", "track2")})
        self.assertEqual(found.call, "sound")
        self.assertIn("reference1_min_v", {m.reading for m in found.missing})


class Logic(unittest.TestCase):
    def test_a_track_that_falls_with_its_reference_clears_the_pedal(self):
        made = lanes()
        made["reference1"] = away(made["reference1"], 4.0, 5.0, 0.2)
        made["track1"] = away(made["track1"], 4.0, 5.0, 0.05)
        found = answer(made)
        self.assertEqual(found.because, ("reference_lost",))
        text = next(f.text for f in found.findings if f.code == "reference_lost")
        self.assertIn("the pedal is cleared", text)
        self.assertIn("controller's own grounds", text)

    def test_a_track_lost_under_a_live_reference_is_pedal_or_wire(self):
        made = lanes()
        made["track2"] = away(made["track2"], 4.0, 5.0)
        found = answer(made)
        at = next(f for f in found.findings if f.code == "track_lost")
        self.assertEqual(found.because, ("track_lost",))
        self.assertEqual(at.lane, "track2")
        self.assertIn("stays up", at.text)
        self.assertAlmostEqual(at.from_s, 4.0, delta=0.02)

    def test_reference_limit_of_4_75_v(self):
        for volts, state in ((4.80, "inside"), (4.70, "marginal"), (4.40, "outside")):
            made = lanes(noise=0.0)
            made["reference1"] = away(made["reference1"], 3.0, 3.5, volts)
            found = answer(made)
            self.assertEqual(found.deciding_limit("reference1_min_v").state, state)

    def test_tracks_that_part_and_a_ground_that_lifts(self):
        made = lanes()
        made["track2"] = made["track2"] + 0.3 * (travel() > 0.6)
        self.assertIn("tracks_disagree", codes(answer(made)))
        made = lanes()
        made["ground"] = made["ground"] + 0.3
        self.assertIn("ground_lifted", answer(made).because)

    def test_dropouts_are_counted_by_track_with_their_instants(self):
        made = lanes()
        made["track1"] = away(made["track1"], 3.0, 3.03, 0.3)
        found = answer(made)
        self.assertEqual(found.reading("track1_dropouts_count").value, 1)
        self.assertEqual(found.reading("track2_dropouts_count").value, 0)
        self.assertAlmostEqual(next(f.from_s for f in found.findings if f.code == "dropout"), 3.0, delta=0.005)


class SetUp(unittest.TestCase):
    def test_everything_at_zero_at_once_is_the_clips(self):
        made = {n: away(v, 4.0, 4.5, 0.0) for n, v in lanes().items()}
        found = answer(made)
        self.assertEqual((found.call, found.because), ("inconclusive", ("probe_slip",)))

    def test_exchanged_tracks_are_read_right(self):
        made = lanes()
        made["track1"], made["track2"] = made["track2"], made["track1"]
        found = answer(made)
        self.assertIn("lanes_swapped", codes(found))
        self.assertAlmostEqual(found.reading("ratio").value, 2.0, delta=0.01)

    def test_a_pedal_that_was_not_pressed(self):
        made = {n: v[:900] for n, v in lanes().items()}
        self.assertEqual(answer(made).because, ("missing_phase",))

    def test_millivolts_read_as_volts(self):
        made = lanes()
        made["track1"] = made["track1"] * 1000
        self.assertIn("scale_suspect", codes(answer(made)))
