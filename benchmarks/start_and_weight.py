"""Seconds of a second ./start until the page answers, and the compressed script of the first load:
python -m benchmarks.start_and_weight"""

from __future__ import annotations

import re
import signal
import subprocess
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def started() -> tuple[float, str, subprocess.Popen[str]]:
    begun = time.perf_counter()
    process = subprocess.Popen(["./start", "--port", "8400"], cwd=ROOT, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    for line in process.stdout:
        if match := re.search(r"http://\S+", line):
            urllib.request.urlopen(match[0]).read()
            return time.perf_counter() - begun, match[0], process
    raise SystemExit("./start did not come up")


def main() -> None:
    _, _, first = started()
    first.send_signal(signal.SIGINT)
    first.wait()
    seconds, url, process = started()
    print(f"second start: {seconds:.1f} s until the page answers")
    page = urllib.request.urlopen(url).read().decode()
    total = 0
    for path in re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page):
        request = urllib.request.Request(url.rstrip("/") + path, headers={"Accept-Encoding": "gzip"})
        total += len(urllib.request.urlopen(request).read())
    print(f"script of the sign-in page: {total / 1000:.0f} kB compressed")
    process.send_signal(signal.SIGINT)
    process.wait()


if __name__ == "__main__":
    main()
