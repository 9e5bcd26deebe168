"""From a file or the trainer to a stored capture, and who may look at it."""

from __future__ import annotations

import os
import secrets
import time
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import IO, Any, Literal, NotRequired, TypedDict, cast

import numpy as np

from tracebench.bench.controls import Move
from tracebench.bench.hand import SweepPlan
from tracebench.bench.instrument import take
from tracebench.bench.scan import PARAMETERS
from tracebench.bench.scope import Input, ScopeSettings, Trigger
from tracebench.bench.sources import source as trainer_source
from tracebench.bench.trainer import Recording, Stretch, record_by_hand, record_with_scan
from tracebench.core.answer import Answer
from tracebench.core.capture import Capture
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits import measure as measure_capture
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadOption
from tracebench.formats import apart
from tracebench.formats.mapping import Mapped, guessed_mapping, to_capture
from tracebench.formats.table import Layout
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.turns import WORKER_PATIENCE_S, turn
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import profiles
from tracebench.usecases.shelf.values import CaptureHead, LaneValues, OwnCaptures, Preview, Unused, Upload, Values

KEEP_UPLOADS = timedelta(days=1)

PROBE_FACTORS = (0.1, 1.0, 10.0)
"""Told factor over the true one: what a clamp or attenuator shows against what is there."""

ZERO_ERROR = 0.35
"""What a clamp shows at rest that was not zeroed, in the lane's unit."""

NO_SCALE = 0.37
"""What a clip-on pickup without a scale shows for a kilovolt: something, and not one."""

PART_FIGURES = (
    "closed_v",
    "open_v",
    "altitude_m",
    "type",
    "command",
    "cylinders",
    "firing_order",
    "cylinder",
    "on_ms",
    "layout",
)
"""Figures of a part or of the day that a card's source may set."""


def receive(
    begin: Begin, folder: Path, person: Person, filename: str, stream: IO[bytes], circuit: str, at: datetime
) -> Upload:
    """Keep an uploaded file until it is mapped; answers what was understood. A file not understood is not kept.

    Raises NoRoom. Nothing is held while it arrives and is looked at.
    """
    kind = circuit_of(circuit)
    path = arrived(begin, folder, person, stream)
    try:
        with turn(folder, person.id):
            layout = apart.understand(path)
        with begin() as conn:
            upload_id = add_upload(conn, person, filename, path, at)
            told = profiles.of(conn, person.id, layout, circuit)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return {"upload_id": upload_id, "filename": filename, **_preview(layout, kind, told)}


def arrived(begin: Begin, folder: Path, person: Person, stream: IO[bytes]) -> Path:
    """A stream as a file of nobody's reach but ours. Raises NoRoom; then no half of it is left."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with begin() as conn:
        waiting = queries.captures.waiting_of(conn, owner_id=person.id)
    disk.check(folder, int(waiting["files"]) if waiting else 0, int(waiting["bytes"]) if waiting else 0)
    path = folder / secrets.token_hex(16)
    try:
        with own_file(path) as kept:
            while block := stream.read(1 << 20):
                kept.write(block)
                disk.check_reserve(folder)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def own_file(path: Path) -> IO[bytes]:
    """A new file that only we can read."""
    return os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb")


def add_upload(conn: Connection, person: Person, filename: str, path: Path, at: datetime) -> int:
    """The row of a file that waits; its id."""
    upload_id: int = queries.captures.add_upload(
        conn,
        owner_id=person.id,
        filename=filename[:255],
        stored_as=path.name,
        bytes=path.stat().st_size,
        at=at,
    )
    return upload_id


def sweep(begin: Begin, folder: Path, at: datetime) -> int:
    """Forget uploads that nobody came back to, and files without a row or rows without a file; how many files went.

    Rows go first, and a file only after that is sure; one that has just arrived has no row yet and is left alone.
    """
    with begin() as conn:
        for old in list(queries.captures.uploads_before(conn, before=at - KEEP_UPLOADS)):
            queries.captures.drop_upload(conn, upload_id=old["id"])
        known = set()
        for row in queries.captures.every_upload(conn):
            if (folder / row["stored_as"]).exists():
                known.add(row["stored_as"])
            else:
                queries.captures.drop_upload(conn, upload_id=row["id"])
    count = 0
    for path in folder.iterdir() if folder.is_dir() else ():
        if path.name in known:
            continue
        if time.time() - path.stat().st_mtime > KEEP_UPLOADS.total_seconds():
            path.unlink(missing_ok=True)
            count += 1
    return count


def _preview(layout: Layout, kind: Circuit, told: profiles.Profile | None) -> Preview:
    mapping = guessed_mapping(layout, kind) if told is None else told.mapping
    return {
        "remembered": told is not None,
        "layout": {
            "format": layout.format,
            "delimiter": {"\t": "tab", " ": "blank"}.get(layout.delimiter, layout.delimiter),
            "decimal": layout.decimal,
            "encoding": layout.encoding,
            "data_line": layout.data_line,
            "header": list(layout.header),
            "columns": [
                {
                    "position": c.position,
                    "cell": c.cell,
                    "name": c.name,
                    "unit": c.unit,
                    "first_values": list(c.first_values),
                    "is_time": c.position == layout.time_position,
                }
                for c in layout.columns
            ],
            "time_known": layout.time_position is not None or layout.interval_s is not None,
            "interval_s": layout.interval_s or (told.interval_s if told else None),
        },
        "mapping": [{"position": m.position, "lane": m.lane, "factor": m.factor} for m in mapping],
    }


@dataclass(frozen=True, slots=True)
class Made:
    """A capture that is ready to be stored."""

    circuit: str
    title: str
    origin: str
    capture: Capture
    detail: Mapping[str, Any]
    layout: Layout | None = None
    """Of the file it was read from."""


def keep(conn: Connection, person: Person, made: Made, at: datetime) -> int:
    """Store a capture; returns its id. Raises NoRoom."""
    check_share(conn, person.id)
    return store.add(conn, person.id, made.circuit, made.title, made.origin, made.capture, made.detail, at)


def check_share(conn: Connection, owner_id: int) -> None:
    """Raises NoRoom where a person's captures take all of their share."""
    owner = queries.people.by_id(conn, person_id=owner_id)
    if owner is not None:
        disk.check_share(int(queries.captures.stored_bytes_of(conn, owner_id=owner_id)), owner["role"])


