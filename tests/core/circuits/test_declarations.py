"""Every circuit's tables hang together: what one names, another declares."""

import unittest

from tracebench.core.circuits import CIRCUITS, circuit, finding_spec
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS
from tracebench.core.errors import UnknownCircuit

CONTRACT_IDS = {
    "throttle-position": "closed_v open_v open_spread_v sweeps_count opening_s closing_s dropouts_count "
    "dropout_depth_v dropout_travel_pct noise_mv reversal_v",
    "pedal-position": "track1_released_v track1_full_v track2_released_v track2_full_v ratio ratio_residual_mv "
    "reference1_min_v reference2_min_v ground_max_v",
    "manifold-pressure": "key_on_v key_on_kpa idle_v idle_kpa snap_peak_v rise_ms overrun_v throttle_follow",
    "airflow-voltage": "key_on_v crank_v idle_v v_2500 v_4000 snap_peak_v snap_dip_v snap_top_v surge_ms",
    "airflow-frequency": "low_v high_v idle_hz peak_hz duty_pct missing_pulses_count",
    "oxygen-switching": "min_v max_v mean_v crossings_hz rise_ms fall_ms snap_rich_v overrun_v",
    "oxygen-wideband": "in_window_pct response_ms overrun_peak recovery_ms",
    "rail-pressure": "key_on_v crank_peak_v build_ms idle_v peak_v rise_ms idle_ripple_mv stop_decay_s",
    "crank-position": "teeth_per_rev gap_teeth rpm amplitude_v level_low_v level_high_v tooth_spread_pct cam_phase_deg",
    "temperature": "volts celsius dropouts_count",
    "supply-ground": "supply_v supply_drop_v reference_v ground_v ripple_mv",
    "charging": "sense_v sense_max_v time_over_15_s case_ground_max_v command_duty_pct ripple_v ripple_order",
    "injector-voltage": "supply_v on_v on_ms kick_v bump_ms tail_rings_count rate_hz pulses_count missing_count",
    "injector-current": "on_ms peak_a ramp pintle_ms pintle_dip_a decay_ms rate_hz",
    "injector-current-group": "peak_a expected_a excess_ratio leading_edge_fraction on_ms",
    "injector-current-parade": "peak_a on_ms leading_edge_fraction cycle_ms",
    "injector-peak-hold": "boost_a boost_ms hold_a on_ms ripple_hz",
    "injector-piezo": "events_count charge_a discharge_a start_ms width_ms gap_ms",
    "coil-primary-current": "dwell_ms peak_a ramp turn_on_ring_count turn_on_ring_a limit_flat_ms",
    "coil-primary-voltage": "supply_v dwell_v dwell_ms kick_v burn_v burn_ms rings_count",
    "secondary-voltage": "firing_kv burn_kv burn_ms burn_hash rings_count snap_burn_ms",
    "igniter-bench": "pulses_count output_low_ms spread_pct independent_of_trigger misses_count",
}
"""Reading ids that files, cards and other programs rely on."""

CONTRACT_FINDINGS = {
    "throttle-position": "dropout spike low_closed high_closed low_open stuck_high stuck_low",
    "pedal-position": "track_lost reference_lost tracks_disagree ground_lifted",
    "manifold-pressure": "slow_rise no_rise no_overrun_gain high_idle_pressure baro_wrong sensor_stuck dropout",
    "airflow-voltage": "low_under_load key_on_high no_signal missing_surge dropout supply_low ground_high",
    "airflow-frequency": "missing_pulses low_swing low_under_load no_signal",
    "oxygen-switching": "lazy biased_rich biased_lean stuck no_overrun_drop contaminated_low_swing",
    "oxygen-wideband": "slow_fuel_response stuck_in_window biased_lean biased_rich heater_fault",
    "rail-pressure": "slow_build pressure_hunting dropout low_peak no_decay",
    "crank-position": "tooth_damaged weak_amplitude dropout cam_phase_shift runout",
    "temperature": "open_circuit short_circuit implausible_cold_start dropout",
    "supply-ground": "supply_low reference_low reference_high ground_high",
    "charging": "overcharge undercharge ground_lifted command_driven diode_ripple",
    "injector-voltage": "tail_ringing low_kick no_bump weak_ground missing_pulses no_pulse",
    "injector-current": "shorted_winding no_pintle_dip late_pintle high_resistance",
    "injector-current-group": "shorted_winding",
    "injector-current-parade": "shorted_winding missing_pulse weak_current",
    "injector-peak-hold": "no_boost no_hold short_on_time",
    "injector-piezo": "missing_event low_charge charge_without_discharge power_stage_off",
    "coil-primary-current": "turn_on_abnormal shorted_winding missing_ramp short_dwell low_peak",
    "coil-primary-voltage": "no_burn short_burn long_burn low_kick no_rings weak_driver",
    "secondary-voltage": "no_burn burn_hash burn_collapses_on_snap high_firing low_firing short_burn no_rings "
    "misfire_intermittent",
    "igniter-bench": "no_switching misses unstable_width",
}

UNITS = {
    "_v": "V",
    "_mv": "mV",
    "_s": "s",
    "_ms": "ms",
    "_pct": "%",
    "_hz": "Hz",
    "_kpa": "kPa",
    "_deg": "°",
    "_kv": "kV",
    "_a": "A",
    "_gs": "g/s",
    "_bar": "bar",
    "_lambda": "",
}


