"""Why a declared reading is not among those of a capture: worked out from the circuit's table, where its own code has
not said so already.
"""

from __future__ import annotations

from collections.abc import Container

from tracebench.core.answer import Missing
from tracebench.core.circuits.circuit import Circuit, Measured, ReadingSpec
from tracebench.core.circuits.conversions import converted_ids


def with_missing(kind: Circuit, measured: Measured) -> tuple[Missing, ...]:
    """What the circuit's code said is missing, then every other declared reading that is not there, with the reason."""
    given = {r.id for r in measured.readings} | {m.reading for m in measured.missing}
    phases = {p.name for p in measured.phases}
    rest = [s for s in kind.readings if s.id not in given and s.id not in converted_ids(kind.code)]
    every = (*measured.missing, *(Missing(s.id, _why(s, phases, measured.capture.lanes)) for s in rest))
    order = list(kind.reading_ids)
    return tuple(sorted(every, key=lambda m: order.index(m.reading)))


def _why(spec: ReadingSpec, phases: Container[str], lanes: Container[str]) -> str:
    if spec.lane not in lanes:
        return f"no {spec.lane.replace('_', ' ')} lane in this capture"
    phase = spec.seen_in or spec.phase
    if phase is None:
        return "this capture does not show it"
    words = phase.replace("_", " ")
    if phase in phases:
        return f"the {words} phase is not complete enough to read it"
    return f"no {words} phase in this capture"
