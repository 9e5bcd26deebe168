"""Records beside a capture over the API: kept, judged, taken away; a learner is told what they say once released."""

from tests.support.client import EMPTY_DOCUMENT, WebTest

STACK = {"terminals": "pin to body", "value": "12", "unit": "kohm", "low": "infinite", "high": ""}


class Records(WebTest):
    def capture(self):
        body = {"circuit": "injector-piezo", "range_v": 20, "duration_s": 0.3, "rate_hz": 200_000}
        made = self.caller("teacher").post(
            "/api/captures/trainer", {**body, "ground": "sensor ground", "fault": "none"}
        )
        self.assertEqual(made.status_code, 201, made.data)
        return f"/api/captures/{made.json['capture']['id']}/records"

    def test_kept_judged_and_taken_away(self):
        teacher, path = self.caller("teacher"), self.capture()
        self.assertEqual(teacher.get(path).json, [])
        kept = teacher.post(path, {"kind": "resistance", "rows": [STACK]})
        self.assertEqual(kept.status_code, 201, kept.data)
        record = kept.json[0]
        self.assertEqual(record["said"]["findings"][0]["code"], "leak_to_body")
        self.assertEqual(record["rows"][0]["value"], "12")
        self.assertEqual(teacher.get(path).json, kept.json)
        self.assertEqual(teacher.delete(f"{path}/{record['id']}").json, [])
        self.assertEqual(teacher.delete(f"{path}/{record['id']}").status_code, 404)

    def test_a_row_that_makes_no_sense_keeps_nothing(self):
        teacher, path = self.caller("teacher"), self.capture()
        refused = teacher.post(path, {"kind": "resistance", "rows": [STACK, {**STACK, "value": "lots"}]})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("row 2: Value", refused.json["detail"])
        self.assertEqual(teacher.get(path).json, [])

    def test_a_log_is_held_against_what_the_capture_shows(self):
        teacher = self.caller("teacher")
        body = {"circuit": "charging", "range_v": 20, "duration_s": 20, "rate_hz": 1000, "ground": "sensor ground"}
        made = teacher.post("/api/captures/trainer", {**body, "fault": "regulator"}).json["capture"]
        path = f"/api/captures/{made['id']}/records"
        rows = [{"at_s": at, "action": "tap", "where": "regulator"} for at in ("4.0", "8.6")]
        kept = teacher.post(path, {"kind": "log", "rows": rows}).json
        self.assertEqual([r["state"] for r in kept[0]["said"]["rows"]], ["inside", "outside"])
        self.assertIn("overcharge follows", kept[0]["said"]["findings"][0]["text"])

    def test_a_log_is_held_against_the_findings_of_the_reference_with_its_own_limits(self):
        teacher = self.caller("teacher")
        body = {"circuit": "injector-current", "range_v": 2, "duration_s": 0.5, "rate_hz": 100_000}
        made = teacher.post("/api/captures/trainer", {**body, "ground": "sensor ground", "fault": "late"}).json[
            "capture"
        ]
        path = f"/api/captures/{made['id']}/records"
        row = {"at_s": "0", "action": "cool", "where": "injector"}
        self.assertEqual(teacher.post(path, {"kind": "log", "rows": [row]}).json[0]["said"]["findings"], [])
        limit = {"reading": "pintle_ms", "low": None, "high": 1.4, "basis": "maker"}
        document = {**EMPTY_DOCUMENT, "limits": [limit]}
        teacher.post("/api/references", {"capture_id": made["id"], "title": "Late", "document": document})
        self.assertIn("late pintle follows", teacher.get(path).json[0]["said"]["findings"][0]["text"])

    def test_kinds_say_their_columns_and_cautions(self):
        kinds = self.caller("teacher").get("/api/record-kinds").json
        self.assertEqual(len(kinds), 12)
        self.assertTrue(all(k["cautions"] and k["columns"] for k in kinds))


