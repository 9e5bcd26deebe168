"""Who reaches a reference and a card, by what its owner says; and what becomes of a learner's capture."""

from tests.support.client import EMPTY_DOCUMENT, WebTest, csv_of
from tests.support.waves import Sweep
from tracebench.store import captures as store
from tracebench.store.queries import queries


class References(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.reference = cls.published_reference()
        with cls.pool.transaction() as conn:
            # A colleague in the same course as the teacher.
            queries.courses.join_course(conn, course_id=cls.course_id, person_id=cls.ids["spare"])
            conn.cursor().execute("UPDATE person SET role = 'instructor' WHERE sign_in = 'spare'")

    def _reach(self, reach: str, reference=None):
        body = {"reach": reach, "course_id": self.course_id if reach == "course" else None}
        reference = reference or self.reference
        answer = self.caller("teacher").put(f"/api/references/{reference['id']}/reach", body)
        self.assertEqual(answer.status_code, 200)

    def _seen_by(self, reference) -> dict[str, tuple[int, bool, bool]]:
        """Of each instructor: what the sheet answers, whether the shelf lists it, whether its samples come."""
        out = {}
        for name in ("teacher", "spare", "stranger"):
            who = self.caller(name)
            listed = reference["id"] in [r["id"] for r in who.get("/api/references").json["items"]]
            trace = who.get(f"/api/captures/{reference['capture_id']}").status_code == 200
            out[name] = (who.get(f"/api/references/{reference['id']}").status_code, listed, trace)
        return out

    def test_reach_decides_who_sees_it_on_sheet_shelf_and_trace(self):
        reference = self.published_reference()
        yes, no = (200, True, True), (404, False, False)
        for reach, expected in (("own", (yes, no, no)), ("course", (yes, yes, no)), ("school", (yes, yes, yes))):
            self._reach(reach, reference)
            with self.subTest(reach=reach):
                self.assertEqual(tuple(self._seen_by(reference).values()), expected)

    def test_colleagues_of_the_course_change_it_and_others_copy_it(self):
        self._reach("school")
        told = self.caller("spare").post(f"/api/references/{self.reference['id']}/retire")
        self.assertEqual(told.status_code, 403)
        self.assertIn("copy it", told.json["detail"])
        copied = self.caller("stranger").post(f"/api/references/{self.reference['id']}/copy").json
        mine = self.caller("stranger").get(f"/api/references/{copied['id']}").json
        self.assertEqual((mine["state"], mine["owned"], mine["title"]), ("draft", True, "Sound, copy"))
        self._reach("course")
        path = f"/api/references/{self.reference['id']}"
        revision = self.caller("spare").get(path).json["revision"]
        body = {"revision": revision, "title": "Sound", "document": EMPTY_DOCUMENT}
        self.assertEqual(self.caller("spare").put(path, body).status_code, 200)
        self.assertEqual(self.caller("teacher").post(f"{path}/publish").status_code, 200)

    def test_the_same_capture_again_is_told_where_it_stands_to_those_who_see_it(self):
        text = csv_of(Sweep(rate_hz=250, noise_v=0.004, seed=77))
        teacher, stranger = self.caller("teacher"), self.caller("stranger")
        first, again, theirs = teacher.import_csv(text), teacher.import_csv(text), stranger.import_csv(text)
        body = {"capture_id": first, "title": "Seen before", "document": EMPTY_DOCUMENT}
        made = teacher.post("/api/references", body).json["id"]
        told = teacher.get(f"/api/references/same/{again}").json
        self.assertEqual(told, [{"id": made, "title": "Seen before", "state": "draft"}])
        self.assertEqual(stranger.get(f"/api/references/same/{theirs}").json, [])
        other = teacher.import_csv(csv_of(Sweep(rate_hz=250, noise_v=0.004, seed=78)))
        self.assertEqual(teacher.get(f"/api/references/same/{other}").json, [])

    def test_a_draft_is_its_owners_until_it_is_published(self):
        capture_id = self.caller("teacher").import_csv(csv_of(Sweep(rate_hz=200)))
        body = {"capture_id": capture_id, "title": "Half done", "document": EMPTY_DOCUMENT}
        draft_id = self.caller("teacher").post("/api/references", body).json["id"]
        self.assertEqual(self.caller("stranger").get(f"/api/references/{draft_id}").status_code, 404)
        self.assertEqual(self.caller("stranger").get(f"/api/captures/{capture_id}").status_code, 404)

    def test_a_card_takes_only_references_in_reach_and_keeps_what_it_has(self):
        self._reach("own")
        version_id = self.reference["version_id"]
        body = {"course_id": self.other_course_id, "document": self.card_document(version_id)}
        self.assertEqual(self.caller("stranger").post("/api/cards", body).status_code, 422)
        card_id = self.published_card(version_id=version_id)
        path = f"/api/cards/{card_id}"
        card = self.caller("spare").get(path).json
        saved = self.caller("spare").put(path, {"revision": card["revision"], "document": card["document"]})
        self.assertEqual(saved.status_code, 200)
        # Whoever marks the card sees the reference beneath the trace.
        self.assertEqual(self.caller("spare").get(f"/api/captures/{self.reference['capture_id']}").status_code, 200)
        self._reach("school")


class Cards(WebTest):
    def test_own_course_and_school(self):
        card_id = self.published_card()
        teacher, stranger = self.caller("teacher"), self.caller("stranger")
        self.assertEqual(stranger.get(f"/api/cards/{card_id}").status_code, 404)
        teacher.put(f"/api/cards/{card_id}/reach", {"reach": "school"})
        self.assertEqual([c["id"] for c in stranger.get("/api/cards/shared").json], [card_id])
        seen = stranger.get(f"/api/cards/{card_id}").json
        self.assertFalse(seen["may_change"])
        body = {"revision": seen["revision"], "document": seen["document"]}
        self.assertEqual(stranger.put(f"/api/cards/{card_id}", body).status_code, 403)
        copied = stranger.post(f"/api/cards/{card_id}/copy", {"course_id": self.other_course_id}).json
        self.assertTrue(stranger.get(f"/api/cards/{copied['id']}").json["owned"])
        self.assertEqual(stranger.post(f"/api/cards/{card_id}/copy", {"course_id": self.course_id}).status_code, 404)
        teacher.put(f"/api/cards/{card_id}/reach", {"reach": "course"})
        self.assertEqual(stranger.get("/api/cards/shared").json, [])

    def test_an_own_draft_is_nobody_elses(self):
        with self.pool.transaction() as conn:
            queries.courses.join_course(conn, course_id=self.course_id, person_id=self.ids["spare"])
            conn.cursor().execute("UPDATE person SET role = 'instructor' WHERE sign_in = 'spare'")
        teacher, colleague = self.caller("teacher"), self.caller("spare")
        body = {"course_id": self.course_id, "document": self.card_document(None, title="Not yet")}
        card_id = teacher.post("/api/cards", body).json["id"]
        self.assertIn(card_id, [c["id"] for c in colleague.get("/api/cards").json])
        teacher.put(f"/api/cards/{card_id}/reach", {"reach": "own"})
        self.assertNotIn(card_id, [c["id"] for c in colleague.get("/api/cards").json])
        self.assertEqual(colleague.get(f"/api/cards/{card_id}").status_code, 404)


class LearnersCapture(WebTest):
    def test_it_becomes_a_reference_by_word_only_and_without_the_name(self):
        sitting_id = self.handed_in("ann", self.published_card(), Sweep(rate_hz=200))
        teacher = self.caller("teacher")
        capture_id = teacher.get(f"/api/marking/{sitting_id}").json["capture_id"]
        body = {"capture_id": capture_id, "title": "A good one", "document": EMPTY_DOCUMENT}
        told = teacher.post("/api/references", body)
        self.assertEqual(told.status_code, 409)
        self.assertIn("they agree", told.json["detail"])
        named = {**body, "word": True, "document": {**EMPTY_DOCUMENT, "notes": "Taken by ANN in bay 2"}}
        self.assertIn("notes", teacher.post("/api/references", named).json["detail"])
        made = teacher.post("/api/references", {**body, "word": True})
        self.assertEqual(made.status_code, 201)
        reference = teacher.get(f"/api/references/{made.json['id']}").json
        self.assertNotEqual(reference["capture_id"], capture_id)
        copy = teacher.get(f"/api/captures/{reference['capture_id']}").json
        self.assertNotIn("capture.csv", str(copy))
        one, other = (teacher.get(f"/api/captures/{c}/lanes/signal/tiles/0/0").data for c in (capture_id, copy["id"]))
        self.assertEqual(one, other)
        with self.pool.transaction() as conn:
            self.assertEqual(store.head(conn, copy["id"])["owner_id"], self.ids["teacher"])


class AnotherAttempt(WebTest):
    def test_what_was_told_after_one_attempt_is_closed_while_another_is_open(self):
        reference = self.published_reference()
        card_id = self.published_card(version_id=reference["version_id"])
        sitting_id = self.handed_in("ann", card_id, Sweep(rate_hz=200))
        self.caller("teacher").post(f"/api/marking/{sitting_id}/release")
        ann = self.caller("ann")
        trace = f"/api/captures/{reference['capture_id']}"
        log = f"/api/courses/{self.course_id}/logbook/{self.ids['ann']}"
        self.assertTrue(ann.get(f"/api/sittings/{sitting_id}").json["feedback"])
        self.assertEqual(ann.get(trace).status_code, 200)
        self.assertTrue(ann.get(log).json["sittings"])
        second = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
        closed = ann.get(f"/api/sittings/{sitting_id}")
        self.assertIsNone(closed.json["feedback"])
        self.assertTrue(closed.json["feedback_waits"])
        self.assertNotIn(reference["title"], closed.text)
        self.assertEqual(ann.get(trace).status_code, 404)
        self.assertEqual(ann.get(f"{trace}/lanes/signal/tiles/0/0").status_code, 404)
        self.assertEqual(ann.get(f"/api/sittings/{sitting_id}/parade").status_code, 409)
        self.assertEqual(ann.get(log).json["mistakes"], [])
        # The instructor still sees all of it.
        self.assertTrue(self.caller("teacher").get(log).json["sittings"])
        ann.post(f"/api/sittings/{second}/hand-in", {"incomplete_ok": True})
        self.assertIsNone(ann.get(f"/api/sittings/{sitting_id}").json["feedback"])
        self.caller("teacher").post(f"/api/marking/{second}/release")
        self.assertTrue(ann.get(f"/api/sittings/{sitting_id}").json["feedback"])


class LeftTheCourse(WebTest):
    def test_own_trace_and_marks_stay_and_what_is_the_courses_is_closed_until_they_come_back(self):
        reference = self.published_reference()
        card_id = self.published_card(version_id=reference["version_id"])
        sitting_id = self.handed_in("ann", card_id, Sweep(rate_hz=200, seed=5))
        teacher, ann = self.caller("teacher"), self.caller("ann")
        teacher.post(f"/api/marking/{sitting_id}/release")

        def member(is_in: bool) -> int:
            body = {"person_id": self.ids["ann"], "member": is_in}
            return teacher.post(f"/api/courses/{self.course_id}/members", body).status_code

        sitting, trace = f"/api/sittings/{sitting_id}", f"/api/captures/{reference['capture_id']}"
        before = ann.get(sitting).json
        self.assertEqual(before["feedback"]["reference_capture_id"], reference["capture_id"])
        self.assertEqual(member(False), 200)
        left = ann.get(sitting)
        self.assertEqual(left.json["feedback"]["grade"], before["feedback"]["grade"])
        self.assertEqual(ann.get(f"/api/captures/{before['capture_id']}").status_code, 200)
        self.assertIsNone(left.json["feedback"]["reference_capture_id"])
        self.assertNotIn(reference["title"], left.text)
        self.assertEqual(ann.get(trace).status_code, 404)
        self.assertEqual(ann.get(f"{trace}/lanes/signal/tiles/0/0").status_code, 404)
        self.assertEqual(ann.get(f"{sitting}/corridor").status_code, 404)
        self.assertEqual(ann.post(f"/api/cards/{card_id}/sittings").status_code, 404)
        # Whoever marked it sees it as before, and so does the learner once they are back.
        self.assertEqual(
            teacher.get(f"/api/marking/{sitting_id}").json["reference_capture_id"], reference["capture_id"]
        )
        self.assertEqual(member(True), 200)
        self.assertEqual(ann.get(sitting).json["feedback"], before["feedback"])
        self.assertEqual(ann.get(trace).status_code, 200)
