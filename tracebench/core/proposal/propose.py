"""Which circuit a file most likely holds, ranked, with the reason in words: by its lanes, their names and its own."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import pairwise

import numpy as np

from tracebench.core.circuits import CIRCUITS
from tracebench.core.proposal.features import Features, features_of
from tracebench.core.proposal.looks import LOOKS, Look
from tracebench.core.samples import Samples

LEAST = 0.05
"""What a figure that does not fit at all leaves: one never decides alone."""

NAMED = 6.0
"""How much more likely a circuit is whose words stand in the name of the lane or of the file."""

OTHER_UNIT = 0.0001
"""Of a lane in another quantity than the file says: nearly out of the question, but a unit may be wrong."""

KNOWN_LANE = 2.0
"""And of one that has a lane of the name that a column bears, whichever it is known by."""

STRANGE_LANE = 0.2
"""Of one that has none, where the name is that of another circuit's lane."""

CLAIMED = 0.02
"""Of one that has no lane of a name that is, word for word, that of a lane (as in files of our own); and of a column
taken for a lane whose name another column bears."""

FIRST = 20.0
"""And of one that is known by the first column: what a record was made for is its first lane, as a rule."""

STILL = 0.01
"""And of one whose lane usually moves, where it lies still: at a level where that may happen it is not ruled out."""

USUAL_ROWS = 6.0
MOST_REASONS = 3


@dataclass(frozen=True, slots=True, eq=False)
class Column:
    """A column of a file as it was read; unit empty where the file tells none."""

    name: str
    unit: str
    samples: Samples


@dataclass(frozen=True, slots=True)
class Proposal:
    """A circuit with its share of all likelihood, the reasons in words, and which column (from 0) is taken for the
    lane that it is known by.
    """

    circuit: str
    share: float
    reasons: tuple[str, ...]
    column: int
    lane: str


def propose(columns: Sequence[Column], interval_s: float, name: str = "") -> tuple[Proposal, ...]:
    """Circuits in order of how likely they are, the most likely first. Empty where there is no column."""
    return ranked(columns, figures_of(columns, interval_s), name)


def figures_of(columns: Sequence[Column], interval_s: float) -> tuple[Features, ...]:
    """Everything that is asked of each column, those beside it included."""
    figures = [dict(features_of(c.samples, interval_s)) for c in columns]
    blocks = [_blocks(c.samples) for c in columns]
    return tuple(
        {**f, **_derived(f), **_beside(k, figures, blocks), "levels": _held_levels(blocks[k])}
        for k, f in enumerate(figures)
    )


def ranked(columns: Sequence[Column], figures: Sequence[Features], name: str) -> tuple[Proposal, ...]:
    """The same from figures that were taken already."""
    words = _words(name)
    lanes = _lane_words()
    every = set().union(*lanes.values())
    borne = [_words(c.name) & every for c in columns]
    told = [c.name for c in columns]
    found = []
    for code, looks in LOOKS.items():
        fitting = sum(math.log(KNOWN_LANE if b & lanes[code] else STRANGE_LANE) for b in borne if b)
        own = {lane.name for lane in CIRCUITS[code].lanes}
        fitting += math.log(CLAIMED) * len((set(told) & _lane_names()) - own)
        scored = [
            (
                *_scored(code, look, c, f, words, fitting + (math.log(FIRST) if k == 0 else 0.0), told),
                k,
                look.lane,
            )
            for look in looks
            for k, (c, f) in enumerate(zip(columns, figures, strict=True))
        ]
        if scored:
            score, reasons, k, lane = max(scored, key=lambda one: one[0])
            found.append((score, code, reasons, k, lane))
    total = sum(math.exp(score) for score, *_ in found) or 1.0
    found.sort(key=lambda one: -one[0])
    return tuple(Proposal(code, math.exp(score) / total, why, k, lane) for score, code, why, k, lane in found)


def _scored(
    code: str,
    look: Look,
    column: Column,
    figures: Features,
    file_words: set[str],
    beforehand: float,
    told: Sequence[str],
) -> tuple[float, tuple[str, ...]]:
    """Log likelihood of a column as the lane that the circuit is known by, and why."""
    circuit = CIRCUITS[code]
    unit = circuit.lane(look.lane).unit
    beside = look.beside if len(told) > 1 else ()
    score, reasons = 0.0, []
    if look.still and figures["still"]:
        rows = look.taken + beside
        lies = any(low <= figures["middle"] <= high for low, high in look.still)
        score += math.log(STILL if lies else STILL * LEAST)
        if lies:
            reasons.append(f"lies still at {figures['middle']:.3g} {unit}")
    else:
        rows = look.rows + beside
    fitting = 0.0
    for row in rows:
        value = figures.get(row.figure, math.nan)
        fits = row.fits(value)
        fitting += math.log(max(fits, LEAST))
        if row.words and fits >= 0.8:
            reasons.append(row.words.format(value=value))
    # As many figures as the others have: a circuit with fewer rows is not favoured for that.
    score += fitting * USUAL_ROWS / max(len(rows), 1) + beforehand
    if column.unit and column.unit.lower() != unit.lower():
        score += math.log(OTHER_UNIT)
    if look.lane in told and column.name != look.lane:
        score += math.log(CLAIMED)
    if len(told) > len(circuit.lanes):
        score += math.log(0.2)
    called = set(look.called) & (file_words | _words(column.name))
    if called:
        score += math.log(NAMED)
        reasons.insert(0, f"called {sorted(called)[0]!r}")
    return score, tuple(reasons[:MOST_REASONS])


