"""Write the page of the circuits from their folders, a row each: python -m scripts.circuit_pages"""

from __future__ import annotations

from pathlib import Path

from tracebench.bench.sources import SOURCES
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.circuit import Circuit

TARGET = Path(__file__).resolve().parent.parent / "docs" / "circuits.md"

HEAD = """# The circuits

{count} circuits, a folder of `tracebench/circuits` each, in the order of the lists; *lanes in italics* are needed. What
is peculiar to measuring them is in [measuring](measuring.md), every number that decides in [thresholds](thresholds.md).
Limits that nobody gave are common practice, no published source. Made by `python -m scripts.circuit_pages`; do not
edit.

| circuit | lanes | must be in the record | readings | faults that are found | the trainer's |
|---|---|---|---|---|---|
"""


def row(kind: Circuit) -> str:
    lanes = ", ".join(f"*{lane.name}*" if lane.required else lane.name for lane in kind.lanes)
    phases = ", ".join(p.name.replace("_", " ") for p in kind.phases if p.required)
    load = " or ".join(name.replace("_", " ") for name in kind.under_load)
    readings = ", ".join(r.title.lower() for r in kind.readings if not r.title.startswith(("Snap:", "Crank:")))
    faults = ", ".join(f.title.lower() for f in kind.findings if f.kind == "fault")
    made = ", ".join(f.title.lower() for f in SOURCES[kind.code].faults if f.key != "none")
    needed = ", ".join(part for part in (phases, f"{load} beside it" if load else "") if part)
    return f"| `{kind.code}`: {kind.title} | {lanes} | {needed} | {readings} | {faults} | {made} |\n"


def text() -> str:
    """The whole page."""
    return HEAD.format(count=len(CIRCUITS)) + "".join(row(kind) for kind in CIRCUITS.values())


if __name__ == "__main__":
    TARGET.write_text(text(), encoding="utf-8")
