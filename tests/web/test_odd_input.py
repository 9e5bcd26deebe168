"""No call and no file, however odd, is answered by a server error, or hangs."""

import time
import unittest

from tests.support.client import WebTest
from tests.support.odd_calls import OddCalls, brought_in, odd_files, sent
from tests.support.waves import Sweep

SLOWEST_S = 5.0
"""No page of a person waits longer for an odd file to be understood."""


class OddInput(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        version_id = cls.published_reference()["version_id"]
        card_id = cls.published_card(version_id=version_id)
        sitting_id = cls.handed_in("ann", card_id, Sweep(rate_hz=200))
        cls.some_ids = [1, 2, card_id, sitting_id, cls.course_id]

    def test_of_the_api(self):
        with self.app.app_context():
            spec = self.app.spec
        for seed, name in enumerate(("ann", "teacher", "admin", None)):
            who = self.caller(name)
            for method, path, body in OddCalls(spec, self.some_ids, seed).calls(250):
                status = sent(who, method, path, body)
                with self.subTest(who=name, method=method, path=path[:80], body=(body or b"")[:300]):
                    self.assertLess(status or 0, 500)

    def test_a_number_of_thousands_of_digits_is_a_sentence(self):
        ann = self.caller("ann")
        for number in (b"9" * 5000, b"-" + b"1" * 5000):
            head = {"X-CSRFToken": ann.csrf, "Content-Type": "application/json"}
            answer = ann.client.post("/api/captures", data=b'{"upload_id": ' + number + b"}", headers=head)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("more digits", answer.json["detail"])

    def test_of_a_file(self):
        teacher = self.caller("teacher")
        for name, content in odd_files(7):
            begun = time.monotonic()
            statuses = brought_in(teacher, content)
            with self.subTest(file=name, statuses=statuses):
                self.assertTrue(all(s < 500 for s in statuses))
                self.assertLess(time.monotonic() - begun, SLOWEST_S)


if __name__ == "__main__":
    unittest.main()
