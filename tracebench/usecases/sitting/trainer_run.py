"""The trainer under a learner's own hands: a run that goes on by the server's clock, looked at as a scope shows it.

A run is its moves, its seed and the clock. What the scope shows is worked out from them each time, so that a window
that is loaded again shows the same run, and what is kept is what was shown.
"""

from __future__ import annotations

import json
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypedDict

from tracebench.bench.controls import LONGEST_RUN_S, MOST_MOVES, Controls, Move
from tracebench.bench.scan import PARAMETERS
from tracebench.bench.sources import source as trainer_source
from tracebench.bench.trainer import LEAST_S, Stretch, connected
from tracebench.core.capture import Lane
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.errors import BadOption
from tracebench.core.strip_picture import trace_points
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict
from tracebench.usecases.jobs import queue
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import recordings
from tracebench.usecases.sitting import recording, sittings

LAG_S = 0.15
"""How far behind the clock the scope shows, so that moves on their way have come."""

ROLLS_FROM_S = 1.0
"""A record at least so long is shown as it is taken; a shorter one when it is whole."""

REARM_S = 0.4
"""Least time from one record to the next."""

SEARCHED_S = 2.0
"""How far back a trigger is looked for, beyond two lengths of the record."""

LEAST_SHOWN_S = 0.2
SETTLED_S = 0.05
"""After the key, until what it feeds stands."""

AHEAD_S = 2.0
"""How far a window's clock may run before the server's."""

MOST_WAITED_S = 120.0
COLUMNS = 420


class RunTold(TypedDict):
    """How a run stands, for its window."""

    run: int
    elapsed_s: float
    ends_s: float
    base_s: float
    settings: recordings.TrainerSettings
    controls: dict[str, float]


class FrameLane(TypedDict):
    """Least and most of each column of a lane."""

    name: str
    unit: str
    low: list[float]
    high: list[float]


class Frame(TypedDict):
    """What the scope shows of a run; `scan` gives name, value and unit of each parameter."""

    run: int
    elapsed_s: float
    over: bool
    length_s: float
    rolls: bool
    begin_s: float
    seconds: float
    whole: bool
    waits: str
    lanes: list[FrameLane]
    scan: list[tuple[str, float, str]]


@dataclass(frozen=True, slots=True)
class Run:
    """A sitting's run as it stands: everything that a look at it needs."""

    sitting_id: int
    number: int
    started_at: datetime
    waited_s: float
    base_s: float
    settings: recordings.TrainerSettings
    moves: int
    last_s: float
    code: str
    part: Mapping[str, Any]

    def elapsed_s(self, at: datetime) -> float:
        """Time of the run by the server's clock."""
        return min(LONGEST_RUN_S, (at - self.started_at).total_seconds() + self.waited_s)

    def with_hands(self, moves: Sequence[Move]) -> recordings.ByHand:
        return recordings.ByHand(self.code, self.part, self.settings, moves, self.seed)

    @property
    def triggered(self) -> bool:
        return bool(self.settings.get("trigger"))

    @property
    def rolls(self) -> bool:
        """Whether a record is shown while it is taken: the last of it, up to now."""
        return not self.triggered and float(self.settings["duration_s"]) >= ROLLS_FROM_S

    @property
    def seed(self) -> int:
        return zlib.crc32(f"run:{self.sitting_id}:{self.number}".encode())


def begin(
    begin_: Begin, person: Person, sitting_id: int, settings: recordings.TrainerSettings, at: datetime
) -> RunTold:
    """Begin a run with everything off, in place of the one before. Raises Conflict, BadOption."""
    with begin_() as conn:
        code, _ = sittings.on_trainer(conn, person, sitting_id, at)
    _check(code, settings)
    with begin_() as conn:
        sittings.hold_open(conn, person, sitting_id, at)
        before = queries.sittings.run(conn, sitting_id=sitting_id)
        sittings.end_run(conn, sitting_id)
        number = 1 if before is None else before["number"] + 1
        queries.sittings.begin_run(conn, sitting_id=sitting_id, number=number, at=at, settings=packed(settings))
        return told(conn, look(conn, person, sitting_id, at), at)


