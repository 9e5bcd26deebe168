"""Bringing people in: one by one and as a table, by links that work once; courses of an instructor's own."""

from datetime import UTC, datetime, timedelta

from tests.support.client import PASSWORD, Caller, WebTest
from tracebench.usecases.people import invitations
from tracebench.usecases.people.person import Person


class Links(WebTest):
    def _nobody(self) -> Caller:
        return Caller(self.app.test_client())

    def _made(self, sign_in: str) -> str:
        body = {"sign_in": sign_in, "name": "New One", "role": "learner"}
        answer = self.caller("admin").post("/api/people", body)
        self.assertEqual(answer.status_code, 201)
        return answer.json["token"]

    def test_a_new_person_chooses_the_password_by_the_link_and_it_works_once(self):
        token = self._made("new.one")
        new = self._nobody()
        self.assertEqual(new.post("/api/session/invited", {"token": token}).json["name"], "New One")
        joined = new.post("/api/session/join", {"token": token, "password": "three quiet words"})
        self.assertEqual(joined.json["person"]["sign_in"], "new.one")
        self.assertEqual(new.get("/api/today").status_code, 200)
        self.assertEqual(self._nobody().sign_in("new.one", "three quiet words").status_code, 200)
        again = self._nobody().post("/api/session/join", {"token": token, "password": "another three words"})
        self.assertEqual(again.status_code, 404)
        self.assertIn("ask for a new one", again.json["detail"])

    def test_nothing_signs_in_an_account_without_a_password(self):
        self._made("waits.still")
        for password in ("", PASSWORD, "a password nobody has"):
            self.assertIn(self._nobody().sign_in("waits.still", password).status_code, (401, 422))

    def test_a_weak_password_is_refused_and_the_link_stays(self):
        token = self._made("weak.first")
        self.assertEqual(
            self._nobody().post("/api/session/join", {"token": token, "password": "password1"}).status_code, 422
        )
        good = self._nobody().post("/api/session/join", {"token": token, "password": "three quiet words"})
        self.assertEqual(good.status_code, 200)

    def test_a_new_link_ends_the_older_one_and_a_reset_ends_sessions(self):
        ben, admin = self._nobody(), self.caller("admin")
        ben.sign_in("ben")
        path = f"/api/people/{self.ids['ben']}/link"
        first, second = (admin.post(path).json["token"] for _ in range(2))
        self.assertEqual(self._nobody().post("/api/session/invited", {"token": first}).status_code, 404)
        self.assertEqual(ben.get("/api/today").status_code, 200)
        self._nobody().post("/api/session/join", {"token": second, "password": "three quiet words"})
        self.assertEqual(ben.get("/api/today").status_code, 401)

    def test_a_link_ends_after_two_weeks(self):
        with self.pool.transaction() as conn:
            long_ago = datetime.now(UTC).replace(tzinfo=None) - invitations.LASTS - timedelta(minutes=1)
            admin = Person(self.ids["admin"], "admin", "Admin", "administrator", 1)
            token = invitations.make(conn, admin, self.ids["spare"], long_ago)
        self.assertEqual(self._nobody().post("/api/session/invited", {"token": token}).status_code, 404)

    def test_the_token_itself_is_not_kept(self):
        token = self._made("kept.nowhere")
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT token_hash FROM invitation")
            self.assertNotIn(token, [row["token_hash"] for row in cursor.fetchall()])

    def test_refusals_say_why(self):
        admin = self.caller("admin")
        for change, words in (({"sign_in": "a b"}, "blanks"), ({"name": " "}, "name"), ({"sign_in": "ann"}, "taken")):
            body = {"sign_in": "fresh", "name": "F", "role": "learner", **change}
            answer = admin.post("/api/people", body)
            self.assertIn(answer.status_code, (409, 422))
            self.assertIn(words, answer.json["detail"])


