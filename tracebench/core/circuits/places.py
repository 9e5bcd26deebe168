"""Every place where a finding shows: each pulse, turn, sweep or rest that somebody might point at."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from tracebench.core.answer import Finding, JudgedLimit
from tracebench.core.circuits.circuit import Circuit, Measured
from tracebench.core.circuits.work import Span
from tracebench.core.limits import state_of


def with_places(
    kind: Circuit, measured: Measured, judged: Sequence[JudgedLimit], findings: Sequence[Finding], whole: Span
) -> list[Finding]:
    """The findings with their places, the most telling first; those that named their own keep them."""
    return [f if f.places else replace(f, places=_places(kind, measured, judged, f, whole)) for f in findings]


def _places(
    kind: Circuit, measured: Measured, judged: Sequence[JudgedLimit], finding: Finding, whole: Span
) -> tuple[Span, ...]:
    own = (finding.from_s, finding.to_s)
    spec = kind.finding(finding.code)
    found = [own]
    for where in spec.shows if spec is not None else ():
        if where == "events":
            found += [(e.from_s, e.to_s) for e in measured.events if finding.cylinder in (None, e.cylinder)]
        elif where == "record":
            found.append(whole)
        else:
            found += [(p.from_s, p.to_s) for p in measured.phases if p.name == where]
    found += _by_limit(kind, measured, judged, finding)
    return tuple(dict.fromkeys(found))


def _by_limit(kind: Circuit, measured: Measured, judged: Sequence[JudgedLimit], finding: Finding) -> Iterator[Span]:
    """Where a reading that is outside its limit was taken: its phases, and each sweep or event that is outside too."""
    for row in kind.limit_findings:
        if row.code != finding.code:
            continue
        decided = next((j for j in judged if j.decides and j.limit.reading == row.reading), None)
        if decided is None or decided.state == "inside":
            continue
        spec = kind.reading(row.reading)
        each = [r for r in measured.readings if r.id == row.reading and r.cycle is not None]
        yield from ((r.from_s, r.to_s) for r in each if state_of(r.value, decided.limit) != "inside")
        if spec is not None and spec.phase is not None and not each:
            yield from ((p.from_s, p.to_s) for p in measured.phases if p.name == spec.phase)
