"""Copies are noticed: the same samples, cropped, shifted, scaled; never two recordings of one part."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.grading.built import throttle_card
from tests.support.pulses import Coil, axis, noisy
from tests.support.waves import Sweep
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.grading.copies import same_recording
from tracebench.core.grading.like_answers import same_answers

SAMPLES = Sweep(rate_hz=500, noise_v=0.004, bits=12).samples()[1]
NOISELESS = Sweep(rate_hz=500).samples()[1]


def kind_of(ours, theirs):
    found = same_recording(ours, theirs)
    return found.kind if found is not None else None


class Recordings(unittest.TestCase):
    def test_one_for_one(self):
        self.assertEqual(kind_of(SAMPLES, SAMPLES.copy()), "same")

    @settings(max_examples=40, deadline=None)
    @given(
        st.integers(0, 5000),
        st.integers(4000, 8500),
        st.sampled_from([1.0, 1000.0, 0.001, -1.0, 1.37]),
        st.floats(-5, 5),
    )
    def test_cropped_shifted_and_scaled(self, begin, length, factor, offset):
        part = factor * SAMPLES[begin : begin + length] + offset
        wanted = "cropped" if factor == 1.0 else "scaled"
        for ours, theirs in ((part, SAMPLES), (SAMPLES, part)):
            self.assertEqual(kind_of(ours, theirs), wanted)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(2, 10_000))
    def test_another_recording_of_the_same_part_by_the_same_hand_is_none(self, seed):
        again = Sweep(rate_hz=500, noise_v=0.004, bits=12, seed=seed).samples()[1]
        self.assertIsNone(same_recording(SAMPLES, again))

    def test_pulses_as_alike_as_one_engine_makes_them_are_told_apart(self):
        times = axis(0.3, 100_000)
        one, two = (noisy(Coil().amperes(times, [0.02, 0.095, 0.17, 0.245]), 0.004, seed) for seed in (1, 2))
        self.assertIsNone(same_recording(one, two))
        self.assertEqual(kind_of(one, one[300:]), "cropped")

    def test_exported_with_fewer_digits(self):
        self.assertEqual(kind_of(np.round(SAMPLES, 3), SAMPLES[700:]), "cropped")

    def test_what_has_no_noise_or_hardly_moves_is_no_proof(self):
        self.assertIsNone(same_recording(np.zeros(5000), np.zeros(4000)))
        self.assertIsNone(same_recording(NOISELESS[:40], NOISELESS))
        flat = np.full(5000, 2.0)
        flat[100:110] = 2.1
        self.assertIsNone(same_recording(flat, flat[1:]))


class Answers(unittest.TestCase):
    CARD = throttle_card()

    def given(self, **changes):
        answers = {
            "reading-closed_v": {"value": 0.7004, "pegs": [5.0]},
            "reading-opening_s": {"value": 8.013, "pegs": [11.001, 19.014]},
            "reading-dropout_depth_v": {"value": 1.207, "pegs": [15.1]},
        }
        return answers_from_json(self.CARD, {**answers, **changes})

    def test_the_same_to_the_last_digit(self):
        found = same_answers(self.given(), self.given())
        self.assertEqual(found.kind, "answers")
        self.assertIn("3 readings", found.text)

    def test_another_digit_another_peg_or_too_few(self):
        for changes in (
            {"reading-closed_v": {"value": 0.7003, "pegs": [5.0]}},
            {"reading-closed_v": {"value": 0.7004, "pegs": [5.1]}},
            {"reading-closed_v": {"value": 0.7004}},
            {"reading-closed_v": {"absent": True}},
        ):
            self.assertIsNone(same_answers(self.given(), self.given(**changes)), changes)
