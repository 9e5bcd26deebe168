"""Ten thousand calls drawn from the API's description over all roles, and ten thousand mutated files brought in:

python -m benchmarks.odd_input [calls] [files]
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from itertools import count, islice

from tests.support.client import WebTest
from tests.support.odd_calls import OddCalls, brought_in, odd_files, sent
from tests.support.waves import Sweep

SLOW_S = 5.0


class Bench(WebTest):
    """The application with a course, a card and a sitting, as the tests have it."""


def main() -> None:
    wanted = [int(a) for a in sys.argv[1:3]] + [10_000, 10_000][len(sys.argv[1:3]) :]
    Bench.setUpClass()
    try:
        card_id = Bench.published_card(version_id=Bench.published_reference()["version_id"])
        ids = [1, 2, card_id, Bench.handed_in("ann", card_id, Sweep(rate_hz=200)), Bench.course_id]
        with Bench.app.app_context():
            spec = Bench.app.spec
        statuses: Counter[int] = Counter()
        slowest, failed = 0.0, 0
        names = ("ann", "teacher", "admin", None)
        for seed, name in enumerate(names):
            for method, path, body in OddCalls(spec, ids, 100 + seed).calls(wanted[0] // len(names)):
                begun = time.perf_counter()
                status = sent(Bench.caller(name), method, path, body)
                took = time.perf_counter() - begun
                slowest = max(slowest, took)
                if status is not None:
                    statuses[status] += 1
                if (status is not None and status >= 500) or took > SLOW_S:
                    failed += 1
                    print("failed:", name, method, path[:100], status, f"{took:.1f} s", (body or b"")[:200])
        print(f"{sum(statuses.values())} calls: {dict(statuses)}; {failed} failed, the slowest took {slowest:.2f} s")
        slowest, failed, statuses = 0.0, 0, Counter()
        files = ((k, name, content) for k in count() for name, content in odd_files(1000 + k))
        for k, name, content in islice(files, wanted[1]):
            begun = time.perf_counter()
            got = brought_in(Bench.caller("teacher"), content)
            took = time.perf_counter() - begun
            slowest = max(slowest, took)
            statuses[got[-1]] += 1
            if any(s >= 500 for s in got) or took > SLOW_S:
                failed += 1
                print("failed:", k, name, got, f"{took:.1f} s")
        print(f"{wanted[1]} files: {dict(statuses)}; {failed} failed, the slowest took {slowest:.2f} s")
    finally:
        Bench.doClassCleanups()


if __name__ == "__main__":
    main()
