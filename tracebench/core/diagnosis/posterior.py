"""How probable each cause, and each pair of causes, is after the evidence: Bayes' rule over declared strengths.

Findings are taken as independent given the cause, two causes as a noisy OR (Pearl, Probabilistic Reasoning in
Intelligent Systems, 1988, from memory). A cause that may show in several ways is several hypotheses of equal weight.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from math import log, log1p

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.case import Case, holds
from tracebench.core.diagnosis.causes import Cause, vehicle_causes
from tracebench.core.diagnosis.evidence import Seen, Token
from tracebench.core.diagnosis.kinds.cause_kind import Shows
from tracebench.core.diagnosis.offers import STILL, fault_codes
from tracebench.core.diagnosis.strengths import MOSTLY, NEVER, STRANGE, WITHOUT_CONDITION
from tracebench.core.diagnosis.symptoms import CANNOT_MAKE, history, made, makes
from tracebench.core.diagnosis.vehicle import Vehicle

PAIRED = Threshold(0.02, "", "Part of all cases that have two causes (from memory)")
CURES = Threshold(20.0, "", "Weight of causes whose repair cured (common practice, no published source)")
CURES_NOT = Threshold(0.05, "", "Weight of causes whose repair cured nothing (common practice, no published source)")

_NEVER_BY_CHANCE = frozenset({"swap", "unplug-one-by-one", "resistance", "look-and-move"})
"""Records whose outcome a part that has nothing to do with it never makes."""


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """One way in which a cause may show: `share` of the cause's weight, on these cylinders."""

    cause: Cause
    number: int
    share: float
    cylinders: tuple[int, ...]
    shows: tuple[Shows, ...]


@lru_cache(maxsize=64)
def hypotheses(vehicle: Vehicle) -> tuple[Hypothesis, ...]:
    """Every way in which every cause of a vehicle may show."""
    out = []
    for number, cause in enumerate(vehicle_causes(vehicle)):
        ways = [(at, v) for at in _towers(cause) for v in cause.kind.variants]
        out += [Hypothesis(cause, number, 1 / len(ways), at, (*cause.shows, *variant)) for at, variant in ways]
    return tuple(out)


@lru_cache(maxsize=4096)
def showing(vehicle: Vehicle, test: str) -> tuple[tuple[int, Hypothesis], ...]:
    """The hypotheses that a test can show, with their numbers."""
    return tuple((h, w) for h, w in enumerate(hypotheses(vehicle)) if any(s.test == test for s in w.shows))


def _towers(cause: Cause) -> list[tuple[int, ...]]:
    """A paired coil's towers fail one at a time, or both."""
    if len(cause.cylinders) == 2 and cause.kind.id in ("coil-secondary-open", "coil-weak"):
        return [(cause.cylinders[0],), (cause.cylinders[1],), cause.cylinders]
    return [cause.cylinders]


def needed(cause: Cause, named: frozenset[str], test: str) -> frozenset[str]:
    """The conditions that a test must be done under for a cause to show: those that a complaint names, else its own."""
    return asked_of(test, named or frozenset({cause.kind.condition}) - {"always"})


def asked_of(test: str, conditions: frozenset[str]) -> frozenset[str]:
    """What of these conditions a test can be asked to be done under: idling and speed of a running engine only."""
    return conditions - {"idle", "speed"} if test in STILL else conditions


@dataclass(frozen=True, slots=True)
class Factor:
    """What one `Shows` of a hypothesis says of one piece of evidence: seen tokens it explains, or its absence."""

    strength: float
    explains: tuple[int, ...]
    share: float


def factors(way: Hypothesis, seen: Seen, strength_part: float) -> list[Factor]:
    """The factors of one hypothesis in one piece of evidence; strengths are scaled by `strength_part`."""
    out = []
    for shows in way.shows:
        if shows.test != seen.test or not _here(shows, way, seen):
            continue
        if shows.where == "own":
            for unit in units(shows.test, way):
                if not unit or any(seen.covers(n) for n in unit):
                    out += _factor(shows, way, seen, unit, strength_part)
        else:
            out += _factor(shows, way, seen, (), strength_part)
    return out


