"""The suspects of a case: every cause with its probability, what to test next, and whether one may stop."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NotRequired, TypedDict

import numpy as np

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.case import Case
from tracebench.core.diagnosis.posterior import Posterior, posterior
from tracebench.core.diagnosis.support import Support, ruled_out, support
from tracebench.core.diagnosis.worth import Next, next_tests

LISTED_PAIR = Threshold(0.01, "", "Probability from which a pair is listed (common practice, no published source)")
SPEAKS = Threshold(1.5, "", "Likelihood against that of all suspects from which evidence speaks for one, or against")


SuspectRow = TypedDict(
    "SuspectRow", {"cause": str, "probability": float, "ruled_out": bool, "for": list[int], "against": list[int]}
)
"""One suspect, with the numbers of the evidence that speaks for it and against it."""


class PairRow(TypedDict):
    causes: list[str]
    probability: float


class NextRow(TypedDict):
    """A test worth its time; `part` of a swap, `what` is looked at."""

    test: str
    at: NotRequired[str]
    part: NotRequired[str]
    what: NotRequired[str]
    conditions: list[str]
    minutes: float
    bits: float
    bits_per_minute: float


class SuspicionRow(TypedDict):
    """The shape that the command line prints."""

    suspects: list[SuspectRow]
    pairs: list[PairRow]
    next: list[NextRow]
    unproven: list[str]
    supported: bool
    why_not: list[str]


@dataclass(frozen=True, slots=True)
class Suspicion:
    """All that a case's evidence says; rows of `posterior.causes` go with `ruled_out`."""

    case: Case
    posterior: Posterior
    ruled_out: tuple[bool, ...]
    support: Support
    next: tuple[Next, ...]

    def as_json(self) -> SuspicionRow:
        found = self.posterior
        speaks = _speaks(found)
        order = np.argsort(-found.probability, kind="stable")
        return {
            "suspects": [
                {
                    "cause": found.causes[k].id,
                    "probability": float(found.probability[k]),
                    "ruled_out": self.ruled_out[k],
                    "for": [int(e) for e in np.flatnonzero(speaks[k] > 0)],
                    "against": [int(e) for e in np.flatnonzero(speaks[k] < 0)],
                }
                for k in order
            ],
            "pairs": [
                PairRow(causes=[found.causes[i].id, found.causes[j].id], probability=p)
                for i, j, p in sorted(found.pairs, key=lambda p: -p[2])
                if p > LISTED_PAIR
            ],
            "next": [_next_row(n) for n in self.next],
            "unproven": list(self.support.unproven),
            "supported": self.support.supported,
            "why_not": list(self.support.why_not),
        }


def _next_row(one: Next) -> NextRow:
    row = NextRow(
        test=one.offer.test,
        conditions=list(one.conditions),
        minutes=one.minutes,
        bits=one.bits,
        bits_per_minute=one.bits_per_minute,
    )
    if one.offer.place.text:
        row["at"] = one.offer.place.text
    if one.offer.test == "swap":
        row["part"] = one.offer.what
    if one.offer.test == "look-and-move":
        row["what"] = one.offer.what
    return row


def _speaks(found: Posterior) -> np.ndarray:
    """Causes x evidence: 1 where a piece speaks for a cause, -1 where against, 0 where it leaves it as it was."""
    if not found.by_evidence.shape[1]:
        return np.zeros(found.by_evidence.shape, int)
    usual = np.log(found.prior @ np.exp(found.by_evidence))
    apart = found.by_evidence - usual
    out: np.ndarray = np.where(apart > np.log(SPEAKS), 1, np.where(apart < -np.log(SPEAKS), -1, 0))
    return out


def of_case(case: Case) -> Suspicion:
    """What is suspected, ruled out and supported, and what is worth testing next."""
    found = posterior(case)
    held = support(case, found)
    return Suspicion(case, found, tuple(ruled_out(case, found)), held, tuple(next_tests(case, found, held)))
