"""One record of each kind of every circuit, drawn from formulas of neither core nor trainer, read as it was drawn."""

import unittest
from pathlib import Path

from tests.outside.drawing import draw
from tests.outside.drawn import PULSES, SENSORS
from tracebench.core.circuits import CIRCUITS

SEED = 41


ROOMS = Path(__file__).parents[1] / "circuits"


class Drawn(unittest.TestCase):
    def check(self, makers):
        seen = set()
        for maker, kinds in makers.items():
            for kind in kinds:
                one = draw(maker, kind, SEED)
                seen.add(one.circuit)
                with self.subTest(circuit=one.circuit, kind=kind):
                    self.assertEqual(one.wrong()[1], [])
        return seen

    def test_sensors_feeds_and_charging_are_read_called_and_found_as_drawn(self):
        self.assertEqual(len(self.check(SENSORS)), len(SENSORS))

    def test_injectors_and_ignition_are_read_called_and_found_as_drawn(self):
        self.assertEqual(len(self.check(PULSES)), len(PULSES))

    def test_every_circuit_is_drawn(self):
        drawn = {draw(maker, "sound", SEED).circuit for maker in {**SENSORS, **PULSES}}
        # Those that came later are drawn by tests of their own, in their folder.
        own = {code for code in CIRCUITS if any((ROOMS / code.replace("-", "_")).glob("test_*.py"))}
        self.assertEqual(drawn | own, set(CIRCUITS))


if __name__ == "__main__":
    unittest.main()
