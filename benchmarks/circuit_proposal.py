"""How often the first proposal is the right circuit, by circuit: python -m benchmarks.circuit_proposal [seeds]

Records of the trainer over rates, bits and noise, sound and with each fault, and captures of formulas that neither the
trainer nor the looks use. Columns are named as channels; with units, without them, and with the lanes' names.
"""

from __future__ import annotations

import sys
from collections import Counter, defaultdict
from collections.abc import Iterator

import numpy as np

from tests.outside.captures import CAPTURES
from tests.outside.workshop import WORKSHOP
from tests.support.variations import EXPECTED, Variation
from tracebench.core.capture import Capture
from tracebench.core.proposal.propose import Column, figures_of, ranked

NOTHING = 0.02
"""Of what a lane can reach: a first lane that moves less shows nothing of its circuit."""


def records(seeds: int) -> Iterator[tuple[str, str, str, Capture]]:
    for code, faults in EXPECTED.items():
        for seed in range(seeds):
            yield code, "trainer, sound", "none", Variation(code, 9000 + seed).capture()
            yield code, "trainer, faulty, in noise", "", Variation(code, 9300 + seed, next(iter(faults))).in_noise()
        for fault in faults:
            for seed in range(seeds):
                yield code, "trainer, faulty", fault, Variation(code, 9600 + seed, fault).capture()
    for one in (*CAPTURES, *WORKSHOP):
        yield one.circuit, "other formulas", one.name, one.capture()


def still(capture: Capture) -> bool:
    """Whether no lane moves by more than noise: nothing but names could tell what it is."""
    swings = [np.ptp(np.quantile(lane.samples, (0.01, 0.99))) for lane in capture.lanes.values()]
    return max(swings) < NOTHING * max(1.0, *(float(np.abs(x.samples).max()) for x in capture.lanes.values()))


def main(seeds: int) -> None:
    kept = list(records(seeds))
    figures = [figures_of([Column("", "", x.samples) for x in c.lanes.values()], c.interval_s) for *_, c in kept]
    for way in ("channels with units", "channels without units", "lanes' names"):
        first, three, count = Counter[str](), Counter[str](), Counter[str]()
        by_circuit: dict[str, list[int]] = defaultdict(list)
        for (code, kind, _, capture), taken in zip(kept, figures, strict=True):
            lanes = list(capture.lanes.values())
            names = [x.name if way == "lanes' names" else f"Channel {k}" for k, x in enumerate(lanes)]
            units = ["" if way == "channels without units" else x.unit for x in lanes]
            columns = [Column(n, u, x.samples) for n, u, x in zip(names, units, lanes, strict=True)]
            order = [p.circuit for p in ranked(columns, taken, "")]
            place = order.index(code)
            for told in (kind, "all") if not still(capture) else (kind, "all", "of these still"):
                count[told] += 1
                first[told] += place == 0
                three[told] += place < 3
            by_circuit[code].append(place)
        print(f"\n{way}")
        for kind in count:
            share = f"{100 * first[kind] / count[kind]:5.1f} % first, {100 * three[kind] / count[kind]:5.1f} % of three"
            print(f"  {kind:<26} {count[kind]:4} {share}")
        print("  by circuit, first / of three / all:")
        for code, places in by_circuit.items():
            print(f"    {code:<26} {places.count(0):3} {sum(p < 3 for p in places):3} {len(places):3}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2)