def unused(conn: Connection, person: Person) -> OwnCaptures:
    """What one's captures take of one's share, and those that no reference, sitting or record holds."""
    return {
        "taken_bytes": int(queries.captures.stored_bytes_of(conn, owner_id=person.id)),
        "share_bytes": disk.SHARE_BYTES[person.role],
        "captures": [cast(Unused, row) for row in queries.captures.unused(conn, owner_id=person.id)],
    }


def give_up(conn: Connection, person: Person, capture_ids: Sequence[int]) -> None:
    """Delete captures of one's own that nothing holds, all or none. Raises Conflict or NotFound that names one."""
    free = {row["id"] for row in queries.captures.unused(conn, owner_id=person.id)}
    for capture_id in dict.fromkeys(capture_ids):
        if capture_id not in free:
            in_reach(conn, person, capture_id)
            raise Conflict(f"capture {capture_id} is held by a reference, a sitting or a record; it stays")
        queries.captures.give_up(conn, capture_id=capture_id, owner_id=person.id)


IMPORT = "import"
"""The kind of job that reads a large file and measures nothing: samples, codes, pyramid."""

AT_ONCE_BYTES = 16_000_000
"""Files up to this are read in the request, in less than half a second; larger ones by a worker."""


def import_upload(
    begin: Begin,
    folder: Path,
    person: Person,
    upload_id: int,
    circuit: str,
    mapping: Sequence[Mapping[str, Any]],
    interval_s: float | None,
    at: datetime,
) -> int | queue.Job:
    """Read an uploaded file with the lanes chosen and store it as a capture; nothing is stored on any error.

    The file is read while no transaction is open. The capture's id, or the job that reads a large file; what is wrong
    with the lanes chosen is said at once either way.
    """
    with begin() as conn:
        upload = queries.captures.upload_of(conn, upload_id=upload_id, owner_id=person.id)
    if upload is None:
        raise NotFound("that file is no longer here; choose it again")
    path, kind = folder / upload["stored_as"], circuit_of(circuit)
    if path.stat().st_size > AT_ONCE_BYTES:
        with turn(folder, person.id):
            lanes_chosen(apart.understand(path), kind, mapping, interval_s)
        asked = {"circuit": circuit, "mapping": list(mapping), "interval_s": interval_s}
        payload = {"upload_id": upload_id, "owner_id": person.id, queue.FILE: upload["filename"], **asked}
        # Asked once more in the same way it is the same job; with other lanes it is another.
        about = f"{IMPORT}:{upload_id}:{zlib.crc32(repr(sorted(asked.items())).encode()):08x}"
        with begin() as conn:
            return queue.asked(conn, person, IMPORT, about, payload, at)
    with turn(folder, person.id):
        made = read_file(path, upload["filename"], kind, mapping, interval_s)
    with begin() as conn:
        capture_id = kept_of_upload(conn, person.id, upload_id, made, at)
    # Only when that is sure: a file without a row is swept away later, a row without its file would be a loss.
    path.unlink(missing_ok=True)
    return capture_id


