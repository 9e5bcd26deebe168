"""`./start` keeps its processes running, and leaves none behind when it is killed. A short form of benchmarks/chaos."""

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.error
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path

HERE = Path(__file__).parents[2]
PATIENCE_S = 60.0


class Start(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory(ignore_cleanup_errors=True)))
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.said = (self.folder / "said").open("w")
        self.addCleanup(self.said.close)
        told = ["--data", str(self.folder / "data"), "--port", str(self.port), "--no-demo", "--no-backups"]
        self.start = subprocess.Popen(
            [sys.executable, "-m", "tracebench.processes.serve", *told],
            cwd=HERE,
            stdout=self.said,
            stderr=subprocess.STDOUT,
        )
        self.addCleanup(self.stop)
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.until(lambda: self.status() == 401, "no web server came up")

    def stop(self):
        if self.start.poll() is None:
            self.start.send_signal(signal.SIGHUP)
            self.start.wait(PATIENCE_S)

    def until(self, holds, why):
        end = time.monotonic() + PATIENCE_S
        while not holds():
            self.assertLess(time.monotonic(), end, why)
            time.sleep(0.1)

    def status(self) -> int:
        """What a sign-in of nobody is answered: 401 with a database, 503 without, 0 with no server."""
        url = f"http://127.0.0.1:{self.port}/api/session"
        try:
            with self.opener.open(url, timeout=10) as answer:
                csrf = json.loads(answer.read())["csrf"]
            body = json.dumps({"sign_in": f"nobody{time.monotonic_ns()}", "password": "x"}).encode()
            headers = {"Content-Type": "application/json", "X-CSRFToken": csrf}
            self.opener.open(urllib.request.Request(url, body, headers), timeout=10)
        except urllib.error.HTTPError as refused:
            self.after = refused.headers.get("Retry-After")
            return refused.code
        except OSError:
            return 0
        return 200

    def beneath(self, what: str) -> list[int]:
        found = subprocess.run(
            ["pgrep", "-P", str(self.start.pid), "-f", what], capture_output=True, text=True, check=False
        )
        return [int(pid) for pid in found.stdout.split()]

    def nice(self, what: str) -> int:
        return os.getpriority(os.PRIO_PROCESS, self.beneath(what)[0])

    def each_on_one_processor(self, processes):
        allowed = sorted(os.sched_getaffinity(0))
        got = sorted(min(os.sched_getaffinity(pid)) for pid in processes)
        self.assertEqual([len(os.sched_getaffinity(pid)) for pid in processes], [1, 1])
        self.assertEqual(got, sorted([allowed[0], allowed[1 % len(allowed)]]))

    def test_what_dies_is_started_again_and_what_is_left_behind_ends_by_itself(self):
        kinds = {"mariadbd": 1, "tracebench.processes.web_server": 2, "tracebench.processes.worker": 1}
        for what, count in kinds.items():
            before = self.beneath(what)
            self.assertEqual(len(before), count, what)
            if what == "tracebench.processes.web_server":
                self.each_on_one_processor(before)
            os.kill(before[0], signal.SIGKILL)
            if what == "mariadbd":
                self.assertEqual((self.status(), self.after), (503, "2"))
            self.until(lambda w=what, n=count, b=before: len(set(self.beneath(w)) - {b[0]}) == n, f"{what} is not back")
        self.until(lambda: self.status() == 401, "the database does not answer again")
        said = (self.folder / "said").read_text()
        for line in (
            "the database stopped",
            "the database runs again",
            "web server 1 runs again",
            "worker 1 runs again",
        ):
            self.assertIn(line, said)
        self.until(
            lambda: self.nice("tracebench.processes.worker") > self.nice("tracebench.processes.web_server"),
            "jobs do not give way to pages",
        )
        held = self.beneath("tracebench.processes.worker")[0]
        os.kill(held, signal.SIGSTOP)
        self.until(lambda: not alive(held), "a worker that is held was not ended")
        self.until(lambda: len(self.beneath("tracebench.processes.worker")) == 1, "the worker is not back")
        self.assertIn("the worker 1 gives no sign of life", (self.folder / "said").read_text())
        left = [pid for what in kinds for pid in self.beneath(what)]
        self.start.kill()
        self.start.wait()
        self.until(lambda: not any(alive(pid) for pid in left), "processes were left behind")


def alive(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


if __name__ == "__main__":
    unittest.main()
