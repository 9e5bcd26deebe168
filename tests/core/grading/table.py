"""What the tables of marks share: a card, what was measured for it, and a table's check."""

import unittest
from dataclasses import replace

from tests.core.grading import built
from tests.core.grading.built import (
    DROPOUT,
    measured,
    rows,
    throttle_card,
)
from tracebench.core.answer import Limit

CARD = throttle_card()
SOUND, WORN = measured(missing=(built.MISSING,)), measured((DROPOUT,))
CUT = measured(phases=(built.Phase("opening", 0.0, 50.0), built.Phase("open", 50.0, 100.0)))
LOW = measured(readings=(replace(built.READINGS[0], value=0.30),))
NEAR = measured(readings=(replace(built.READINGS[0], value=0.49),))
FLEET = measured(limits=(Limit("closed_v", 0.65, 0.69, "own-fleet", marginal=0.02), *built.LIMITS))


def read(value, *pegs):
    return {"value": value, "pegs": list(pegs)} if pegs else {"value": value}


class Table(unittest.TestCase):
    def hold(self, criterion, table):
        """Rows of (what, measured, answers, mark, slip)."""
        for what, answer, given, mark, slip in table:
            with self.subTest(what=what):
                row = rows(CARD, given, answer)[criterion]
                self.assertAlmostEqual(row["score"], mark, places=3, msg=row["reason"])
                self.assertEqual(row["slip"], slip, row["reason"])
                self.assertGreater(len(row["reason"]), 10)
