"""A whole vehicle on the trainer: one cause shows in every circuit and record, where and when it should."""

import unittest

from tracebench.bench.sources import SOURCES
from tracebench.bench.whole.faults import FAULTS, FEED, OHMS, on_the_trainer
from tracebench.bench.whole.vehicle import WholeVehicle
from tracebench.core.circuits import measure
from tracebench.core.diagnosis.causes import vehicle_causes
from tracebench.core.diagnosis.kinds import KINDS
from tracebench.core.diagnosis.offers import vehicle_offers
from tracebench.core.diagnosis.vehicle import Vehicle
from tracebench.core.errors import BadOption

FOUR = Vehicle("petrol", 4, "coil-on-plug", "port", (1, 3, 4, 2), "electronic", ("manifold-pressure",), "switching")
PIEZO = Vehicle("diesel", 4, "none", "rail-piezo", (), "electronic", ("airflow-voltage",))


def on(vehicle, *ids, **more):
    """A vehicle with causes by their ids, as a case names them."""
    causes = tuple(c for c in vehicle_causes(vehicle) if c.id in ids)
    assert len(causes) == len(ids), ids
    return WholeVehicle(vehicle, causes, 7, **more)


def offer(vehicle, test, at="", what=""):
    return next(o for o in vehicle_offers(vehicle) if (o.test, o.place.text) == (test, at) and o.what in (what, ""))


def found(taken):
    answer = measure(taken.capture, taken.offer.test, options=dict(taken.options), limits=taken.limits)
    return {(f.code, f.cylinder) for f in answer.findings if f.kind == "fault"}


class Tables(unittest.TestCase):
    def test_they_name_causes_and_faults_that_there_are(self):
        for cause, by_circuit in FAULTS.items():
            self.assertIn(cause.partition("@")[0], KINDS)
            for circuit, fault in by_circuit.items():
                self.assertIn(fault, {f.key for f in SOURCES[circuit].faults}, f"{cause} in {circuit}")
        for kind in (*FEED, *(k for of in OHMS.values() for k in of)):
            self.assertIn(kind, KINDS)

    def test_what_is_drawn_shows_in_the_circuits_that_would_rule_it_out(self):
        """A cause that a circuit shows surely has a fault there, or is not drawn: else its capture would clear it."""
        for vehicle in (FOUR, PIEZO):
            for cause in (c for c in vehicle_causes(vehicle) if on_the_trainer(c, vehicle)):
                taken = on(vehicle, cause.id)
                for o in vehicle_offers(vehicle):
                    sure = [
                        s for s in cause.shows if s.test == o.test and s.strength > 0.9 and s.at in ("", o.place.name)
                    ]
                    if o.test not in SOURCES or not sure or o.place.cylinders != cause.cylinders[:1]:
                        continue
                    self.assertTrue(taken._fault(o, cause), f"{cause.id} in {o.test} at {o.place.text}")


class OneCause(unittest.TestCase):
    def test_a_dead_driver_shows_at_its_cylinder_in_each_circuit(self):
        vehicle = on(FOUR, "coil-driver@2")
        current = vehicle.do(offer(FOUR, "coil-primary-current", "fuse"), ["idle"])
        self.assertEqual(found(current), {("missing_ramp", 2)})
        rows = vehicle.do(offer(FOUR, "cylinder-drop"), ["idle"]).rows
        falls = {int(r["cylinder"]): int(r["before_rpm"]) - int(r["disabled_rpm"]) for r in rows}
        self.assertEqual(min(falls, key=falls.get), 2)
        self.assertLess(falls[2], 0.2 * max(falls.values()))
        elsewhere = vehicle.do(offer(FOUR, "coil-primary-voltage", "3"), ["idle"])
        self.assertEqual(found(elsewhere), set())

    def test_a_lost_reference_takes_every_sensor_on_it_and_no_other(self):
        vehicle = on(FOUR, "reference-lost@A")
        self.assertIn(
            "reference_low", {c for c, _ in found(vehicle.do(offer(FOUR, "throttle-position", "throttle"), []))}
        )
        volts = {
            at: {r["point"]: float(r["volts"]) for r in vehicle.do(offer(FOUR, "voltage", at), []).rows}
            for at in ("throttle", "manifold", "controller")
        }
        self.assertTrue(all(v["reference"] < 4 for v in volts.values()), volts)
        self.assertTrue(all(v["ground"] < 0.1 for v in volts.values()), volts)
        unplugged = vehicle.do(offer(FOUR, "unplug-one-by-one", "A"), []).rows
        self.assertEqual({r["came_back"] for r in unplugged}, {"no"})

    def test_the_one_that_drags_it_down_brings_it_back(self):
        rows = on(FOUR, "reference-dragged@A:manifold-pressure").do(offer(FOUR, "unplug-one-by-one", "A"), []).rows
        back = [r["unplugged"] for r in rows if r["came_back"] == "yes"]
        self.assertEqual(back, ["manifold-pressure"])

    def test_what_moves_is_the_part(self):
        vehicle = on(FOUR, "plug-fouled@3")
        moved = {
            (part, n): vehicle.do(offer(FOUR, "swap", f"{part}@{n}", part), ["idle"]).rows[0]["moved"]
            for part in ("plug", "coil")
            for n in (2, 3)
        }
        self.assertEqual([k for k, v in moved.items() if v == "yes"], [("plug", 3)])

    def test_only_the_leaking_piezo_leaks_to_its_body(self):
        vehicle = on(PIEZO, "piezo-to-body@2")
        body = {n: vehicle.do(offer(PIEZO, "resistance", f"injector@{n}"), []).rows[1]["value"] for n in (1, 2, 3, 4)}
        self.assertEqual([n for n, value in body.items() if value != "infinite"], [2])

    def test_a_sound_vehicle_shows_nothing(self):
        vehicle = on(FOUR)
        for test, at in (
            ("throttle-position", "throttle"),
            ("coil-primary-current", "fuse"),
            ("charging", "alternator"),
        ):
            self.assertEqual(found(vehicle.do(offer(FOUR, test, at), ["idle"])), set(), test)

    def test_without_its_condition_it_shows_once_in_ten(self):
        vehicle, drop = on(FOUR, "coil-weak@1"), offer(FOUR, "cylinder-drop")

        def shows(conditions, number):
            first = vehicle.do(drop, conditions, number).rows[0]
            return int(first["before_rpm"]) - int(first["disabled_rpm"]) < 40

        self.assertTrue(all(shows(["idle", "load"], k) for k in range(30)))
        self.assertAlmostEqual(sum(shows(["idle"], k) for k in range(600)) / 600, 0.1, delta=0.04)

    def test_the_same_test_once_more_has_noise_of_its_own_and_the_same_seed_the_same(self):
        drop = offer(FOUR, "cylinder-drop")
        once, again, other = (on(FOUR, "coil-weak@1").do(drop, ["load"], k).rows for k in (1, 1, 2))
        self.assertEqual(once, again)
        self.assertNotEqual(once, other)

    def test_a_record_that_it_does_not_take_is_said(self):
        with self.assertRaisesRegex(BadOption, "repair"):
            on(FOUR).do(type(offer(FOUR, "scan-data"))("repair", offer(FOUR, "scan-data").place, 1.0), [])


if __name__ == "__main__":
    unittest.main()