@cache
def _lane_names() -> frozenset[str]:
    return frozenset(lane.name for circuit in CIRCUITS.values() for lane in circuit.lanes)


@cache
def _lane_words() -> Mapping[str, frozenset[str]]:
    """Words in the names of each circuit's lanes; `signal` and its like tell nothing."""
    return {
        code: frozenset().union(*(_words(f"{lane.name} {lane.title}") for lane in circuit.lanes)) - SAY_NOTHING
        for code, circuit in CIRCUITS.items()
    }


SAY_NOTHING = frozenset({"signal", "sensor", "lane", "of", "and", "the", "a", "current", "voltage", "wire", "output"})


def _words(text: str) -> set[str]:
    """Words of a name; figures and single letters tell channels apart and no circuits."""
    return {w for w in re.split(r"[^a-z0-9+/]+", text.lower().replace("_", " ")) if len(w) > 1 and not w.isdigit()}


def _derived(f: Features) -> dict[str, float]:
    """Figures that are taken of others."""
    reach = max(f["most"] - f["least"], 1e-12)
    upward, downward = f["most"] - f["middle"], f["middle"] - f["least"]
    deep = "dip" if downward > upward else "spike"
    return {
        "rest": f["middle"] / max(reach, 1e-12) if abs(f["middle"]) < 0.25 * reach else f["middle"],
        "hold": f["high"] / f["most"] if f["most"] > 0 else math.nan,
        "edge_share": f["edge_s"] / f["width_s"] if f["width_s"] else math.nan,
        "fall_share": f["fall_s"] / f["width_s"] if f["width_s"] else math.nan,
        "two_sided": min(upward, downward) / max(upward, downward, 1e-12),
        "one_sided": abs(upward - downward) / reach,
        "deepest": max(abs(f["most"]), abs(f["least"])),
        "deep_hz": f[f"{deep}_hz"],
        "narrow": max(f["above"], f["below"]),
        "toothed": _toothed(f),
    }


def _toothed(f: Features) -> float:
    """1 for a lane that swings alike about nothing, or lies at two levels and hardly between."""
    about_nothing = min(-f["low"], f["high"]) / max(-f["low"], f["high"], 1e-12)
    return max(about_nothing, 1.0 - 4.0 * f["between"])


def _blocks(samples: Samples) -> Samples:
    """At most 400 means of equal stretches: what moves slowly."""
    size = max(1, samples.size // 400)
    return np.asarray(samples[: samples.size // size * size].reshape(-1, size).mean(axis=1))


HELD = 10
"""So many blocks of 400 alike are a level that was held."""


def _held_levels(blocks: Samples) -> float:
    """How many different levels a slow course was held at: within 4 % of its movement, apart by 8 %."""
    swing = float(np.ptp(blocks))
    held: list[float] = []
    start = 0
    for k in range(1, blocks.size + 1):
        if k == blocks.size or np.ptp(blocks[start : k + 1]) > 0.04 * swing:
            if k - start >= HELD:
                held.append(float(np.mean(blocks[start:k])))
            start = k
    held.sort()
    return float(bool(held) + sum(b - a > 0.08 * swing for a, b in pairwise(held)))


def _beside(k: int, figures: Sequence[Features], blocks: Sequence[Samples]) -> dict[str, float]:
    """Figures of the columns beside one."""
    own, others = blocks[k], [j for j in range(len(figures)) if j != k]
    moves = [j for j in others if figures[j]["slow_swing"] > 0.15 and figures[j]["slow_share"] > 0.3]
    twins = [float(np.corrcoef(own, blocks[j])[0, 1]) for j in moves if np.ptp(own) > 0]
    levels = [figures[j]["middle"] for j in others if figures[j]["swing"] < 0.4]
    steady = sum(4.3 < level < 5.5 for level in levels)
    pair = min(sum(1.8 < level < 2.45 for level in levels), sum(2.5 < level < 3.2 for level in levels))
    both = [figures[k]["slow_swing"] / max(figures[j]["slow_swing"], 1e-12) for j in moves]
    twin = max((t for t, ratio in zip(twins, both, strict=False) if 0.2 < ratio < 5.0), default=0.0)
    pulsed = [j for j in others if figures[j]["spike_hz"] > 1 and figures[j]["between"] < 0.2]
    return {
        "twin": twin,
        "steady_5": 1.0 if steady else 0.0,
        "pair_2v2_2v8": 1.0 if pair else 0.0,
        "sync": 1.0 if pulsed else 0.0,
        "end": float((own[-8:].mean() - own.min()) / max(float(np.ptp(own)), 1e-12)),
        "one_way": abs(own[-1] - own[0]) / max(float(np.ptp(own)), 1e-12),
    }
