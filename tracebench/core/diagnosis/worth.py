"""Which test is worth its time: expected information about the causes, in bits, and bits a minute.

Information as Shannon (A mathematical theory of communication, 1948) has it: entropy of the suspects now less its
expectation after the test; choosing tests by it as de Kleer and Williams (Diagnosing multiple faults, 1987) do.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.diagnosis.case import Case, holds
from tracebench.core.diagnosis.causes import Cause
from tracebench.core.diagnosis.kinds.cause_kind import Shows
from tracebench.core.diagnosis.offers import Offer, Place, fault_codes, vehicle_offers
from tracebench.core.diagnosis.path import making_min
from tracebench.core.diagnosis.posterior import (
    Hypothesis,
    Posterior,
    asked_of,
    hypotheses,
    needed,
    occurs,
    shares,
    showing,
    strange,
    units,
)
from tracebench.core.diagnosis.strengths import WITHOUT_CONDITION
from tracebench.core.diagnosis.support import Support, lacking
from tracebench.core.diagnosis.vehicle import Vehicle

MOST = Count(10, "tests", "Proposed at once, so that a list is read at a glance")
LEAST_BITS = Threshold(1e-4, "", "Information under which a test is not worth proposing")
LIKELY = Threshold(0.02, "", "Share of the suspects that makes the condition they show under worth making")


@dataclass(frozen=True, slots=True)
class Next:
    """A test that may be done next, what it costs and what it is expected to tell."""

    offer: Offer
    conditions: tuple[str, ...]
    minutes: float
    bits: float

    @property
    def bits_per_minute(self) -> float:
        return self.bits / max(self.minutes, _LEAST_MINUTES)


_LEAST_MINUTES = Threshold(0.1, "min", "What any test takes at the least")


def next_tests(case: Case, found: Posterior, held: Support) -> list[Next]:
    """At most ten tests by falling bits a minute; only those that prove while nothing but proofs lacks."""
    if held.supported:
        return []
    only_proofs = bool(held.unproven)
    out = []
    ways = hypotheses(case.vehicle)
    mass = found.probability[[w.number for w in ways]] * np.array([w.share for w in ways])
    conditions = tuple(_conditions(case, found))
    for offer in vehicle_offers(case.vehicle):
        if only_proofs and not any(_would_prove(case, offer, cause) for cause in held.named):
            continue
        for under in conditions:
            wanted = asked_of(offer.test, frozenset(under))
            if _done(case, offer, wanted):
                continue
            bits = _of_road_test(case, found) if offer.test == "road-test" else expected_bits(case, mass, offer, wanted)
            if bits > LEAST_BITS or only_proofs:
                out.append(Next(offer, tuple(sorted(wanted)), minutes(case, offer, wanted), bits))
    out.sort(key=lambda n: (-n.bits_per_minute, n.minutes, n.offer.test, n.offer.place.text))
    # A test is proposed once, under the condition that is worth most; once done, the next one is.
    best = {n.offer: n for n in reversed(out)}
    return [n for n in out if best[n.offer] is n][:MOST]


def _conditions(case: Case, found: Posterior) -> Iterator[tuple[str, ...]]:
    """The conditions worth testing under: the complaint's, else those that likely suspects show under."""
    if case.named:
        yield tuple(sorted(case.named))
        return
    yield ()
    held: dict[str, float] = {}
    for cause, p in zip(found.causes, found.probability, strict=True):
        held[cause.kind.condition] = held.get(cause.kind.condition, 0.0) + float(p)
    yield from ((c,) for c, p in held.items() if c != "always" and p > LIKELY)


def minutes(case: Case, offer: Offer, wanted: frozenset[str]) -> float:
    """What a test takes; a condition that the last piece of evidence was taken under need not be made again."""
    if offer.test in case.costs:
        return case.costs[offer.test]
    last = case.evidence[-1].conditions if case.evidence else frozenset()
    return offer.minutes + making_min(case, wanted, last)


