"""How many requests are worked on at once, and that streams do not count among them."""

import threading
import unittest
from concurrent.futures import ThreadPoolExecutor

from tracebench.processes.web_server import Gate


class Gates(unittest.TestCase):
    def test_no_more_are_worked_on_at_once_and_all_are(self):
        here, most, lock = 0, 0, threading.Lock()
        second = threading.Barrier(2)

        def app(environ, start_response):
            nonlocal here, most
            with lock:
                here += 1
                most = max(most, here)
            second.wait(timeout=5)
            with lock:
                here -= 1
            return [b"done"]

        gate = Gate(app, 2)
        with ThreadPoolExecutor(8) as crowd:
            answers = list(crowd.map(lambda _: list(gate({}, None)), range(8)))
        self.assertEqual((answers, most), ([[b"done"]] * 8, 2))

    def test_a_stream_that_goes_on_keeps_nobody_out(self):
        gate = Gate(lambda environ, start_response: iter([b"a", b"b"]), 1)
        first = iter(gate({}, None))
        self.assertEqual(next(first), b"a")
        self.assertEqual(list(gate({}, None)), [b"a", b"b"])
        self.assertEqual(next(first), b"b")

    def test_one_that_fails_makes_room(self):
        def app(environ, start_response):
            raise ValueError

        gate = Gate(app, 1)
        for _ in range(3):
            with self.assertRaises(ValueError):
                gate({}, None)


if __name__ == "__main__":
    unittest.main()
