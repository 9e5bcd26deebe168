"""The page about the installation, and what is written down of requests: routes and times, nothing that was in them."""

import dataclasses
import json
import shutil
import tempfile
from pathlib import Path
from unittest import mock

from tests.support.client import PASSWORD, Caller, WebTest
from tracebench.usecases.people import courses
from tracebench.web import create_app


class Installation(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.folder = Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.folder)
        (cls.folder / "uploads").mkdir()
        logging = dataclasses.replace(cls.settings, uploads=cls.folder / "uploads", logs=cls.folder / "logs")
        cls.app = create_app(logging)
        cls.app.testing, cls.app.config["PROPAGATE_EXCEPTIONS"] = True, False

    def _written(self) -> str:
        return "".join(p.read_text() for p in (self.folder / "logs").iterdir())

    def test_every_answer_has_an_id_that_stands_in_the_log(self):
        answer = self.caller("ann").get("/api/today")
        line = next(
            x for x in map(json.loads, self._written().splitlines()) if x["id"] == answer.headers["X-Request-Id"]
        )
        self.assertEqual((line["route"], line["status"], line["role"]), ("GET /api/today", 200, "learner"))
        self.assertGreater(line["ms"], 0)

    def test_nothing_that_was_sent_is_written_down(self):
        caller = Caller(self.app.test_client())
        caller.sign_in("no.such.person", "a secret of theirs")
        self.caller("ann").get("/api/sittings/424242?what=private")
        written = self._written()
        for word in ("no.such.person", "secret", PASSWORD, "424242", "private"):
            self.assertNotIn(word, written)
        self.assertIn("GET /api/sittings/<int:sitting_id>", written)

    def test_a_crash_is_written_without_its_message_and_its_number_is_told(self):
        admin = self.caller("admin")
        with mock.patch.object(courses, "mine", side_effect=ValueError("Ann answered 4.75219 V")):
            told = admin.get("/api/courses")
        self.assertEqual(told.status_code, 500)
        self.assertIn(told.headers["X-Request-Id"], told.json["detail"])
        self.assertNotIn("75219", told.text + self._written())
        crash = admin.get("/api/installation").json["crashes"][0]
        self.assertEqual((crash["id"], crash["error"]), (told.headers["X-Request-Id"], "ValueError"))
        self.assertTrue(crash["place"])

    def test_the_page_tells_room_queue_backups_and_slow_pages(self):
        admin = self.caller("admin")
        for _ in range(3):
            admin.get("/api/people")
        state = admin.get("/api/installation").json
        self.assertGreater(state["disk_free_bytes"], 0)
        self.assertGreater(state["database_bytes"], 0)
        self.assertRegex(state["schema"], r"^\d{4}\.")
        self.assertRegex(state["database"], r"^\d+\.\d+")
        route = next(r for r in state["slow"] if r["route"] == "GET /api/people")
        self.assertGreaterEqual(route["count"], 3)
        self.assertLessEqual(route["median_ms"], route["longest_ms"])
        self.assertTrue(any("no backup" in w for w in state["warnings"]))
        (self.folder / "backups").mkdir(exist_ok=True)
        (self.folder / "backups" / "2026-11-01.zip").write_bytes(b"x" * 10)
        after = admin.get("/api/installation").json
        self.assertEqual((after["last_backup"]["name"], after["last_backup"]["bytes"]), ("2026-11-01.zip", 10))
        self.assertFalse(any("no backup" in w for w in after["warnings"]))
