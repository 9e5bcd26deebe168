"""Marks worked out anew: shown first, taken over by an instructor with a reason, nothing lost on the way."""

import unittest
from unittest.mock import patch

from tests.support.client import WebTest, work
from tracebench.usecases.sitting import measuring


class Regrading(WebTest):
    def setUp(self):
        self.teacher = self.caller("teacher")
        self.version = self.published_reference()["version_id"]
        self.course = f"/api/courses/{self.course_id}"

    def compared(self, newest):
        begun = self.teacher.post(f"{self.course}/regrade", {"newest": newest})
        self.assertEqual(begun.status_code, 202, begun.data)
        work(self.app)
        found = self.teacher.get(f"{self.course}/regrade").json
        self.assertEqual(found["done"], found["total"])
        return found

    def changed_card(self, card_id, **change):
        card = self.teacher.get(f"/api/cards/{card_id}").json
        body = {"revision": card["revision"], "document": {**card["document"], **change}}
        self.assertEqual(self.teacher.put(f"/api/cards/{card_id}", body).status_code, 200)
        self.assertEqual(self.teacher.post(f"/api/cards/{card_id}/publish").status_code, 200)

    def earned(self, sitting_id):
        rows = self.teacher.get(f"/api/marking/{sitting_id}").json["grade"]["results"]
        return {r["criterion"]: r["settled"] for r in rows}

    def test_the_same_engine_and_card_would_change_nothing(self):
        self.own_sitting("ann", self.published_card(version_id=self.version), 21)
        work(self.app)
        self.assertEqual(self.compared(False)["rows"], [])

    def test_other_points_are_shown_first_and_stand_once_taken_with_a_reason(self):
        card_id = self.published_card(version_id=self.version)
        ann, ben = self.own_sitting("ann", card_id, 22), self.own_sitting("ben", card_id, 23)
        work(self.app)
        self.teacher.post(f"/api/marking/{ann}/release")
        by_hand = {"criterion": "call", "earned": 0.5, "reason": "Too quick."}
        self.teacher.post(f"/api/marking/{ben}/changes", by_hand)
        self.changed_card(card_id, points={"reading": 6, "call": 4})
        before = self.earned(ann), self.earned(ben)
        found = self.compared(True)
        rows = {row["sitting_id"]: row for row in found["rows"]}
        moved = {c["criterion"]: (c["from"], c["to"]) for c in rows[ann]["changes"]}
        self.assertEqual(moved["reading:closed_v"], (3, 6))
        # A change by hand stays whatever the tool says now.
        self.assertNotIn("call", [c["criterion"] for c in rows[ben]["changes"]])
        self.assertEqual((self.earned(ann), self.earned(ben)), before)
        take = {"run_id": found["id"], "ids": [ann, ben], "why": "Readings weigh more from now on."}
        self.assertEqual(self.teacher.post(f"{self.course}/regrade/take", {**take, "why": " "}).status_code, 422)
        taken = self.teacher.post(f"{self.course}/regrade/take", take)
        self.assertEqual(taken.status_code, 200, taken.data)
        self.assertEqual(self.earned(ann)["reading:closed_v"], 6)
        self.assertEqual((self.earned(ben)["reading:closed_v"], self.earned(ben)["call"]), (6, 0.5))
        trail = self.caller("admin").get("/api/audit").json
        self.assertIn("Readings weigh more from now on.", str(trail))
        again = self.teacher.post(f"{self.course}/regrade/take", take)
        self.assertEqual(again.status_code, 409)
        self.assertEqual(self.caller("stranger").get(f"{self.course}/regrade").status_code, 404)

    def test_a_sitting_whose_marks_moved_meanwhile_is_not_overwritten(self):
        card_id = self.published_card(version_id=self.version)
        ann = self.own_sitting("ann", card_id, 24)
        work(self.app)
        self.changed_card(card_id, points={"reading": 6})
        first = self.compared(True)
        second = self.compared(True)
        take = {"ids": [ann], "why": "Heavier."}
        self.assertEqual(
            self.teacher.post(f"{self.course}/regrade/take", {**take, "run_id": second["id"]}).status_code, 200
        )
        late = self.teacher.post(f"{self.course}/regrade/take", {**take, "run_id": first["id"]})
        self.assertEqual(late.status_code, 409)
        self.assertIn("compare anew", late.json["detail"])

    def test_answers_that_do_not_fit_the_newest_version_are_told(self):
        card_id = self.published_card(version_id=self.version)
        ann = self.own_sitting("ann", card_id, 25)
        work(self.app)
        steps = [{"kind": "capture", "prompt": ""}, {"kind": "call", "prompt": ""}]
        self.changed_card(card_id, steps=steps)
        row = next(r for r in self.compared(True)["rows"] if r["sitting_id"] == ann)
        self.assertIn("asks something else", row["problem"])
        self.assertEqual(row["changes"], [])

    def test_one_capture_is_measured_once(self):
        card_id = self.published_card(version_id=self.version, attempts=9)
        ann = self.caller("ann")
        first = self.own_sitting("ann", card_id, 26)
        capture_id = ann.get(f"/api/sittings/{first}").json["capture_id"]
        for _ in range(2):
            again = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
            ann.post(f"/api/sittings/{again}/capture", {"capture_id": capture_id})
            ann.post(f"/api/sittings/{again}/hand-in", {"incomplete_ok": True})
        work(self.app)
        with patch.object(measuring, "measured_under", wraps=measuring.measured_under) as measured:
            found = self.compared(False)
        mine = [call for call in measured.call_args_list if call.args[2].samples]
        captures = len({id(call.args[2]) for call in mine})
        self.assertLess(len(mine), found["total"])
        self.assertEqual(captures, len(mine))


if __name__ == "__main__":
    unittest.main()