def going(conn: Connection, person: Person, sitting_id: int, at: datetime) -> RunTold | None:
    """How the run of a sitting stands, None if it has none."""
    sittings.on_trainer(conn, person, sitting_id, at)
    if queries.sittings.run(conn, sitting_id=sitting_id) is None:
        return None
    return told(conn, look(conn, person, sitting_id, at), at)


def told(conn: Connection, run: Run, at: datetime) -> RunTold:
    """How a run stands, for its window."""
    stand = {r["control"]: r["value"] for r in queries.sittings.standing_of_controls(conn, sitting_id=run.sitting_id)}
    return {
        "run": run.number,
        "elapsed_s": run.elapsed_s(at),
        "ends_s": LONGEST_RUN_S,
        "base_s": run.base_s,
        "settings": run.settings,
        "controls": stand,
    }


def move(
    conn: Connection, person: Person, sitting_id: int, number: int, moves: Sequence[Move], wait_s: float, at: datetime
) -> RunTold:
    """What hands did since the last time, in the run's seconds; then let `wait_s` go by. Raises Conflict, BadOption."""
    sittings.hold_open(conn, person, sitting_id, at)
    run = _this(conn, person, sitting_id, number, at)
    Controls(trainer_source(run.code).controls, moves)
    if run.moves + len(moves) > MOST_MOVES:
        raise Conflict(f"this run has had {MOST_MOVES:,} moves; begin a new one")
    if not 0 <= wait_s <= MOST_WAITED_S:
        raise BadOption(f"wait 0 to {MOST_WAITED_S:g} s at a time, not {wait_s:g}")
    latest = run.elapsed_s(at) + AHEAD_S
    key = {r["control"]: r["value"] for r in queries.sittings.standing_of_controls(conn, sitting_id=sitting_id)}
    last, base, lit = run.last_s, run.base_s, key.get("key", 0.0) > 0
    for at_s, control, value in moves:
        # In order, and never before what is written down already or after what has been.
        last = min(max(at_s, last), latest)
        queries.sittings.add_move(conn, sitting_id=sitting_id, at_s=last, control=control, value=value)
        if control == "key":
            # What was at rest before the key is no part of a record of what works with it; a trigger may wait for it.
            if value > 0 and not lit and not run.triggered:
                base = last + SETTLED_S
            lit = value > 0
    if wait_s:
        base = run.elapsed_s(at) + wait_s
    if base != run.base_s:
        queries.sittings.set_run(
            conn,
            sitting_id=sitting_id,
            settings=packed(run.settings),
            base_s=base,
            waited_s=run.waited_s + wait_s,
        )
    return told(conn, look(conn, person, sitting_id, at), at)


def set_scope(
    begin_: Begin, person: Person, sitting_id: int, number: int, settings: recordings.TrainerSettings, at: datetime
) -> RunTold:
    """Other settings or wires while the run goes on; the next record begins now. Raises Conflict, BadOption."""
    with begin_() as conn:
        code = _this(conn, person, sitting_id, number, at).code
    _check(code, settings)
    with begin_() as conn:
        sittings.hold_open(conn, person, sitting_id, at)
        run = _this(conn, person, sitting_id, number, at)
        queries.sittings.set_run(
            conn,
            sitting_id=sitting_id,
            settings=packed(settings),
            base_s=run.elapsed_s(at),
            waited_s=run.waited_s,
        )
        return told(conn, look(conn, person, sitting_id, at), at)


def moves_of(conn: Connection, run: Run) -> list[Move]:
    """All moves of a run, in order."""
    return [(r["at_s"], r["control"], r["value"]) for r in queries.sittings.moves(conn, sitting_id=run.sitting_id)]


