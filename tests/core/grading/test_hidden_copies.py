"""Copies that somebody took pains to hide, and honest work that is as like as it can be: from formulas, by rules."""

import unittest
from itertools import combinations

import numpy as np

from tests.core.grading.built import throttle_card
from tests.support.pulses import Coil, axis, noisy
from tests.support.waves import Sweep
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.grading.copies import same_recording
from tracebench.core.grading.like_answers import ClassAnswers
from tracebench.core.steps.call.step import Called
from tracebench.core.steps.reading.step import Read
from tracebench.core.steps.spot import Spotted

RNG = np.random.default_rng


def sweep(seed, rate=500):
    return Sweep(rate_hz=rate, noise_v=0.004, bits=12, seed=seed).samples()[1]


class HiddenByNoise(unittest.TestCase):
    def test_noise_as_large_as_the_records_own_hides_nothing(self):
        for seed in range(3):
            ours = sweep(seed)
            for sigma in (0.002, 0.004, 0.006):
                theirs = ours + RNG(100 + seed).normal(0, sigma, ours.size)
                self.assertIsNotNone(same_recording(ours, theirs), (seed, sigma))
                self.assertIsNotNone(same_recording(ours[900:7000], 3.3 * theirs - 1), (seed, sigma))

    def test_nor_does_it_between_pulses(self):
        times = axis(0.3, 100_000)
        ours = noisy(Coil().amperes(times, [0.02, 0.095, 0.17, 0.245]), 0.004, 1)
        self.assertIsNotNone(same_recording(ours, ours + RNG(5).normal(0, 0.004, ours.size)))

    def test_another_rate_hides_nothing(self):
        ours = sweep(4)
        at = np.arange(0, ours.size - 1, 1.25)
        theirs = np.interp(at, np.arange(ours.size), ours)
        self.assertIsNotNone(same_recording(ours, theirs, rate=1.25))
        self.assertIsNotNone(same_recording(theirs, ours, rate=1 / 1.25))

    def test_honest_recordings_of_one_part_by_one_hand_are_none(self):
        honest = [sweep(k) for k in range(20)]
        for k, ours in enumerate(honest):
            for theirs in honest[:k]:
                self.assertIsNone(same_recording(ours, theirs))

    def test_nor_of_pulses_that_repeat_to_the_sample(self):
        times = axis(0.3, 100_000)
        honest = [noisy(Coil().amperes(times, [0.02, 0.095, 0.17, 0.245]), 0.004, k) for k in range(8)]
        for k, ours in enumerate(honest):
            for theirs in honest[:k]:
                self.assertIsNone(same_recording(ours, theirs))


class AnswersAlike(unittest.TestCase):
    """A class of ten who read the same four figures, each with a hand of their own (1 % and 0.3 s)."""

    CARD = throttle_card()
    STEPS = {
        "closed_v": (0.70, 5.0),
        "opening_s": (8.0, 11.0),
        "sweeps_count": (2.0, 50.0),
        "dropout_depth_v": (1.2, 15.1),
    }

    def answers(self, seed, like=None):
        rng = RNG(seed)
        told = {}
        for reading, (value, at) in self.STEPS.items():
            if like is None:
                given = {"value": float(value * rng.normal(1, 0.02)), "pegs": [float(at + rng.normal(0, 0.4))]}
            else:
                # A copier writes another last digit and sets the peg a hair beside.
                theirs = like[reading]
                given = {
                    "value": theirs["value"] * (1 + rng.normal(0, 2e-4)),
                    "pegs": [theirs["pegs"][0] + float(rng.normal(0, 0.01))],
                }
            told[reading] = given
        return told

    def parsed(self, told):
        return answers_from_json(self.CARD, {f"reading-{k}": v for k, v in told.items()})

    def test_a_copier_who_changed_the_last_digits_stands_out(self):
        honest = [self.answers(k) for k in range(10)]
        copied = self.answers(99, like=honest[3])
        everybody = ClassAnswers([self.parsed(x) for x in (*honest, copied)])
        self.assertIsNotNone(everybody.unlikely(10, 3))

    def test_honest_pairs_do_not(self):
        flagged = pairs = 0
        for group in range(20):
            honest = ClassAnswers([self.parsed(self.answers(1000 * group + k)) for k in range(10)])
            for one, other in combinations(range(10), 2):
                pairs += 1
                flagged += honest.unlikely(one, other) is not None
        self.assertEqual(pairs, 900)
        self.assertLess(flagged, 0.01 * pairs)

    def test_a_class_too_small_says_nothing(self):
        one = self.parsed(self.answers(1))
        self.assertIsNone(ClassAnswers([one, one, one]).unlikely(0, 1))


class MistakesAlike(unittest.TestCase):
    """A class of fourteen: eight things to choose, of which each learner has a fifth wrong in a way of their own, and
    two readings of a part that each was dealt for themselves."""

    def answers(self, seed):
        rng = RNG(seed)
        out = {}
        for step in range(8):
            wrong = rng.random() < 0.2
            out[f"spot-{step}"] = Spotted(int(rng.integers(2, 7)) if wrong else 1)
        missed = rng.random() < 0.3
        out["call"] = Called("sound" if missed else "faulty", None if missed else str(rng.choice(["wear", "wire"])))
        for reading, (value, at) in {"closed_v": (0.7, 5.0), "open_v": (4.2, 11.0)}.items():
            out[f"reading-{reading}"] = Read(value * rng.normal(1, 0.1), pegs=(at + rng.normal(0, 2.0),))
        return out

    def test_the_same_mistakes_stand_out_where_no_digit_is_the_same(self):
        found = 0
        for group in range(20):
            honest = [self.answers(500 * group + k) for k in range(14)]
            # Of somebody who makes mistakes; one who has all right shares nothing with whoever copies it.
            source = max(honest, key=lambda a: sum(isinstance(x, Spotted) and x.value != 1 for x in a.values()))
            rng = RNG(group)
            copied = {
                k: Read(a.value * rng.normal(1, 0.002), pegs=(a.pegs[0] + rng.normal(0, 0.05),))
                if isinstance(a, Read)
                else a
                for k, a in source.items()
            }
            everybody = ClassAnswers([*honest, copied])
            found += everybody.unlikely(honest.index(source), 14) is not None
        self.assertGreaterEqual(found, 18)

    def test_what_everybody_has_right_says_nothing(self):
        flagged = pairs = 0
        for group in range(30):
            honest = ClassAnswers([self.answers(500 * group + k) for k in range(14)])
            for one, other in combinations(range(14), 2):
                pairs += 1
                flagged += honest.unlikely(one, other) is not None
        self.assertEqual(pairs, 2730)
        self.assertLess(flagged, 0.01 * pairs)


if __name__ == "__main__":
    unittest.main()
