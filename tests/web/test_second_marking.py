"""A second marker who sees nothing of the first, and comments pinned to the trace: over the API."""

import unittest

from tests.support.client import WebTest, work
from tests.support.waves import Sweep


class SecondMarking(WebTest):
    def setUp(self):
        self.teacher, self.ann, self.admin = self.caller("teacher"), self.caller("ann"), self.caller("admin")
        join = {"person_id": self.ids["stranger"], "member": True}
        self.admin.post(f"/api/courses/{self.course_id}/members", join)
        self.other = self.caller("stranger")
        version = self.published_reference()["version_id"]
        self.sitting_id = self.own_sitting("ann", self.published_card(version_id=version), 5, value=0.9)
        work(self.app)
        self.path, self.second = f"/api/marking/{self.sitting_id}", f"/api/second-marking/{self.sitting_id}"

    def changed(self):
        """The first marker gives a criterion nothing that had its points, with a reason."""
        row = next(r for r in self.teacher.get(self.path).json["grade"]["results"] if r["earned"] == r["points"] > 0)
        body = {"criterion": row["criterion"], "earned": 0, "reason": "only I know why"}
        self.assertEqual(self.teacher.post(f"{self.path}/changes", body).status_code, 200)
        return row

    def asked(self):
        told = self.teacher.post(f"{self.path}/second-marker", {"marker_id": self.ids["stranger"]})
        self.assertEqual(told.status_code, 200, told.json)
        return told.json["second"]

    def marks(self, **more):
        rows = self.other.get(self.second).json["grade"]["results"]
        return {**{r["criterion"]: r["earned"] for r in rows}, **more}

    def test_the_second_marker_sees_nothing_of_the_first_nor_whose_it_is(self):
        row = self.changed()
        self.assertEqual(self.asked()["marks"], {})
        self.assertIn(self.sitting_id, [w["id"] for w in self.other.get("/api/second-marking").json])
        told = self.other.get(self.second)
        self.assertNotIn("only I know why", told.text)
        self.assertNotIn("Ann", told.text)
        seen = next(r for r in told.json["grade"]["results"] if r["criterion"] == row["criterion"])
        self.assertEqual(seen["settled"], row["earned"])
        # Neither by the desk's own doors, until their marks are given.
        refused = self.other.get(self.path)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("a second time", refused.json["detail"])
        desk = self.other.get(f"/api/courses/{self.course_id}/desk").json
        self.assertNotIn(self.sitting_id, [e["id"] for e in desk])
        self.assertNotIn(self.sitting_id, [e["id"] for e in self.other.get("/api/today").json["waiting"]])
        self.assertIn(self.sitting_id, [e["id"] for e in self.teacher.get("/api/today").json["waiting"]])
        self.other.post(self.second, {"marks": self.marks(), "words": ""})
        self.assertEqual(self.other.get(self.path).status_code, 200)

    def test_the_second_marker_sees_corridor_records_and_likeness_and_no_name_in_them(self):
        ben = self.caller("ben")
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        mine = [self.handed_in(name, card_id, Sweep(rate_hz=200, noise_v=0.004, seed=77)) for name in ("ann", "ben")]
        work(self.app)
        body = {"marker_id": self.ids["stranger"]}
        self.assertEqual(self.teacher.post(f"/api/marking/{mine[1]}/second-marker", body).status_code, 200)
        told = self.other.get(f"/api/second-marking/{mine[1]}")
        self.assertIn("the same samples", told.json["alike"][0])
        self.assertEqual(told.json["records"], [])
        for name in ("Ann", "Ben"):
            self.assertNotIn(name, told.text)
        corridor = self.other.get(f"/api/second-marking/{mine[1]}/corridor")
        self.assertEqual(corridor.json, self.teacher.get(f"/api/marking/{mine[1]}/corridor").json)
        # A throttle has no row of events; and nobody else looks at it by these doors.
        self.assertEqual(self.other.get(f"/api/second-marking/{mine[1]}/parade").status_code, 404)
        for who in (self.teacher, ben):
            self.assertEqual(who.get(f"/api/second-marking/{mine[1]}/corridor").status_code, 404)

    def test_both_marks_stand_beside_each_other_and_what_stands_is_the_firsts(self):
        row = self.changed()
        self.asked()
        given = self.marks()
        self.other.post(self.second, {"marks": given, "words": "The peg is fine."})
        sheet = self.teacher.get(self.path).json
        self.assertEqual((sheet["second"]["marks"], sheet["second"]["words"]), (given, "The peg is fine."))
        stands = {r["criterion"]: r["settled"] for r in sheet["grade"]["results"]}
        self.assertEqual(stands[row["criterion"]], 0)
        told = self.teacher.get(f"/api/courses/{self.course_id}/agreement").json
        counted = [r for r in sheet["grade"]["results"] if r["points"] > 0]
        self.assertGreaterEqual(told["decisions"], len(counted))
        self.assertLess(told["same"], told["decisions"])
        self.assertTrue(told["kappa"] is None if told["decisions"] < 10 else told["kappa"] < 1)
        self.assertEqual(sum(c["decisions"] for c in told["criteria"]), told["decisions"])
        # Given once.
        again = self.other.post(self.second, {"marks": given, "words": ""})
        self.assertEqual(again.status_code, 409)

    def test_who_may_mark_a_second_time(self):
        for marker in ("teacher", "ann", "admin"):
            told = self.teacher.post(f"{self.path}/second-marker", {"marker_id": self.ids[marker]})
            self.assertEqual(told.status_code, 422, marker)
        self.asked()
        self.assertEqual(
            self.teacher.post(f"{self.path}/second-marker", {"marker_id": self.ids["stranger"]}).status_code, 409
        )
        for caller in (self.teacher, self.ann, self.admin):
            self.assertEqual(caller.get(self.second).status_code, 404)
        self.assertIsNone(self.teacher.delete(f"{self.path}/second-marker").json["second"])
        self.assertEqual(self.other.get(self.second).status_code, 404)

    def test_marks_that_do_not_fit_are_refused_whole(self):
        self.asked()
        marks = self.marks()
        first = next(iter(marks))
        for wrong in ({**marks, first: 99.0}, {**marks, "no such": 1.0}, dict(list(marks.items())[1:])):
            self.assertEqual(self.other.post(self.second, {"marks": wrong, "words": ""}).status_code, 422)
        self.assertEqual(self.teacher.get(self.path).json["second"]["marks"], {})

    def test_a_comment_is_pinned_read_after_the_release_and_kept_from_then_on(self):
        body = {"from": 1.5, "to": 2.25, "words": "Look how it lags here."}
        sheet = self.teacher.post(f"{self.path}/comments", body).json
        (comment,) = sheet["comments"]
        self.assertEqual((comment["from"], comment["to"], comment["words"]), (1.5, 2.25, "Look how it lags here."))
        self.assertNotIn("lags", self.ann.get(f"/api/sittings/{self.sitting_id}").text)
        away = self.teacher.post(f"{self.path}/comments", {**body, "words": "A slip of mine"}).json["comments"][1]
        self.assertEqual(len(self.teacher.delete(f"{self.path}/comments/{away['id']}").json["comments"]), 1)
        self.teacher.post(f"{self.path}/release")
        told = self.ann.get(f"/api/sittings/{self.sitting_id}").json["feedback"]["comments"]
        self.assertEqual([c["words"] for c in told], ["Look how it lags here."])
        self.assertEqual(self.teacher.post(f"{self.path}/comments", body).status_code, 409)
        self.assertEqual(self.teacher.delete(f"{self.path}/comments/{comment['id']}").status_code, 409)

    def test_a_comment_without_words_is_none(self):
        body = {"from": 1.0, "to": 1.0, "words": "  "}
        self.assertEqual(self.teacher.post(f"{self.path}/comments", body).status_code, 422)
        self.assertEqual(self.teacher.delete(f"{self.path}/comments/1234567").status_code, 404)


if __name__ == "__main__":
    unittest.main()
