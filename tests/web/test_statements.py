"""How often a page asks the database: once for the session, and as little as can be for itself."""

import unittest
from contextlib import contextmanager
from unittest import mock

import pymysql

from tests.support.client import WebTest
from tests.support.waves import Sweep

MOST = {
    ("teacher", "/api/captures/{capture}"): 2,
    ("teacher", "/api/courses"): 2,
    ("teacher", "/api/references"): 2,
    ("teacher", "/api/references/{reference}"): 9,
    ("teacher", "/api/cards"): 2,
    ("ann", "/api/cards"): 3,
    ("ann", "/api/sittings"): 2,
    ("teacher", "/api/today"): 6,
    ("ann", "/api/today"): 5,
    ("teacher", "/api/courses/{course}/desk"): 4,
    ("teacher", "/api/courses/{course}/skill-map"): 4,
    ("admin", "/api/jobs"): 2,
    ("ann", "/api/sittings/{sitting}"): 6,
}
"""Statements by who asks for which page, transactions' own among them."""


class Statements(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        reference = cls.published_reference()
        card_id = cls.published_card(version_id=reference["version_id"])
        sitting_id = cls.handed_in("ann", card_id, Sweep(rate_hz=200))
        path = f"/api/references/{reference['id']}"
        capture_id = cls.caller("teacher").get(path).json["capture_id"]
        cls.places = {
            "capture": capture_id,
            "reference": reference["id"],
            "course": cls.course_id,
            "sitting": sitting_id,
        }

    @contextmanager
    def asked(self):
        """The statements that are sent meanwhile."""
        real, said = pymysql.connections.Connection._execute_command, []

        def sent(connection, command, statement):
            said.append(statement)
            return real(connection, command, statement)

        with mock.patch.object(pymysql.connections.Connection, "_execute_command", sent):
            yield said

    def test_no_page_asks_more_often_than_it_has_to(self):
        for (name, place), most in MOST.items():
            who, path = self.caller(name), place.format(**self.places)
            # What is worked out once and kept is there the second time.
            self.assertEqual(who.get(path).status_code, 200, path)
            with self.subTest(page=path, who=name), self.asked() as said:
                who.get(path)
                self.assertEqual(len(said), most, said)

    def test_a_request_has_one_connection_and_gives_it_back(self):
        pool = self.app.extensions["tracebench.pool"]._pool
        teacher = self.caller("teacher")
        teacher.get("/api/today")
        with mock.patch.object(pool, "connection", wraps=pool.connection) as taken:
            teacher.get("/api/today")
            teacher.get(f"/api/captures/{self.places['capture']}")
        self.assertEqual(taken.call_count, 2)
        self.assertEqual(pool._connections, 0)

    def test_a_list_that_is_one_cell_is_whole_however_long(self):
        teacher = self.caller("teacher")
        before = teacher.get("/api/cards").json
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute(
                "INSERT INTO card (course_id, author_id, title, document, created_at, changed_at)"
                " SELECT course_id, author_id, REPEAT('wide ', 30), document, created_at, changed_at"
                " FROM card, seq_1_to_4000 WHERE card.id = %s",
                (before[0]["id"],),
            )
            cursor.execute("SELECT MAX(id) - 4000 AS last FROM card")
            last = cursor.fetchone()["last"]
        try:
            after = teacher.get("/api/cards")
            self.assertGreater(len(after.data), 1_500_000)
            self.assertEqual(len(after.json), len(before) + 4000)
        finally:
            with self.pool.transaction() as conn, conn.cursor() as cursor:
                cursor.execute("DELETE FROM card WHERE id > %s", (last,))


if __name__ == "__main__":
    unittest.main()
