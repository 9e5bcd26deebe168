"""What is judged of the firings: burn, hash, rings and firing voltage, cylinder by cylinder."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.circuits.secondary_voltage.states import CRANK, IDLE, SNAP
from tracebench.core.circuits.events import odd_cylinders
from tracebench.core.circuits.events.attribution import (
    Places,
)
from tracebench.core.circuits.events.table import EventTable
from tracebench.core.circuits.threshold import Count, Threshold, reach
from tracebench.core.circuits.work import Work
from tracebench.core.measure.spark import Burn, smoothed_sigma
from tracebench.core.robust.median import median

HASH = Threshold(
    0.08, "", "Roughness of the burn over its level from which it is called hash (common practice, no published source)"
)

SNAP_BURN_MS = Threshold(
    0.5, "ms", "A burn may be as short as this while the cylinders are full (common practice, no published source)"
)

SHORT_MS = Threshold(0.8, "ms", "A burn at idle under this is short (common practice, no published source)")
LONG_MS = Threshold(2.0, "ms", "A burn at idle over this is long (common practice, no published source)")

RINGS_SOUND = Count(
    3, "rings", "Oscillations after the burn that a sound coil shows (common practice, no published source)"
)

USUAL_BURN_KV = reach(
    0.8,
    3.5,
    "kV",
    "A spark line within this has its usual height (1 to 3 kV, common practice): what is told of the scale then holds",
)

FAR_OVER_KV = Threshold(
    20.0, "kV", "Well over the 5 to 15 kV of idle (common practice, no published source); nearer, makes differ"
)
FAR_UNDER_KV = Threshold(
    3.0, "kV", "Well under the 5 to 15 kV of idle (common practice, no published source); nearer, makes differ"
)

LEAST_BURN = Threshold(
    0.06, "", "Part of the firing line that a burn reaches at the least; noise above it hides whether there is one"
)


def judge(
    work: Work, table: EventTable, places: Places, states: NDArray[np.int64], burns: list[Burn | None], sigma: float
) -> None:
    odd_cylinders.note_missing_events(work, table, places, "no_burn", "its firing is", once="misfire_intermittent")
    top = median(table.values["firing_kv"])
    if 5 * smoothed_sigma(sigma, work.capture.interval_s) > LEAST_BURN * top:
        work.setup("noisy", f"noise of {sigma:.2g} kV hides the burns: a smaller range", "secondary", hides=True)
        return
    groups = table.cylinders or [0]
    for cylinder in groups:
        own = (table.cylinder == cylinder) if cylinder else np.ones(table.count, dtype=bool)
        _judge_one(work, table, places, cylinder, own, states, burns)
    if table.cylinders:
        _judge_firing(work, table, places)
    _judge_level(work, table, states)


def _judge_one(
    work: Work,
    table: EventTable,
    places: Places,
    cylinder: int,
    own: NDArray[np.bool_],
    states: NDArray[np.int64],
    burns: list[Burn | None],
) -> None:
    """Burn of one cylinder: absent, short, long, full of hash, collapsing under load, without rings behind it."""
    who = odd_cylinders.name(cylinder, places.by_sync) if cylinder else "the lead"
    quiet, loaded = np.flatnonzero(own & (states == IDLE)), np.flatnonzero(own & (states == SNAP))
    if quiet.size == 0:
        return
    named = cylinder or None
    place = (float(table.from_s[quiet[0]]), float(table.to_s[quiet[0]]) + 0.5e-3)
    lasted = np.nan_to_num(table.values["burn_ms"])
    burn = lasted[quiet]
    loaded_gone = [int(k) for k in loaded if burns[int(k)] is None]
    unloaded = np.flatnonzero(own & (states != SNAP) & (states != CRANK))
    lacking = [int(k) for k in unloaded if burns[int(k)] is None]
    if len(lacking) > 0.5 * unloaded.size:
        text = f"{who}: no burn after the firing line: secondary open, or a spark elsewhere"
        work.fault("no_burn", text, place, "secondary", None, None, named)
        return
    # In a snap a single one is a misfire; many are a coil that fails under load.
    if len(loaded_gone) < max(2, 0.3 * loaded.size):
        lacking = sorted([*lacking, *loaded_gone])
    if lacking:
        first = lacking[0]
        when = f"the first at {table.from_s[first]:.3f} s"
        text = f"{who}: {len(lacking)} of {int(own.sum())} firings without a burn, {when}"
        each = [(float(table.from_s[k]), float(table.from_s[k]) + 1e-3) for k in lacking]
        work.fault("misfire_intermittent", text, each[0], "secondary", float(len(lacking)), "", named, each)
    usual = median(burn[burn > 0])
    if usual < SHORT_MS - 0.05 * (LONG_MS - SHORT_MS):
        text = f"{who}: burns for only {usual:.2f} ms where {SHORT_MS:g} ms is the least"
        work.fault("short_burn", text, place, "secondary", usual, "ms", named)
    rough = float(np.nanmedian(table.values["burn_hash"][quiet]))
    if rough > HASH:
        text = f"{who}: the burn is full of hash, {rough:.2f} of its level where {HASH:g} is the most"
        work.fault("burn_hash", text, place, "secondary", rough, "", named)
    counted = table.values["rings_count"][quiet]
    rings = float(np.nanmedian(counted)) if np.isfinite(counted).any() else float("nan")
    if rings < RINGS_SOUND:
        text = f"{who}: {rings:.0f} rings after the burn where {RINGS_SOUND} are the least"
        work.fault("no_rings", text, place, "secondary", rings, "", named)
    if loaded.size and usual >= SHORT_MS:
        under = lasted[loaded]
        least = median(under)
        gone = int(np.sum(under < SNAP_BURN_MS))
        if gone >= max(2, 0.3 * loaded.size):
            k = int(loaded[int(np.argmin(under))])
            here = (float(table.from_s[k]), float(table.from_s[k]) + 1.5e-3)
            text = f"{who}: the burn falls to {least:.2f} ms in the snap, {usual:.2f} ms at idle: fails under load only"
            short = loaded[under < SNAP_BURN_MS]
            each = [(float(table.from_s[j]), float(table.from_s[j]) + 1.5e-3) for j in short]
            work.fault("burn_collapses_on_snap", text, here, "secondary", least, "ms", named, each)


def _judge_level(work: Work, table: EventTable, states: NDArray[np.int64]) -> None:
    """Firing voltage of all against what a plug needs at idle, where a usual spark line says that the scale holds."""
    quiet = np.flatnonzero(states == IDLE)
    if quiet.size == 0 or work.has("high_firing", "low_firing", "no_burn"):
        return
    fired, burning = (float(np.nanmedian(table.values[r][quiet])) for r in ("firing_kv", "burn_kv"))
    if not USUAL_BURN_KV[0] <= burning <= USUAL_BURN_KV[1]:
        return
    places = [(float(table.from_s[k]), float(table.to_s[k])) for k in quiet]
    if fired > FAR_OVER_KV:
        text = f"fires at {fired:.1f} kV where 15 kV is the most at idle: gap, open lead or lean"
        work.fault("high_firing", text, places[0], "secondary", fired, "kV", places=places)
    elif fired < FAR_UNDER_KV:
        text = f"fires at {fired:.1f} kV where 5 kV is the least: fouled, shorted or no compression"
        work.fault("low_firing", text, places[0], "secondary", fired, "kV", places=places)


def _judge_firing(work: Work, table: EventTable, places: Places) -> None:
    """Firing voltages of the cylinders, within 3 to 4 kV of each other."""
    medians = table.of_cylinders("firing_kv")
    if len(medians) < 2:
        return
    for cylinder, value in medians.items():
        others = median([v for c, v in medians.items() if c != cylinder])
        who = odd_cylinders.name(cylinder, places.by_sync)
        if value - others > 4.0 and value > 1.3 * others:
            text = f"{who} fires at {value:.1f} kV where the others need {others:.1f} kV: gap, open lead or lean"
            work.fault("high_firing", text, table.first_of(cylinder), "secondary", value, "kV", cylinder)
        elif others - value > 3.0 and value < 0.65 * others:
            text = f"{who} fires at {value:.1f} kV where the others need {others:.1f} kV: fouled or shorted"
            work.fault("low_firing", text, table.first_of(cylinder), "secondary", value, "kV", cylinder)
