"""Sound recordings condemned and planted faults missed: python -m benchmarks.variations [sound [planted]] [circuit ...]

`sound` recordings of each circuit (300), and `planted` of each of its faults (a tenth as many, at least 10).
"""

from __future__ import annotations

import sys
import time
from collections import Counter

from tests.support.variations import EXPECTED, Variation


def main() -> None:
    counts = [int(a) for a in sys.argv[1:3] if a.isdigit()]
    count = counts[0] if counts else 300
    each = counts[1] if len(counts) > 1 else max(10, count // 10)
    for code in sys.argv[1 + len(counts) :] or EXPECTED:
        begun = time.perf_counter()
        wrong: Counter[str] = Counter()
        first: dict[str, int] = {}
        hidden = 0
        for seed in range(count):
            answer = Variation(code, seed).answer()
            for finding in {f.code for f in answer.findings if f.kind == "fault"} | (
                set(answer.because) if answer.call == "faulty" else set()
            ):
                wrong[finding] += 1
                first.setdefault(finding, seed)
            hidden += answer.call == "inconclusive"
        missed: Counter[str] = Counter()
        in_noise: Counter[str] = Counter()
        planted = 0
        for fault, codes in EXPECTED[code].items():
            for seed in range(1000, 1000 + each):
                planted += bool(codes)
                for noisy, counter in ((False, missed), (True, in_noise)):
                    one = Variation(code, seed, fault)
                    if not one.found(one.answer(noisy), codes):
                        counter[fault] += 1
                        first.setdefault(fault, seed)
        took = time.perf_counter() - begun
        print(
            f"{code}: {count} sound, condemned {dict(wrong) or 0}, cannot tell {hidden}; "
            f"{planted} planted, missed {dict(missed) or 0}, in noise {dict(in_noise) or 0}; "
            f"first seeds {first}; {took:.0f} s",
            flush=True,
        )


if __name__ == "__main__":
    main()