class OfASitting(WebTest):
    """A learner's own records: kept with the capture, judged for the desk, and said to the learner after release."""

    SETTINGS = {"range_v": 20, "duration_s": 20, "rate_hz": 1000, "ground": "sensor ground"}
    TAP = {"at_s": "8.6", "action": "tap", "where": "regulator"}

    def begun(self):
        card = self.published_card(
            title="Lamps flare",
            circuit="charging",
            source={"kind": "trainer", "fault": "regulator", "severity": 1.0},
            steps=[{"kind": "capture", "reading": None, "prompt": ""}],
        )
        learner = self.caller("ann")
        return learner, f"/api/sittings/{learner.post(f'/api/cards/{card}/sittings').json['id']}"

    def test_from_the_learner_to_the_desk_and_back(self):
        learner, sitting = self.begun()
        early = learner.post(f"{sitting}/records", {"kind": "log", "rows": [self.TAP]})
        self.assertEqual((early.status_code, "take the capture first" in early.json["detail"]), (409, True))
        learner.post(f"{sitting}/record", self.SETTINGS)
        kept = learner.post(f"{sitting}/records", {"kind": "log", "rows": [self.TAP]})
        self.assertEqual(kept.status_code, 201, kept.data)
        self.assertEqual((kept.json[0]["rows"], kept.json[0]["said"]), ([self.TAP], None))
        wrong = learner.post(f"{sitting}/records", {"kind": "log", "rows": [{**self.TAP, "at_s": "soon"}]})
        self.assertEqual(wrong.status_code, 422)
        learner.post(f"{sitting}/hand-in", {"incomplete_ok": True})
        self.assertEqual([r["said"] for r in learner.get(f"{sitting}/records").json], [None])

        teacher, number = self.caller("teacher"), sitting.split("/")[-1]
        sheet = teacher.get(f"/api/marking/{number}").json
        self.assertIn("overcharge follows", sheet["records"][0]["said"]["findings"][0]["text"])
        self.assertEqual(sheet["records"][0]["author"], sheet["learner"])
        teacher.post(f"/api/marking/{number}/release")
        self.assertEqual(learner.get(sitting).json["feedback"]["records"], sheet["records"])
        self.assertEqual(learner.get(f"{sitting}/records").json, sheet["records"])

    def test_a_log_of_an_earlier_recording_is_kept_and_not_held_against_the_new_one(self):
        learner, sitting = self.begun()
        learner.post(f"{sitting}/record", self.SETTINGS)
        learner.post(f"{sitting}/records", {"kind": "log", "rows": [self.TAP]})
        learner.post(f"{sitting}/records", {"kind": "resistance", "rows": [STACK]})
        learner.post(f"{sitting}/record", self.SETTINGS)
        self.assertEqual([r["earlier"] for r in learner.get(f"{sitting}/records").json], [True, False])
        learner.post(f"{sitting}/hand-in", {"incomplete_ok": True})
        sheet = self.caller("teacher").get(f"/api/marking/{sitting.split('/')[-1]}").json
        self.assertEqual(sheet["records"][0]["said"]["findings"], [])
        self.assertEqual(sheet["records"][1]["said"]["findings"][0]["code"], "leak_to_body")

    def test_taken_away_by_the_learner_alone_and_while_it_is_open(self):
        learner, sitting = self.begun()
        learner.post(f"{sitting}/record", self.SETTINGS)
        first, second = (
            learner.post(f"{sitting}/records", {"kind": "resistance", "rows": [STACK]}).json[-1]["id"] for _ in "ab"
        )
        self.assertEqual(self.caller("ben").delete(f"{sitting}/records/{first}").status_code, 404)
        left = learner.delete(f"{sitting}/records/{first}").json
        self.assertEqual([r["id"] for r in left], [second])
        self.assertEqual(learner.delete(f"{sitting}/records/{first}").status_code, 404)
        learner.post(f"{sitting}/hand-in", {"incomplete_ok": True})
        self.assertEqual(learner.delete(f"{sitting}/records/{second}").status_code, 409)
