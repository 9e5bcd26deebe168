"""Falls that are too weak to be seen alone, and come back at one travel in pass after pass: a worn track in noise."""

from __future__ import annotations

from tracebench.circuits.throttle_position.work import DROPOUT_FLOOR_V, LONGEST_DROPOUT_S
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.excursions import Excursion, find_excursions
from tracebench.core.robust.median import percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.samples import Samples

WEAK = Threshold(
    0.4, "", "Part of what one alone must stand out by from which several at one travel are looked at together"
)

NOISE_V = Threshold(0.02, "V", "Noise from which a fall of the least depth that counts may be too weak alone")

FEWEST = Count(3, "events", "Two falls at one travel may be chance")
NEAR = Threshold(0.06, "", "Part of the swing within which falls are at one travel")


def repeated_excursions(work: Work, samples: Samples) -> list[Excursion]:
    """Excursions that stand out alone, and weaker falls that recur at one level in at least three passes, in order."""
    found = find_excursions(
        samples, work.capture.interval_s, LONGEST_DROPOUT_S, DROPOUT_FLOOR_V, medians_of=work.block_medians
    )
    if sample_noise(samples) < NOISE_V:
        return found
    weak = find_excursions(
        samples, work.capture.interval_s, LONGEST_DROPOUT_S, DROPOUT_FLOOR_V, least=WEAK, medians_of=work.block_medians
    )
    falls = [e for e in weak if e.depth < 0]
    if len(falls) < FEWEST or len(weak) == len(found):
        return found
    low, high = percentiles(samples[:: max(1, samples.size // 32_768)], 1.0, 99.0)
    near = NEAR * float(high - low) + falls[0].sigma
    known = {(e.start, e.stop) for e in found}
    for e in falls:
        company = [o for o in falls if abs(o.trend - e.trend) <= near]
        if len(company) >= FEWEST and (e.start, e.stop) not in known:
            found.append(e)
            known.add((e.start, e.stop))
    return sorted(found, key=lambda e: e.start)
