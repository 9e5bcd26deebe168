"""Lines and parabolas against numpy's general least squares, and their roots against numpy's companion matrix."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tracebench.core.robust import fits

VOLTS = st.lists(st.floats(-20, 20, width=32), min_size=3, max_size=60).map(np.array)


class Fits(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(VOLTS)
    def test_a_line_is_the_least_squares_one(self, samples):
        np.testing.assert_allclose(fits.line(samples), np.polyfit(np.arange(samples.size), samples, 1), atol=1e-9)

    @settings(max_examples=150, deadline=None)
    @given(VOLTS, st.floats(-100, 100))
    def test_a_parabola_is_the_least_squares_one_about_any_origin(self, samples, origin):
        wanted = np.polyfit(np.arange(samples.size) - origin, samples, 2)
        at = np.linspace(0, samples.size - 1, 7) - origin
        np.testing.assert_allclose(np.polyval(fits.parabola(samples, origin), at), np.polyval(wanted, at), atol=1e-6)

    def test_samples_on_a_parabola_give_it_back(self):
        x = np.arange(9) - 2.5
        np.testing.assert_allclose(fits.parabola(3 * x**2 - 2 * x + 1, 2.5), (3, -2, 1), rtol=1e-12)

    @settings(max_examples=150, deadline=None)
    @given(st.floats(-5, 5), st.floats(-5, 5), st.floats(-5, 5))
    def test_roots_are_numpys_real_ones(self, bend, slope, offset):
        assume(min(abs(bend), abs(slope), abs(offset)) > 1e-3 and abs(slope**2 - 4 * bend * offset) > 1e-3)
        wanted = np.roots((bend, slope, offset))
        wanted = np.sort(wanted[np.isreal(wanted)].real)
        np.testing.assert_allclose(np.sort(fits.roots(bend, slope, offset)), wanted, rtol=1e-6)

    def test_a_line_has_the_root_of_a_line(self):
        np.testing.assert_allclose(fits.roots(0.0, 2.0, -3.0), [1.5])


if __name__ == "__main__":
    unittest.main()
