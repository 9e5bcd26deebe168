"""Captures in MariaDB: heads, lanes, chunks of samples and the min/max pyramid."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.envelope import BASE_FACTOR, STEP_FACTOR, envelope, pyramid
from tracebench.core.miniature import miniature
from tracebench.core.preparing import low_pass_of
from tracebench.store.pool import Connection, Row
from tracebench.store.queries import packed, queries
from tracebench.store.sample_coding import CHUNK, coded, decoded, pack, unpack

TILE_BINS = 2048
"""Bins (or samples, at level 0) in one tile; a tile of level L holds bins of 2^L samples."""


def add(
    conn: Connection, owner_id: int, circuit: str, title: str, origin: str, capture: Capture, detail: Any, at: datetime
) -> int:
    """Store a capture with all its samples; returns its id. Belongs into one transaction."""
    capture_id: int = queries.captures.add(
        conn,
        owner_id=owner_id,
        circuit=circuit,
        title=title,
        origin=origin,
        samples=capture.samples,
        source_samples=capture.source_samples or capture.samples,
        interval_s=capture.interval_s,
        start_s=capture.start_s,
        detail=packed({**detail, "notes": list(capture.notes), **_of_recorder(capture)}),
        picture=miniature(capture.lanes[circuit_of(circuit).main_lane(capture.lanes)].samples),
        at=at,
    )
    stored_bytes = 0
    # A lane goes to the database while the next one is packed and the samples are named.
    with ThreadPoolExecutor(2) as beside:
        ready = beside.map(_prepared, capture.lanes.values())
        name = beside.submit(fingerprint, capture)
        for place, lane in enumerate(ready):
            _add_lane(conn, capture_id, place, lane)
            stored_bytes += lane.size
    queries.captures.set_stored(conn, capture_id=capture_id, stored_bytes=stored_bytes, fingerprint=name.result())
    return capture_id


def _of_recorder(capture: Capture) -> dict[str, Any]:
    """What the samples no longer show of their recorder, and readings are in doubt by; empty where there is nothing."""
    codes = {lane.name: lane.code for lane in capture.lanes.values() if lane.code is not None}
    told = {"clock": capture.clock, "edge_s": capture.edge_s, "codes": codes}
    return {"recorder": told} if any(told.values()) else {}


def _mapping(told: Any) -> dict[str, Any]:
    """What came in by a bundle may hold anything."""
    return told if isinstance(told, dict) else {}


def _number(told: Any) -> float:
    return float(told) if isinstance(told, (int, float)) and 0 <= told < math.inf else 0.0


def fingerprint(capture: Capture) -> str:
    """A name of the samples alone: the same file brought in again has it, whatever it is called and mapped to."""
    digest = hashlib.blake2b(digest_size=16)
    for lane in sorted(capture.lanes.values(), key=lambda lane: lane.name):
        digest.update(lane.name.encode())
        digest.update(np.ascontiguousarray(lane.samples, dtype="<f8").data)
    return digest.hexdigest()


@dataclass(frozen=True, slots=True)
class _Prepared:
    """A lane as it is stored: chunks of codes, and its pyramid by factor."""

    lane: Lane
    dtype: str
    values: bytes | None
    lowest: float
    highest: float
    chunks: Sequence[bytes]
    levels: Sequence[tuple[int, bytes]]

    @property
    def size(self) -> int:
        return sum(len(chunk) for chunk in self.chunks) + sum(len(level) for _, level in self.levels)


def _prepared(lane: Lane) -> _Prepared:
    row = coded(lane.samples)
    return _Prepared(
        lane,
        row.dtype,
        pack(row.values) if row.values is not None else None,
        float(lane.samples.min()),
        float(lane.samples.max()),
        [pack(row.codes[start : start + CHUNK]) for start in range(0, row.codes.size, CHUNK)],
        [(factor, pack(np.concatenate([low, high]))) for factor, low, high in pyramid(row.codes)],
    )


def _add_lane(conn: Connection, capture_id: int, place: int, made: _Prepared) -> None:
    lane = made.lane
    queries.captures.add_lane(
        conn,
        capture_id=capture_id,
        lane=lane.name,
        place=place,
        unit=lane.unit,
        column_name=lane.column[:255],
        factor=lane.factor,
        lowest=made.lowest,
        highest=made.highest,
        dtype=made.dtype,
        code_values=made.values,
    )
    for number, chunk in enumerate(made.chunks):
        queries.captures.add_chunk(conn, capture_id=capture_id, lane=lane.name, chunk_no=number, packed=chunk)
    for factor, level in made.levels:
        queries.captures.add_envelope(conn, capture_id=capture_id, lane=lane.name, factor=factor, packed=level)


def head(conn: Connection, capture_id: int) -> dict[str, Any] | None:
    """The capture's head with its lanes, or None."""
    found = queries.captures.by_id(conn, capture_id=capture_id)
    if found is None:
        return None
    head = json.loads(found)
    return {
        **head,
        **_floats(head, "interval_s", "start_s"),
        "created_at": datetime.fromisoformat(head["created_at"]),
        "lanes": [{**lane, **_floats(lane, "factor", "lowest", "highest")} for lane in head["lanes"] or ()],
    }