def kept_of_upload(conn: Connection, owner_id: int, upload_id: int, made: Made, at: datetime, drop: bool = True) -> int:
    """Store what was read of a waiting file, and remember how it was mapped. Raises NotFound where it is gone.

    Its row is dropped, unless something else still hangs on that.
    """
    if queries.captures.hold_upload(conn, upload_id=upload_id, owner_id=owner_id) is None:
        raise NotFound("that file has been imported already; choose it again to import it once more")
    check_share(conn, owner_id)
    capture_id = store.add(conn, owner_id, made.circuit, made.title, made.origin, made.capture, made.detail, at)
    if made.layout is not None:
        profiles.keep(conn, owner_id, made.layout, made.circuit, made.detail["mapping"], made.detail["interval_s"], at)
    if drop:
        queries.captures.drop_upload(conn, upload_id=upload_id)
    return capture_id


PART_BEGUN, PART_READ = 0.05, 0.55
"""Parts of an import that are done when reading begins, and when all that is left is to keep what was read."""


def work_import_out(folder: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Outcome:
    """The job of a large file. Raises what is wrong with the file, in words for whoever sent it."""
    upload_id, owner_id = payload["upload_id"], payload["owner_id"]
    with begin() as conn:
        upload = queries.captures.upload_of(conn, upload_id=upload_id, owner_id=owner_id)
    if upload is None:
        raise NotFound("that file is no longer here; choose it again")
    path = folder / upload["stored_as"]
    queue.report(PART_BEGUN)
    with turn(folder, owner_id, WORKER_PATIENCE_S):
        made = read_file(
            path, upload["filename"], circuit_of(payload["circuit"]), payload["mapping"], payload["interval_s"]
        )
    queue.report(PART_READ)

    def keep(conn: Connection) -> dict[str, int]:
        return {"capture_id": kept_of_upload(conn, owner_id, upload_id, made, at)}

    return queue.Outcome(keep, lambda: path.unlink(missing_ok=True))


def lanes_chosen(
    layout: Layout, kind: Circuit, mapping: Sequence[Mapping[str, Any]], interval_s: float | None
) -> list[Mapped]:
    """The lanes chosen, if a file of this layout can be read with them. Raises BadOption."""
    lanes = [_mapped(m, layout, kind) for m in mapping]
    if len({m.lane for m in lanes}) != len(lanes):
        raise BadOption("two columns are mapped to the same lane; choose one")
    for lane in kind.lanes:
        if lane.required and not any(m.lane == lane.name for m in lanes):
            raise BadOption(f"map a column to the lane {lane.title!r}; {kind.title.lower()} needs it")
    if interval_s is not None and not 0 < interval_s <= 100:
        raise BadOption("sampling interval: a number of seconds between 0 and 100")
    return lanes


def read_file(
    path: Path, filename: str, kind: Circuit, mapping: Sequence[Mapping[str, Any]], interval_s: float | None
) -> Made:
    """Read a file with the lanes chosen. Raises BadFile, BadOption."""
    layout, table = apart.both(path, [m["position"] for m in mapping])
    lanes = lanes_chosen(layout, kind, mapping, interval_s)
    if table is None:
        raise BadOption("map a column to each lane that is wanted")
    capture = to_capture(layout, table, lanes, kind, interval_s)
    detail = {"filename": filename, "mapping": list(mapping), "interval_s": interval_s}
    return Made(kind.code, filename, "file", capture, detail, layout)


def _mapped(row: Mapping[str, Any], layout: Layout, kind: Circuit) -> Mapped:
    if not 1 <= row["position"] <= len(layout.columns):
        raise BadOption(f"the file has no column {row['position']}")
    if row["lane"] not in {lane.name for lane in kind.lanes}:
        raise BadOption(f"{kind.title} has no lane {row['lane']!r}")
    factor = float(row.get("factor", 1.0))
    if not np.isfinite(factor) or factor == 0:
        raise BadOption(f"the factor of lane {row['lane']} must be a number other than 0")
    return Mapped(row["position"], row["lane"], factor)


class TriggerSettings(TypedDict):
    lane: str
    level: float
    edge: NotRequired[Literal["rising", "falling"]]
    pre: NotRequired[float]


class TrainerSettings(TypedDict):
    """How a learner sets the trainer: scope, probe, wires and what the hand or the program does."""

    range_v: float
    duration_s: float
    rate_hz: float
    ground: str
    bits: NotRequired[int]
    peak_capture: NotRequired[bool]
    trigger: NotRequired[TriggerSettings | None]
    coupling: NotRequired[Literal["dc", "ac"]]
    bandwidth_hz: NotRequired[float | None]
    probe_factor: NotRequired[float]
    probe_reversed: NotRequired[bool]
    probe_zeroed: NotRequired[bool]
    probe_scaled: NotRequired[bool]
    wires: NotRequired[dict[str, str] | None]
    sweeps: NotRequired[int]
    way_s: NotRequired[float]
    hold_s: NotRequired[float]
    manoeuvre: NotRequired[str | None]
    movement: NotRequired[list[tuple[float, float]] | None]


def made_on_trainer(circuit: str, source: Mapping[str, Any], settings: TrainerSettings, seed: int) -> Made:
    """A recording on the trainer with the fault and part that a card's source describes and the settings chosen."""
    scope = scope_of(settings)
    points = settings.get("movement")
    movement: Any = (
        [(p[0], p[1]) for p in points]
        if points
        else SweepPlan(settings.get("sweeps", 2), settings.get("way_s", 6.0), settings.get("hold_s", 0.8))
    )
    recording = record_with_scan(
        circuit,
        scope,
        seed,
        fault=str(source.get("fault", "none")),
        severity=float(source.get("severity", 1.0)),
        manoeuvre=settings.get("manoeuvre") or "",
        movement=movement if trainer_source(circuit).by_hand else None,
        part={k: v for k, v in source.items() if k in PART_FIGURES},
        inputs=_probed(circuit, settings),
    )
    detail = {"trainer": dict(settings) | {"movement": "by hand" if points else "planned"}, "seed": seed}
    return _made_of(circuit, recording, detail)


def scope_of(settings: TrainerSettings) -> ScopeSettings:
    """The scope as it was set."""
    return ScopeSettings(
        range_v=settings["range_v"],
        duration_s=settings["duration_s"],
        rate_hz=settings["rate_hz"],
        ground=settings["ground"],
        bits=settings.get("bits", 12),
        peak_capture=bool(settings.get("peak_capture", False)),
        trigger=Trigger(**asked) if (asked := settings.get("trigger")) else None,
    )


@dataclass(frozen=True, slots=True)
class ByHand:
    """A run in which hands work the trainer's controls, before the scope as it is set; `source` is the card's part."""

    circuit: str
    source: Mapping[str, Any]
    settings: TrainerSettings
    moves: Sequence[Move]
    seed: int

    def recorded(self, stretch: Stretch) -> Recording:
        """A stretch of it, as the scope records it. Raises BadOption."""
        return record_by_hand(
            self.circuit,
            scope_of(self.settings),
            self.seed,
            self.moves,
            stretch,
            fault=str(self.source.get("fault", "none")),
            severity=float(self.source.get("severity", 1.0)),
            part={k: v for k, v in self.source.items() if k in PART_FIGURES},
            wires=self.settings.get("wires"),
            inputs=_probed(self.circuit, self.settings),
        )

    def made(self, stretch: Stretch) -> Made:
        """The same as a capture to keep, with all that makes it again. Raises BadOption."""
        detail: dict[str, Any] = {"trainer": dict(self.settings) | {"movement": "by hand"}, "seed": self.seed}
        detail["run"] = {"begin_s": stretch.begin_s, "seconds": stretch.seconds, "moves": self.moves}
        return _made_of(self.circuit, self.recorded(stretch), detail)


def _made_of(circuit: str, recording: Recording, detail: dict[str, Any]) -> Made:
    detail["scan"] = [
        {"name": name, "unit": PARAMETERS[name].unit, "points": points} for name, points in recording.scan.items()
    ]
    return Made(circuit, "Trainer recording", "trainer", recording.capture, detail)


def _probed(circuit: str, settings: TrainerSettings) -> dict[str, Input]:
    """What hangs before the circuit's own lane, and how it is coupled: a factor told wrongly, leads reversed, a zero
    not set, a bandwidth limit."""
    lane = next(x for x in circuit_of(circuit).lanes if x.role in ("signal", "current", "supply"))
    factor = float(settings.get("probe_factor", 1.0)) * (-1 if settings.get("probe_reversed") else 1)
    zero = 0.0 if settings.get("probe_zeroed", True) else ZERO_ERROR
    coupling = settings.get("coupling", "dc")
    if not settings.get("probe_scaled", True) and lane.unit == "kV":
        # Capacity against the lead lets no rest through.
        factor, coupling = factor * NO_SCALE, "ac"
    before = Input(
        factor=factor,
        zero=zero,
        coupling=coupling,
        bandwidth_hz=settings.get("bandwidth_hz"),
    )
    return {} if before == Input() else {lane.name: before}


def read_instrument(person: Person, circuit: str, host: str, port: int, scope_ports: Sequence[int]) -> Capture:
    """The record of a scope that speaks SCPI on this machine. It may take long: no connection waits for it.

    A learner reads those on the ports that the school has named, and opens no other. Raises NotAllowed, BadOption.
    """
    person.must_be("instructor", "learner")
    if person.role == "learner" and port not in scope_ports:
        named = ", ".join(map(str, scope_ports)) or "none"
        raise NotAllowed(f"port {port} is not a scope of the workshop's; those are on {named}")
    return take(host, port, circuit_of(circuit))


def keep_from_instrument(
    conn: Connection, person: Person, circuit: str, host: str, port: int, capture: Capture, at: datetime
) -> int:
    """Store what `read_instrument` took."""
    where = f"{host}:{port}"
    made = Made(circuit, f"From the scope at {where}", "instrument", capture, {"instrument": where})
    return keep(conn, person, made, at)


def in_reach(conn: Connection, person: Person, capture_id: int) -> CaptureHead:
    """The capture's head if the person may look at it. Raises NotFound otherwise."""
    head = cast(CaptureHead | None, store.head(conn, capture_id))
    # One's own is seen by everybody: nothing else has to be asked.
    if head is None or not (head["owner_id"] == person.id or _may_see(conn, person, capture_id)):
        raise NotFound("there is no such capture for you")
    return head


def _may_see(conn: Connection, person: Person, capture_id: int) -> bool:
    may = {
        "learner": queries.captures.learner_may_see,
        "instructor": queries.captures.instructor_may_see,
        "administrator": queries.captures.learner_may_see,
    }[person.role]
    return bool(may(conn, capture_id=capture_id, person_id=person.id))


def is_own(conn: Connection, person: Person, head: CaptureHead) -> bool:
    """Whether it is the person's own: taken or brought in by them, or given to them to read."""
    own = head["owner_id"] == person.id
    return own or bool(queries.captures.sits_with(conn, capture_id=head["id"], person_id=person.id))


def copied(conn: Connection, person: Person, capture_id: int, title: str, at: datetime) -> int:
    """A copy of a capture that is the person's own, without its file's name; returns its id."""
    check_share(conn, person.id)
    copy_id: int = queries.captures.copy_head(conn, capture_id=capture_id, owner_id=person.id, title=title, at=at)
    for part in (queries.captures.copy_lanes, queries.captures.copy_chunks, queries.captures.copy_envelopes):
        part(conn, capture_id=capture_id, copy_id=copy_id)
    return copy_id


def values_at(conn: Connection, person: Person, capture_id: int, instants_s: Sequence[float]) -> Values:
    """Each lane's sample at the instants, and its level, least and most between the first and the last."""
    head = in_reach(conn, person, capture_id)
    end = head["samples"] - 1.0
    indices = [round(min(max((t - head["start_s"]) / head["interval_s"], 0.0), end)) for t in instants_s]
    lanes: list[LaneValues] = []
    for lane in head["lanes"]:
        low, high = min(indices), max(indices)
        part = store.samples_of(conn, capture_id, lane["lane"], low, high + 1)
        lanes.append(
            {
                "lane": lane["lane"],
                "unit": lane["unit"],
                "at": [float(part[i - low]) for i in indices],
                "level": float(np.median(part)),
                "least": float(part.min()),
                "most": float(part.max()),
            }
        )
    return {"instants": [head["start_s"] + i * head["interval_s"] for i in indices], "lanes": lanes}


MOST_KEPT = 24
_KEPT: dict[str, Answer] = {}
"""Answers of captures as they were measured last, by capture and settings, the oldest first."""


def measured(
    conn: Connection, capture_id: int, circuit: str, options: Mapping[str, str], phases: Any = (), limits: Any = ()
) -> Answer:
    """The core's answer for a stored capture.

    Captures never change, so that the last few answers are kept: a sheet, its parade and its log ask for one in a row.
    """
    key = repr((store.head(conn, capture_id), circuit, sorted(options.items()), tuple(phases), tuple(limits)))
    answer = _KEPT.pop(key, None)
    if answer is None:
        answer = measure_capture(store.load(conn, capture_id), circuit, phases, options, limits)
    _KEPT[key] = answer
    while len(_KEPT) > MOST_KEPT:
        _KEPT.pop(next(iter(_KEPT)), None)
    return answer
