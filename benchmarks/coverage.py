"""How often a reading's stated 95 % interval covers the true value: python -m benchmarks.coverage [count] [recorder]

Captures are drawn from formulas with known answers, each with its own noise, codes and sampling instants; the true
value is the formula's. Aim: 93 to 97 % of 500, and none beyond four uncertainties. With the name of a recorder
(`tests.support.recorders` has them, `all` for one line of each) the same captures are read
as it and its files would give them.
"""

from __future__ import annotations

import sys

import numpy as np

from tests.support.coverage import CASES, K_95, misses
from tests.support.recorders import RECORDERS

MOST = 4.0


def told(off: np.ndarray) -> str:
    share, beyond = float(np.mean(off <= K_95)), float(np.mean(off > MOST))
    mark = "" if 0.93 <= share <= 0.97 and not beyond else "   <--"
    return f"{100 * share:5.1f} % covered, {100 * beyond:4.1f} % beyond four of {off.size}{mark}"


def by_reading(count: int, recorder: str) -> None:
    for name, case in CASES.items():
        for reading_id, off in misses(case, count, recorder).items():
            print(f"{name:24s} {reading_id:22s} {told(off)}", flush=True)


def in_all(count: int) -> None:
    for recorder in RECORDERS:
        off = [x for case in CASES.values() for x in misses(case, count, recorder).values()]
        print(f"{recorder:16s} {told(np.concatenate(off))}", flush=True)


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    recorder = " ".join(sys.argv[2:]) or "as drawn"
    if recorder == "all":
        in_all(count)
    elif recorder in RECORDERS:
        by_reading(count, recorder)
    else:
        sys.exit(f"no recorder {recorder!r}; known: {', '.join(RECORDERS)}, all")


if __name__ == "__main__":
    main()
