"""A card whose capture is given from the shelf: everybody reads the same trace, and nothing of it tells the answer."""

import json
import unittest

from tests.support.client import WebTest, work
from tests.support.waves import Sweep

STEPS = [
    {"kind": "capture", "prompt": "Look at the whole record first"},
    {"kind": "reading", "reading": "closed_v", "prompt": "Closed?"},
    {"kind": "call", "prompt": "Call"},
]
LOW = Sweep(rate_hz=500, closed_v=0.30)


class Given(WebTest):
    def card(self, **changes):
        worn = self.published_reference(LOW)
        card_id = self.published_card(
            version_id=self.published_reference()["version_id"],
            source={"kind": "shelf", "version_id": worn["version_id"]},
            steps=STEPS,
            **changes,
        )
        return card_id, worn

    def begun(self, who, card_id):
        caller = self.caller(who)
        path = f"/api/sittings/{caller.post(f'/api/cards/{card_id}/sittings').json['id']}"
        return caller, path, caller.get(path).json

    def test_everybody_reads_the_same_trace_and_its_name_tells_nothing(self):
        card_id, worn = self.card()
        ann, _, state = self.begun("ann", card_id)
        _, _, other = self.begun("ben", card_id)
        self.assertEqual(state["capture_id"], other["capture_id"])
        self.assertEqual(state["card"]["source"], {"kind": "shelf"})
        capture = ann.get(f"/api/captures/{state['capture_id']}")
        self.assertEqual(capture.status_code, 200)
        self.assertNotIn(worn["title"], capture.text)
        # It is theirs to read, without network too.
        self.assertEqual(capture.headers.get("X-Keep-Offline"), "1")
        # The reference itself, and its capture, stay closed.
        teacher = self.caller("teacher")
        shelf = teacher.get(f"/api/references/{worn['id']}").json["capture_id"]
        self.assertNotEqual(shelf, state["capture_id"])
        self.assertEqual(ann.get(f"/api/captures/{shelf}").status_code, 404)
        self.assertEqual(self.caller("outsider").get(f"/api/captures/{state['capture_id']}").status_code, 404)

    def test_another_capture_is_refused(self):
        card_id, _ = self.card()
        ann, path, _ = self.begun("ann", card_id)
        settings = {"range_v": 10, "duration_s": 5, "rate_hz": 100, "ground": "sensor ground"}
        for refused in (
            ann.post(f"{path}/record", settings),
            ann.post(f"{path}/run", settings),
            ann.post(f"{path}/capture", {"capture_id": 1}),
        ):
            self.assertIn(refused.status_code, (404, 409))
        self.assertIn("is given", ann.post(f"{path}/record", settings).json["detail"])

    def test_marks_are_of_the_reading_and_none_of_the_taking(self):
        card_id, _ = self.card()
        ann, path, state = self.begun("ann", card_id)
        body = {"step": "reading-closed_v", "answer": {"value": 0.30, "pegs": [0.5]}, "revision": state["revision"]}
        self.assertEqual(ann.put(f"{path}/answer", body).status_code, 200)
        ann.post(f"{path}/hand-in", {"incomplete_ok": True})
        _, other, _ = self.begun("ben", card_id)
        self.caller("ben").post(f"{other}/hand-in", {"incomplete_ok": True})
        work(self.app)
        sheet = self.caller("teacher").get(path.replace("sittings", "marking")).json
        rows = {r["criterion"]: r for r in sheet["grade"]["results"]}
        self.assertNotIn("capture_quality", rows)
        self.assertEqual(rows["reading:closed_v"]["earned"], rows["reading:closed_v"]["points"])
        # The same capture is what the card gives, and no sign of a copy.
        self.assertEqual([x for x in sheet["likenesses"] if x["kind"] == "same"], [])

    def test_a_new_version_of_the_card_gives_the_same_copy(self):
        card_id, _ = self.card()
        teacher = self.caller("teacher")
        _, _, state = self.begun("ann", card_id)
        card = teacher.get(f"/api/cards/{card_id}").json
        body = {"revision": card["revision"], "document": card["document"] | {"brief": "More of it."}}
        self.assertEqual(teacher.put(f"/api/cards/{card_id}", body).status_code, 200)
        self.assertEqual(teacher.post(f"/api/cards/{card_id}/publish").status_code, 200)
        _, _, later = self.begun("ben", card_id)
        self.assertEqual(state["capture_id"], later["capture_id"])
        # What a card gives is in use.
        self.assertNotIn(state["capture_id"], [c["id"] for c in teacher.get("/api/captures/unused").json["captures"]])
        refused = teacher.post("/api/captures/give-up", {"ids": [state["capture_id"]]})
        self.assertGreaterEqual(refused.status_code, 400)

    def test_the_tool_plays_the_card_on_what_it_gives(self):
        card_id, _ = self.card()
        path, teacher = f"/api/cards/{card_id}/check", self.caller("teacher")
        asked = teacher.get(path).json
        self.assertEqual((asked["check"], asked["job"]["kind"], asked["job"]["state"]), (None, "check", "waiting"))
        work(self.app)
        asked = teacher.get(path).json
        check = asked["check"]
        self.assertEqual((asked["job"], check["on"]), (None, "given"))
        # It is kept by what the card is: asked again it is there, and of a card that was changed it is worked out anew.
        self.assertEqual(teacher.get(path).json["check"], check)
        sheet = teacher.get(f"/api/cards/{card_id}").json
        document = {**sheet["document"], "title": "Another title"}
        kept = teacher.put(f"/api/cards/{card_id}", {"document": document, "revision": sheet["revision"]})
        self.assertEqual(kept.status_code, 200, kept.json)
        self.assertIsNone(teacher.get(path).json["check"])
        work(self.app)
        self.assertEqual(teacher.get(path).json["check"]["own"]["earned"], check["own"]["earned"])
        checks = [job for job in self.caller("admin").get("/api/jobs").json if job["kind"] == "check"]
        self.assertEqual(len(checks), 1)
        self.assertEqual(check["own"]["earned"], check["own"]["points"])

    def test_a_card_without_its_capture_is_not_published(self):
        teacher = self.caller("teacher")
        document = self.card_document(self.published_reference()["version_id"], source={"kind": "shelf"}, steps=STEPS)
        made = teacher.post("/api/cards", {"course_id": self.course_id, "document": document}).json
        refused = teacher.post(f"/api/cards/{made['id']}/publish")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("which capture", refused.json["detail"])
        exported = json.loads(teacher.get(f"/api/cards/{self.card()[0]}/file").data)
        self.assertNotIn("version_id", exported["source"])


if __name__ == "__main__":
    unittest.main()
