"""Hold readings against their limits: inside, marginal or outside, and which basis decides."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any, cast

from tracebench.core.answer import BASES, CONDITION_TITLES, JudgedLimit, Limit, Reading
from tracebench.core.answer_rows import Basis, State
from tracebench.core.errors import BadOption


def state_of(value: float, limit: Limit, off_by: float = 0.0) -> State:
    """State of a value; exactly on a limit is inside, exactly on the zone's far edge is marginal.

    A value that the recorder may have off by as much as it lies from a bound is marginal on either side of it.
    """
    if off_by > 0 and nearest(value, limit) <= off_by:
        return "marginal"
    beyond = 0.0
    if limit.low is not None:
        beyond = max(beyond, limit.low - value)
    if limit.high is not None:
        beyond = max(beyond, value - limit.high)
    # Binary fractions: 0.55 - 0.50 must not land beyond a limit that it equals.
    slack = 1e-9 * max(abs(value), 1.0)
    if beyond <= slack:
        return "inside"
    return "marginal" if beyond <= limit.zone + slack else "outside"


def nearest(value: float, limit: Limit) -> float:
    """How far a value lies from the nearer bound, inside or outside."""
    return min(abs(value - bound) for bound in (limit.low, limit.high) if bound is not None)


def judge(
    readings: Iterable[Reading], limits: Sequence[Limit], off_by: Mapping[str, float] | None = None
) -> tuple[JudgedLimit, ...]:
    """Every limit that has a summary reading, highest-ranking basis first for each reading.

    Of the same basis one that is meant for a condition outranks one for any. `off_by` is what the recorder may have a
    reading off by, by id: one so near its limit is marginal, and says so.
    """
    off_by = off_by or {}
    values = {r.id: r.value for r in readings if r.cycle is None and r.cylinder is None}
    judged: list[JudgedLimit] = []
    for reading_id in dict.fromkeys(limit.reading for limit in limits):
        if reading_id not in values:
            continue
        ranked = sorted((x for x in limits if x.reading == reading_id), key=rank)
        judged += [
            _judged(values[reading_id], limit, off_by.get(reading_id, 0.0), decides=place == 0)
            for place, limit in enumerate(ranked)
        ]
    return tuple(judged)


def _judged(value: float, limit: Limit, off_by: float, decides: bool) -> JudgedLimit:
    state = state_of(value, limit, off_by)
    return JudgedLimit(limit, state, decides, off_by if state != state_of(value, limit) else 0.0)


def rank(limit: Limit) -> tuple[int, bool]:
    """Place of a limit among those of its reading: the least decides."""
    return BASES.index(limit.basis), not limit.when


def merged(defaults: Sequence[Limit], given: Sequence[Limit]) -> tuple[Limit, ...]:
    """Defaults with the user's limits added; the user's replace a default of the same reading and basis."""
    replaced = {(limit.reading, limit.basis) for limit in given if not limit.when}
    soft = {limit.reading for limit in defaults if not limit.condemns}
    kept = [limit for limit in defaults if (limit.reading, limit.basis) not in replaced]
    zones = {(x.reading, x.basis, x.low, x.high): x.marginal for x in defaults}
    added = []
    for g in given:
        # The same limit written down without its zone, as older cards have it, keeps the zone it was declared with.
        zone = zones.get((g.reading, g.basis, g.low, g.high)) if g.marginal is None else g.marginal
        added.append(replace(g, marginal=zone, condemns=g.condemns and g.reading not in soft))
    return (*kept, *added)


def limits_from_json(document: Mapping[str, Any], known_readings: Sequence[str]) -> tuple[Limit, ...]:
    """Read {"limits": [{"reading", "low", "high", "basis"}]}; `marginal`, `condemns` and `source` are optional.

    Raises BadOption that names the entry.
    """
    rows = document.get("limits") if isinstance(document, Mapping) else None
    if not isinstance(rows, list):
        raise BadOption('limits: expected an object {"limits": [...]}')
    return tuple(_limit(row, place, known_readings) for place, row in enumerate(rows, start=1))


def _limit(row: Any, place: int, known_readings: Sequence[str]) -> Limit:
    where = f"limit {place}"
    if not isinstance(row, Mapping):
        raise BadOption(f"{where}: expected an object with reading, low, high and basis")
    reading = row.get("reading")
    if reading not in known_readings:
        raise BadOption(f"{where}: unknown reading {reading!r}; known: {', '.join(known_readings)}")
    basis = row.get("basis", "maker")
    if basis not in BASES:
        raise BadOption(f"{where}: unknown basis {basis!r}; known: {', '.join(BASES)}")
    low, high, marginal = (_side(row, key, where) for key in ("low", "high", "marginal"))
    if low is None and high is None:
        raise BadOption(f"{where}: give low, high or both")
    if low is not None and high is not None and low > high:
        raise BadOption(f"{where}: low {low:g} is above high {high:g}")
    if marginal is not None and marginal < 0:
        raise BadOption(f"{where}: the marginal zone is 0 or wider, not {marginal:g}")
    condemns = row.get("condemns", True)
    if not isinstance(condemns, bool):
        raise BadOption(f"{where}: condemns must be true or false, not {condemns!r}")
    source = str(row.get("source") or "")[:200]
    when = row.get("when") or ""
    if when and when not in CONDITION_TITLES:
        raise BadOption(f"{where}: unknown condition {when!r}; known: {', '.join(CONDITION_TITLES)}")
    return Limit(str(reading), low, high, cast(Basis, basis), marginal, condemns, source, str(when))


def _side(row: Mapping[str, Any], key: str, where: str) -> float | None:
    value = row.get(key)
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise BadOption(f"{where}: {key} must be a number or null, not {value!r}")
    return float(value)
