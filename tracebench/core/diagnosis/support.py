"""What may be concluded: causes ruled out by captures, what proves supply, ground and wire, and what is supported.

Common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.diagnosis.case import Case
from tracebench.core.diagnosis.causes import Cause
from tracebench.core.diagnosis.evidence import Seen
from tracebench.core.diagnosis.posterior import Posterior, hypotheses
from tracebench.core.diagnosis.strengths import MOSTLY, NEVER, STRANGE
from tracebench.core.diagnosis.symptoms import GROUPS_OF, makes

_SOURCE = "(common practice, no published source)"
RULED_OUT = Threshold(0.02, "", f"Under this a cause is ruled out, where captures say so {_SOURCE}")
MISSED = Threshold(0.05, "", f"The chance that captures missed a cause, up to which they rule it out {_SOURCE}")
SUPPORTED = Threshold(0.95, "", f"From this one cause is supported {_SOURCE}")
SLACK = Threshold(1e-9, "", "Rounding of sums that are compared with a bound")


@dataclass(frozen=True, slots=True)
class Support:
    """`named` are the cause that holds most, or the pair, and `unproven` what their condemnation still lacks."""

    named: tuple[Cause, ...]
    held: float
    unproven: tuple[str, ...]
    supported: bool
    why_not: tuple[str, ...]


def missed_by(case: Case, found: Posterior) -> NDArray[np.float64]:
    """The chance, hypotheses x evidence, that each piece missed each hypothesis in its condition: 1 where it tells
    nothing of it.
    """
    out = np.exp(found.missed)
    for e, seen in enumerate(case.evidence):
        if seen.test == "swap" and seen.tokens:
            for h, way in enumerate(hypotheses(case.vehicle)):
                if _stayed_elsewhere(way.cause, seen):
                    out[h, e] *= NEVER
        if seen.tokens:
            out[_nothing_wrong(case), e] = STRANGE
    return out


def _nothing_wrong(case: Case) -> int:
    return next(h for h, w in enumerate(hypotheses(case.vehicle)) if w.cause.kind.group == "none")


def _stayed_elsewhere(cause: Cause, seen: Seen) -> bool:
    """A fault that moved with a part is no wire, driver, plug or mechanics of the place that it left."""
    gone = {t.cylinder for t in seen.tokens}
    moves = {(t.code,) for t in seen.tokens}
    at_place = bool(gone & set(cause.cylinders)) and len(cause.cylinders) < _WHOLE_ENGINE
    return at_place and not any(s.codes in moves for s in cause.shows)


_WHOLE_ENGINE = Count(3, "cylinders", "From so many a cause is the engine's and not a place's")


def ruled_out(case: Case, found: Posterior) -> list[bool]:
    """For each cause whether it is ruled out: by captures in its condition, never by history alone."""
    worst = np.zeros(len(found.causes))
    np.maximum.at(worst, [w.number for w in hypotheses(case.vehicle)], missed_by(case, found).prod(axis=1))
    out: list[bool] = ((found.probability < RULED_OUT) & (worst <= MISSED + SLACK)).tolist()
    return out


def support(case: Case, found: Posterior) -> Support:
    """Whether one cause or pair holds enough, and what is lacking otherwise."""
    together = _together(found)
    top = int(np.argmax(together))
    held = float(together[top])
    pair = max(found.pairs, key=lambda p: p[2], default=None)
    named = [found.causes[top]]
    if pair is not None and pair[2] > held:
        held, named = pair[2], [found.causes[pair[0]], found.causes[pair[1]]]
    unproven = tuple(dict.fromkeys(w for cause in named for w in lacking(case, cause)))
    if named[0].kind.group == "none":
        held = _among_makers(case, found, top)
    why = list(_why_not(found, {c.id for c in named}, held))
    if named[0].kind.group == "none":
        why += [f"{g} not shown sound under the complaint's condition" for g in unshown(case, found)]
    elif held >= SUPPORTED - SLACK:
        why += [f"{what} not proven" for what in unproven]
    return Support(tuple(named), held, unproven if held >= SUPPORTED - SLACK else (), not why, tuple(why))


def _among_makers(case: Case, found: Posterior, nothing: int) -> float:
    """What nothing wrong holds beside the causes that could make the complaint: no other needs to be cleared for it."""
    makers = [all(makes(c, s) for s in case.symptoms) for c in found.causes]
    return float(found.probability[nothing] / found.probability[makers].sum())


def _together(found: Posterior) -> NDArray[np.float64]:
    """Probabilities, with the controller seen from inside added to a reference lost: either name is right."""
    out = found.probability.copy()
    ids = [c.kind.id for c in found.causes]
    inside = ids.index("controller-internal")
    for k, name in enumerate(ids):
        if name == "reference-lost":
            out[k] += found.probability[inside]
    return out


def _why_not(found: Posterior, named: set[str], held: float) -> Iterator[str]:
    if held >= SUPPORTED - SLACK:
        return
    others = sorted(
        ((float(p), c.id) for p, c in zip(found.probability, found.causes, strict=True) if c.id not in named),
        reverse=True,
    )
    for p, name in others[:3]:
        yield f"{name} still holds {100 * p:.0f} %" if p >= _ONE_PERCENT else f"{name} still holds under 1 %"


_ONE_PERCENT = Threshold(0.01, "", "The least share that is told as a number")


def lacking(case: Case, cause: Cause) -> tuple[str, ...]:
    """What must still be proven before a cause is condemned, as `place: what`."""
    wanted = cause.kind.proofs
    if not wanted or _by_itself(case, cause):
        return ()
    place = _place(cause)
    proven: set[str] = set()
    for seen in case.evidence:
        if _proves(seen, cause):
            proven |= seen.proven
    return tuple(f"{place}: {what}" for what in wanted if what not in proven)


def _place(cause: Cause) -> str:
    """Where its feeds are proven: at the controller for an output of it, else at the part."""
    return "controller" if cause.kind.kind == "controller" else cause.part


def _by_itself(case: Case, cause: Cause) -> bool:
    """Whether a finding on record condemns it without proofs."""
    for seen in case.evidence:
        for token in seen.tokens:
            fits = not cause.cylinders or token.cylinder is None or token.cylinder in cause.cylinders
            named = seen.place.name in ("", cause.kind.part, "fuse")
            if fits and named and (seen.test, token.code) in cause.kind.by_itself:
                return True
    return False


def _proves(seen: Seen, cause: Cause) -> bool:
    """Whether what a piece of evidence proves is proven at this cause's place."""
    at = seen.place
    if cause.kind.kind == "controller":
        return at.name == "controller" and seen.test in ("voltage", "supply-ground")
    here = not cause.cylinders or not (at.cylinders or seen.cylinders)
    here = here or bool(set(at.cylinders or seen.cylinders) & set(cause.cylinders))
    if seen.test == "swap":
        return here and f"moved:{cause.kind.part}" in {t.code for t in seen.tokens}
    if seen.test in ("voltage", "supply-ground"):
        shared = cause.kind.part in ("coil", "injector") and at.name == "fuse"
        return here and (at.name == cause.kind.part or shared)
    # Wires moved and seen to be sound stand for the signal wire of any part.
    return here and (seen.test == "look-and-move" or seen.test in cause.kind.circuits)


def unshown(case: Case, found: Posterior) -> list[str]:
    """Groups that the complaint could come from and no capture has shown sound under its condition."""
    groups = {g for s in case.symptoms if s in GROUPS_OF for g in GROUPS_OF[s]}
    there = {c.kind.group for c in found.causes} & groups
    chance = missed_by(case, found)
    clean = [e for e, seen in enumerate(case.evidence) if not seen.tokens]
    ways = hypotheses(case.vehicle)
    sound = {ways[h].cause.kind.group for e in clean for h in np.flatnonzero(chance[:, e] <= 1 - MOSTLY + SLACK)}
    return sorted(there - sound)
