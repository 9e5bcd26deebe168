"""What evidence makes of the suspects: rules of practice, each told as a case."""

import unittest

from tests.core.diagnosis.cases import FOUR, RAIL, capture, drop, first, loaded, moved, of, record, suspected


class Suspects(unittest.TestCase):
    def test_a_vehicle_has_its_own_causes_only(self):
        petrol, diesel = (suspected(v, "hesitates")["suspects"] for v in (FOUR, RAIL))
        for answer in (petrol, diesel):
            self.assertAlmostEqual(sum(s["probability"] for s in answer), 1.0, 9)
            self.assertEqual(
                [s["probability"] for s in answer], sorted((s["probability"] for s in answer), reverse=True)
            )
            self.assertIn("normal-behaviour", [s["cause"] for s in answer])
        names = {s["cause"] for s in petrol}
        self.assertLessEqual({"coil-weak@4", "pedal-track-worn@track2", "reference-lost@A", "command-driven"}, names)
        self.assertFalse([n for n in names if n.startswith(("rail-", "piezo", "airflow", "lead-")) or n.endswith("@5")])
        names = {s["cause"] for s in diesel}
        self.assertLessEqual({"piezo-to-body@1", "rail-regulator", "airflow-contaminated", "reference-lost@B"}, names)
        self.assertFalse([n for n in names if n.startswith(("coil", "plug", "oxygen", "throttle-track", "command"))])

    def test_coils_stand_where_they_serve(self):
        paired = {**FOUR, "ignition": "paired-coils"}
        names = {s["cause"] for s in suspected(paired, "misfire")["suspects"]}
        # 1-3-4-2: 1 fires with 4 and 3 with 2.
        self.assertLessEqual({"coil-weak@1+4", "coil-weak@2+3", "lead-open@3", "plug-fouled@4"}, names)
        one = {s["cause"] for s in suspected({**FOUR, "ignition": "distributor"}, "misfire")["suspects"]}
        self.assertLessEqual({"coil-weak", "lead-open@1"}, one)

    def test_towers_of_a_paired_coil_fail_one_at_a_time_and_the_coil_is_one_part(self):
        paired = {**FOUR, "ignition": "paired-coils"}
        one_tower = [drop(4), capture("secondary-voltage", [("no_burn", 4)])]
        answer = suspected(paired, "misfire", *one_tower)
        self.assertIn("coil-secondary-open@1+4", [s["cause"] for s in answer["suspects"][:3]])
        # The coil moves as a whole, whichever of its cylinders names it.
        for named in ("1+4", "coil@4", "1"):
            answer = suspected(paired, "misfire", *one_tower, moved("coil", named, "2+3"))
            self.assertEqual(first(answer), "coil-secondary-open@1+4", named)
            self.assertGreater(answer["suspects"][0]["probability"], 0.9, named)

    def test_a_road_test_tells_what_it_is_proposed_for(self):
        """A second symptom that occurs speaks for what can make both; one that does not, against what makes it."""
        row = {"symptom": "overcharge", "occurred": "yes"}
        with_it, without = (
            suspected(FOUR, "warning-lamp", record("road-test", {**row, "occurred": how})) for how in ("yes", "no")
        )
        plain = suspected(FOUR, "warning-lamp")

        def odds(answer):
            return of(answer, "case-ground")["probability"] / of(answer, "crank-tooth-damaged")["probability"]

        self.assertAlmostEqual(odds(with_it) / odds(plain), 4.0, delta=0.1)
        self.assertAlmostEqual(odds(without) / odds(plain), 0.25, delta=0.01)
        # Not seen without the complaint's condition, it says nothing.
        cool = suspected(FOUR, "warning-lamp", record("road-test", {**row, "occurred": "no"}), when=["hot"])
        self.assertAlmostEqual(odds(cool), odds(suspected(FOUR, "warning-lamp", when=["hot"])), 9)

    def test_a_log_tells_nothing_alone(self):
        log = record("log", {"at_s": 2, "action": "wiggle", "where": "loom"}, conditions=("moved",))
        plain, told = suspected(FOUR, "stalls"), suspected(FOUR, "stalls", log)
        self.assertEqual(
            [(s["cause"], round(s["probability"], 12)) for s in plain["suspects"]],
            [(s["cause"], round(s["probability"], 12)) for s in told["suspects"]],
        )
        self.assertNotIn("log", {n["test"] for n in told["next"]})

    def test_a_symptom_that_a_cause_cannot_make(self):
        answer = suspected(FOUR, "overcharge")
        before = suspected(FOUR, "none")
        coil, alternator = (of(a, c)["probability"] for a, c in ((answer, "coil-weak@1"), (answer, "case-ground")))
        was = of(before, "coil-weak@1")["probability"] / of(before, "case-ground")["probability"]
        # The coil's condition stays what it was, so that only the symptom tells.
        self.assertAlmostEqual(coil / alternator / was, 0.02, delta=0.004)

    def test_history_and_codes_weigh_and_prove_nothing(self):
        plain = suspected(FOUR, "misfire")
        renewed = suspected(FOUR, "misfire", renewed=["plug@2"])
        named = suspected(FOUR, "misfire", codes=["misfire@2"])

        def odds(answer):
            return of(answer, "plug-fouled@2")["probability"] / of(answer, "plug-fouled@3")["probability"]

        self.assertAlmostEqual(odds(plain), 1.0, 9)
        self.assertAlmostEqual(odds(renewed), 0.3, delta=0.03)
        self.assertAlmostEqual(odds(named), 5.0, delta=0.3)
        for answer in (renewed, named, suspected(FOUR, "overcharge", codes=["charging"] * 6)):
            self.assertFalse(any(s["ruled_out"] for s in answer["suspects"]))
            self.assertFalse(answer["supported"])

    def test_a_code_of_a_circuit_names_what_can_set_it(self):
        answer = suspected(FOUR, "no-power", codes=[{"code": "throttle-position", "what": "low"}])
        self.assertGreater(
            of(answer, "throttle-level-low")["probability"], of(answer, "crank-sensor-weak")["probability"]
        )
        plain = suspected(FOUR, "no-power")
        for cause in ("reference-lost@A", "sensor-ground-open"):
            self.assertGreater(of(answer, cause)["probability"], of(plain, cause)["probability"])
        self.assertLess(of(answer, "reference-lost@B")["probability"], of(plain, "reference-lost@B")["probability"])

    def test_a_pass_without_the_condition_rules_nothing_out(self):
        cool = capture("coil-primary-current", conditions=("idle", "warm"))
        hot = capture("coil-primary-current", conditions=("idle", "hot"))
        for evidence, out in (([cool], False), ([cool] * 5, False), ([hot], True)):
            answer = suspected(FOUR, "misfire", *evidence, when=["hot"])
            self.assertIs(of(answer, "coil-winding-shorted@1")["ruled_out"], out, len(evidence))

    def test_without_the_condition_a_tenth_of_its_strength_is_missed(self):
        def odds(*evidence):
            answer = suspected(FOUR, "stalls", *evidence, when=["hot"])
            return of(answer, "crank-tooth-damaged")["probability"] / of(answer, "temperature-open")["probability"]

        self.assertAlmostEqual(odds(capture("crank-position")) / odds(), 1 - 0.1 * 0.99, delta=0.005)
        self.assertAlmostEqual(odds(capture("crank-position", conditions=("hot",))) / odds(), 0.01, delta=0.005)

    def test_two_that_show_it_mostly_rule_out_as_one_that_shows_it_surely(self):
        current = capture("injector-current", at="3")
        voltage = capture("injector-voltage", at="3", readings=[("supply_v", 14.0)])
        once, twice = (suspected(FOUR, "misfire", *e) for e in ([voltage], [voltage, current]))
        self.assertFalse(of(once, "injector-stuck@3")["ruled_out"])
        self.assertTrue(of(twice, "injector-stuck@3")["ruled_out"])
        self.assertTrue(of(once, "injector-driver@3")["ruled_out"])
        # Nothing was seen of the neighbour.
        self.assertFalse(of(twice, "injector-driver@2")["ruled_out"])

    def test_a_capture_that_cannot_tell_clears_nothing(self):
        blurred = capture("crank-position", call="inconclusive")
        self.assertFalse(of(suspected(FOUR, "stalls", blurred), "crank-tooth-damaged")["ruled_out"])
        self.assertTrue(of(suspected(FOUR, "stalls", capture("crank-position")), "crank-tooth-damaged")["ruled_out"])

    def test_a_fault_counts_though_the_condition_was_not_there(self):
        answer = suspected(FOUR, "stalls", capture("crank-position", ["weak_amplitude"]), when=["hot"])
        self.assertEqual(first(answer), "crank-sensor-weak")
        self.assertEqual(of(answer, "crank-sensor-weak")["for"], [0])

    def test_the_cylinder_that_does_not_contribute(self):
        answer = suspected(FOUR, "misfire", drop(3))
        places = [s["cause"].rpartition("@")[2] for s in answer["suspects"][:12]]
        self.assertEqual(set(places), {"3"})
        self.assertIn(0, of(answer, "coil-weak@2")["against"] + of(answer, "injector-open@2")["against"])
        alone = suspected(
            FOUR, "misfire", record("cylinder-drop", {"cylinder": 3, "before_rpm": 780, "disabled_rpm": 778})
        )
        self.assertEqual(first(alone).rpartition("@")[2], "3")

    def test_what_moved_is_the_part_and_what_stayed_is_not(self):
        seen = [drop(2), moved("coil", "coil@2", "coil@1")]
        answer = suspected(FOUR, "misfire", *seen)
        self.assertTrue(first(answer).startswith("coil-") and first(answer).endswith("@2"))
        for cause in ("plug-gap-wide@2", "injector-open@2", "cylinder-mechanical@2", "coil-driver@2"):
            self.assertTrue(of(answer, cause)["ruled_out"], cause)
        stayed = suspected(FOUR, "misfire", drop(2), moved("coil", "2", "1", "no"))
        self.assertTrue(of(stayed, "coil-winding-shorted@2")["ruled_out"])
        self.assertFalse(of(stayed, "coil-driver@2")["ruled_out"])

    def test_a_reference_that_comes_back_with_one_unplugged(self):
        lost = capture("throttle-position", ["reference_low"], conditions=("key_on",))
        pedal = capture("pedal-position", [{"code": "reference_lost", "lane": "reference1"}], conditions=("key_on",))
        both = suspected(FOUR, "no-power", lost, pedal)
        self.assertIn(first(both).partition("@")[0], ("reference-lost", "reference-dragged"))
        rows = [{"unplugged": c, "came_back": "no"} for c in ("throttle-position", "pedal-position")]
        back = [*rows, {"unplugged": "manifold-pressure", "came_back": "yes"}]
        answer = suspected(FOUR, "no-power", lost, pedal, record("unplug-one-by-one", *back, at="A"))
        self.assertEqual(first(answer), "reference-dragged@A:manifold-pressure")
        self.assertTrue(answer["supported"])
        kept = [*rows, {"unplugged": "manifold-pressure", "came_back": "no"}]
        answer = suspected(FOUR, "no-power", lost, pedal, record("unplug-one-by-one", *kept, at="A"))
        self.assertEqual(first(answer), "reference-lost@A")
        self.assertEqual(answer["supported"], False)
        proven = loaded("controller", supply=14.0, ground=0.02)
        answer = suspected(FOUR, "no-power", lost, pedal, record("unplug-one-by-one", *kept, at="A"), proven)
        self.assertTrue(answer["supported"], answer["why_not"])

    def test_a_track_lost_while_its_reference_stays(self):
        lost = {"code": "track_lost", "lane": "track2"}
        answer = suspected(FOUR, "no-power", capture("pedal-position", [lost], conditions=("key_on", "moved")))
        self.assertTrue(first(answer).startswith("pedal-") and first(answer).endswith("@track2"), first(answer))
        with_it = [lost, {"code": "reference_lost", "lane": "reference2"}]
        answer = suspected(FOUR, "no-power", capture("pedal-position", with_it, conditions=("key_on", "moved")))
        self.assertIn("@B", first(answer))

    def test_overcharge_is_explained_by_what_else_is_seen(self):
        flat = [("sense_v", 16.4), ("case_ground_max_v", 0.03)]
        plain = suspected(FOUR, "overcharge", capture("charging", ["overcharge"], readings=flat))
        self.assertEqual(first(plain), "regulator-internal")
        for cause in ("case-ground", "command-driven"):
            self.assertTrue(of(plain, cause)["ruled_out"], cause)
        lifted = suspected(FOUR, "overcharge", capture("charging", ["overcharge", "ground_lifted"]))
        self.assertEqual(first(lifted), "case-ground")
        driven = suspected(FOUR, "overcharge", capture("charging", ["overcharge", "command_driven"]))
        self.assertEqual(first(driven), "command-driven")

    def test_late_timing_shifts_the_cam_and_a_restricted_exhaust_does_not(self):
        slow = capture("manifold-pressure", ["slow_rise"], conditions=("idle", "snap"))
        cam = [capture("crank-position", found) for found in ([], ["cam_phase_shift"])]
        straight, late = (suspected(FOUR, "no-power", slow, c) for c in cam)
        self.assertEqual((first(straight), first(late)), ("exhaust-restricted", "valve-timing-late"))
        self.assertTrue(of(straight, "valve-timing-late")["ruled_out"])

    def test_only_resistance_to_the_body_says_which_piezo(self):
        off = capture("injector-piezo", ["power_stage_off"])
        which = [
            record("resistance", {"terminals": "pin 1 to body", "value": v, "unit": "kohm"}, at=f"injector@{n}")
            for n, v in ((1, "infinite"), (2, "40"))
        ]
        answer = suspected(RAIL, "no-start", off)
        even = {round(of(answer, f"piezo-to-body@{n}")["probability"], 9) for n in (1, 2, 3, 4)}
        self.assertEqual(len(even), 1)
        answer = suspected(RAIL, "no-start", off, *which)
        self.assertEqual(first(answer), "piezo-to-body@2")
        self.assertTrue(answer["supported"])
        self.assertTrue(of(answer, "piezo-to-body@1")["ruled_out"])

    def test_a_repair_on_trial(self):
        two = [drop(1), capture("secondary-voltage", [("high_firing", 1)], at="1")]
        before = suspected(FOUR, "misfire", *two)
        cured, not_cured = (
            suspected(FOUR, "misfire", *two, record("repair", {"cause": "plug-gap-wide@1", "cured": how}))
            for how in ("yes", "no")
        )
        odds = [
            of(a, "plug-gap-wide@1")["probability"] / of(a, "coil-weak@1")["probability"]
            for a in (before, cured, not_cured)
        ]
        self.assertIn(2, of(cured, "plug-gap-wide@1")["for"])
        self.assertIn(2, of(not_cured, "plug-gap-wide@1")["against"])
        self.assertAlmostEqual(odds[1] / odds[0], 20.0, delta=2.5)
        self.assertAlmostEqual(odds[2] / odds[0], 0.05, delta=0.04)

    def test_two_causes_that_one_alone_cannot_explain(self):
        answer = suspected(
            FOUR,
            ["misfire", "overcharge"],
            capture("secondary-voltage", [("low_firing", 2)], at="2"),
            capture("charging", ["overcharge", "ground_lifted"]),
            record("look-and-move", {"what": "plugs", "seen": "faulty"}, at="plug@2"),
        )
        self.assertEqual(answer["pairs"][0]["causes"], ["plug-fouled@2", "case-ground"])
        self.assertGreater(answer["pairs"][0]["probability"], 0.9)
        self.assertAlmostEqual(sum(s["probability"] for s in answer["suspects"]), 1.0, 9)
        self.assertTrue(answer["supported"], answer["why_not"])

    def test_scan_data_tell_less_than_a_lane(self):
        """Clean scan data halve a sensor that a clean lane rules out."""
        scan = record("scan-data", {"parameter": "coolant", "value": 88, "unit": "°C"})

        def odds(*evidence):
            answer = suspected(FOUR, "rich", *evidence)
            return of(answer, "temperature-open")["probability"] / of(answer, "injector-open@1")["probability"]

        self.assertAlmostEqual(odds(scan) / odds(), 0.5, delta=0.03)
        self.assertLess(odds(capture("temperature")) / odds(), 0.03)

    def test_lean_at_idle_is_air_and_lean_under_load_is_fuel(self):
        def trim(condition):
            row = {"parameter": "fuel trim", "value": 19, "unit": "%"}
            return record("scan-data", row, conditions=(condition,))

        self.assertEqual(first(suspected(FOUR, "lean", trim("idle"))), "vacuum-leak")
        self.assertEqual(first(suspected(FOUR, "lean", trim("load"))), "fuel-delivery-weak")


if __name__ == "__main__":
    unittest.main()
