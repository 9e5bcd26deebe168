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
    "oxygen-switching": {
        "min_v": (OPEN, 0.2),
        "max_v": (0.8, 0.9),
        "mean_v": (0.4, 0.5),
        "crossings_hz": (0.5, 5),
        "rise_ms": (OPEN, 100),
        "fall_ms": (OPEN, 100),
    },
    "oxygen-wideband": {"in_window_pct": (95, OPEN)},
    "rail-pressure": {"build_ms": (OPEN, 1500), "idle_v": (1.0, 1.5), "peak_v": (2, 4)},
    "supply-ground": {"supply_drop_v": (OPEN, 0.5), "reference_v": (4.9, 5.1), "ground_v": (OPEN, 0.1)},
    "charging": {"sense_v": (13.5, 14.7), "case_ground_max_v": (OPEN, 0.1), "ripple_v": (OPEN, 0.5)},
    "coil-primary-voltage": {
        "dwell_v": (OPEN, 1.5),
        "kick_v": (250, 420),
        "burn_v": (30, 60),
        "burn_ms": (0.8, 2.0),
        "rings_count": (3, OPEN),
    },
    "injector-piezo": {"events_count": (1, 8)},
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

    def test_a_piezo_stack_is_charged_with_6_amps_and_more(self):
        charge = next(limit for limit in CIRCUITS["injector-piezo"].limits if limit.reading == "charge_a")
        self.assertEqual(charge.low, 6)
        self.assertGreater(charge.high, 8)


if __name__ == "__main__":
    unittest.main()
