"""Ready-made job cards: every circuit at three levels, made from its tables and a scenario of one sentence each.

Level 1 proves a sound part and names what is seen; level 2 has a fault that shows plainly, and limits; level 3 a fault
that takes looking for, all readings of the circuit, and the odd one where there are several.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from tracebench.bench.sources import source
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.circuit import Circuit
from tracebench.demo import cast
from tracebench.demo.shelf import Ready
from tracebench.demo.shelf import ready as ready_of

COURSE = "Ready cards, three levels"


LEVELS = (1, 2, 3)


def ready_cards() -> Iterator[tuple[str, int, dict[str, Any]]]:
    """Circuit, level and document of every ready card."""
    for code in CIRCUITS:
        ready = ready_of(code)
        for level, (fault, brief) in zip(LEVELS, (("none", ready.sound), ready.plain, ready.hard), strict=True):
            severity = ready.severity if level == 3 else 1.0
            # Every level deals out all three parts in turn: a complaint is no proof, and a neighbour's call none.
            others = [f for f in ("none", ready.plain[0], ready.hard[0]) if f != fault]
            yield code, level, _document(CIRCUITS[code], level, ready, fault, others, brief, severity)


def _document(
    kind: Circuit, level: int, ready: Ready, fault: str, others: Sequence[str], brief: str, severity: float
) -> dict[str, Any]:
    made_by = source(kind.code)
    readings = (ready.readings or kind.asked)[: 2 if level == 1 else 4]
    compared = [r for r in readings if any(limit.reading == r for limit in kind.limits)]
    steps: list[dict[str, Any]] = [
        {"kind": "cautions", "prompt": "Read before you begin."},
        {"kind": "capture", "prompt": f"{made_by.manoeuvres[0].title}."},
    ]
    if level == 1 and kind.phases:
        steps.append({"kind": "name", "names": [p.name for p in kind.phases][:4], "prompt": "Name the parts."})
    steps += [{"kind": "reading", "reading": r, "prompt": ""} for r in readings]
    if level > 1:
        steps += [{"kind": "compare", "reading": r, "prompt": ""} for r in compared]
    if level == 3 and made_by.by_cylinder:
        steps.append({"kind": "spot", "among": "cylinder", "prompt": "Which cylinder is the odd one?"})
    steps.append({"kind": "call", "prompt": "Sound, faulty, or cannot tell yet? Say what shows it."})
    return {
        "circuit": kind.code,
        "title": f"{kind.title}, level {level}",
        "brief": brief,
        "options": dict(ready.options or {}),
        "source": {
            "kind": "trainer",
            "fault": fault,
            "severity": severity,
            "vehicle": "Bench board 3",
            "varied": True,
            "instead": list(dict.fromkeys(others)),
        },
        "attempts": 3,
        "due": None,
        "reference_version_id": None,
        "steps": steps,
        "rubric": cast.SHOWN,
    }