def stretch_shown(run: Run, elapsed_s: float) -> tuple[Stretch, bool] | None:
    """What part of a run the scope shows by then, and whether its record is whole; None before there is anything.

    A long record rolls: what shows is the last of it. Of short ones the last whole one shows. A trigger is looked for
    in the last few of them.
    """
    length, since = float(run.settings["duration_s"]), elapsed_s - LAG_S - run.base_s
    if run.triggered:
        searched = min(since, 2 * length + SEARCHED_S)
        return (Stretch(run.base_s + since - searched, searched), False) if searched > length else None
    if run.rolls:
        seconds = min(since, length)
        whole = seconds >= length
        return (Stretch(run.base_s + since - seconds, seconds), whole) if seconds >= LEAST_SHOWN_S else None
    each = max(length, REARM_S)
    count = int((since - length) // each) if since >= length else -1
    return (Stretch(run.base_s + count * each, length), True) if count >= 0 else None


def frame(run: Run, moves: Sequence[Move], at: datetime) -> Frame:
    """What the scope shows of a run at that moment, in columns of least and most; nothing is kept."""
    elapsed = run.elapsed_s(at)
    out: Frame = {
        "run": run.number,
        "elapsed_s": elapsed,
        "over": elapsed >= LONGEST_RUN_S,
        "length_s": 0.0,
        "rolls": run.rolls,
        "begin_s": 0.0,
        "seconds": 0.0,
        "whole": False,
        "waits": "",
        "lanes": [],
        "scan": [],
    }
    found = stretch_shown(run, elapsed)
    if found is None:
        return out
    stretch, whole = found
    try:
        recording = run.with_hands(moves).recorded(stretch)
    except BadOption as why:
        return {**out, "waits": str(why)}
    capture = recording.capture
    return {
        **out,
        "begin_s": stretch.begin_s,
        "seconds": stretch.seconds,
        "length_s": capture.samples * capture.interval_s,
        "whole": whole or run.triggered,
        "lanes": [_columns(lane) for lane in capture.lanes.values()],
        "scan": [(name, p[-1][1], PARAMETERS[name].unit) for name, p in recording.scan.items() if p],
    }


def _columns(lane: Lane) -> FrameLane:
    low, high = trace_points(lane.samples, COLUMNS)
    return {
        "name": lane.name,
        "unit": lane.unit,
        "low": [float(f"{v:.4g}") for v in low],
        "high": [float(f"{v:.4g}") for v in high],
    }


def freeze(
    begin_: Begin, person: Person, sitting_id: int, number: int, stretch: Stretch, at: datetime
) -> queue.Job | None:
    """Keep what the scope showed as the sitting's capture, or the job that does; the run goes on.

    Raises Conflict, BadOption.
    """
    with begin_() as conn:
        run = _this(conn, person, sitting_id, number, at)
        moves = moves_of(conn, run)
    if stretch.seconds < LEAST_S or stretch.begin_s + stretch.seconds > run.elapsed_s(at):
        raise BadOption("that part of the run has not been recorded")
    recipe = recording.Recipe(run.code, run.part, run.settings, run.seed, moves, stretch)
    return recording.begun(begin_, person, recipe, sitting_id, at)


def _check(code: str, settings: recordings.TrainerSettings) -> None:
    """Raises BadOption for what the scope cannot be set to, or wires that no probe can be on."""
    recordings.scope_of(settings).checked()
    connected(trainer_source(code), [x.name for x in circuit_of(code).lanes], settings.get("wires"))


def _this(conn: Connection, person: Person, sitting_id: int, number: int, at: datetime) -> Run:
    run = look(conn, person, sitting_id, at)
    if run.number != number:
        raise Conflict("the trainer was started anew in another window; look there")
    return run


def look(conn: Connection, person: Person, sitting_id: int, at: datetime) -> Run:
    """The run that a sitting has. Raises Conflict if it has none."""
    code, part = sittings.on_trainer(conn, person, sitting_id, at)
    row = queries.sittings.run(conn, sitting_id=sitting_id)
    if row is None:
        raise Conflict("the trainer does not run; start it")
    settings = json.loads(row["settings"])
    told_of = {k: row[k] for k in ("sitting_id", "number", "started_at", "waited_s", "base_s", "moves", "last_s")}
    return Run(**told_of, settings=settings, code=code, part=part)
