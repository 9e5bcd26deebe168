"""Captures of an outsider: formulas of their own, and what a careful reader says of each."""

import math
import unittest

from tests.outside.captures import CAPTURES
from tests.outside.workshop import WORKSHOP
from tracebench.core.answer import Phase
from tracebench.core.circuits import measure


class Outside(unittest.TestCase):
    def test_each_is_read_called_and_found_as_it_is(self):
        for one in (*CAPTURES, *WORKSHOP):
            with self.subTest(one.name):
                answer = measure(one.capture(), one.circuit, [Phase(*p) for p in one.phases], dict(one.options))
                self.assertIn(answer.call, one.calls, answer.because)
                named = [f for f in answer.findings if one.lane in (None, f.lane)]
                found = {f.code for f in named if one.cylinder in (None, f.cylinder)}
                self.assertLessEqual(set(one.finds), found, answer.because)
                self.assertFalse(set(one.denies) & {f.code for f in answer.findings if f.kind != "note"})
                for reading_id, (value, off) in one.reads.items():
                    reading = answer.reading(reading_id)
                    self.assertIsNotNone(reading, [m.why for m in answer.missing if m.reading == reading_id])
                    self.assertAlmostEqual(reading.value, value, delta=off, msg=reading_id)
                self.assertFalse(set(one.absent) & {r.id for r in answer.readings})
                for reading in answer.readings:
                    self.assertTrue(math.isfinite(reading.value) and math.isfinite(reading.uncertainty), reading)