def _floats(row: dict[str, Any], *names: str) -> dict[str, float]:
    """Numbers that JSON writes without a point where they are whole."""
    return {name: float(row[name]) for name in names}


def load(conn: Connection, capture_id: int, known: dict[str, Any] | None = None) -> Capture:
    """The whole capture, sample for sample as it was stored, with its head where that is known. Raises KeyError."""
    row = known or head(conn, capture_id)
    if row is None:
        raise KeyError(capture_id)
    codings = {row["lane"]: row for row in queries.captures.lane_codings(conn, capture_id=capture_id)}
    lanes, detail = {}, row["detail"]
    recorder = _mapping(detail.get("recorder"))
    codes = {name: _number(code) for name, code in _mapping(recorder.get("codes")).items()}
    for lane in row["lanes"]:
        name, coding = lane["lane"], codings[lane["lane"]]
        samples = _read(conn, capture_id, name, coding["dtype"], _values(coding), 0, row["samples"])
        lanes[name] = Lane(name, samples, lane["unit"], lane["column_name"], lane["factor"], codes.get(name))
    low_pass_hz = low_pass_of(detail.get("steps", []))
    return Capture(
        lanes,
        row["interval_s"],
        row["start_s"],
        row["source_samples"],
        tuple(detail["notes"]),
        _number(recorder.get("clock")),
        _number(recorder.get("edge_s")),
        low_pass_hz,
    )


def picture_of(conn: Connection, capture_id: int) -> bytes:
    """A capture in miniature, made and kept where it was stored before there were any."""
    row = head(conn, capture_id)
    if row is None:
        raise KeyError(capture_id)
    lane = circuit_of(row["circuit"]).main_lane([lane["lane"] for lane in row["lanes"]])
    picture = miniature(samples_of(conn, capture_id, lane, 0, row["samples"]))
    queries.captures.set_picture(conn, capture_id=capture_id, picture=picture)
    return picture


def _coding(conn: Connection, capture_id: int, lane: str) -> tuple[str, NDArray[np.float64] | None, int]:
    row = queries.captures.lane_coding(conn, capture_id=capture_id, lane=lane)
    if row is None:
        raise KeyError(lane)
    return row["dtype"], _values(row), row["samples"]


def _values(coding: Row) -> NDArray[np.float64] | None:
    return unpack(coding["code_values"], "float64") if coding["code_values"] is not None else None


def _chunks(
    conn: Connection, capture_id: int, lane: str, dtype: str, start: int, stop: int
) -> Iterator[tuple[int, NDArray[Any]]]:
    """Codes of samples [start, stop), chunk by chunk, each with the place of its first one among those asked for."""
    first = start // CHUNK
    rows = queries.captures.chunks(
        conn, capture_id=capture_id, lane=lane, first_no=first, last_no=max(start, stop - 1) // CHUNK
    )
    for number, row in enumerate(rows, first):
        offset = number * CHUNK
        codes = unpack(row["packed"], dtype)[max(0, start - offset) : max(0, stop - offset)]
        yield max(start, offset) - start, codes


