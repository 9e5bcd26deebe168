"""Recordings on the trainer: made at once, or by a worker where they take longer than a page should wait."""

from __future__ import annotations

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from tracebench.bench.controls import Move
from tracebench.bench.trainer import Stretch
from tracebench.core.circuits import circuit as circuit_of
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, recordings
from tracebench.usecases.sitting import sittings

RECORD = "record"
"""The kind of job that records on the trainer."""

AT_ONCE_VALUES = 4_000_000
"""Samples of all lanes together that are recorded and kept in less than half a second; more are a worker's."""


@dataclass(frozen=True, slots=True)
class Recipe:
    """All that makes a recording, and makes it again: in words of JSON, so that a worker can be told of it."""

    circuit: str
    source: Mapping[str, Any]
    settings: recordings.TrainerSettings
    seed: int
    moves: Sequence[Move] | None = None
    """What hands did; None for a set manoeuvre."""
    stretch: Stretch | None = None
    """The part of a run by hand that is kept."""

    @property
    def takes_long(self) -> bool:
        scope = recordings.scope_of(self.settings)
        return scope.duration_s * scope.rate_hz * len(circuit_of(self.circuit).lanes) > AT_ONCE_VALUES

    def made(self) -> captures.Made:
        """Raises BadOption."""
        if self.moves is None or self.stretch is None:
            return recordings.made_on_trainer(self.circuit, self.source, self.settings, self.seed)
        by_hand = recordings.ByHand(self.circuit, self.source, self.settings, self.moves, self.seed)
        return by_hand.made(self.stretch)

    def told(self) -> dict[str, Any]:
        stretch = None if self.stretch is None else [self.stretch.begin_s, self.stretch.seconds]
        moves = None if self.moves is None else list(self.moves)
        own = {"circuit": self.circuit, "source": dict(self.source), "settings": dict(self.settings)}
        return {**own, "seed": self.seed, "moves": moves, "stretch": stretch}


def recipe_of(told: Mapping[str, Any]) -> Recipe:
    """The recipe that was told."""
    stretch = None if told["stretch"] is None else Stretch(*told["stretch"])
    return Recipe(told["circuit"], told["source"], told["settings"], told["seed"], told["moves"], stretch)


def for_sitting(
    begin: Begin, person: Person, sitting_id: int, settings: recordings.TrainerSettings, at: datetime
) -> queue.Job | None:
    """Take the capture of one's own open sitting over a set manoeuvre; the job that does it where it takes long."""
    with begin() as conn:
        code, part, seed = sittings.on_trainer_anew(conn, person, sitting_id, at)
    return begun(begin, person, Recipe(code, part, settings, seed), sitting_id, at)


def begun(begin: Begin, person: Person, recipe: Recipe, sitting_id: int, at: datetime) -> queue.Job | None:
    """Record it for one's own open sitting; the job that does it where it takes long. Raises Conflict, BadOption."""
    recordings.scope_of(recipe.settings).checked()
    if recipe.takes_long:
        return _asked(begin, person, recipe, sitting_id, at)
    made = recipe.made()
    with begin() as conn:
        sittings.keep_recording(conn, person, sitting_id, made, at)
    return None


def of_ones_own(begin: Begin, person: Person, recipe: Recipe, at: datetime) -> int | queue.Job:
    """An instructor's own recording: its capture's id, or the job that makes it."""
    person.must_be("instructor")
    recordings.scope_of(recipe.settings).checked()
    if recipe.takes_long:
        return _asked(begin, person, recipe, None, at)
    made = recipe.made()
    with begin() as conn:
        return captures.keep(conn, person, made, at)


def _asked(begin: Begin, person: Person, recipe: Recipe, sitting_id: int | None, at: datetime) -> queue.Job:
    """The job of a recording; asked once more in the same way it is the same."""
    payload = {**recipe.told(), "owner_id": person.id, "sitting_id": sitting_id}
    about = f"{RECORD}:{sitting_id or ''}:{person.id}:{zlib.crc32(packed(payload).encode()):08x}"
    with begin() as conn:
        captures.check_share(conn, person.id)
        return queue.asked(conn, person, RECORD, about, payload, at)


def work_recording_out(begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job. Kept as the capture of the sitting it was asked for, if that is still open."""
    with begin() as conn:
        owner = queries.people.by_id(conn, person_id=payload["owner_id"])
    if owner is None:
        raise NotFound("whoever asked for this recording is gone")
    person = Person(owner["id"], owner["sign_in"], owner["name"], owner["role"], 0)
    made, sitting_id = recipe_of(payload).made(), payload["sitting_id"]
    queue.report(0.6)

    def keep(conn: Connection) -> dict[str, int]:
        if sitting_id is None:
            return {"capture_id": captures.keep(conn, person, made, at)}
        return {"capture_id": sittings.keep_recording(conn, person, sitting_id, made, at)}

    return keep