BY_TOWER = frozenset({"secondary-voltage", "spark-gap", "cylinder-drop", "look-and-move"})
"""Tests that tell the cylinders of one coil apart; to any other they are one thing."""


def units(test: str, way: Hypothesis) -> list[tuple[int, ...]]:
    """The cylinders on which a hypothesis shows of its own, as a test tells them apart; one empty where it has none."""
    if test in BY_TOWER:
        return [(n,) for n in way.cylinders] or [()]
    return [way.cause.cylinders]


def _here(shows: Shows, way: Hypothesis, seen: Seen) -> bool:
    """Whether the evidence is of the place where it shows."""
    if not shows.at or not seen.place.text:
        return True
    if seen.place.name != shows.at:
        return False
    at = seen.place.cylinders
    return shows.where != "own" or not at or not way.cylinders or bool(set(at) & set(way.cause.cylinders))


def _factor(shows: Shows, way: Hypothesis, seen: Seen, unit: tuple[int, ...], part: float) -> list[Factor]:
    hits, rank = [], len(shows.codes)
    for k, token in enumerate(seen.tokens):
        if token.code not in shows.codes or not _same_lane(shows, way, token):
            continue
        if not unit or token.cylinder is None or token.cylinder in unit:
            hits.append(k)
            rank = min(rank, shows.codes.index(token.code))
    if hits and (shows.where != "all" or _on_all(seen, hits)):
        return [Factor(part * shows.strength, tuple(hits), shares(len(shows.codes))[rank])]
    placeless = bool(shows.at) and not seen.place.text
    if not seen.clears or placeless or not seen.codes & set(shows.codes):
        return []
    return [Factor(part * shows.strength, (), 1.0)]


@cache
def shares(count: int) -> tuple[float, ...]:
    """Of so many findings of which one shows, the first named is the most usual: shares fall as one over the rank."""
    each = [1 / (k + 1) for k in range(count)]
    return tuple(e / sum(each) for e in each)


def _same_lane(shows: Shows, way: Hypothesis, token: Token) -> bool:
    lane = way.cause.place if shows.lane == "own" else shows.lane
    # A pedal's reference goes with its track: they end in one number.
    return not lane or not token.lane or token.lane.endswith(lane)


def _on_all(seen: Seen, hits: Sequence[int]) -> bool:
    """What shows on all cylinders shows on each that is told apart."""
    told = {seen.tokens[k].cylinder for k in hits}
    if None in told or len(seen.cylinders) == 1:
        return True
    wanted = len(seen.cylinders) or len({t.cylinder for t in seen.tokens if t.cylinder is not None})
    return len(told) > 1 and len(told) >= wanted


def strange(seen_test: str, cylinders: int) -> float:
    """The chance that a part with nothing wrong shows one given finding in a test."""
    if seen_test in _NEVER_BY_CHANCE:
        return float(NEVER)
    return STRANGE / (len(fault_codes(seen_test)) * max(cylinders, 1))


@dataclass(frozen=True, slots=True)
class Likelihood:
    """Hypotheses x evidence: log of what is absent, and for each token seen the chance that a hypothesis makes it."""

    absent: NDArray[np.float64]
    missed: NDArray[np.float64]
    """Log of the chance that a piece of evidence missed a hypothesis, in the condition that it shows in; else 0."""
    made: NDArray[np.float64]
    of: NDArray[np.intp]
    """The evidence that each token belongs to."""
    chance: NDArray[np.float64]
    """For each token its chance without any cause."""


