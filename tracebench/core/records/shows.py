"""What records beside a capture show of it: wires proved good, and conditions it was taken under."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from tracebench.core.records.judging import judged
from tracebench.core.records.kinds import Rows

Record = tuple[str, Rows]
"""A record's kind and its checked rows."""

_ACTIONS = {"wiggle": "moved", "tap": "moved", "heat": "hot", "cool": "cold", "load": "load"}


def wires_shown(records: Sequence[Record]) -> bool:
    """True if voltage checks show a supply or reference and a ground, each loaded and inside what is expected."""
    good = set()
    for kind, rows in records:
        if kind == "voltage":
            states = judged(kind, rows).rows
            good |= {r["point"] for r, s in zip(rows, states, strict=True) if s.state == "inside"}
            if any(s.state == "outside" for s in states):
                return False
    return "ground" in good and bool({"supply", "reference"} & good)


def conditions_shown(records: Sequence[Record]) -> Iterator[str]:
    """Conditions that the actions of a log put the capture under."""
    for kind, rows in records:
        if kind == "log":
            yield from (_ACTIONS[r["action"]] for r in rows if r["action"] in _ACTIONS)


def with_conditions(told: Mapping[str, str], found: Iterable[str]) -> dict[str, str]:
    """What is told of a capture, with conditions that were found beside it added to those told."""
    shown = list(dict.fromkeys([*filter(None, told.get("shown", "").split(",")), *found]))
    return {**told, "shown": ",".join(shown)} if shown else dict(told)
