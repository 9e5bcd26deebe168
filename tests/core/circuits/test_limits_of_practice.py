"""Limits that stand where nobody gave any. Common practice, no published source, as it is written down for people."""

import unittest

from tracebench.core.circuits import CIRCUITS

OPEN = None
PRACTICE = {
    "throttle-position": {
        "closed_v": (0.5, 1.0),
        "open_v": (3.8, OPEN),
        "open_spread_v": (OPEN, 0.1),
        "dropouts_count": (OPEN, 0),
        "noise_mv": (OPEN, 20),
        "reversal_v": (OPEN, 0.05),
    },
    "manifold-pressure": {"rise_ms": (OPEN, 150), "throttle_lag_ms": (OPEN, 100), "throttle_follow": (0.8, OPEN)},
    "airflow-voltage": {"surge_ms": (OPEN, 100)},
    "airflow-frequency": {"low_v": (OPEN, 0.5), "high_v": (4.5, OPEN)},
    "injector-voltage": {
        "supply_v": (13.5, 14.7),
        "on_v": (OPEN, 0.6),
        "on_ms": (2, 4),
        "kick_v": (50, 90),
        "bump_ms": (0.3, 2),
    },
    "secondary-voltage": {
        "firing_kv": (5, 15),
        "snap_firing_kv": (OPEN, 25),
        "burn_kv": (1, 3),
        "burn_ms": (0.8, 2.0),
        "burn_hash": (OPEN, 0.08),
        "rings_count": (3, OPEN),
        "snap_burn_ms": (0.5, OPEN),
    },
}


class Practice(unittest.TestCase):
    def test_a_limit_is_where_practice_has_it(self):
        for code, limits in PRACTICE.items():
            declared = {limit.reading: (limit.low, limit.high) for limit in CIRCUITS[code].limits if not limit.when}
            for reading, ends in limits.items():
                with self.subTest(circuit=code, reading=reading):
                    self.assertEqual(declared[reading], ends)


if __name__ == "__main__":
    unittest.main()
