"""Manifold pressure on signals drawn by hand. Figures marked CP: common practice, no published source."""

import unittest

import numpy as np

from tests.support.courses import captured, codes, course, states
from tracebench.core.answer import Phase
from tracebench.core.circuits import measure
from tracebench.core.transfer import PRESSURE, standard_pressure_kpa

CODE = "manifold-pressure"


def pressure(key_on=4.52, idle=1.3, peak=4.45, rise_s=0.06, overrun=0.55, rate=2000, noise=0.01, **kw):
    """Key on 2 s, crank to idle, idle until 8 s, snap until 8.7 s, overrun, settle."""
    points = [
        (0, key_on),
        (2, key_on),
        (3, idle),
        (8, idle),
        (8 + rise_s, peak),
        (8.7, peak),
        (8.9, overrun),
        (10.4, overrun),
        (11, idle),
        (15, idle),
    ]
    return course(points, rate, noise, **kw)


def throttle(rate=2000, seed=2):
    points = [(0, 0.6), (7.98, 0.6), (8.06, 4.2), (8.68, 4.2), (8.76, 0.6), (15, 0.6)]
    return course(points, rate, 0.005, seed)


def answer(signal=None, options=None, phases=(), rate=2000, **lanes):
    return measure(
        captured(CODE, rate, signal=pressure() if signal is None else signal, **lanes), CODE, phases, options
    )


class Sound(unittest.TestCase):
    def test_levels_rise_and_overrun_as_drawn(self):
        found = answer(throttle=throttle())
        self.assertEqual((found.call, codes(found, "fault")), ("sound", []))
        for reading, value, delta in (
            ("key_on_v", 4.52, 0.005),
            ("idle_v", 1.3, 0.005),
            ("snap_peak_v", 4.45, 0.015),
            ("overrun_v", 0.55, 0.015),
            ("rise_ms", 48.0, 3.0),  # 10 to 90 % of a straight 60 ms
        ):
            self.assertAlmostEqual(found.reading(reading).value, value, delta=delta, msg=reading)
        self.assertGreater(found.reading("throttle_follow").value, 0.8)

    def test_a_snap_without_a_key_on_before_it_comes_to_4_2_to_4_8(self):  # CP, and a tenth more
        for peak, state in ((4.0, "outside"), (4.4, "inside"), (4.7, "inside"), (5.0, "outside")):
            idle_on = course(
                [(0, 1.3), (6, 1.3), (6.06, peak), (6.7, peak), (6.9, 0.55), (8.4, 0.55), (9, 1.3), (14, 1.3)],
                2000,
                0.01,
            )
            judged = answer(idle_on).deciding_limit("snap_peak_v")
            self.assertEqual(judged.state if judged else None, state, peak)

    def test_phases_come_in_turn_without_being_told(self):
        names = [p.name for p in answer().phases]
        self.assertEqual(names, ["key_on", "crank", "idle", "snap", "overrun", "settle"])

    def test_a_record_that_begins_at_idle(self):
        found = answer(pressure()[4 * 2000 :])
        self.assertEqual(found.call, "sound")
        self.assertIn("key_on_v", {m.reading for m in found.missing})

    def test_told_phases_win(self):
        found = answer(phases=[Phase("idle", 4.0, 5.0)])
        self.assertIn((4.0, 5.0), [(p.from_s, p.to_s) for p in found.phases if p.name == "idle"])

    def test_coarse_slow_and_noisy_records(self):
        for rate, bits, noise in ((200, 8, 0.0), (500, 12, 0.02), (20_000, 16, 0.01)):
            found = answer(pressure(rate=rate, bits=bits, noise=noise), rate=rate)
            self.assertEqual(codes(found, "fault"), [], (rate, bits))
            self.assertAlmostEqual(found.reading("idle_v").value, 1.3, delta=0.03)


