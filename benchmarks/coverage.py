"""How often a reading's stated 95 % interval covers the true value: python -m benchmarks.coverage [count]

Captures are drawn from formulas with known answers, each with its own noise, codes and sampling instants; the true
value is the formula's. Aim: 93 to 97 % of 500.
"""

from __future__ import annotations

import sys

from tests.support.coverage import CASES, covered


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    for name, case in CASES.items():
        for reading_id, share in covered(case, count).items():
            mark = "" if 0.93 <= share <= 0.97 else "   <--"
            print(f"{name:20s} {reading_id:22s} {100 * share:5.1f} %{mark}", flush=True)


if __name__ == "__main__":
    main()