def _codes(conn: Connection, capture_id: int, lane: str, dtype: str, start: int, stop: int) -> NDArray[Any]:
    return np.concatenate([codes for _, codes in _chunks(conn, capture_id, lane, dtype, start, stop)])


def samples_of(conn: Connection, capture_id: int, lane: str, start: int, stop: int) -> NDArray[np.float64]:
    """Samples [start, stop) of a lane. Raises KeyError for an unknown lane."""
    dtype, values, samples = _coding(conn, capture_id, lane)
    return _read(conn, capture_id, lane, dtype, values, max(0, start), min(stop, samples))


def _read(
    conn: Connection,
    capture_id: int,
    lane: str,
    dtype: str,
    values: NDArray[np.float64] | None,
    start: int,
    stop: int,
) -> NDArray[np.float64]:
    out = np.empty(max(0, stop - start))
    read = 0
    for at, codes in _chunks(conn, capture_id, lane, dtype, start, stop):
        out[at : at + codes.size] = decoded(codes, values)
        read += codes.size
    if read != out.size:
        raise ValueError(f"capture {capture_id}, lane {lane}: {out.size - read} samples are missing from the database")
    return out


READ_WHOLE = 8_000_000
"""Up to so many samples a lane is read at once and cut; of longer ones only what is asked for is read."""


def reader(conn: Connection, capture_id: int, lane: str, samples: int) -> Callable[[int, int], NDArray[np.float64]]:
    """Reads samples [a, b) of a lane of which many parts are wanted. Raises KeyError for an unknown lane."""
    if samples > READ_WHOLE:
        return lambda a, b: samples_of(conn, capture_id, lane, a, b)
    whole = samples_of(conn, capture_id, lane, 0, samples)
    return lambda a, b: whole[a:b]


def tile(conn: Connection, capture_id: int, lane: str, level: int, number: int) -> NDArray[np.float32]:
    """A tile of a lane, float32: samples at level 0, else (low, high) pairs of bins of 2^level samples.

    Every sample lies in exactly one bin, so no extreme is missed at any zoom. Empty beyond the record's
    end. Raises KeyError for an unknown lane.
    """
    dtype, values, samples = _coding(conn, capture_id, lane)
    width = 1 << level
    start, stop = number * TILE_BINS * width, min((number + 1) * TILE_BINS * width, samples)
    if start >= samples:
        return np.empty(0, dtype=np.float32)
    if level == 0:
        return decoded(_codes(conn, capture_id, lane, dtype, start, stop), values).astype(np.float32)
    kept = _kept_level(conn, capture_id, lane, dtype, width)
    if kept is None:
        codes = _codes(conn, capture_id, lane, dtype, start, stop)
        low, high = envelope(codes, codes, width)
    else:
        factor, all_low, all_high = kept
        part = slice(start // factor, -(-stop // factor))
        low, high = envelope(all_low[part], all_high[part], width // factor)
    pairs = np.empty(2 * low.size, dtype=np.float32)
    pairs[0::2], pairs[1::2] = decoded(low, values), decoded(high, values)
    return pairs


def _kept_level(
    conn: Connection, capture_id: int, lane: str, dtype: str, width: int
) -> tuple[int, NDArray[Any], NDArray[Any]] | None:
    """The coarsest stored level that still divides bins of `width` samples."""
    factor = BASE_FACTOR
    while factor * STEP_FACTOR <= width:
        factor *= STEP_FACTOR
    while factor >= BASE_FACTOR and factor <= width:
        row = queries.captures.envelope_level(conn, capture_id=capture_id, lane=lane, factor=factor)
        if row is not None:
            both = unpack(row["packed"], dtype)
            return factor, both[: both.size // 2], both[both.size // 2 :]
        factor //= STEP_FACTOR
    return None