def _done(case: Case, offer: Offer, wanted: frozenset[str]) -> bool:
    """A test on record at the same place under these conditions."""
    for seen in case.evidence:
        if seen.test != offer.test:
            continue
        same_place = seen.place in (offer.place, Place())
        if seen.place.cylinders and not seen.place.name:
            same_place = seen.place.cylinders == offer.place.cylinders
        if seen.test == "swap":
            part = {c.partition(":")[2] for c in seen.codes}
            same_place = offer.what in part and (
                not offer.place.cylinders or bool(set(offer.place.cylinders) & set(seen.cylinders))
            )
        if seen.test == "look-and-move":
            same_place = f"faulty:{offer.what}" in seen.codes
        whole = seen.test not in ("cylinder-drop", "spark-gap") or len(seen.cylinders) >= case.vehicle.cylinders
        if same_place and whole and holds(wanted, seen.conditions):
            return True
    return False


def _would_prove(case: Case, offer: Offer, cause: Cause) -> bool:
    """Whether a test can prove what is still unproven of a cause."""
    lacks = [lack.partition(": ") for lack in lacking(case, cause)]
    if not lacks:
        return False
    place, wanted = lacks[0][0], {what for _, _, what in lacks}
    if offer.test in ("voltage", "supply-ground"):
        here = offer.place.text == place or (not offer.place.cylinders and offer.place.name == cause.kind.part)
        return here and bool(wanted - {"signal"})
    if cause.kind.kind == "controller":
        return False
    if offer.test == "swap":
        return offer.what == cause.kind.part and set(cause.cylinders) >= set(offer.place.cylinders)
    if offer.test == "look-and-move":
        return offer.what == "wires" and "signal" in wanted
    at = offer.place.cylinders
    return offer.test in cause.kind.circuits and (not at or not cause.cylinders or bool(set(at) & set(cause.cylinders)))


def expected_bits(case: Case, mass: NDArray[np.float64], offer: Offer, wanted: frozenset[str]) -> float:
    """The mutual information of causes and outcomes of one test, in bits; `mass` is of hypotheses."""
    rows, table, told = outcomes(case.vehicle, offer, wanted, case.named)
    return _bits(np.bincount(rows, mass, len(table)).astype(np.float64), table, told)


def information(held: NDArray[np.float64], table: NDArray[np.float64]) -> float:
    """Mutual information in bits of rows held with these probabilities and outcomes distributed as in `table`."""
    return _bits(held, table, _entropies(table))


def _bits(held: NDArray[np.float64], table: NDArray[np.float64], told: NDArray[np.float64]) -> float:
    held = held / held.sum()
    return float(max(_entropies((held @ table)[None, :])[0] - held @ told, 0.0))


def _entropies(table: NDArray[np.float64]) -> NDArray[np.float64]:
    """Entropy of each row, in bits."""
    out: NDArray[np.float64] = -np.sum(table * np.log2(np.maximum(table, _TINY)), axis=1)
    return out


_TINY = Threshold(1e-300, "", "Keeps the logarithm of nought finite, where it is multiplied by nought")


def _of_road_test(case: Case, found: Posterior) -> float:
    symptom = next((s for s in case.symptoms if s != "none"), None)
    if symptom is None:
        return 0.0
    chance = np.array([occurs(c, symptom) for c in found.causes])
    return information(found.probability, np.stack([chance, 1 - chance], axis=1))


Pattern = frozenset[tuple[str, int | None, str]]


