"""Which traces look alike, whatever their height, size and small delays."""

from __future__ import annotations

import unittest

import numpy as np

from tracebench.core.errors import BadOption
from tracebench.core.shape.alike import apart, part_of
from tracebench.core.shape.outline import COLUMNS, Outline, columns

T = np.linspace(0, 1, 2000)
SHAPES = {
    "ramp": T,
    "fall": 1 - T,
    "step": (T > 0.5).astype(float),
    "hump": np.exp(-(((T - 0.5) / 0.1) ** 2)),
    "spike": np.exp(-(((T - 0.5) / 0.01) ** 2)),
    "saw": (5 * T) % 1,
}


def outline(samples: np.ndarray) -> Outline:
    return Outline("open", 1, "signal", 2.0, 4.0, *columns(samples))


def sides(*outlines: Outline) -> np.ndarray:
    return np.array([[one.low, one.high] for one in outlines])


class Alike(unittest.TestCase):
    def test_nearest_is_of_the_same_kind_at_any_height_size_and_small_delay(self) -> None:
        rng = np.random.default_rng(3)
        others = [outline(3.0 + 0.2 * np.roll(s, 30) + 0.002 * rng.normal(size=T.size)) for s in SHAPES.values()]
        for number, (name, samples) in enumerate(SHAPES.items()):
            far = apart(outline(40 * samples), sides(*others), slice(0, COLUMNS))
            with self.subTest(name):
                self.assertEqual(int(np.argmin(far)), number)

    def test_same_is_zero_opposite_is_two_and_flat_is_infinite(self) -> None:
        flat = Outline("open", 1, "signal", 2.0, 4.0, np.ones(COLUMNS), np.ones(COLUMNS))
        step = np.r_[np.zeros(1000), np.ones(1000)]
        far = apart(outline(step), sides(outline(5 * step + 1), outline(1 - step), flat), slice(0, COLUMNS))
        self.assertAlmostEqual(float(far[0]), 0.0, places=9)
        self.assertGreater(float(far[1]), 0.9)
        self.assertEqual(float(far[2]), np.inf)

    def test_the_nearest_few_are_those_of_all(self) -> None:
        rng = np.random.default_rng(8)
        walks = np.cumsum(rng.normal(size=(201, 2000)), axis=1)
        asked, *others = (outline(row) for row in walks)
        every = apart(asked, sides(*others), slice(0, COLUMNS))
        few = apart(asked, sides(*others), slice(0, COLUMNS), most=9)
        np.testing.assert_array_equal(np.argsort(few)[:9], np.argsort(every)[:9])
        self.assertTrue(np.isinf(few).any())

    def test_a_part_compares_only_itself(self) -> None:
        one = outline(np.where(T < 0.5, SHAPES["saw"], 0.0))
        other = outline(np.where(T < 0.5, SHAPES["saw"], 9 * SHAPES["spike"]))
        part = part_of(one, 2.1, 2.9)
        self.assertAlmostEqual(float(apart(one, sides(other), part)[0]), 0.0, places=9)
        self.assertGreater(float(apart(one, sides(other), slice(0, COLUMNS))[0]), 0.2)

    def test_a_flat_or_tiny_stretch_is_refused_in_words(self) -> None:
        one = outline(np.where(T < 0.5, SHAPES["saw"], 0.0))
        with self.assertRaisesRegex(BadOption, "flat"):
            apart(one, sides(one), part_of(one, 3.2, 3.8))
        with self.assertRaisesRegex(BadOption, r"mark at least 0\.0625 s"):
            part_of(one, 2.1, 2.12)


if __name__ == "__main__":
    unittest.main()
