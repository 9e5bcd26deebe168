"""Parts of each learner's own: neighbours differ, and the fault stays the one that the card is about."""

import unittest
from itertools import pairwise

from tests.support.variations import EXPECTED, Variation
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.bench.varied import varied
from tracebench.core.circuits import measure

CLASS = range(24)


def _parts(code, fault, **more):
    return [varied(SOURCES[code], {"fault": fault, "severity": 0.9, **more}, place) for place in CLASS]


class Neighbours(unittest.TestCase):
    def test_severity_differs_from_the_seat_beside_and_stays_near_the_cards(self):
        for code, source in SOURCES.items():
            for fault in (f.key for f in source.faults if f.key != "none"):
                told = [p["severity"] for p in _parts(code, fault)]
                self.assertTrue(all(0.9 * 0.8 <= s <= 0.9 for s in told), (code, fault))
                self.assertTrue(all(abs(a - b) > 0.03 for a, b in pairwise(told)), (code, fault))
                self.assertGreater(len(set(told)), 20)

    def test_the_cylinder_goes_round_the_engine(self):
        for order in ("1-3-4-2", "1-5-3-6-2-4", "1-2-3"):
            count = len(order.split("-"))
            fault = next(f.key for f in SOURCES["coil-primary-current"].faults if f.key != "none")
            told = [p["cylinder"] for p in _parts("coil-primary-current", fault, firing_order=order, cylinder=2)]
            self.assertEqual(told[0], 2)
            self.assertEqual(set(told), set(range(1, count + 1)))
            self.assertTrue(all(a != b for a, b in pairwise(told)))

    def test_faults_that_are_dealt_out_go_round_the_class(self):
        source = SOURCES["manifold-pressure"]
        part = {"fault": "leak", "severity": 0.9}
        dealt = [varied(source, part, place, ("none", "leak", "slow-hose")) for place in CLASS]
        self.assertEqual([p["fault"] for p in dealt[:4]], ["leak", "none", "slow-hose", "leak"])
        self.assertTrue(all(a["fault"] != b["fault"] for a, b in pairwise(dealt)))
        self.assertEqual({p["severity"] for p in dealt if p["fault"] == "none"}, {0.9})

    def test_a_sound_part_stays_sound_and_has_no_severity(self):
        for code, source in SOURCES.items():
            for part in _parts(code, "none"):
                self.assertEqual(part["fault"], "none")
                self.assertEqual(part["severity"], 0.9, code)
                if source.by_hand:
                    self.assertTrue(0.5 < part["closed_v"] < 0.75 and 4.1 < part["open_v"] < 4.4)


class StaysTheSame(unittest.TestCase):
    def test_the_fault_is_found_in_every_part(self):
        """One fault of each circuit, at the place that gets the slightest of it."""
        for code, faults in EXPECTED.items():
            fault, wanted = sorted(faults.items())[0]
            with self.subTest(code, fault=fault):
                slightest = min(_parts(code, fault), key=lambda p: p["severity"])
                source = SOURCES[code]
                scope = ScopeSettings(source.range_v, source.manoeuvres[0].duration_s, source.rate_hz)
                told = {k: v for k, v in slightest.items() if k not in ("fault", "severity")}
                capture = record(code, scope, 3, fault, slightest["severity"], part=told)
                options = {} if source.by_cylinder else Variation(code, 0, fault).options()
                answer = measure(capture, code, options=options)
                self.assertLessEqual(wanted, {f.code for f in answer.findings} | set(answer.because))


if __name__ == "__main__":
    unittest.main()