class Table(WebTest):
    def _table(self, who: str, text: str, keep: bool = False, course: int | None = None):
        body = {"text": text, "course_id": self.course_id if course is None else course, "keep": keep}
        return self.caller(who).post("/api/people/table", body)

    def test_rows_are_understood_with_names_made_where_none_is_given(self):
        rows = self._table("teacher", "Name;Sign-in\nÅsa Öberg;\nKim Vale;kim\n\nKim Vale;\nAnn;ann").json
        got = [(r["line"], r["name"], r["sign_in"], r["state"]) for r in rows]
        self.assertEqual(
            got,
            [
                (2, "Åsa Öberg", "asa.oberg", "new"),
                (3, "Kim Vale", "kim", "new"),
                (5, "Kim Vale", "kim.vale", "new"),
                (6, "Ann", "ann", "known"),
            ],
        )

    def test_nothing_is_kept_by_looking(self):
        before = len(self.caller("admin").get("/api/people").json)
        self._table("teacher", "Looked At")
        self.assertEqual(len(self.caller("admin").get("/api/people").json), before)

    def test_a_wrong_row_is_named_and_nobody_is_brought_in(self):
        text = "Good One\nBad One\tbad name\nOld Teacher\tteacher"
        rows = self._table("teacher", text).json
        self.assertEqual([r["state"] for r in rows], ["new", "wrong", "wrong"])
        self.assertIn("blanks", rows[1]["problem"])
        self.assertIn("no learner", rows[2]["problem"])
        told = self._table("teacher", text, keep=True)
        self.assertEqual(told.status_code, 409)
        self.assertIn("line 2", told.json["detail"])
        names = [p["name"] for p in self.caller("admin").get("/api/people").json]
        self.assertNotIn("Good One", names)

    def test_learners_come_into_the_course_with_a_link_each(self):
        rows = self._table("teacher", "Mo Fell\nSpare, spare", keep=True).json
        self.assertTrue(rows[0]["token"])
        self.assertIsNone(rows[1]["token"])  # has a password already
        members = self.caller("teacher").get(f"/api/courses/{self.course_id}/members").json
        self.assertLessEqual({"Mo Fell", "Spare"}, {m["name"] for m in members})
        mo = next(m for m in members if m["name"] == "Mo Fell")
        self.assertTrue(mo["invited"])
        lost = self.caller("teacher").post(f"/api/people/{mo['id']}/link")
        self.assertEqual(lost.status_code, 201)
        self.assertEqual(self.caller("stranger").post(f"/api/people/{mo['id']}/link").status_code, 404)

    def test_a_link_is_made_by_who_brought_somebody_in_and_by_nobody_who_took_them_over(self):
        teacher, stranger, admin = self.caller("teacher"), self.caller("stranger"), self.caller("admin")
        self._table("teacher", "Lu Brand", keep=True)
        members = teacher.get(f"/api/courses/{self.course_id}/members").json
        lu = next(m for m in members if m["name"] == "Lu Brand")
        self.assertTrue(lu["may_link"])
        # Another instructor brings Lu into a course as well: neither may take the account by a link from now on.
        rows = self._table("stranger", f"Lu Brand,{lu['sign_in']}", keep=True, course=self.other_course_id)
        self.assertEqual((rows.json[0]["state"], rows.json[0]["token"]), ("known", None))
        path = f"/api/people/{lu['id']}/link"
        self.assertEqual(stranger.post(path).status_code, 404)
        refused = teacher.post(path)
        self.assertEqual(refused.status_code, 403)
        self.assertIn("another instructor's course", refused.json["detail"])
        members = stranger.get(f"/api/courses/{self.other_course_id}/members").json
        self.assertFalse(next(m for m in members if m["name"] == "Lu Brand")["may_link"])
        # One whom the administrator brought in is the administrator's to make a link for.
        by_admin = self._table("admin", "Ada Minster", keep=True)
        self.assertTrue(by_admin.json[0]["token"])
        ada = next(m for m in admin.get("/api/people").json if m["name"] == "Ada Minster")
        self.assertEqual(teacher.post(f"/api/people/{ada['id']}/link").status_code, 404)
        token = admin.post(path).json["token"]
        new = Caller(self.app.test_client())
        new.post("/api/session/join", {"token": token, "password": "three quiet words"})
        self.assertEqual(teacher.post(path).status_code, 403)
        # Both the person and the administrator see who made one.
        done = [(line["who"], line["did"]) for line in new.get("/api/session/trail").json]
        self.assertEqual(done[:2], [("Lu Brand", "chose a password"), ("Admin", "made a link to choose a password")])
        self.assertIn(("Teacher", "made the account"), done)
        trail = admin.get(f"/api/audit?about=person&about_id={lu['id']}").json
        self.assertEqual([line["action"] for line in trail][:2], ["person.password", "person.invite"])

    def test_an_instructor_brings_in_learners_only_and_into_a_course(self):
        self.assertIn("learners only", self._table("teacher", "Up There,up,administrator").json[0]["problem"])
        body = {"text": "Some One", "course_id": None, "keep": True}
        self.assertEqual(self.caller("teacher").post("/api/people/table", body).status_code, 422)
        ok = self._table("admin", "Up There,up,instructor", keep=True)
        self.assertEqual(ok.json[0]["role"], "instructor")

    def test_what_is_no_table_is_refused(self):
        for text in ("", "\n\n", ";;;", "x" * 70_000, "\n".join(f"Person {k}" for k in range(400))):
            self.assertEqual(self._table("teacher", text).status_code, 422, text[:20])


class Courses(WebTest):
    def test_an_instructor_opens_a_course_and_belongs_to_it(self):
        teacher = self.caller("teacher")
        made = teacher.post("/api/courses", {"title": "Evening class"}).json
        course = next(c for c in made if c["title"] == "Evening class")
        path = f"/api/courses/{course['id']}/members"
        self.assertEqual([m["name"] for m in teacher.get(path).json], ["Teacher"])
        teacher.post(path, {"person_id": self.ids["ben"], "member": True})
        self.assertIn("Ben", [m["name"] for m in teacher.get(path).json])
        teacher.post(path, {"person_id": self.ids["ben"], "member": False})
        self.assertNotIn("Ben", [m["name"] for m in teacher.get(path).json])
        other = teacher.post(path, {"person_id": self.ids["stranger"], "member": True})
        self.assertEqual(other.status_code, 403)
        self.assertEqual(self.caller("stranger").get(path).status_code, 404)

    def test_work_is_handed_over_when_somebody_leaves(self):
        reference = self.published_reference()
        admin = self.caller("admin")
        path = f"/api/people/{self.ids['teacher']}/hand-over"
        self.assertEqual(admin.post(path, {"to_id": self.ids["ann"]}).status_code, 404)
        self.assertEqual(admin.post(path, {"to_id": self.ids["stranger"]}).status_code, 204)
        self.assertTrue(self.caller("stranger").get(f"/api/references/{reference['id']}").json["owned"])
        self.assertFalse(self.caller("teacher").get(f"/api/references/{reference['id']}").json["may_change"])
