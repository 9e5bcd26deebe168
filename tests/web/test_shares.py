"""So much at once for each person: one who asks for everything keeps nobody else waiting."""

import threading
import time
import unittest
from concurrent.futures import ThreadPoolExecutor

from tests.support.client import WebTest, csv_of
from tests.support.waves import Sweep
from tracebench.processes.web_server import Gate
from tracebench.usecases.errors import TooSoon
from tracebench.web import shares


class EachTheirShare(unittest.TestCase):
    def test_one_more_than_one_s_own_or_than_all_is_refused_until_one_is_given_back(self):
        some = shares.Shares(2, 3, "later", 7)
        first, _ = some.take("ann"), some.take("ann")
        with self.assertRaises(TooSoon) as refused:
            some.take("ann")
        self.assertEqual((refused.exception.seconds, str(refused.exception)), (7, "later"))
        some.take("ben")
        with self.assertRaises(TooSoon):
            some.take("cid")
        first()
        first()
        some.take("cid")
        with self.assertRaises(TooSoon):
            some.take("ann")

    def test_what_fails_gives_back(self):
        some = shares.Shares(1, 1, "later", 1)
        for _ in range(3):
            with self.assertRaises(ZeroDivisionError), some.held("ann"):
                raise ZeroDivisionError


class Rude(unittest.TestCase):
    """A gate for twelve before which one person stands with sixty requests."""

    def setUp(self):
        self.lock, self.here, self.most, self.go = threading.Lock(), 0, 0, threading.Event()
        self.gate = Gate(self.app, 12, of_one=6, waiting=8)

    def app(self, environ, start_response):
        if environ.get("QUICK"):
            return [b"quick"]
        with self.lock:
            self.here += 1
            self.most = max(self.most, self.here)
        self.go.wait(20)
        with self.lock:
            self.here -= 1
        return [b"slow"]

    def test_six_are_worked_on_eight_wait_and_others_go_past(self):
        refused = []

        def ask(_):
            told = list(self.gate({"HTTP_COOKIE": "a=b; tracebench=rude"}, lambda *head: refused.append(head)))
            return told[0]

        with ThreadPoolExecutor(60) as crowd:
            asked = [crowd.submit(ask, k) for k in range(60)]
            end = time.monotonic() + 20
            while len(refused) < 46 and time.monotonic() < end:
                time.sleep(0.01)
            for k in range(20):
                self.assertEqual(list(self.gate({"QUICK": 1, "HTTP_COOKIE": f"tracebench=other{k}"}, None)), [b"quick"])
            self.assertEqual(list(self.gate({"QUICK": 1}, None)), [b"quick"])
            self.go.set()
            told = [one.result() for one in asked]
        self.assertEqual((self.most, told.count(b"slow"), len(refused)), (6, 14, 46))
        self.assertEqual(refused[0][0], "429 Too Many Requests")
        self.assertEqual(dict(refused[0][1])["Retry-After"], "1")

    def test_sessions_of_one_person_count_together(self):
        for session in ("one", "two"):
            shares.belongs(session, 4711)
        self.assertEqual(shares.asks("tracebench=one"), 4711)
        self.assertEqual(shares.asks("x=y; tracebench=two"), 4711)
        self.assertEqual(shares.asks("tracebench=three"), "three")
        self.assertIsNone(shares.asks("x=y"))


class Asked(WebTest):
    def test_a_second_export_at_once_is_told_to_wait_and_another_person_s_is_not(self):
        ann, ben = self.caller("ann"), self.caller("ben")
        ids = {who: who.import_csv(csv_of(Sweep(rate_hz=200))) for who in (ann, ben)}
        with shares.EXPORTS.held(self.ids["ann"]):
            refused = ann.get(f"/api/captures/{ids[ann]}/file?ending=csv")
            self.assertEqual((refused.status_code, refused.headers["Retry-After"]), (429, "3"))
            self.assertEqual(ben.get(f"/api/captures/{ids[ben]}/file?ending=csv").status_code, 200)
        self.assertEqual(ann.get(f"/api/captures/{ids[ann]}/file?ending=csv").status_code, 200)

    def test_files_beyond_one_s_own_three_wait(self):
        ann = self.caller("ann")
        taken = [shares.FILES.take(self.ids["ann"]) for _ in range(3)]
        self.assertEqual(ann.upload(csv_of(Sweep(rate_hz=200))).status_code, 429)
        for give_back in taken:
            give_back()
        self.assertEqual(ann.upload(csv_of(Sweep(rate_hz=200))).status_code, 201)

    def test_a_device_is_known_by_its_cookie_and_gets_its_turn(self):
        own = self.caller(None)
        self.assertEqual(own.sign_in("spare").status_code, 200)
        self.assertEqual(own.delete("/api/session").status_code, 204)
        statuses = []
        for _ in range(14):
            statuses.append(self.caller(None).sign_in("spare", "wrong one").status_code)
        self.assertIn(429, statuses)
        own.csrf = own.get("/api/session").json["csrf"]
        self.assertEqual(own.sign_in("spare").status_code, 200)
        forged = self.caller(None)
        forged.client.set_cookie("tracebench_device", "made up")
        self.assertEqual(forged.sign_in("spare").status_code, 429)


if __name__ == "__main__":
    unittest.main()
