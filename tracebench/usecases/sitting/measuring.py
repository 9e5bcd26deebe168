"""What the core says of a sitting's capture: what is known of it beside the samples, and the answer under its card."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.cards.step import FIRST
from tracebench.core.circuits.conditions import of_temperature
from tracebench.core.grading.attempt import Taken, measured_under
from tracebench.core.records.shows import Record, conditions_shown, wires_shown, with_conditions
from tracebench.store import captures as store
from tracebench.store.pool import Connection, Row
from tracebench.store.queries import queries, unpacked
from tracebench.usecases.errors import NotFound
from tracebench.usecases.shelf import captures
from tracebench.usecases.sitting.rows import Sitting

COOLANT = "coolant"


@dataclass(frozen=True, slots=True)
class Beside:
    """What is known of a sitting's capture beside its samples."""

    head: Row
    told: dict[str, str]
    ground: str | None
    wires_shown: bool


@dataclass(frozen=True, slots=True)
class Loaded:
    """A sitting's capture with its samples, read in one short transaction and measured outside of it."""

    capture: Capture
    beside: Beside

    def taken(self, sitting: Sitting) -> Taken:
        """The capture as measured under the sitting's card. May take long; needs no database."""
        answer = measured_under(sitting.card, FIRST, self.capture, told=self.beside.told)
        return Taken(answer, self.beside.ground, self.beside.wires_shown)


def beside(conn: Connection, sitting: Sitting) -> Beside | None:
    """None where the sitting has no capture."""
    if sitting.capture_id is None:
        return None
    head = _head(conn, sitting.capture_id)
    records = _records(conn, sitting.id)
    trainer = head["detail"].get("trainer") or {}
    return Beside(head, _told(head, records), trainer.get("ground"), wires_shown(records))


def load(conn: Connection, sitting: Sitting, known: Beside | None = None) -> Loaded | None:
    """Everything of a sitting's capture that grading needs, or None where it has none."""
    known = known or beside(conn, sitting)
    if known is None or sitting.capture_id is None:
        return None
    return Loaded(store.load(conn, sitting.capture_id, known.head), known)


def measured(conn: Connection, sitting: Sitting) -> Answer:
    """The same answer for a page that shows it, from those that are kept. Raises NotFound without a capture."""
    if sitting.capture_id is None:
        raise NotFound("this sitting has no capture to look at")
    told = _told(_head(conn, sitting.capture_id), _records(conn, sitting.id))
    asked = sitting.card.first
    options = {**sitting.card.options(FIRST), **told}
    return captures.measured(conn, sitting.capture_id, asked.circuit.code, options, limits=asked.limits)


def _head(conn: Connection, capture_id: int) -> Row:
    head = store.head(conn, capture_id)
    if head is None:
        raise NotFound("the capture is gone")
    return head


def _records(conn: Connection, sitting_id: int) -> Sequence[Record]:
    rows = (unpacked(r, "document") for r in queries.captures.records_of_sitting(conn, sitting_id=sitting_id))
    return [(r["kind"], r["document"]["rows"]) for r in rows]


def _told(head: Row, records: Sequence[Record]) -> dict[str, str]:
    """Options that are known of a capture: the trigger that was set, and the conditions that data and log tell."""
    told = {}
    trigger = (head["detail"].get("trainer") or {}).get("trigger")
    first = next(iter(head["lanes"]), None)
    # The trainer's trigger stands for the lane it was set on; only the first is held against its own signal.
    if trigger and first is not None and trigger.get("lane") == first["lane"]:
        told["trigger"] = f"{trigger['level']:g}"
    shown = list(conditions_shown(records))
    for row in head["detail"].get("scan", []):
        if row["name"] == COOLANT and row["points"]:
            shown += of_temperature(max(value for _, value in row["points"]))
    return with_conditions(told, shown)