class Contract(unittest.TestCase):
    def test_every_reading_and_finding_that_others_rely_on_is_declared(self):
        for code, ids in CONTRACT_IDS.items():
            self.assertLessEqual(set(ids.split()), set(CIRCUITS[code].reading_ids), code)
        for code, names in CONTRACT_FINDINGS.items():
            self.assertLessEqual(set(names.split()), {f.code for f in CIRCUITS[code].findings}, code)

    def test_an_unknown_circuit_lists_the_known_ones(self):
        with self.assertRaisesRegex(UnknownCircuit, "throttle-position"):
            circuit("flux")


class Coherence(unittest.TestCase):
    def each(self):
        for kind in CIRCUITS.values():
            with self.subTest(circuit=kind.code):
                yield kind

    def test_each_is_catalogued_under_its_own_code(self):
        for code, kind in CIRCUITS.items():
            self.assertEqual(code, kind.code)

    def test_ids_are_unique_and_end_in_their_unit(self):
        for kind in self.each():
            ids = kind.reading_ids
            self.assertEqual(len(ids), len(set(ids)))
            for reading in kind.readings:
                ending = next((e for e in UNITS if reading.id.endswith(e)), None)
                if ending is not None:
                    self.assertEqual(reading.unit, UNITS[ending], reading.id)

    def test_readings_name_lanes_and_phases_that_exist(self):
        for kind in self.each():
            lanes, phases = {x.name for x in kind.lanes}, {p.name for p in kind.phases}
            by_pegs = [r for r in kind.readings if r.how != "number"]
            for reading in by_pegs:
                # A strip without a lane called signal shows the first lane instead.
                self.assertIn(reading.lane, lanes | {"signal"}, reading.id)
            for reading in kind.readings:
                self.assertIn(reading.phase, phases | {None}, reading.id)
            self.assertLessEqual(set(kind.proof.phases), phases)
            self.assertLessEqual(set(kind.asked), set(kind.reading_ids))
            self.assertTrue(kind.asked)

    def test_limits_and_their_findings_name_readings_and_findings(self):
        for kind in self.each():
            for limit in kind.limits:
                self.assertIn(limit.reading, kind.reading_ids)
                self.assertTrue(limit.low is None or limit.high is None or limit.low < limit.high)
            for row in kind.limit_findings:
                self.assertIn(row.reading, kind.reading_ids)
                self.assertIsNotNone(kind.finding(row.code), row.code)

    def test_a_fault_speaks_for_a_cause_on_offer_and_leads_to_tests_on_offer(self):
        for kind in self.each():
            causes, tests = {c.key for c in kind.causes}, {t.key for t in kind.next_tests}
            for spec in (*kind.findings, *SETUP_FINDINGS):
                if spec.kind != "note":
                    self.assertIn(spec.cause, causes, spec.code)
                    self.assertLessEqual(set(spec.also), causes - {spec.cause}, spec.code)
                    self.assertTrue(spec.next_tests, spec.code)
                self.assertLessEqual(set(spec.next_tests), tests, spec.code)
            self.assertEqual(len(causes), len(kind.causes))
            self.assertEqual(len(tests), len(kind.next_tests))
            # Supply, ground and signal wire can be proved before any part, and the part can be renewed.
            self.assertGreaterEqual(sum(t.wires for t in kind.next_tests), 2, kind.code)
            self.assertEqual(sum(t.renews for t in kind.next_tests), 1, kind.code)

    def test_every_reading_says_what_a_hand_reads_it_by(self):
        for kind in self.each():
            for reading in kind.readings:
                allowed = max(reading.hand.of(1.0), reading.half_digit)
                self.assertGreater(allowed, 0, reading.id)
                self.assertIn("right", reading.taken)
                # A hand is finer than the figure itself, whatever the unit.
                self.assertLess(reading.hand.share, 0.51, reading.id)
            for reading in kind.readings:
                self.assertLessEqual({r for m in reading.mistaken for r in m.plus}, set(kind.reading_ids), reading.id)

    def test_what_shows_a_sound_part_is_declared_and_never_the_whole_record(self):
        for kind in self.each():
            proof = kind.proof
            self.assertTrue(proof.phases or proof.events or proof.turns or proof.steady_s, kind.code)

    def test_findings_show_where_there_is_something_to_show_them(self):
        for kind in self.each():
            phases = {p.name for p in kind.phases}
            for spec in kind.findings:
                self.assertLessEqual(set(spec.shows), phases | {"events", "record"}, spec.code)

    def test_cautions_and_setting_up_are_there_for_every_circuit(self):
        for kind in self.each():
            self.assertGreaterEqual(len(kind.cautions), 2)
            self.assertTrue(any("licensed" in c.text for c in kind.cautions))
            self.assertTrue(kind.setup_advice)

    def test_set_up_findings_of_the_contract_are_found_by_their_code(self):
        for code in [
            "flat_line",
            "clipped",
            "undersampled",
            "too_short",
            "missing_phase",
            "reversed_polarity",
            "scale_suspect",
            "noisy",
            "over_filtered",
            "low_range_use",
            "probe_slip",
            "sweep_too_fast",
            "lanes_swapped",
            "condition_not_shown",
        ]:
            self.assertEqual(finding_spec(CIRCUITS["charging"], code).kind, "set-up")
