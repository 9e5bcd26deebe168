import json
import re

from tests.support.client import PASSWORD, Caller, WebTest


class SignIn(WebTest):
    def test_wrong_password_and_unknown_name_look_alike(self):
        nobody = self.caller(None)
        wrong, unknown = nobody.sign_in("ann", "wrong password"), nobody.sign_in("nobody at all", "x")
        self.assertEqual((wrong.status_code, unknown.status_code), (401, 401))
        self.assertEqual(wrong.json, unknown.json)

    def test_cookie_is_http_only_and_lax(self):
        answer = self.caller(None).sign_in("ann")
        cookie = answer.headers["Set-Cookie"]
        self.assertIn("HttpOnly", cookie)
        self.assertIn("SameSite=Lax", cookie)
        self.assertNotIn("Secure", cookie)  # plain HTTP on loopback

    def test_password_is_kept_as_argon2id_and_never_answered(self):
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT password_hash FROM person WHERE sign_in = 'ann'")
            kept = cursor.fetchone()["password_hash"]
        self.assertTrue(kept.startswith("$argon2id$"))
        answer = self.caller(None).sign_in("ann")
        self.assertNotIn("argon2", answer.text)

    def test_too_many_failures_have_to_wait(self):
        nobody = self.caller(None)
        codes = [nobody.sign_in("spare", f"guess {k}").status_code for k in range(5)]
        self.assertEqual(codes, [401] * 5)
        told = nobody.sign_in("spare")  # the right one waits too
        self.assertEqual(told.status_code, 429)
        self.assertEqual(told.headers["Retry-After"], "1")
        self.assertIn("wait 1 second", told.json["detail"])

    def test_a_copied_cookie_is_worth_nothing_after_signing_out(self):
        caller = Caller(self.app.test_client())
        caller.sign_in("outsider")
        copied = caller.client.get_cookie("tracebench").value
        self.assertEqual(caller.delete("/api/session").status_code, 204)
        thief = self.app.test_client()
        thief.set_cookie("tracebench", copied)
        self.assertEqual(thief.get("/api/today").status_code, 401)

    def test_sessions_are_listed_and_ended_one_by_one(self):
        here, there = Caller(self.app.test_client()), Caller(self.app.test_client())
        here.sign_in("ann")
        there.sign_in("ann")
        other = next(s for s in here.get("/api/session/all").json if not s["this"])
        self.assertEqual(here.delete(f"/api/session/all/{other['id']}").status_code, 200)
        self.assertEqual(there.get("/api/today").status_code, 401)
        self.assertEqual(here.get("/api/today").status_code, 200)
        self.assertEqual(here.delete("/api/session/all/999999").status_code, 404)

    def test_the_last_administrator_cannot_be_closed(self):
        admin = self.caller("admin")
        told = admin.patch(f"/api/people/{self.ids['admin']}", {"active": False})
        self.assertEqual(told.status_code, 409)
        self.assertIn("last administrator", told.json["detail"])

    def test_sign_out_everywhere_ends_other_sessions(self):
        here, there = Caller(self.app.test_client()), Caller(self.app.test_client())
        here.sign_in("outsider")
        there.sign_in("outsider")
        self.assertEqual(here.post("/api/session/everywhere").status_code, 204)
        self.assertEqual(there.get("/api/today").status_code, 401)

    def test_new_password_ends_sessions_and_works(self):
        caller = Caller(self.app.test_client())
        caller.sign_in("stranger")
        short = caller.post("/api/session/password", {"old": PASSWORD, "new": "short"})
        self.assertEqual(short.status_code, 422)
        self.assertEqual(caller.post("/api/session/password", {"old": PASSWORD, "new": "another one"}).status_code, 204)
        self.assertEqual(caller.get("/api/today").status_code, 401)
        self.assertEqual(self.caller(None).sign_in("stranger", "another one").status_code, 200)

    def test_a_closed_account_is_out_at_once(self):
        caller = Caller(self.app.test_client())
        caller.sign_in("teacher")
        admin = self.caller("admin")
        admin.patch(f"/api/people/{self.ids['teacher']}", {"active": False})
        self.assertEqual(caller.get("/api/today").status_code, 401)
        self.assertEqual(self.caller(None).sign_in("teacher").status_code, 401)
        admin.patch(f"/api/people/{self.ids['teacher']}", {"active": True})


class Protection(WebTest):
    def test_a_change_without_the_token_is_refused(self):
        client = self.app.test_client()
        Caller(client).sign_in("ann")
        answer = client.post("/api/session/everywhere", json={})
        self.assertEqual(answer.status_code, 400)
        self.assertIn("reload", answer.json["detail"])

    def test_policy_headers(self):
        headers = self.caller("ann").get("/api/today").headers
        self.assertIn("default-src 'self'", headers["Content-Security-Policy"])
        self.assertEqual(headers["X-Content-Type-Options"], "nosniff")
        self.assertEqual(headers["Cache-Control"], "no-store")

    def test_styles_are_let_in_by_a_number_that_each_page_has_of_its_own(self):
        nobody = self.caller(None)
        seen = set()
        for path in ("/", "/shelf"):
            page = nobody.get(path)
            (number,) = set(re.findall(r'nonce="([^"]+)"', page.text))
            policy = page.headers["Content-Security-Policy"]
            self.assertIn(f"style-src 'self' 'nonce-{number}';", policy)
            self.assertNotIn("'unsafe-inline'", policy.replace("style-src-attr 'unsafe-inline'", ""))
            self.assertEqual(page.headers["Cache-Control"], "no-store")
            seen.add(number)
        self.assertEqual(len(seen), 2)

    def test_health_is_told_to_anybody_and_says_nothing_of_people(self):
        nobody = self.caller(None)
        self.assertEqual(nobody.get("/healthz").json, {"state": "alive"})
        self.assertEqual(set(nobody.get("/readyz").json), {"state", "jobs"})

    def test_the_description_of_the_api_is_for_those_who_are_signed_in(self):
        self.assertEqual(self.caller(None).get("/api/openapi.json").status_code, 401)
        self.assertEqual(self.caller("ann").get("/api/openapi.json").status_code, 200)

    def test_errors_are_problem_details(self):
        answer = self.caller("ann").get("/api/sittings/999999")
        self.assertEqual(answer.content_type, "application/problem+json")
        self.assertEqual(set(answer.json), {"type", "title", "status", "detail"})
        self.assertEqual(self.caller("ann").get("/api/nothing").status_code, 404)
        bad = self.caller("admin").post("/api/people", {"sign_in": "x"})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("Missing data", json.dumps(bad.json))
