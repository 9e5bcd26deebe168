"""Requests that dribble in are closed when their time is over, and hold up nobody meanwhile."""

import socket
import threading
import time
import unittest
import urllib.request
from unittest import mock

from tracebench.processes import web_server


def application(environ, start_response):
    size = len(environ["wsgi.input"].read())
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [str(size).encode()]


class SlowSenders(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        for name, value in (("HEADERS_S", 2.0), ("BODY_S", 2.0), ("SLOWEST_BYTES_S", 1e6)):
            patched = mock.patch.object(web_server, name, value)
            patched.start()
            cls.addClassCleanup(patched.stop)
        listening = socket.socket()
        listening.bind(("127.0.0.1", 0))
        listening.listen(64)
        cls.at = listening.getsockname()
        cls.server = web_server.server_of(application, listening, 10_000_000, look_s=1)
        cls.thread = threading.Thread(target=cls.server.run, daemon=True)
        cls.thread.start()

    @classmethod
    def tearDownClass(cls):
        cls.server.close()
        cls.server.task_dispatcher.shutdown()

    def _dribbled(self, head: bytes, drop: bytes) -> float:
        """How long a connection stays open that sends a drop every tenth of a second."""
        begun = time.monotonic()
        with socket.create_connection(self.at) as sender:
            sender.settimeout(0.1)
            sender.sendall(head)
            while time.monotonic() - begun < 15:
                try:
                    sender.sendall(drop)
                    if sender.recv(1) == b"":
                        break
                except TimeoutError:
                    continue
                except OSError:
                    break
        return time.monotonic() - begun

    def test_headers_that_never_end(self):
        took = self._dribbled(b"GET / HTTP/1.1\r\nHost: x\r\n", b"X-A: 1\r\n")
        self.assertGreater(took, 1.5)
        self.assertLess(took, 8)

    def test_a_body_that_never_ends(self):
        took = self._dribbled(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\n", b"a")
        self.assertGreater(took, 3.5)
        self.assertLess(took, 10)

    def test_others_are_answered_meanwhile_and_an_honest_body_gets_through(self):
        held = []
        for _ in range(30):
            sender = socket.create_connection(self.at)
            sender.sendall(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 100\r\n\r\na")
            held.append(sender)
        request = urllib.request.Request(f"http://127.0.0.1:{self.at[1]}/", data=b"x" * 3_000_000)
        with urllib.request.urlopen(request, timeout=5) as answer:
            self.assertEqual(answer.read(), b"3000000")
        for sender in held:
            sender.close()


if __name__ == "__main__":
    unittest.main()
