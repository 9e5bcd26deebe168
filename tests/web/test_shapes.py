"""Corridors and references that look alike, over the API."""

import unittest

import numpy as np

from tests.support.client import EMPTY_DOCUMENT, WebTest

RECORD = {"circuit": "throttle-position", "range_v": 10, "duration_s": 32, "rate_hz": 1_000, "ground": "sensor ground"}
COILS = {
    "circuit": "coil-primary-current",
    "range_v": 1,
    "duration_s": 0.5,
    "rate_hz": 50_000,
    "ground": "sensor ground",
}


class Shapes(WebTest):
    def reference(self, record=RECORD, part="T-9", publish=True, **more):
        teacher = self.caller("teacher")
        capture = teacher.post("/api/captures/trainer", {**record, **more}).json["capture"]
        document = {**EMPTY_DOCUMENT, "limits": [], "provenance": {**EMPTY_DOCUMENT["provenance"], "part": part}}
        made = teacher.post("/api/references", {"capture_id": capture["id"], "title": "One", "document": document})
        self.assertEqual(made.status_code, 201, made.data)
        if publish:
            self.assertEqual(teacher.post(f"/api/references/{made.json['id']}/publish").status_code, 200)
        return made.json["id"]

    def corridor(self, reference):
        found = self.caller("teacher").get(f"/api/references/{reference}/corridor")
        self.assertEqual(found.status_code, 200, found.data)
        return found.json

    def test_a_fleet_too_small_says_that_its_tolerances_are_stated(self):
        alone = self.corridor(self.reference(part="lonely"))
        self.assertEqual((alone["captures"], alone["coverage"]), (1, None))
        self.assertIn("Stated tolerances", alone["words"])
        self.assertTrue(alone["pieces"])
        self.assertFalse(any(piece["outside"] or piece["of_fleet"] for piece in alone["pieces"]))

    def test_a_fleet_has_a_corridor_that_a_fault_leaves_where_it_is(self):
        for _ in range(6):
            self.reference(part="T-fleet")
        teacher = self.caller("teacher")
        faulty = self.reference(part="T-fleet", publish=False, fault="worn-mid")
        answer = teacher.get(f"/api/references/{faulty}").json["answer"]
        self.assertEqual(answer["call"], "faulty")
        found = self.corridor(faulty)
        self.assertEqual(found["captures"], 6)
        self.assertGreaterEqual(found["inside"], 5)
        self.assertIn("Of 6 sound references", found["words"])
        outside = [span for piece in found["pieces"] for span in piece["outside"]]
        place = next(f for f in answer["findings"] if f["kind"] == "fault")
        self.assertTrue(any(a <= place["to"] + 0.05 and b >= place["from"] - 0.05 for a, b in outside), outside)
        sound = self.corridor(self.reference(part="T-fleet", publish=False))
        parts = [sum(b - a for a, b in p["outside"]) / (p["to"] - p["from"]) for p in sound["pieces"]]
        self.assertLess(np.mean(parts), 0.02)

    def test_of_events_the_corridor_lies_along_each_of_them(self):
        found = self.corridor(self.reference(COILS, "coil"))
        starts = [p["from"] for p in found["pieces"] if p["name"] == "event"]
        self.assertGreater(len(starts), 3)
        self.assertEqual(starts, sorted(starts))

    def test_a_record_without_phases_is_looked_at_as_a_whole(self):
        crank = {**RECORD, "circuit": "crank-position", "range_v": 50, "duration_s": 1, "rate_hz": 100_000}
        reference = self.reference(crank, "wheel")
        self.assertTrue(self.corridor(reference)["pieces"])
        self.reference(crank, "wheel", fault="damaged-tooth")
        found = self.caller("teacher").get(f"/api/references/{reference}/alike?lane=signal&from=0&to=1")
        self.assertEqual((found.status_code, found.json["name"]), (200, "record"))

    def test_what_looks_like_a_stretch_comes_first(self):
        teacher = self.caller("teacher")
        for fault in ("none", "worn-mid", "none", "none"):
            self.reference(part="look", fault=fault)
        asked = self.reference(part="look", fault="worn-mid", publish=False)
        answer = teacher.get(f"/api/references/{asked}").json["answer"]
        place = next(f for f in answer["findings"] if f["kind"] == "fault")
        phase = next(p for p in answer["phases"] if p["from"] <= place["from"] <= p["to"])
        query = f"lane=signal&from={phase['from']}&to={phase['to']}"
        found = teacher.get(f"/api/references/{asked}/alike?{query}").json
        self.assertEqual(found["name"], phase["name"])
        self.assertGreaterEqual(found["looked_at"], 4)
        self.assertNotIn(asked, [one["id"] for one in found["found"]])
        self.assertEqual(found["found"][0]["call"], "faulty")
        self.assertEqual([one["apart"] for one in found["found"]], sorted(one["apart"] for one in found["found"]))

    def test_a_stretch_that_tells_nothing_is_refused_in_words(self):
        teacher = self.caller("teacher")
        asked = self.reference(publish=False)
        for query, said in (
            ("lane=signal&from=0.1&to=0.11", "mark at least"),
            ("lane=signal&from=90&to=95", "no phase"),
        ):
            refused = teacher.get(f"/api/references/{asked}/alike?{query}")
            self.assertEqual(refused.status_code, 422, refused.data)
            self.assertIn(said, refused.json["detail"])
        self.assertEqual(teacher.get(f"/api/references/{asked}/alike?lane=x&from=0&to=1").status_code, 404)


if __name__ == "__main__":
    unittest.main()
