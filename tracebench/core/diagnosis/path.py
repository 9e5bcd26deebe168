"""What the path so far has taken: minutes of each piece of evidence, in its order."""

from __future__ import annotations

from tracebench.core.diagnosis.case import Case, holds
from tracebench.core.diagnosis.causes import vehicle_causes
from tracebench.core.diagnosis.evidence import Seen
from tracebench.core.diagnosis.offers import CONDITION_MIN, usual_min


def spent(case: Case) -> tuple[float, ...]:
    """Minutes of each piece of evidence; a condition costs once for all tests that follow under it.

    A case's own cost of a test is the whole of it.
    """
    out: list[float] = []
    before: frozenset[str] = frozenset()
    for seen in case.evidence:
        out.append(case.costs[seen.test] if seen.test in case.costs else _usual(case, seen, before))
        before = seen.conditions
    return tuple(out)


def making_min(case: Case, wanted: frozenset[str], before: frozenset[str]) -> float:
    """Minutes to make the conditions that a test wants and the one before it was not done under."""
    made = [c for c in CONDITION_MIN if c in wanted and not holds(frozenset({c}), before)]
    return sum(case.costs.get(c, float(CONDITION_MIN[c])) for c in made)


def _usual(case: Case, seen: Seen, before: frozenset[str]) -> float:
    making = making_min(case, seen.conditions, before)
    if seen.test == "repair":
        minutes = {c.id: c.kind.minutes for c in vehicle_causes(case.vehicle)}
        return making + sum(minutes[row["cause"]] for row in seen.rows)
    return making + usual_min(seen.test, seen.place, case.vehicle)
