"""A new installation: one link makes its administrator, once, and nothing else does."""

import threading
import unittest
from dataclasses import replace

from tests.support.client import Caller
from tests.support.database import DatabaseTest
from tracebench.store.queries import queries
from tracebench.web import create_app

TOKEN = "as printed by start"
ANNA = {"token": TOKEN, "sign_in": "Anna", "name": "Anna Holt", "password": "three more words"}


class FirstRun(DatabaseTest):
    def setUp(self):
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("DELETE FROM sign_in_session")
            cursor.execute("DELETE FROM person")

    def caller(self, token=TOKEN):
        app = create_app(replace(self.settings, first_run=token))
        app.testing = True
        app.config["PROPAGATE_EXCEPTIONS"] = False
        return Caller(app.test_client())

    def people(self):
        with self.pool.transaction() as conn:
            return [(p["sign_in"], p["role"]) for p in queries.people.everyone(conn)]

    def test_the_link_makes_the_administrator_and_signs_them_in(self):
        caller = self.caller()
        made = caller.post("/api/session/first", {**ANNA, "school": " Quay Workshops "})
        self.assertEqual(made.status_code, 200)
        self.assertEqual(made.json["person"]["role"], "administrator")
        self.assertEqual(self.caller().get("/api/session").json["school"], "Quay Workshops")
        caller.csrf = made.json["csrf"]
        self.assertEqual(caller.get("/api/people").status_code, 200)
        self.assertEqual(caller.delete("/api/session").status_code, 204)
        self.assertEqual(self.caller().sign_in("anna", ANNA["password"]).status_code, 200)

    def test_it_works_once(self):
        self.caller().post("/api/session/first", ANNA)
        again = self.caller().post("/api/session/first", {**ANNA, "sign_in": "eve"})
        self.assertEqual(again.status_code, 403)
        self.assertIn("already", again.json["detail"])
        self.assertEqual(self.people(), [("anna", "administrator")])

    def test_no_other_link_does_and_none_where_there_is_none(self):
        for wanted, token in ((TOKEN, "another"), (TOKEN, ""), ("", ""), ("", TOKEN)):
            with self.subTest(wanted=wanted, token=token):
                self.assertEqual(
                    self.caller(wanted).post("/api/session/first", {**ANNA, "token": token}).status_code, 403
                )
        self.assertEqual(self.people(), [])

    def test_a_poor_password_is_refused_and_the_link_is_not_used_up(self):
        self.assertEqual(self.caller().post("/api/session/first", {**ANNA, "password": "password1"}).status_code, 422)
        self.assertEqual(self.caller().post("/api/session/first", ANNA).status_code, 200)

    def test_of_two_at_once_one_becomes_the_administrator(self):
        callers = [self.caller() for _ in range(4)]
        statuses = []

        def begin(k):
            statuses.append(callers[k].post("/api/session/first", {**ANNA, "sign_in": f"anna{k}"}).status_code)

        threads = [threading.Thread(target=begin, args=(k,)) for k in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(statuses.count(200), 1, statuses)
        self.assertTrue(set(statuses) <= {200, 403, 409}, statuses)
        self.assertEqual(len(self.people()), 1)


if __name__ == "__main__":
    unittest.main()
