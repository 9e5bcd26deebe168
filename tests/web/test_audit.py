"""The audit trail: who changed what, from what to what and why; nobody takes a line away."""

import pymysql

from tests.support.client import EMPTY_DOCUMENT, WebTest
from tests.support.waves import Sweep
from tracebench.usecases.school import trail


class Trail(WebTest):
    def _lines(self, **about):
        query = "&".join(f"{k}={v}" for k, v in about.items())
        return self.caller("admin").get(f"/api/audit?{query}").json

    def test_a_limit_that_was_changed_is_told_with_both_values(self):
        reference = self.published_reference()
        limits = [{**EMPTY_DOCUMENT["limits"][0], "high": 0.9}]
        path = f"/api/references/{reference['id']}"
        body = {"revision": reference["revision"], "title": "Sound", "document": {**EMPTY_DOCUMENT, "limits": limits}}
        self.caller("teacher").put(path, body)
        line = self._lines(about="reference", about_id=reference["id"])[0]
        self.assertEqual((line["who"], line["did"], line["title"]), ("Teacher", "changed the reference", "Sound"))
        self.assertEqual(line["changes"], [{"where": "limits.closed_v.high", "before": 0.75, "after": 0.9}])

    def test_marks_are_told_from_the_tools_own_to_the_last_change(self):
        sitting_id = self.handed_in("ann", self.published_card(), Sweep(rate_hz=200))
        teacher = self.caller("teacher")
        row = teacher.get(f"/api/marking/{sitting_id}").json["grade"]["results"][0]
        earned = 0 if row["settled"] else row["points"]
        change = {"criterion": row["criterion"], "earned": earned, "reason": "seen at the vehicle"}
        teacher.post(f"/api/marking/{sitting_id}/changes", change)
        teacher.post(f"/api/marking/{sitting_id}/release")
        lines = self._lines(about="sitting", about_id=sitting_id)
        self.assertEqual([x["action"] for x in lines], ["mark.release", "mark.change", "mark.work_out"])
        self.assertEqual(lines[2]["who"], trail.THE_TOOL)
        self.assertEqual(lines[1]["why"], "seen at the vehicle")
        (moved,) = lines[1]["changes"]
        self.assertEqual((moved["where"], moved["before"], moved["after"]), (row["title"], row["settled"], earned))

    def test_people_courses_and_cards_are_in_it(self):
        admin, teacher = self.caller("admin"), self.caller("teacher")
        admin.post("/api/people", {"sign_in": "in.trail", "name": "In Trail", "role": "learner"})
        admin.patch(f"/api/people/{self.ids['spare']}", {"active": False})
        admin.patch(f"/api/people/{self.ids['spare']}", {"active": True})
        teacher.post("/api/courses", {"title": "Written down"})
        card_id = self.published_card()
        teacher.post(f"/api/cards/{card_id}/retire")
        actions = [x["action"] for x in self._lines()]
        self.assertEqual(
            actions[:8],
            [
                "card.retire",
                "card.publish",
                "card.add",
                "course.add",
                "person.open",
                "person.close",
                "person.invite",
                "person.add",
            ],
        )
        self.assertNotIn("password", str(self._lines(about="person")).replace("choose a password", ""))

    def test_a_change_that_fails_leaves_no_line(self):
        before = len(self._lines(about="card"))
        self.caller("teacher").post("/api/cards/999999/publish")
        self.assertEqual(len(self._lines(about="card")), before)

    def test_the_database_itself_refuses_to_change_or_take_away_a_line(self):
        self._lines()
        for statement in ("UPDATE audit SET who = 'Nobody'", "DELETE FROM audit"):
            with self.assertRaisesRegex(pymysql.err.Error, "only added to"), self.pool.transaction() as conn:
                conn.cursor().execute(statement)

    def test_pages_follow_each_other_without_gap(self):
        teacher = self.caller("teacher")
        for k in range(trail.PAGE + 5):
            teacher.post("/api/courses", {"title": f"Course {k}"})
        first = self._lines(about="course")
        second = self._lines(about="course", before=first[-1]["id"])
        self.assertEqual(len(first), trail.PAGE)
        self.assertGreaterEqual(len(second), 5)
        self.assertEqual(len({x["id"] for x in first + second}), len(first) + len(second))
        self.assertGreater(first[-1]["id"], second[0]["id"])