def likelihood(case: Case, ways: Sequence[Hypothesis]) -> Likelihood:
    evidence = case.evidence
    starts = np.cumsum([0, *(len(s.tokens) for s in evidence)])
    absent = np.zeros((len(ways), len(evidence)))
    missed = np.zeros((len(ways), len(evidence)))
    made_by = np.zeros((len(ways), int(starts[-1])))
    for e, seen in enumerate(evidence):
        if seen.test == "road-test":
            absent[:, e] = [_on_the_road(case, way, seen) for way in ways]
        for h, way in showing(case.vehicle, seen.test):
            within = holds(needed(way.cause, case.named, seen.test), seen.conditions)
            for factor in factors(way, seen, 1.0 if within else float(WITHOUT_CONDITION)):
                if not factor.explains:
                    absent[h, e] += log1p(-factor.strength)
                    missed[h, e] += log1p(-factor.strength) if within else 0.0
                for k in factor.explains:
                    at = starts[e] + k
                    made_by[h, at] = 1 - (1 - made_by[h, at]) * (1 - factor.strength * factor.share)
    of = np.repeat(np.arange(len(evidence)), np.diff(starts)).astype(np.intp)
    chance = np.array([_chance(s, case.vehicle, t) for s in evidence for t in s.tokens])
    return Likelihood(absent, missed, made_by, of, chance)


def _on_the_road(case: Case, way: Hypothesis, seen: Seen) -> float:
    """Log likelihood of what occurred on the road or did not; without the condition only what did tells."""
    within = holds(needed(way.cause, case.named, seen.test), seen.conditions)
    out = 0.0
    for row in seen.rows:
        chance = occurs(way.cause, row["symptom"])
        if row["occurred"] == "yes":
            out += log(chance)
        elif within:
            out += log(1 - chance)
    return out


def occurs(cause: Cause, symptom: str) -> float:
    """The chance that a symptom shows on the road: mostly with what can make it."""
    return float(MOSTLY if makes(cause, symptom) else 1 - MOSTLY)


def _chance(seen: Seen, vehicle: Vehicle, token: Token) -> float:
    apart = (len(seen.cylinders) or vehicle.cylinders) if token.cylinder is not None else 1
    return strange(seen.test, apart)


@dataclass(frozen=True, slots=True)
class Posterior:
    """Causes with their probabilities (pairs shared equally between their two), and the pairs over none."""

    causes: tuple[Cause, ...]
    prior: NDArray[np.float64]
    probability: NDArray[np.float64]
    single: NDArray[np.float64]
    """Probability of each cause alone."""
    pairs: tuple[tuple[int, int, float], ...]
    by_evidence: NDArray[np.float64]
    """Causes x evidence: log likelihood of each piece."""
    missed: NDArray[np.float64]
    """Hypotheses x evidence, as `Likelihood` has it."""


def posterior(case: Case) -> Posterior:
    """Causes and pairs after the evidence."""
    ways = hypotheses(case.vehicle)
    causes = vehicle_causes(case.vehicle)
    of_way = np.array([w.number for w in ways])
    share = np.array([w.share for w in ways])
    weight = np.array([history(c, case) for c in causes])
    can = made(causes, case.symptoms)
    alone = weight * CANNOT_MAKE ** np.sum(~can, axis=1)
    seen = likelihood(case, ways)
    tokens = np.log1p(-(1 - seen.made) * (1 - seen.chance))
    each = seen.absent + _per_evidence(tokens, seen.of, seen.absent.shape[1])
    trials = sum((factor for _, factor in _trial_factors(case, causes)), np.zeros(len(causes)))
    of_single = np.log(alone[of_way] * share) + each.sum(axis=1) + trials[of_way]
    log_pairs, first, second = _pairs(ways, weight, can, share, of_way, seen, case)
    log_pairs += np.log(PAIRED / (1 - PAIRED)) + np.log(alone.sum())
    top = max(float(of_single.max()), float(log_pairs.max(initial=-np.inf)))
    singles, doubles = np.exp(of_single - top), np.exp(log_pairs - top)
    total = singles.sum() + doubles.sum()
    singles, doubles = singles / total, doubles / total
    single = np.bincount(of_way, singles, len(causes)).astype(np.float64)
    both = np.zeros((len(causes), len(causes)))
    np.add.at(both, (of_way[first], of_way[second]), doubles)
    probability = single + 0.5 * (both.sum(axis=0) + both.sum(axis=1))
    listed = tuple((int(i), int(j), float(both[i, j])) for i, j in zip(*np.nonzero(both > _LEAST_PAIR), strict=True))
    for e, factor in _trial_factors(case, causes):
        each[:, e] += factor[of_way]
    prior = np.bincount(of_way, alone[of_way] * share, len(causes)).astype(np.float64)
    with np.errstate(divide="ignore"):
        by_evidence = np.log(
            np.stack(
                [np.bincount(of_way, share * np.exp(each[:, e]), len(causes)) for e in range(each.shape[1])], axis=1
            )
            if each.shape[1]
            else np.ones((len(causes), 0))
        )
    return Posterior(causes, prior / prior.sum(), probability, single, listed, by_evidence, seen.missed)