@lru_cache(maxsize=4096)
def outcomes(
    vehicle: Vehicle, offer: Offer, wanted: frozenset[str], named: frozenset[str]
) -> tuple[NDArray[np.intp], NDArray[np.float64], NDArray[np.float64]]:
    """For each hypothesis its row of the table, the chance of each outcome in each row, and each row's entropy.

    An outcome is a set of findings. Hypotheses that show alike in this test share a row.
    """
    ways = hypotheses(vehicle)
    kinds: dict[tuple[tuple[float, tuple[tuple[str, int | None, str], ...]], ...], int] = {(): 0}
    rows = np.zeros(len(ways), np.intp)
    for h, way in showing(vehicle, offer.test):
        groups = tuple(_groups(vehicle, offer, wanted, named, way))
        rows[h] = kinds.setdefault(groups, len(kinds))
    chance = strange(offer.test, _apart(vehicle, offer))
    patterns: dict[Pattern, int] = {}
    spread = [dict(_patterns(groups)) for groups in kinds]
    for row in spread:
        for pattern in row:
            patterns.setdefault(pattern, len(patterns))
    table = np.empty((len(kinds), len(patterns)))
    for r, groups in enumerate(kinds):
        own = {t for _, tokens in groups for t in tokens}
        for pattern, k in patterns.items():
            stray = len(pattern - own)
            table[r, k] = spread[r].get(frozenset(pattern & own), 0.0) * chance**stray
    table /= table.sum(axis=1, keepdims=True)
    return rows, table, _entropies(table)


def _apart(vehicle: Vehicle, offer: Offer) -> int:
    tied = offer.test in ("cylinder-drop", "spark-gap") or (offer.place.name == "fuse" and offer.test != "voltage")
    return vehicle.cylinders if tied else 1


def _groups(
    vehicle: Vehicle, offer: Offer, wanted: frozenset[str], named: frozenset[str], way: Hypothesis
) -> Iterator[tuple[float, tuple[tuple[str, int | None, str], ...]]]:
    """What a hypothesis would show in a test: a chance, and the findings of which one shows."""
    within = holds(needed(way.cause, named, offer.test), wanted)
    part = 1.0 if within else float(WITHOUT_CONDITION)
    for shows in way.shows:
        if shows.test != offer.test or not _at_place(shows, way, offer):
            continue
        if not set(shows.codes) <= set(fault_codes(offer.test)) or not _looked_for(shows, offer):
            continue
        lane = way.cause.place if shows.lane == "own" else shows.lane
        if shows.where == "own" and way.cylinders:
            at = offer.place.cylinders
            there = [u for u in units(shows.test, way) if not at or set(at) & set(u)]
            whole = len({n for u in there for n in u}) == vehicle.cylinders
            for n in [None] if whole else [min(u) for u in there]:
                yield part * shows.strength, tuple((c, n, lane) for c in shows.codes)
        else:
            yield part * shows.strength, tuple((c, None, lane) for c in shows.codes)


def _looked_for(shows: Shows, offer: Offer) -> bool:
    if offer.test == "swap":
        return shows.codes == (f"moved:{offer.what}",)
    return offer.test != "look-and-move" or shows.codes == (f"faulty:{offer.what}",)


def _at_place(shows: Shows, way: Hypothesis, offer: Offer) -> bool:
    at = offer.place
    if shows.at and at.name != shows.at:
        return False
    if offer.test in ("voltage", "supply-ground", "resistance", "swap") and at.cylinders and way.cylinders:
        return bool(set(at.cylinders) & set(way.cause.cylinders))
    return True


def _patterns(
    groups: Sequence[tuple[float, tuple[tuple[str, int | None, str], ...]]],
) -> Iterator[tuple[Pattern, float]]:
    """Sets of findings that independent groups make, with their chances."""
    spread: dict[Pattern, float] = {}
    choices = []
    for chance, tokens in groups:
        one = zip(tokens, shares(len(tokens)), strict=True)
        choices.append([(frozenset(), 1 - chance), *((frozenset({t}), chance * s) for t, s in one)])
    for picked in product(*choices):
        pattern = frozenset().union(*(p for p, _ in picked)) if picked else frozenset()
        spread[pattern] = spread.get(pattern, 0.0) + float(np.prod([c for _, c in picked]))
    yield from spread.items()
