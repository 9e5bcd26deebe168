"""Which cylinder an event belongs to: by a sync lane and the firing order, or by position alone."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits import probe
from tracebench.core.circuits.circuit import OptionSpec
from tracebench.core.circuits.thinning import thin
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.errors import BadOption
from tracebench.core.measure.pulse_train import Rest, find_pulses, rest_of
from tracebench.core.robust.median import median, percentile
from tracebench.core.samples import Samples

MOST_CYLINDERS = Count(12, "cylinders", "More than this is no road vehicle's engine (from memory)")

LOW_SHARE = Threshold(
    0.35,
    "",
    "Steps between events in rank, of those nearby, that is the pitch: missing events make steps longer, never shorter",
)

CYLINDERS = OptionSpec("cylinders", "Cylinders", "")
FIRING_ORDER = OptionSpec("firing_order", "Firing order, such as 1-3-4-2", "", text=True)


@dataclass(frozen=True, slots=True, eq=False)
class Places:
    """Cylinder of each event (0: not known), its slot counted from the first one, and what is missing.

    `missing` holds (slot's instant in samples, cylinder) where an event should have been and was not.
    """

    cylinder: NDArray[np.int64]
    slot: NDArray[np.int64]
    missing: tuple[tuple[float, int], ...]
    doubled: tuple[int, ...]
    """Events that share a slot with the one before."""
    by_sync: bool
    """True where a sync lane and the firing order tell the cylinder; else a number is a place in the row."""
    cycle_samples: float | None


def firing_order(work: Work) -> tuple[int, ...]:
    """The order told, or 1 to the number of cylinders told, or none. Raises BadOption."""
    text = work.told.options.get("firing_order", "").strip()
    cylinders = round(work.number("cylinders", 0, 1, MOST_CYLINDERS)) if work.told.options.get("cylinders") else 0
    if not text:
        return tuple(range(1, cylinders + 1))
    order = order_told(text)
    if cylinders and cylinders != len(order):
        raise BadOption(f"option firing_order names {len(order)} cylinders, option cylinders says {cylinders}")
    return order


def order_told(text: str) -> tuple[int, ...]:
    """Cylinders in the order that a text such as 1-3-4-2 names them. Raises BadOption."""
    try:
        order = tuple(int(part) for part in text.replace(",", "-").replace(" ", "-").split("-") if part)
    except ValueError:
        raise BadOption(f"option firing_order must be numbers such as 1-3-4-2, not {text!r}") from None
    if sorted(order) != list(range(1, len(order) + 1)):
        raise BadOption(
            f"option firing_order must name each cylinder from 1 to {max(len(order), 1)} once, not {text!r}"
        )
    return order


def sync_instants(samples: Samples, rest: Rest) -> NDArray[np.float64]:
    """Instants of the sync lane's pulses, in samples: the leading edges of whichever side stands out."""
    if rest.under > rest.over:
        samples, rest = -samples, rest.turned_over()
    reach = rest.over
    if reach < 6 * rest.sigma or reach <= 0:
        return np.empty(0)
    pulses = find_pulses(samples, rest.level + 0.3 * reach, rest.level + 0.5 * reach)
    at = pulses.start.astype(np.float64)
    if at.size < 3:
        return at
    # A ringing pickup crosses more than once: the first of each burst.
    gap = 0.12 * percentile(np.diff(at), 90)
    keep = np.concatenate([[True], np.diff(at) > gap])
    return np.asarray(at[keep], dtype=np.float64)


SYNC_AGAINST = Threshold(
    2.5,
    "",
    "Pulses of a sync lane for each of the lane itself from which they were exchanged: a sync has one or two a cycle",
)

APART_S = Threshold(
    2.5e-3,
    "s",
    "Events of one engine are further apart than this at any speed; what follows sooner belongs to the one before",
)


def unswap_sync(work: Work, lane: str) -> None:
    """A sync lane with far more pulses than the lane it is to number is the lane itself; read exchanged."""
    sync = work.lane("sync")
    if sync is None:
        return
    own, others = (_events(work, x) for x in (work.samples(lane), sync))
    if own >= 2 and others >= SYNC_AGAINST * own:
        probe.exchange(work, lane, "sync", f"the sync lane has {others} pulses and the {lane} {own}: read exchanged")


def _events(work: Work, samples: Samples) -> int:
    """Pulses on either side of a lane, those that follow at once not counted."""
    rest = work.once(samples, "rest", rest_of)
    if rest.under > rest.over:
        samples, rest = -samples, rest.turned_over()
    if rest.over < 6 * rest.sigma or rest.over <= 0:
        return 0
    # A few spikes far over the rest must not hide the others.
    reach = percentile(thin(samples), 99.9) - rest.level
    reach = reach if reach > 6 * rest.sigma else rest.over
    at = find_pulses(samples, rest.level + 0.3 * reach, rest.level + 0.5 * reach).start
    return int(1 + np.sum(np.diff(at) > APART_S / work.capture.interval_s)) if at.size else 0


def attributed(work: Work, at: NDArray[np.float64]) -> Places:
    """Cylinders of events at fractional sample indices `at`, by the sync lane where there is one."""
    order = firing_order(work)
    sync = work.lane("sync")
    instants = np.empty(0) if sync is None else sync_instants(sync, work.once(sync, "rest", rest_of))
    if sync is not None and instants.size == 0:
        work.setup("flat_line", "the sync lane carries no pulses: cylinders are numbered by position only", "sync")
    if instants.size >= 2 and at.size >= 2:
        return _by_sync(work, at, instants, order)
    return _by_position(at, order)


def check_all_seen(work: Work, places: Places, lane: str) -> None:
    """A record in which fewer cylinders come by than were told says nothing of the others, with the finding."""
    told = set(firing_order(work))
    if not told or not places.slot.size:
        return
    seen = int(places.slot.max() - places.slot.min()) + 1
    if seen < len(told):
        text = f"{seen} of the {len(told)} cylinders told come by in this record: a whole cycle is needed"
        work.setup("too_short", text, lane, hides=True)


def _by_position(at: NDArray[np.float64], order: tuple[int, ...]) -> Places:
    size = at.size
    none = np.zeros(size, dtype=np.int64)
    if size < 2:
        return Places(none + (1 if len(order) == 1 else 0), none, (), (), False, None)
    steps = np.diff(at)
    width = min(steps.size, 2 * max(len(order), 4) + 1)
    ends = (width // 2, width - 1 - width // 2)
    padded = np.pad(steps, ends, "reflect" if steps.size > 1 else "edge")
    rank = int(LOW_SHARE * width)
    local = np.partition(np.lib.stride_tricks.sliding_window_view(padded, width), rank, axis=1)[:, rank]
    taken = np.maximum(0, np.round(steps / local)).astype(np.int64)
    slot = np.concatenate([[0], np.cumsum(taken)])
    count = max(len(order), 1)
    cylinder = slot % count + 1 if order else none
    missing = []
    for k in np.flatnonzero(taken > 1):
        for j in range(1, int(taken[k])):
            where = at[k] + j * steps[k] / taken[k]
            missing.append((float(where), int((slot[k] + j) % count) + 1 if order else 0))
    doubled = tuple(int(k) + 1 for k in np.flatnonzero(taken == 0))
    cycle = median(local) * count if order else None
    return Places(cylinder, slot, tuple(missing), doubled, False, cycle)


def _by_sync(work: Work, at: NDArray[np.float64], sync: NDArray[np.float64], order: tuple[int, ...]) -> Places:
    per_sync = _events_a_sync(at, sync)
    count = len(order) or max(1, round(per_sync))
    names = np.array(order or range(1, count + 1))
    if count >= 2 and abs(per_sync - count / 2) < 0.3 * count / 2 and per_sync < 0.75 * count:
        # Two sync pulses a cycle, as with paired firing: the first of each two is taken for cylinder 1's.
        sync = sync[::2]
        work.find("sync_twice", "note", "the sync lane pulses twice a cycle: the first of two is taken for cylinder 1")
    cycles = np.diff(sync)
    usual = median(cycles)
    # Times before the first and after the last sync pulse belong to cycles of their neighbours' length.
    edges = np.concatenate([_before(sync[0], cycles[0], at), sync, _after(sync[-1], cycles[-1], at)])
    which = np.clip(np.searchsorted(edges, at, side="right") - 1, 0, edges.size - 2)
    length = edges[which + 1] - edges[which]
    phase = which + (at - edges[which]) / length
    turns = phase * count
    off = np.angle(np.mean(np.exp(2j * np.pi * turns))) / (2 * np.pi)
    # The event nearest to the sync pulse is cylinder 1's, a little before or after it.
    slot = np.round(turns - off).astype(np.int64) - count * int(np.searchsorted(edges, sync[0]))
    slot = _counted(at, sync, slot, count)
    cylinder = names[slot % count]
    doubled = tuple(int(k) + 1 for k in np.flatnonzero(np.diff(slot) == 0))
    present = set(slot.tolist())
    missing = [
        (float(np.interp(k, slot, at)), int(names[k % count]))
        for k in range(int(slot[0]), int(slot[-1]) + 1)
        if k not in present
    ]
    return Places(cylinder, slot, tuple(missing), doubled, bool(work.told.options.get("firing_order")), usual)


def _counted(
    at: NDArray[np.float64], sync: NDArray[np.float64], slot: NDArray[np.int64], count: int
) -> NDArray[np.int64]:
    """Slots by counting from sync to sync where a cycle has all its events, however the speed changes within it.

    Before the first and after the last sync the steps themselves are counted: one is several only where it is far
    longer than both its neighbours, as a missing event makes it and a run-up does not.
    """
    nearest = np.array([int(np.argmin(np.abs(at - s))) for s in sync])
    pitch = np.diff(sync).min() / count
    if np.any(np.abs(at[nearest] - sync) > 0.5 * pitch) or np.any(np.diff(nearest) <= 0):
        return slot
    out = slot.copy()
    for k, (a, b) in enumerate(pairwise(nearest)):
        if b - a == count:
            out[a:b] = k * count + np.arange(count)
    first, last = int(nearest[0]), int(nearest[-1])
    steps = np.diff(at)
    beside = np.maximum(np.concatenate([[0.0], steps[:-1]]), np.concatenate([steps[1:], [0.0]]))
    several = np.round(steps / np.maximum(beside, 1e-9))
    taken = np.where(steps > FAR_LONGER * beside, several, np.where(steps < DOUBLED * beside, 0, 1)).astype(np.int64)
    out[last:] = (sync.size - 1) * count + np.concatenate([[0], np.cumsum(taken[last:])])
    out[: first + 1] = -np.concatenate([np.cumsum(taken[:first][::-1])[::-1], [0]])
    return out


FAR_LONGER = Threshold(1.6, "", "Of the longer neighbour: a step from which an event is missing")
DOUBLED = Threshold(0.3, "", "Of the longer neighbour: a step under which an event comes twice")


def _events_a_sync(at: NDArray[np.float64], sync: NDArray[np.float64]) -> float:
    counts = np.diff(np.searchsorted(at, sync))
    return median(counts) if counts.size else 0.0


def _before(first: float, cycle: float, at: NDArray[np.float64]) -> NDArray[np.float64]:
    count = max(1, int(np.ceil((first - at[0]) / cycle)) + 1) if at[0] < first else 1
    return np.asarray(first - cycle * np.arange(count, 0, -1), dtype=np.float64)


def _after(last: float, cycle: float, at: NDArray[np.float64]) -> NDArray[np.float64]:
    count = max(1, int(np.ceil((at[-1] - last) / cycle)) + 1) if at[-1] > last else 1
    return np.asarray(last + cycle * np.arange(1, count + 1), dtype=np.float64)
