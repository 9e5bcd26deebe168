"""Corridors of drawn families of traces: what they hold, and what leaves them."""

from __future__ import annotations

import unittest

import numpy as np

from tracebench.core.answer import Event, Phase
from tracebench.core.shape import corridor as c
from tracebench.core.shape.outline import COLUMNS, EVENT, Outline, columns, outlines


def stretch(seed: int, count: int = 1200, dip: float = 0.0) -> np.ndarray:
    """A rise after a delay, a wave on the plateau, noise: each with its own size and instants."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 1, count)
    start, size, tau = 0.3 + 0.01 * rng.normal(), 4 + 0.05 * rng.normal(), 0.05 * (1 + 0.05 * rng.normal())
    rise = np.where(t > start, size * (1 - np.exp(-(t - start) / tau)), 0.0)
    wave = 0.2 * np.sin(2 * np.pi * 5 * t + 0.2 * rng.normal()) * (t > start)
    return rise + wave + 0.01 * rng.normal(size=count) - dip * np.exp(-(((t - 0.7) / 0.02) ** 2))


def outline(samples: np.ndarray, sweep: int = 1) -> Outline:
    return Outline("open", sweep, "signal", 0.0, 1.0, *columns(samples))


def family(seed: int, count: int) -> list[list[Outline]]:
    return [[outline(stretch(1000 * seed + k))] for k in range(count)]


class ACorridor(unittest.TestCase):
    def test_holds_its_part_when_each_is_left_out(self) -> None:
        for seed, count in ((1, 5), (2, 8), (3, 12), (4, 20), (5, 6), (6, 7), (9, 10)):
            captures = family(seed, count)
            whole = c.corridor(captures)
            inside = 0
            for k in range(count):
                if count - 1 < c.FEWEST:
                    continue
                rest = c.corridor(captures[:k] + captures[k + 1 :])
                inside += not c.laid_on(rest, captures[k][0]).outside.any()
            with self.subTest(captures=count):
                self.assertEqual(whole.captures, count)
                self.assertGreaterEqual(whole.inside, (whole.coverage or 0) * count - 1e-9)
                if count - 1 >= c.FEWEST:
                    self.assertGreaterEqual(inside, (whole.coverage or 0) * count - 1e-9)

    def test_holds_about_its_part_of_those_it_never_saw(self) -> None:
        held = []
        for seed in range(12):
            band = c.corridor(family(50 + seed, 12))
            fresh = [outline(stretch(900_000 + 100 * seed + k)) for k in range(20)]
            held += [not c.laid_on(band, one).outside.any() for one in fresh]
        # 240 draws in 12 bands: three standard deviations of the bands' own spread below the stated part.
        self.assertGreater(np.mean(held), c.COVERAGE - 0.08)

    def test_is_narrow_enough_for_a_fault_to_leave_it_where_it_is(self) -> None:
        band = c.corridor(family(7, 10))
        for dip in (0.8, -0.8):
            out = c.laid_on(band, outline(stretch(31, dip=dip))).outside
            self.assertTrue(out[round(0.68 * COLUMNS) : round(0.72 * COLUMNS)].any(), dip)
            self.assertLess(out.mean(), 0.2)
        slow = outline(stretch(31)[np.r_[0:400:1, 400:800:1].repeat(1)])
        self.assertGreater(c.laid_on(band, slow).part_outside, 0.05)

    def test_a_delay_within_the_band_is_no_difference_and_a_long_one_is(self) -> None:
        band = c.corridor(family(8, 10))
        near, far = (outline(np.r_[np.full(n, 0.0), stretch(77)[:-n]]) for n in (30, 240))
        self.assertLess(c.laid_on(band, near).part_outside, 0.02)
        self.assertGreater(c.laid_on(band, far).part_outside, 0.1)

    def test_sweeps_of_one_capture_are_left_out_together(self) -> None:
        # Four captures of three like sweeps and a fifth that differs: twelve like curves must not outvote it.
        odd = [outline(stretch(4) + 0.6)]
        band = c.corridor([[outline(stretch(k), s) for s in (1, 2, 3)] for k in range(4)] + [odd])
        self.assertEqual(band.captures, 5)
        self.assertLess(c.laid_on(band, odd[0]).part_outside, 1.0)

    def test_one_that_stands_apart_widens_it_by_about_its_own_distance(self) -> None:
        apart = 0.5
        odd = stretch(99) - apart * (np.linspace(0, 1, 1200) > 0.55)
        band = c.corridor([*family(11, 7), [outline(odd)]])
        usual = c.corridor(family(11, 7))
        wide, narrow = (float((one.high - one.low).max()) for one in (band, usual))
        # It strays by `apart` where there is the least scatter at worst, and is itself held: on both sides elsewhere
        # that is at most the square of the factor that scatter may differ by.
        self.assertLess(wide, narrow + (1 + 2 * c.FACTOR**2) * apart)

    def test_few_captures_are_refused_and_one_says_that_it_is_stated(self) -> None:
        with self.assertRaises(ValueError):
            c.corridor(family(1, c.FEWEST - 1))
        one = outline(stretch(5))
        band = c.stated(one)
        self.assertIsNone(band.coverage)
        self.assertFalse(c.laid_on(band, one).outside.any())
        # Where the course rises, a shift in height is taken up by one in time.
        self.assertGreater(c.laid_on(band, outline(stretch(5) + 0.5)).part_outside, 0.6)


class Outlines(unittest.TestCase):
    def test_columns_miss_no_extreme(self) -> None:
        samples = np.zeros(10_000)
        samples[[17, 5003, 9999]] = (3.0, -2.0, 7.0)
        low, high = columns(samples)
        self.assertEqual((low.min(), high.max(), np.count_nonzero(high), high[0], high[-1]), (-2, 7, 2, 3, 7))

    def test_of_phases_sweeps_and_the_usual_event(self) -> None:
        samples = np.zeros(8_000)
        starts = np.arange(200, 7800, 400)
        for n, at in enumerate(starts):
            samples[at : at + 80] = 9.0 if n == 5 else 4.0
        events = [Event(n + 1, at * 1e-3, (at + 80) * 1e-3, None, 0.0, "") for n, at in enumerate(starts)]
        phases = [Phase("open", k, k + 0.5, k + 1) for k in range(6)] + [Phase("idle", 6.0, 8.0), Phase("none", 9, 10)]
        found = outlines("signal", lambda a, b: samples[a:b], (8_000, 1e-3, 0.0), phases, events)
        self.assertEqual(
            [(o.name, o.sweep) for o in found],
            [("open", 1), ("open", 2), ("open", 3), ("open", 4), ("idle", 1), (EVENT, 1)],
        )
        # One event of twice the height is odd, not usual.
        self.assertEqual((found[-1].high.max(), found[-1].low.min()), (4.0, 0.0))
        self.assertLess(found[-1].from_s, 0)


if __name__ == "__main__":
    unittest.main()
