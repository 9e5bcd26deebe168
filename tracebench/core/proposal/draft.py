"""What a reference sheet begins with: title, tags and notes from what was measured, for a person to put right."""

from __future__ import annotations

from typing import Any

from tracebench.core.answer import Answer
from tracebench.core.circuits.circuit import Circuit

MOST_TAGS = 8


def title_of(circuit: Circuit, answer: Answer) -> str:
    """The circuit and what is wrong with it, or that nothing is."""
    if answer.call == "sound":
        return f"{circuit.title}, sound"
    titles = [spec.title for code in answer.because if (spec := circuit.finding(code)) is not None]
    if answer.call == "faulty":
        return f"{circuit.title}, {titles[0].lower() if titles else 'faulty'}"
    return f"{circuit.title}, not told" + (f": {titles[0].lower()}" if titles else "")


def tags_of(circuit: Circuit, answer: Answer) -> list[dict[str, Any]]:
    """Faults where they show, then the parts that the circuit's first readings are taken on."""
    tags = [
        {"from": f.from_s, "to": f.to_s, "lane": f.lane or circuit.lanes[0].name, "text": f.text[:300]}
        for f in answer.findings
        if f.kind == "fault"
    ]
    for reading_id in circuit.asked:
        spec, reading = circuit.reading(reading_id), answer.reading(reading_id)
        if spec is not None and reading is not None:
            text = f"{spec.title}, {reading.value:.{spec.decimals}f} {reading.unit}".strip()
            tags.append({"from": reading.from_s, "to": reading.to_s, "lane": reading.lane or spec.lane, "text": text})
    return tags[:MOST_TAGS]