class Barometer(unittest.TestCase):
    def test_standard_atmosphere(self):
        # ISO 2533:1975, table of geometric altitude: 0 m 101.325, 1,000 m 89.876, 2,000 m 79.501, 5,000 m 54.048 kPa.
        for metres, kpa in ((0, 101.325), (1000, 89.876), (2000, 79.501), (5000, 54.048)):
            self.assertAlmostEqual(standard_pressure_kpa(metres), kpa, delta=0.03 * (1 + metres / 2000))

    def test_101_3_kpa_is_4_52_volts_by_the_default_transfer(self):
        self.assertAlmostEqual(PRESSURE.volts(101.3), 4.52, delta=0.005)

    def test_key_on_reads_the_barometer(self):
        self.assertAlmostEqual(answer().reading("key_on_kpa").value, 101.35, delta=0.2)

    def test_a_told_altitude_moves_the_limit(self):
        volts = PRESSURE.volts(standard_pressure_kpa(1500))
        high_up = pressure(key_on=volts, peak=volts - 0.05)
        self.assertIn("baro_wrong", answer(high_up).because)
        self.assertEqual(answer(high_up, {"altitude_m": "1500"}).call, "sound")

    def test_another_transfer_gives_other_kilopascals(self):
        found = answer(options={"kpa_at_0_5_v": "10", "kpa_at_4_7_v": "115"})
        self.assertAlmostEqual(found.reading("idle_kpa").value, 10 + 25 * 0.8, delta=0.2)


class Faults(unittest.TestCase):
    def test_limits_of_common_practice(self):
        self.assertEqual(states(answer())["rise_ms"], "inside")
        for signal, code in (
            (pressure(rise_s=0.3), "slow_rise"),
            (pressure(peak=3.4), "no_rise"),
            (pressure(idle=2.2, overrun=1.2), "high_idle_pressure"),
            (pressure(key_on=4.1), "baro_wrong"),
            (pressure(overrun=1.28), "no_overrun_gain"),
        ):
            found = answer(signal)
            self.assertIn(code, codes(found, "fault"))
            self.assertEqual(found.call, "faulty")

    def test_pressure_that_lags_the_throttle(self):
        late = np.roll(pressure(noise=0.0), 300)  # 150 ms
        late[:300] = 4.52
        self.assertIn("slow_rise", codes(answer(late, throttle=throttle())))

    def test_a_level_that_nothing_moves_is_stuck_where_the_throttle_proves_it(self):
        still = course([(0, 1.5), (15, 1.5)], 2000, 0.005)
        self.assertEqual(answer(still, throttle=throttle()).because, ("sensor_stuck",))
        self.assertEqual(answer(still).call, "inconclusive")

    def test_a_dropout_at_idle_is_found_where_it_is(self):
        signal = pressure()
        signal[10_000:10_060] = 0.1
        found = answer(signal)
        at = next(f for f in found.findings if f.code == "dropout")
        self.assertAlmostEqual((at.from_s + at.to_s) / 2, 5.015, delta=0.01)
        self.assertAlmostEqual(found.reading("idle_v").value, 1.3, delta=0.01)

    def test_mixture_beside_it_is_told(self):
        oxygen = course([(0, 0.45), (8.1, 0.45), (8.2, 0.88), (8.8, 0.88), (8.9, 0.03), (10.5, 0.03), (15, 0.5)], 2000)
        text = next(f.text for f in answer(oxygen=oxygen).findings if f.code == "mixture")
        self.assertIn("overrun fuel cut acts", text)


class SetUp(unittest.TestCase):
    def test_scale_polarity_and_slips(self):
        self.assertIn("scale_suspect", codes(answer(pressure() * 1000)))
        self.assertNotIn("scale_suspect", codes(answer(pressure() * 0.9)))
        self.assertIn("reversed_polarity", codes(answer(-pressure())))
        slipped = pressure()
        slipped[9000:9800] = 0.0
        self.assertEqual(answer(slipped).because, ("probe_slip",))

    def test_idle_alone_cannot_tell(self):
        found = answer(pressure()[4 * 2000 : 7 * 2000])
        self.assertEqual((found.call, found.because), ("inconclusive", ("missing_phase",)))

    def test_too_slow_a_recorder(self):
        self.assertIn("undersampled", codes(answer(pressure(rate=50), rate=50)))
        self.assertNotIn("undersampled", codes(answer(pressure(rate=100), rate=100)))

    def test_clipped_by_the_range(self):
        self.assertIn("clipped", codes(answer(np.clip(pressure(bits=12), None, 4.0))))
        self.assertNotIn("clipped", codes(answer(np.clip(pressure(bits=12), None, 5.0))))
