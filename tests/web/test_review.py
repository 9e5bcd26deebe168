"""Pairs, a second instructor's look, and collections, over the API."""

import unittest

from tests.support.client import EMPTY_DOCUMENT, WebTest, csv_of
from tests.support.waves import Sweep
from tracebench.store.queries import queries


class TwoInstructors(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            queries.courses.join_course(conn, course_id=cls.course_id, person_id=cls.ids["spare"])
            conn.cursor().execute("UPDATE person SET role = 'instructor' WHERE sign_in = 'spare'")
        cls.teacher, cls.spare = cls.caller("teacher"), cls.caller("spare")

    def draft(self, title="Sweep", **sweep):
        capture_id = self.teacher.import_csv(csv_of(Sweep(rate_hz=200, **sweep)))
        body = {"capture_id": capture_id, "title": title, "document": {**EMPTY_DOCUMENT, "limits": []}}
        return f"/api/references/{self.teacher.post('/api/references', body).json['id']}"

    def test_a_course_that_wants_a_second_look_publishes_nothing_without_it(self):
        path = self.draft()
        self.teacher.put(f"{path}/reach", {"reach": "course", "course_id": self.course_id})
        self.assertIsNone(self.teacher.get(path).json["review"])
        courses = self.teacher.put(f"/api/courses/{self.course_id}/review", {"wanted": True}).json
        self.assertIn(True, [c["review"] for c in courses])
        refused = self.teacher.post(f"{path}/publish")
        self.assertEqual(refused.status_code, 409)
        self.assertIn("second instructor", refused.json["detail"])
        revision = self.teacher.get(path).json["revision"]
        word = {"revision": revision, "fine": True, "note": ""}
        self.assertEqual(self.teacher.post(f"{path}/review", word).status_code, 403)
        self.assertEqual(self.caller("stranger").post(f"{path}/review", word).status_code, 404)
        back = self.spare.post(f"{path}/review", {**word, "fine": False})
        self.assertEqual(back.status_code, 422)
        self.spare.post(f"{path}/review", {**word, "fine": False, "note": "Tag the rest."})
        self.assertEqual(self.teacher.get(path).json["review"]["note"], "Tag the rest.")
        self.assertEqual(self.teacher.post(f"{path}/publish").status_code, 409)
        # Put right, it is another revision: what was said of the last one no longer counts.
        body = {"revision": revision, "title": "Better", "document": {**EMPTY_DOCUMENT, "limits": []}}
        self.assertEqual(self.teacher.put(path, body).status_code, 200)
        self.assertEqual(self.spare.post(f"{path}/review", word).status_code, 409)
        said = self.spare.post(f"{path}/review", {**word, "revision": revision + 1}).json["review"]
        self.assertEqual((said["by"], said["fine"]), ("Spare", True))
        self.assertEqual(self.spare.post(f"{path}/publish").status_code, 409)
        self.assertEqual(self.teacher.post(f"{path}/publish").status_code, 200)
        # One that was published elsewhere comes in as a draft that waits for the look.
        elsewhere = self.draft("Elsewhere", closed_v=0.8)
        self.assertEqual(self.teacher.post(f"{elsewhere}/publish").status_code, 200)
        moved = self.teacher.put(f"{elsewhere}/reach", {"reach": "course", "course_id": self.course_id}).json
        self.assertEqual(moved["state"], "draft")
        self.assertEqual(self.teacher.post(f"{elsewhere}/publish").status_code, 409)
        self.teacher.put(f"/api/courses/{self.course_id}/review", {"wanted": False})

    def test_a_pair_is_drawn_together_and_lost_with_its_other_half(self):
        before, after = self.draft("Before", closed_v=0.3), self.draft("After", closed_v=0.6)
        other = self.teacher.get(before).json
        revision = self.teacher.get(after).json["revision"]
        body = {"revision": revision, "other_id": other["id"], "how": "before"}
        paired = self.teacher.put(f"{after}/pair", body).json
        self.assertEqual(paired["pair"]["title"], "Before")
        self.assertEqual(paired["pair"]["words"], "before the repair")
        # A later save of the sheet keeps it.
        body = {"revision": paired["revision"], "title": "After", "document": paired["document"]}
        kept = self.teacher.put(after, body).json
        self.assertEqual(kept["pair"]["id"], other["id"])
        none = self.teacher.put(f"{after}/pair", {"revision": kept["revision"], "other_id": None}).json
        self.assertIsNone(none["pair"])
        me = {"revision": none["revision"], "other_id": none["id"], "how": "sound"}
        self.assertEqual(self.teacher.put(f"{after}/pair", me).status_code, 422)
        # One that a colleague does not see is no pair for them.
        self.teacher.put(f"{after}/pair", {"revision": none["revision"], "other_id": other["id"], "how": "before"})
        self.teacher.put(f"{after}/reach", {"reach": "course", "course_id": self.course_id})
        self.assertIsNone(self.spare.get(after).json["pair"])

    def test_collections_hold_what_is_put_into_them(self):
        ids = [int(self.draft(f"Of a row {k}", closed_v=0.5 + k / 100).rsplit("/", 1)[1]) for k in range(3)]
        names = self.teacher.post("/api/references/collections", {"name": " Level  1 ", "ids": ids[:2]}).json
        self.assertEqual(names, [{"name": "Level 1", "items": 2}])
        found = self.teacher.get("/api/references?collection=Level 1").json
        self.assertEqual((found["total"], {item["id"] for item in found["items"]}), (2, set(ids[:2])))
        body = {"name": "Level 1", "ids": ids[:1], "inside": False}
        self.assertEqual(self.teacher.post("/api/references/collections", body).json[0]["items"], 1)
        self.assertEqual(self.caller("stranger").get("/api/references/collections").json, [])
        body = {"name": "Level 1", "ids": ids}
        self.assertEqual(self.caller("stranger").post("/api/references/collections", body).status_code, 404)


if __name__ == "__main__":
    unittest.main()
