"""Suspects through the API, and cases drawn on the trainer: the core's answers, and nothing for learners."""

from tests.support.client import WebTest

VEHICLE = {
    "fuel": "petrol",
    "cylinders": 4,
    "ignition": "coil-on-plug",
    "injection": "port",
    "load_sensor": ["manifold-pressure"],
    "oxygen": "switching",
}
DEAD = [{"cylinder": n, "before_rpm": 790, "disabled_rpm": 788 if n == 2 else 680} for n in (1, 2, 3, 4)]
CASE = {
    "vehicle": VEHICLE,
    "complaint": {"symptoms": ["misfire"], "when": []},
    "evidence": [{"test": "cylinder-drop", "conditions": ["idle"], "rows": DEAD}],
}


class Diagnosis(WebTest):
    def suspects(self, case, who="teacher"):
        return self.caller(who).post("/api/diagnosis/suspects", {"case": case})

    def test_suspects_in_words(self):
        answer = self.suspects(CASE).json
        self.assertEqual(answer["suspects"][0]["place"], "2")
        self.assertAlmostEqual(sum(s["probability"] for s in answer["suspects"]), 1.0, 9)
        self.assertIn("title", answer["next"][0])
        self.assertIn("2", answer["places"]["secondary-voltage"])
        self.assertNotIn("@", answer["why_not"][0])

    def test_what_is_wrong_with_a_case_is_said(self):
        refused = self.suspects({**CASE, "vehicle": {**VEHICLE, "cylinders": 12}})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("vehicle.cylinders", refused.json["detail"])

    def test_a_drawn_case_is_solved_by_its_own_proposals(self):
        """The same seed draws the same cause; each proposal is done on the trainer until one cause is supported."""
        teacher = self.caller("teacher")
        seed = 11
        twice = [teacher.post("/api/diagnosis/drawn", {"vehicle": VEHICLE, "seed": seed}).json for _ in range(2)]
        self.assertEqual(twice[0], twice[1])
        drawn = twice[0]
        complaint = {"symptoms": drawn["symptoms"], "when": drawn["when"]}
        case = {"vehicle": VEHICLE, "complaint": complaint, "evidence": []}
        for _ in range(15):
            answer = self.suspects(case).json
            if answer["supported"] or not answer["next"]:
                break
            best = answer["next"][0]
            body = {k: best[k] for k in ("test", "at", "what", "conditions")}
            done = teacher.post("/api/diagnosis/done", {"case": case, "cause": drawn["cause"], "seed": seed, **body})
            self.assertEqual(done.status_code, 200, done.json)
            piece = {
                k: done.json[k] for k in ("test", "at", "conditions", "answer", "rows") if done.json[k] is not None
            }
            if done.json["capture_id"]:
                kept = teacher.get(f"/api/captures/{done.json['capture_id']}")
                self.assertEqual(kept.json["circuit"], best["test"])
            case["evidence"].append(piece)
        self.assertTrue(answer["supported"], (drawn, answer["why_not"]))
        self.assertEqual(answer["suspects"][0]["cause"], drawn["cause"])

    def test_a_cause_that_the_vehicle_cannot_have(self):
        body = {"case": CASE, "cause": "piezo-to-body@1", "seed": 1, "test": "voltage", "at": "coil@1"}
        refused = self.caller("teacher").post("/api/diagnosis/done", {**body, "what": "", "conditions": []})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("piezo-to-body@1", refused.json["detail"])
        body["cause"] = "coil-weak@1"
        refused = self.caller("teacher").post(
            "/api/diagnosis/done", {**body, "at": "boot", "what": "", "conditions": []}
        )
        self.assertIn("boot", refused.json["detail"])
