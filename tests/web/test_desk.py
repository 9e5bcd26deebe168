"""The marking desk over the API: clear ones together, decisions alike, taking back, second looks."""

import unittest

from tests.support.client import WebTest, work


class Desk(WebTest):
    def setUp(self):
        self.teacher, self.ann = self.caller("teacher"), self.caller("ann")
        self.version = self.published_reference()["version_id"]

    def entry(self, sitting_id):
        rows = self.teacher.get(f"/api/courses/{self.course_id}/desk").json
        return next(row for row in rows if row["id"] == sitting_id)

    def test_several_are_released_and_what_could_not_be_is_told(self):
        card_id = self.published_card(version_id=self.version)
        ids = [self.own_sitting("ann", card_id, 1), self.own_sitting("ben", card_id, 2)]
        work(self.app)
        for sitting_id in ids:
            row = self.entry(sitting_id)
            self.assertEqual(row["clear"], not row["reasons"])
        told = self.teacher.post("/api/marking/release", {"ids": [*ids, 999_999]}).json
        self.assertEqual(told["released"], ids)
        self.assertEqual([r["id"] for r in told["refused"]], [999_999])
        self.assertEqual(self.entry(ids[0])["state"], "released")

    def test_a_release_is_taken_back_until_the_learner_has_seen_it(self):
        sitting_id = self.own_sitting("ann", self.published_card(version_id=self.version), 3)
        work(self.app)
        path = f"/api/marking/{sitting_id}"
        self.teacher.post(f"{path}/release")
        self.assertEqual(self.teacher.post(f"{path}/take-back", {"why": "a slip"}).json["state"], "handed_in")
        self.assertIsNone(self.ann.get(f"/api/sittings/{sitting_id}").json["feedback"])
        self.teacher.post(f"{path}/release")
        self.assertIsNotNone(self.ann.get(f"/api/sittings/{sitting_id}").json["feedback"])
        refused = self.teacher.post(f"{path}/take-back", {"why": "too late"})
        self.assertEqual(refused.status_code, 409)
        self.assertIn("has not seen", refused.json["detail"])

    def test_the_skill_map_follows_each_release_change_and_taking_back(self):
        sitting_id = self.own_sitting("ben", self.published_card(version_id=self.version), 4)
        work(self.app)
        path = f"/api/marking/{sitting_id}"

        def cells():
            learners = self.teacher.get(f"/api/courses/{self.course_id}/skill-map").json["learners"]
            return next(learner for learner in learners if learner["name"] == "Ben")

        before = cells()
        self.teacher.post(f"{path}/release")
        released = cells()
        self.assertEqual(released["sittings"], before["sittings"] + 1)
        self.assertEqual(cells(), released)
        self.teacher.post(f"{path}/take-back", {"why": "a slip"})
        self.assertEqual(cells(), before)
        row = next(r for r in self.teacher.get(path).json["grade"]["results"] if r["earned"] == r["points"] > 0)
        body = {"criterion": row["criterion"], "earned": 0, "reason": "not by your own hand"}
        self.assertEqual(self.teacher.post(f"{path}/changes", body).status_code, 200)
        self.teacher.post(f"{path}/release")
        again = cells()
        self.assertEqual(again["sittings"], released["sittings"])
        self.assertNotEqual(again["cells"], released["cells"])

    def test_a_second_look_is_asked_for_once_and_comes_first(self):
        sitting_id = self.own_sitting("ann", self.published_card(version_id=self.version), 4, value=0.9)
        work(self.app)
        path, own = f"/api/marking/{sitting_id}", f"/api/sittings/{sitting_id}"
        self.assertEqual(self.ann.post(f"{own}/second-look", {"words": "Look"}).status_code, 409)
        self.teacher.post(f"{path}/release")
        self.ann.get(own)
        asked = self.ann.post(f"{own}/second-look", {"words": "My peg stood on the plateau."}).json
        self.assertEqual(asked["second_look"]["words"], "My peg stood on the plateau.")
        self.assertEqual(self.ann.post(f"{own}/second-look", {"words": "Again"}).status_code, 409)
        self.assertEqual(self.entry(sitting_id)["asked"], "My peg stood on the plateau.")
        back = self.teacher.post(f"{path}/take-back", {"why": "asked for"})
        self.assertEqual(back.status_code, 200)
        self.assertIn("asks for a second look", self.entry(sitting_id)["reasons"][0])
        self.teacher.post(f"{path}/release")
        self.assertIsNotNone(self.ann.get(own).json["second_look"]["answered_at"])
        self.assertIsNone(self.entry(sitting_id)["asked"])

    def test_one_decision_goes_to_all_that_were_decided_alike(self):
        card_id = self.published_card(version_id=self.version, attempts=2)
        wrong, too, right = (
            self.own_sitting("ann", card_id, 5, value=2.5),
            self.own_sitting("ben", card_id, 6, value=2.4),
            self.own_sitting("ann", self.published_card(version_id=self.version), 7),
        )
        work(self.app)
        criterion = "reading:closed_v"
        alike = self.teacher.get(f"/api/marking/{wrong}/alike?criterion={criterion}").json
        self.assertEqual([row["id"] for row in alike], [too])
        body = {"criterion": criterion, "earned": 1, "reason": "The prompt was unclear.", "also": [too]}
        self.assertEqual(
            self.teacher.post(f"/api/marking/{wrong}/changes/alike", {**body, "also": [right]}).status_code, 409
        )
        self.assertEqual(self.teacher.post(f"/api/marking/{wrong}/changes/alike", body).status_code, 200)
        rows = self.teacher.get(f"/api/marking/{too}").json["grade"]["results"]
        changed = next(r for r in rows if r["criterion"] == criterion)
        self.assertEqual((changed["settled"], changed["changed"]["reason"]), (1, "The prompt was unclear."))
        # What was changed by hand is no longer decided alike.
        self.assertEqual(self.teacher.get(f"/api/marking/{wrong}/alike?criterion={criterion}").json, [])


if __name__ == "__main__":
    unittest.main()
