"""Records of every circuit drawn from formulas of neither core nor trainer: python -m benchmarks.drawn_outsider [seeds]

What is wrong with each is printed, then how many there are. How well stated uncertainties cover is for
`benchmarks.coverage`: values here are exact to a fraction of the allowed error only.
"""

from __future__ import annotations

import sys

from tests.outside.drawing import draw
from tests.outside.drawn import PULSES, SENSORS


def main(seeds: int) -> None:
    records = wrong = readings = 0
    for maker, kinds in {**SENSORS, **PULSES}.items():
        for kind in kinds:
            for seed in range(seeds):
                one = draw(maker, kind, seed)
                told = one.wrong()[1]
                records += 1
                wrong += bool(told)
                if told:
                    print(f"{one.circuit}, {kind} {seed}: {'; '.join(told)}")
                readings += len(one.reads)
    print(f"{records} records with {readings} values, {wrong} of them with something wrong")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 6)
