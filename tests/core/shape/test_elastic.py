"""Elastic comparison against another library's tables, its definition by hand, and published figures of an open set."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from tslearn.datasets import CachedDatasets
from tslearn.metrics import dtw, dtw_path

from tracebench.core.shape import elastic

ROW = arrays(np.float64, st.shared(st.integers(1, 24), key="length"), elements=st.floats(-100, 100, width=32))


class TheDistance(unittest.TestCase):
    @given(ROW, ROW, st.integers(0, 24))
    @settings(max_examples=150, deadline=None)
    def test_is_that_of_tslearn(self, one: np.ndarray, other: np.ndarray, radius: int) -> None:
        theirs = dtw(one, other, global_constraint="sakoe_chiba", sakoe_chiba_radius=radius)
        self.assertAlmostEqual(elastic.distance(one, other, radius), theirs, delta=1e-9 + 1e-12 * theirs)

    @given(ROW, ROW, st.integers(0, 24))
    @settings(max_examples=100, deadline=None)
    def test_is_what_its_path_costs_and_never_below_its_bound(
        self, one: np.ndarray, other: np.ndarray, radius: int
    ) -> None:
        first, second = elastic.path(one, other, radius)
        found = elastic.distance(one, other, radius)
        self.assertAlmostEqual(math.sqrt(float(((one[first] - other[second]) ** 2).sum())), found, places=6)
        self.assertLessEqual(int(np.abs(first - second).max()), radius)
        self.assertEqual((first[0], second[0], first[-1], second[-1]), (0, 0, one.size - 1, one.size - 1))
        for row in (first, second):
            self.assertTrue(set(np.diff(row)) <= {0, 1})
        self.assertLessEqual(float(elastic.bound(one, other[None, :], radius)[0]), found + 1e-9)

    def test_path_is_as_good_as_tslearns(self) -> None:
        rows = np.cumsum(np.random.default_rng(4).normal(size=(2, 120)), axis=1)
        _, theirs = dtw_path(rows[0], rows[1], global_constraint="sakoe_chiba", sakoe_chiba_radius=9)
        first, second = elastic.path(rows[0], rows[1], 9)
        self.assertAlmostEqual(float(((rows[0][first] - rows[1][second]) ** 2).sum()) ** 0.5, theirs, places=9)

    def test_what_lies_too_far_is_infinite(self) -> None:
        one, other = np.zeros(200), np.ones(200)
        self.assertAlmostEqual(elastic.distance(one, other, 5), math.sqrt(200))
        self.assertEqual(elastic.distance(one, other, 5, at_most=14.0), math.inf)
        self.assertAlmostEqual(elastic.distance(one, other, 5, at_most=14.2), math.sqrt(200))

    def test_rows_of_two_lengths_are_refused(self) -> None:
        with self.assertRaises(ValueError):
            elastic.distance(np.zeros(4), np.zeros(5), 1)

    @given(st.integers(0, 2**31), st.integers(1, 8), st.integers(0, 12))
    @settings(max_examples=60, deadline=None)
    def test_nearest_are_those_of_all_distances(self, seed: int, most: int, radius: int) -> None:
        rows = np.cumsum(np.random.default_rng(seed).normal(size=(21, 60)), axis=1)
        order, found = elastic.nearest(rows[0], rows[1:], radius, most)
        every = np.sort(elastic.distances(rows[0], rows[1:], radius))
        np.testing.assert_allclose(found, every[:most], rtol=1e-12)
        self.assertEqual(len(set(order.tolist())), most)


class TheTraceSet(unittest.TestCase):
    """UCR archive, Trace: published 1-nearest-neighbour errors 0.24 (Euclidean), 0.01 (learned window), 0.00 (none)."""

    def test_errors_are_the_archives(self) -> None:
        known, kinds, asked, true = CachedDatasets().load_dataset("Trace")
        rows = np.ascontiguousarray(known[:, :, 0])
        for window, error in ((0.0, 0.24), (0.03, 0.01), (1.0, 0.00)):
            radius = round(window * rows.shape[1])
            nearest = [elastic.nearest(one[:, 0].copy(), rows, radius)[0][0] for one in asked]
            self.assertAlmostEqual(float((kinds[nearest] != true).mean()), error, places=9)


if __name__ == "__main__":
    unittest.main()
