"""Steps that hold a reading beside a capture from the shelf: what is kept, what is shown, and to whom."""

import json
import unittest

from tests.support.client import WebTest, csv_of, work
from tests.support.waves import Sweep

HIGH = Sweep(rate_hz=500, closed_v=0.90)


def steps(version_id, **more):
    step = {"kind": "compare", "reading": "closed_v", "prompt": "", "against": "before", **more}
    return [
        {"kind": "capture", "prompt": "Take it"},
        {"kind": "reading", "reading": "closed_v", "prompt": "Closed?"},
        {**step, "version_id": version_id},
        {"kind": "call", "prompt": "Call"},
    ]


class Beside(WebTest):
    def setUp(self):
        super().setUp()
        self.teacher = self.caller("teacher")
        self.before = self.published_reference(HIGH)

    def card(self, card_steps=None, **more):
        sound = self.published_reference()["version_id"]
        return self.published_card(version_id=sound, steps=card_steps or steps(self.before["version_id"], **more))

    def begun(self, who, card_id):
        caller = self.caller(who)
        path = f"/api/sittings/{caller.post(f'/api/cards/{card_id}/sittings').json['id']}"
        return caller, path, caller.get(path).json

    def test_the_value_is_kept_on_the_card_and_the_trace_shown_without_its_name(self):
        card_id = self.card()
        (kept,) = (
            s for s in self.teacher.get(f"/api/cards/{card_id}").json["document"]["steps"] if s["kind"] == "compare"
        )
        self.assertAlmostEqual(kept["other"]["value"], 0.9, places=2)
        ann, _, state = self.begun("ann", card_id)
        (shown,) = state["beside"]
        self.assertEqual(shown["step"], "compare-closed_v-before")
        capture = ann.get(f"/api/captures/{shown['capture_id']}")
        self.assertEqual((capture.status_code, capture.headers.get("X-Keep-Offline")), (200, "1"))
        self.assertNotIn(self.before["title"], capture.json["title"])
        self.assertNotIn("version_id", str(state["card"]["steps"]))
        # The reference itself stays closed, and the copy is nobody else's.
        shelf = self.teacher.get(f"/api/references/{self.before['id']}").json["capture_id"]
        self.assertNotEqual(shelf, shown["capture_id"])
        self.assertEqual(ann.get(f"/api/captures/{shelf}").status_code, 404)
        for stranger in ("ben", "outsider"):
            self.assertEqual(self.caller(stranger).get(f"/api/captures/{shown['capture_id']}").status_code, 404)
        self.assertEqual(self.teacher.get(f"/api/captures/{shown['capture_id']}").status_code, 200)

    def test_it_is_marked_by_what_the_card_keeps_whatever_becomes_of_the_reference(self):
        card_id = self.card()
        self.assertEqual(self.teacher.post(f"/api/references/{self.before['id']}/retire").status_code, 200)
        ann, path, _ = self.begun("ann", card_id)
        capture_id = ann.import_csv(csv_of(Sweep(rate_hz=200)))
        state = ann.post(f"{path}/capture", {"capture_id": capture_id}).json
        body = {"step": "compare-closed_v-before", "answer": {"state": "lower"}, "revision": state["revision"]}
        self.assertEqual(ann.put(f"{path}/answer", body).status_code, 200)
        ann.post(f"{path}/hand-in", {"incomplete_ok": True})
        work(self.app)
        sheet = self.teacher.get(path.replace("sittings", "marking")).json
        row = next(r for r in sheet["grade"]["results"] if r["criterion"] == "compare:closed_v-before")
        self.assertEqual((row["earned"], row["points"]), (0.5, 0.5))
        self.assertIn("0.700 V is lower than that before the repair, 0.900 V", row["reason"])

    def test_a_new_version_shows_the_same_copy_and_another_reference_another(self):
        card_id = self.card()
        _, _, first = self.begun("ann", card_id)
        for change, same in ((self.before["version_id"], True), (self.published_reference()["version_id"], False)):
            card = self.teacher.get(f"/api/cards/{card_id}").json
            document = card["document"] | {"brief": f"Changed for {change}.", "steps": steps(change)}
            body = {"revision": card["revision"], "document": document}
            self.assertEqual(self.teacher.put(f"/api/cards/{card_id}", body).status_code, 200)
            self.assertEqual(self.teacher.post(f"/api/cards/{card_id}/publish").status_code, 200)
            _, _, later = self.begun("ben" if same else "teacher", card_id)
            self.assertEqual(later["beside"] == first["beside"], same)
        unused = [c["id"] for c in self.teacher.get("/api/captures/unused").json["captures"]]
        self.assertNotIn(first["beside"][0]["capture_id"], unused)

    def test_a_step_that_waits_shows_nothing_yet(self):
        later = steps(self.before["version_id"])
        later[2] |= {"after": "reading-closed_v"}
        ann, path, state = self.begun("ann", self.card(later))
        self.assertEqual(state["beside"], [])
        body = {"step": "reading-closed_v", "answer": {"value": 0.7}, "revision": state["revision"]}
        self.assertEqual(len(ann.put(f"{path}/answer", body).json["beside"]), 1)

    def test_the_cards_own_reference_is_the_usual_one(self):
        card_id = self.card(steps(None, against="reference"))
        (kept,) = (
            s for s in self.teacher.get(f"/api/cards/{card_id}").json["document"]["steps"] if s["kind"] == "compare"
        )
        self.assertAlmostEqual(kept["other"]["value"], 0.7, places=2)

    def test_what_is_missing_or_does_not_fit_is_named(self):
        def made(version_id, **more):
            document = self.card_document(None, steps=steps(version_id, **more))
            return self.teacher.post("/api/cards", {"course_id": self.course_id, "document": document})

        draft = made(None)
        self.assertEqual(draft.status_code, 201)
        refused = self.teacher.post(f"/api/cards/{draft.json['id']}/publish")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("Closed level beside before the repair: choose the reference", refused.json["detail"])
        self.assertIn("does not exist for you", made(999_999).json["detail"])
        # The record has no dropout to be held beside.
        self.assertIn(
            "gives no such reading", made(self.before["version_id"], reading="dropout_depth_v").json["detail"]
        )

    def test_a_card_file_takes_the_value_along_and_not_the_version(self):
        exported = json.loads(self.teacher.get(f"/api/cards/{self.card()}/file").data)
        self.assertNotIn("version_id", str(exported["steps"]))
        body = {"course_id": self.course_id, "document": exported}
        again = self.teacher.post("/api/cards", body).json["id"]
        self.assertEqual(self.teacher.post(f"/api/cards/{again}/publish").status_code, 200)
        _, _, state = self.begun("ann", again)
        self.assertEqual(state["beside"], [])
        self.assertAlmostEqual(state["card"]["steps"][2]["other"]["value"], 0.9, places=2)


