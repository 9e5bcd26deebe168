"""Medians and percentiles against numpy's own, for every width and for samples that are not there."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from tracebench.core.robust.median import (
    LONG,
    NARROW,
    SHORT,
    SORTED,
    WIDE,
    median,
    medians,
    percentile,
    percentile_span,
    percentiles,
)

VOLTS = st.one_of(st.floats(-20, 20, width=32), st.sampled_from([0.0, 0.61, 0.62, 5.0, float("nan")]))


class Medians(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.data(), st.sampled_from([np.float32, np.float64]))
    def test_of_each_row_it_is_numpys(self, data, kind):
        shape = data.draw(st.tuples(st.integers(1, 6), st.integers(1, 2 * NARROW)))
        rows = data.draw(arrays(kind, shape, elements=st.floats(-20, 20, width=32) | st.sampled_from([0.5, np.nan])))
        np.testing.assert_array_equal(medians(rows), np.median(rows, axis=1))

    def test_of_every_order_of_narrow_rows(self):
        # A network that is right for all rows of noughts and ones is right for all (the 0-1 principle).
        for width in range(1, 15):
            rows = (np.arange(1 << width)[:, None] >> np.arange(width) & 1).astype(float)
            np.testing.assert_array_equal(medians(rows), np.median(rows, axis=1))

    def test_of_every_width_up_to_where_rows_are_parted(self):
        rng = np.random.default_rng(4)
        for width in (*range(1, NARROW + 3), WIDE - 1, WIDE, WIDE + 1, WIDE + 2):
            rows = np.round(rng.normal(size=(50, width)), 1)
            rows[7, width // 3] = np.nan
            np.testing.assert_array_equal(medians(rows), np.median(rows, axis=1))

    @settings(max_examples=100, deadline=None)
    @given(st.lists(VOLTS, min_size=1, max_size=40), st.sampled_from([1, SHORT, SHORT + 1, SORTED, SORTED + 1, LONG]))
    def test_of_a_row_short_or_long_it_is_numpys(self, volts, least):
        samples = np.resize(np.array(volts), max(least, len(volts)))
        np.testing.assert_array_equal(median(samples), np.median(samples))

    def test_of_a_table_it_is_of_all_its_samples_and_changes_none(self):
        table = np.random.default_rng(5).normal(size=(60, 101))
        before = table.copy()
        self.assertEqual(median(table), float(np.median(table)))
        medians(table)
        np.testing.assert_array_equal(table, before)

    @settings(max_examples=150, deadline=None)
    @given(st.lists(VOLTS, min_size=1, max_size=40), st.floats(0, 100), st.sampled_from([1, 3000, LONG]))
    def test_percentiles_are_numpys(self, volts, share, least):
        samples = np.resize(np.array(volts), max(least, len(volts)))
        np.testing.assert_array_equal(percentile(samples, share), np.percentile(samples, share))
        np.testing.assert_array_equal(percentiles(samples, share, 50), np.percentile(samples, (share, 50)))

    def test_of_long_rows_of_codes_of_noise_of_waves_and_of_ramps_they_are_numpys(self):
        rng = np.random.default_rng(6)
        at = np.arange(2 * LONG + 1)
        rows = {
            "codes": np.round(rng.normal(size=at.size), 1),
            "two codes": (at % 2).astype(float),
            "noise": rng.normal(size=at.size),
            "the places that are looked at differ": np.where(at % 16 == 0, 9.0, rng.normal(size=at.size)),
            "ramp": at / 7,
            "one is no number": np.where(at == 77, np.nan, 1.0),
            "a constant": np.full(at.size, 0.61),
            "never ends": np.where(at % 3 == 0, np.inf, -np.inf),
        }
        for name, row in rows.items():
            for part in (row, row[:-1]):
                with self.subTest(name):
                    np.testing.assert_array_equal(median(part), np.median(part))
                    for share in (0, 0.1, 1, 5, 37.3, 99, 100):
                        if name != "never ends":
                            np.testing.assert_array_equal(percentile(part, share), np.percentile(part, share))

    def test_a_span_is_the_way_from_the_lower_to_the_higher(self):
        self.assertAlmostEqual(percentile_span(np.arange(101.0), 5, 95), 90.0)


if __name__ == "__main__":
    unittest.main()
