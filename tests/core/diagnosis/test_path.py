"""Minutes of a path: tests with their access, conditions once, a case's own costs."""

import unittest

from tests.core.diagnosis.cases import FOUR, capture, drop, loaded, record
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.offers import usual_min, vehicle_offers
from tracebench.core.diagnosis.path import spent


def minutes(*evidence, **more):
    return spent(case_from({"vehicle": FOUR, "evidence": list(evidence), **more}))


class Path(unittest.TestCase):
    def test_tests_with_their_access(self):
        path = (
            drop(),
            capture("coil-primary-current"),
            capture("secondary-voltage", at="1"),
            capture("pedal-position"),
            capture("pedal-position", at="pedal"),
            loaded("controller", supply=14.0),
        )
        self.assertEqual(minutes(*path), (6, 6 + 3, 6 + 2, 6 + 4, 6 + 8, 4))

    def test_a_condition_costs_once_for_all_that_follow_under_it(self):
        hot, warm = (capture("crank-position", conditions=c) for c in (("idle", "hot"), ("idle",)))
        self.assertEqual(minutes(hot, hot, warm, hot), (16 + 10, 16, 16, 16 + 10))
        # A snap is a load already.
        snap, load = (capture("manifold-pressure", conditions=c) for c in (("idle", "snap"), ("load",)))
        self.assertEqual(minutes(snap, load), (8, 8))

    def test_a_cases_own_cost_is_the_whole(self):
        path = [capture("crank-position", conditions=("hot",)), capture("charging", conditions=("hot",))]
        self.assertEqual(minutes(*path, costs={"crank-position": 5}), (5, 11))
        self.assertEqual(minutes(*path, costs={"hot": 1}), (17, 11))

    def test_a_repair_costs_its_part_and_a_log_nothing(self):
        trial = record("repair", {"cause": "case-ground", "cured": "no"}, {"cause": "coil-weak@1", "cured": "no"})
        log = record("log", {"at_s": 1, "action": "wiggle", "where": "loom"})
        self.assertEqual(minutes(trial, log), (90 + 10, 0))

    def test_what_is_on_offer_costs_what_it_will_have_cost(self):
        vehicle = case_from({"vehicle": FOUR}).vehicle
        for offer in vehicle_offers(vehicle):
            self.assertEqual(offer.minutes, usual_min(offer.test, offer.place, vehicle), offer)


if __name__ == "__main__":
    unittest.main()