_LEAST_PAIR = Threshold(0.0001, "", "Probability of a pair that is kept for what is listed and tested next")


def _per_evidence(tokens: NDArray[np.float64], of: NDArray[np.intp], pieces: int) -> NDArray[np.float64]:
    out = np.zeros((len(tokens), pieces))
    for k, e in enumerate(of):
        out[:, e] += tokens[:, k]
    return out


def _trial_factors(case: Case, causes: Sequence[Cause]) -> list[tuple[int, NDArray[np.float64]]]:
    """What each repair on trial says of each cause, as a log factor, with the number of its evidence."""
    return [
        (e, np.where(cures, np.log(CURES if cured else CURES_NOT), 0.0)) for e, cures, cured in repairs(case, causes)
    ]


def repairs(case: Case, causes: Sequence[Cause]) -> list[tuple[int, NDArray[np.bool_], bool]]:
    """For each repair on record its evidence, the causes that it would cure, and whether it did."""
    cure_of = {c.id: c.cure for c in causes}
    return [
        (
            e,
            np.array([c.kind.group != "none" and c.cure == cure_of[row["cause"]] for c in causes]),
            row["cured"] == "yes",
        )
        for e, seen in enumerate(case.evidence)
        if seen.test == "repair"
        for row in seen.rows
    ]


def _pairs(
    ways: Sequence[Hypothesis],
    weight: NDArray[np.float64],
    can: NDArray[np.bool_],
    share: NDArray[np.float64],
    of_way: NDArray[np.intp],
    seen: Likelihood,
    case: Case,
) -> tuple[NDArray[np.float64], NDArray[np.intp], NDArray[np.intp]]:
    """Log weight of every pair of hypotheses of two causes, one in all before the evidence, and their numbers."""
    first, second = _allowed(case.vehicle)
    missing = np.sum(~(can[of_way[first]] | can[of_way[second]]), axis=1)
    prior = np.log(weight[of_way] * share)
    total = prior[first] + prior[second] + missing * np.log(CANNOT_MAKE)
    total -= np.log(np.exp(total).sum()) if len(total) else 0.0
    absent = seen.absent.sum(axis=1)
    total += absent[first] + absent[second]
    for k, chance in enumerate(seen.chance):
        left = 1 - seen.made[:, k]
        total += np.log1p(-left[first] * left[second] * (1 - chance))
    for _, cures, cured in repairs(case, vehicle_causes(case.vehicle)):
        whole = cures[of_way[first]] & cures[of_way[second]]
        total += np.where(whole, np.log(CURES if cured else CURES_NOT), 0.0)
    return total, first, second


@lru_cache(maxsize=64)
def _allowed(vehicle: Vehicle) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Pairs of hypotheses that may hold at once: of two causes, not of one part, and never that nothing is wrong."""
    ways = hypotheses(vehicle)
    parts = {name: k for k, name in enumerate(dict.fromkeys(_one_thing(w.cause) for w in ways))}
    part = np.array([parts[_one_thing(w.cause)] for w in ways])
    wrong = np.array([w.cause.kind.group != "none" for w in ways])
    apart = (part[:, None] != part[None, :]) & wrong[:, None] & wrong[None, :]
    first, second = np.nonzero(np.triu(apart, 1))
    return first, second


def _one_thing(cause: Cause) -> str:
    """What two causes of cannot hold at once: one part at one place, one feed."""
    if cause.kind.id.startswith("reference-"):
        return f"reference {cause.place.partition(':')[0]}"
    return cause.cure