class Meter(WebTest):
    def test_it_is_read_along_on_the_trainer_and_on_nothing_else(self):
        sound = self.published_reference()["version_id"]
        source = {"kind": "trainer", "fault": "none", "closed_v": 0.62, "open_v": 4.1}
        card_id = self.published_card(version_id=sound, source=source, steps=[{"kind": "capture", "prompt": ""}])
        ann = self.caller("ann")
        path = f"/api/sittings/{ann.post(f'/api/cards/{card_id}/sittings').json['id']}"
        self.assertIn("take the capture first", ann.get(f"{path}/meter").json["detail"])
        settings = {"range_v": 10, "duration_s": 20, "rate_hz": 500, "ground": "sensor ground"}
        self.assertEqual(ann.post(f"{path}/record", settings).status_code, 200)
        figures = ann.get(f"{path}/meter").json
        self.assertGreater(len(figures), 40)
        self.assertAlmostEqual(min(f["volts"] for f in figures), 0.62, delta=0.03)
        self.assertAlmostEqual(max(f["volts"] for f in figures), 4.1, delta=0.05)
        self.assertLessEqual(figures[-1]["at_s"], 20)
        own = self.published_card(version_id=sound)
        ben = self.caller("ben")
        path = f"/api/sittings/{ben.post(f'/api/cards/{own}/sittings').json['id']}"
        ben.post(f"{path}/capture", {"capture_id": ben.import_csv(csv_of(Sweep(rate_hz=200)))})
        self.assertIn("write down what your meter showed", ben.get(f"{path}/meter").json["detail"])


if __name__ == "__main__":
    unittest.main()
