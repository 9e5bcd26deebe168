"""Write the table of every number that decides in a circuit, with unit and reason: python -m scripts.thresholds"""

from __future__ import annotations

import importlib
import pkgutil
from pathlib import Path
from types import ModuleType

from tracebench import circuits as rooms
from tracebench.core import circuits, diagnosis
from tracebench.core.circuits.threshold import Count, Threshold

TARGET = Path(__file__).resolve().parent.parent / "docs" / "thresholds.md"

HEAD = """# Numbers that decide

Every number by which a circuit's code decides, and those of whole diagnoses, by the module that holds it; limits
of readings stand in the circuits' own tables and can be set on each reference. Made by `python -m scripts.thresholds`:
do not edit.
"""

Row = tuple[str, str, str, str]


NOT_MEASURING = ("source", "look", "shelf")
"""Files of a circuit's folder that decide nothing of a capture."""


def modules() -> list[ModuleType]:
    """Every module by which circuits measure: what they share, then each one's own, in the order of their names."""
    found = [
        m.name
        for where in (circuits, rooms, diagnosis)
        for m in pkgutil.walk_packages(where.__path__, f"{where.__name__}.")
    ]
    return [importlib.import_module(name) for name in found if name.rsplit(".", 1)[1] not in NOT_MEASURING]


def rows_of(module: ModuleType) -> list[Row]:
    """Name, value, unit and reason of the numbers that a module itself declares."""
    text = Path(str(module.__file__)).read_text(encoding="utf-8")
    out = []
    for name, value in vars(module).items():
        parts = value if isinstance(value, tuple) else (value,)
        deciding = [p for p in parts if isinstance(p, Threshold | Count)]
        if deciding and len(deciding) == len(parts) and f"\n{name} = " in text:
            shown = " to ".join(f"{p:g}" for p in deciding)
            out.append((name.lstrip("_"), shown, deciding[0].unit, deciding[0].reason))
    return out


def text() -> str:
    """The whole page."""
    parts = [HEAD]
    for module in modules():
        rows = rows_of(module)
        if rows:
            parts.append(f"\n## {module.__name__.removeprefix('tracebench.')}\n\n")
            parts.append("| number | value | unit | why |\n|---|---|---|---|\n")
            parts += [f"| {name} | {value} | {unit} | {why} |\n" for name, value, unit, why in rows]
    return "".join(parts)


if __name__ == "__main__":
    TARGET.write_text(text(), encoding="utf-8")
