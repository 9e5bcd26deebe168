"""Evidence: stretches of trace that support the call which this learner made."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from tracebench.core.answer import Answer, Finding
from tracebench.core.circuits.circuit import Proof
from tracebench.core.circuits.work import Span
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.result import Criterion, Result, Stretch
from tracebench.core.grading.slack import slack_of
from tracebench.core.robust.median import median
from tracebench.core.steps.call.call_on_trace import NOT_THERE, CallOnTrace, judging, stretches
from tracebench.core.steps.call.step import MOST_PIECES, Piece

WIDEST = 0.5
"""Part of the record from which a stretch points at nothing in particular."""

WHOLE = 0.8
"""Part of a phase that counts as the whole of it, as a hand cuts its ends."""

LONGEST = 0.4
"""Part of the record that is asked of a phase that fills most of it."""

LEAST_SHOWN = 0.05
"""Part of the record that a hand chooses at the least on a screen that shows the whole of it."""

STILL_WHOLE = 2.0
"""Lengths of one movement or event up to which a piece counts whole (common practice, no published source)."""


@dataclass(frozen=True, slots=True)
class Shown:
    """What the pieces chosen show of what they should: 0 to 1, and in words."""

    share: float
    reason: str
    where: Sequence[Stretch] = ()
    slip: str | None = None


def _evidence(case: CallOnTrace, criterion: Criterion, points: float) -> Result:
    shown = _shown(case)
    if shown.share == 0 and case.given.evidence and not _pointing(case):
        shown = replace(shown, slip="points_at_nothing")
    certainty = sure.FIRM if shown.share in (0.0, 1.0) else sure.WORTH_A_LOOK
    return Result.of(criterion, case.step, shown.share, points, certainty, shown.reason, shown.where, shown.slip)


def _shown(case: CallOnTrace) -> Shown:
    verdict, call = case.given.verdict, case.measured.call
    if verdict is None:
        return Shown(0.0, "Without a call there is nothing for evidence to support.", stretches(case.deciding))
    if verdict in case.right_calls:
        return {"faulty": _of_fault, "sound": _of_soundness, "inconclusive": _of_what_hides}[verdict](case)
    if verdict == "inconclusive":
        reason = "Nothing there hides the answer: the capture decides."
        return Shown(0.0, reason, stretches(case.deciding))
    if call == "faulty":
        reason = "What you chose does not make it a sound part: a fault stands in the capture, there or elsewhere."
        return Shown(0.0, reason, stretches(case.deciding))
    return _overstated(case)


def kept(case: CallOnTrace) -> tuple[float, str]:
    """The share that a call, its cause and next test keep of their points by what they rest on, and what to say of it.

    A right one where the rubric asks that it be shown on the trace; one that follows from a wrong reading.
    """
    rubric = case.attempt.card.rubric
    if case.share_of_what_follows > 0:
        return case.share_of_what_follows, " It follows from what you read."
    least = rubric.unshown
    if case.given.verdict not in case.right_calls or least >= 1:
        return 1.0, ""
    share = least + (1 - least) * _shown(case).share
    if share >= 1:
        return 1.0, ""
    return share, f" On this card it counts as far as the trace was shown for it: {100 * share:.0f} %."


def _of_fault(case: CallOnTrace) -> Shown:
    # Where a cylinder has the fault, its neighbour's event is not meant; where all have it, any is.
    apart = any(f.cylinder is not None for f in case.deciding)
    return _at_places(case, _deciding_places(case), case.deciding, "the fault", slack_of(case.measured, apart))


def _deciding_places(case: CallOnTrace) -> list[Span]:
    """Every place of every deciding finding, and where readings were taken that condemn by themselves."""
    out = [place for f in case.deciding for place in f.shows_in]
    return out + [place for _, reading in case.condemning for place in _of_reading(case, reading.id)]


def _of_reading(case: CallOnTrace, reading_id: str) -> list[Span]:
    spec = case.circuit.reading(reading_id)
    own = [(r.from_s, r.to_s) for r in case.measured.readings if r.id == reading_id]
    return own + [(p.from_s, p.to_s) for p in case.measured.phases if spec is not None and p.name == spec.phase]


def _of_what_hides(case: CallOnTrace) -> Shown:
    """The stretch that hides the answer; where something is not in the record at all, none is asked."""
    hiding = [f for f in (case.corrected if case.called_again else case.deciding) if f.code not in NOT_THERE]
    if not hiding:
        return Shown(1.0, "What is missing is not on the trace, so that there is nothing to point at.")
    places = [place for f in hiding for place in f.shows_in]
    whole = [p for p in places if p[1] - p[0] > WIDEST * case.measured.duration_s]
    if whole and not case.given.evidence:
        return Shown(
            1.0, f"It lies over the whole record, so that no stretch is asked: {hiding[0].text}.", stretches(hiding)
        )
    return _at_places(case, places, hiding, "what hides the answer", slack_of(case.measured, among_events=False))


def _overstated(case: CallOnTrace) -> Shown:
    """The right place under a call that makes more of it than it shows: a marginal reading, a stretch that hides."""
    findings = [f for f in case.deciding if f.code not in NOT_THERE]
    places = [place for f in findings for place in f.shows_in]
    places += [place for _, reading in case.marginal for place in _of_reading(case, reading.id)]
    narrow = [p for p in places if p[1] - p[0] <= WIDEST * case.measured.duration_s] or (
        places if case.marginal else []
    )
    share = _share(case, narrow, slack_of(case.measured))
    if share == 0 or case.given.verdict != "faulty":
        reason = "The stretch chosen does not support the call that was made: the capture does not show it."
        return Shown(0.0, reason, stretches(case.deciding))
    part = case.attempt.card.rubric.overstated_place * share
    return Shown(part, "The right place to look at, but it shows less than your call makes of it.", stretches(findings))


def _at_places(
    case: CallOnTrace, places: Sequence[Span], findings: Sequence[Finding], what: str, slack: float
) -> Shown:
    where = stretches(findings)
    if not case.given.evidence:
        return Shown(0.0, "No piece of the trace was chosen as evidence.", where)
    share = _share(case, places, slack)
    first = findings[0] if findings else None
    text = f": {first.text}" if first is not None else ""
    if share == 0:
        wide = not _pointing(case)
        said = "A stretch that long points at nothing" if wide else f"The stretch chosen does not show {what}"
        look = f" Look at {first.from_s:.3g} s{text}." if first is not None else ""
        return Shown(0.0, f"{said}.{look}", where, "points_at_nothing" if wide else None)
    if share < 1:
        return Shown(share, f"{100 * share:.0f} % of what you chose shows {what}{text}.", where)
    return Shown(1.0, f"Right place{text}.", where)


def _pointing(case: CallOnTrace) -> list[Piece]:
    """The pieces that count, less those that are half the record or more."""
    counted = case.given.evidence[:MOST_PIECES]
    return [p for p in counted if p.length <= WIDEST * case.measured.duration_s]


def _share(case: CallOnTrace, places: Sequence[Span], slack: float, needs_s: float = math.inf) -> float:
    """The part of the length of the pieces chosen that lies on a place; overlapping pieces count each.

    A piece that is shorter than the slack about a place, such as one instant, counts as that long. Of one longer than
    twice what is needed only that much counts.
    """
    counted = case.given.evidence[:MOST_PIECES]
    wide = [(a - slack, b + slack) for a, b in places]
    total = shown = 0.0
    for piece in counted:
        weight = max(piece.length, slack, 1e-9)
        total += weight
        if piece.length <= WIDEST * case.measured.duration_s:
            shown += min(weight * covered(piece, wide), weight * _concise(piece, needs_s))
    return shown / total if total else 0.0


def covered(piece: Piece, places: Sequence[Span]) -> float:
    """The part of a piece that lies on the places, which may overlap each other; an instant lies on one or not."""
    if piece.length == 0:
        return float(any(a <= piece.from_s <= b for a, b in places))
    covered, reached = 0.0, piece.from_s
    for a, b in sorted(places):
        start, stop = max(a, reached), min(b, piece.to_s)
        if stop > start:
            covered += stop - start
            reached = stop
    return covered / piece.length


def _of_soundness(case: CallOnTrace) -> Shown:
    """A sound part is shown by a whole phase or by a few whole events of the kind that would show a fault."""
    proof, measured = case.circuit.proof, case.measured
    phases = [(p.from_s, p.to_s) for p in measured.phases if p.name in proof.phases]
    where = [Stretch(a, b) for a, b in (phases or [(e.from_s, e.to_s) for e in measured.events])[:2]]
    wanted = _wanted(proof)
    if not case.given.evidence:
        return Shown(0.0, f"No piece of the trace was chosen; sound is shown by {wanted}.", where)
    pieces = _pointing(case)
    if not pieces:
        return Shown(0.0, "A stretch that long points at nothing in particular.", where, "points_at_nothing")
    anywhere = [(piece.from_s, piece.to_s) for piece in pieces]
    slack = slack_of(measured, among_events=False)
    about = _share(case, phases or anywhere, slack, _needed_s(measured, proof, phases))
    if not any(_proves(measured, proof, phases, piece) for piece in pieces):
        part = case.attempt.card.rubric.instant * about
        return Shown(part, f"Sound is shown by {wanted}; what you chose covers only part of one.", where)
    if about < 1:
        return Shown(about, f"{100 * about:.0f} % of what you chose is what shows a sound part: {wanted}.", where)
    return Shown(1.0, f"Right: {wanted} shows the part to be sound.", where)


def _proves(measured: Answer, proof: Proof, phases: Sequence[Span], piece: Piece) -> bool:
    """True for a piece that holds the whole of what shows a sound part."""
    if proof.events and measured.events:
        slack = slack_of(measured)
        inside = [e for e in measured.events if e.from_s >= piece.from_s - slack and e.to_s <= piece.to_s + slack]
        return piece.length > 0 and proof.events <= len(inside)
    longest = LONGEST * measured.duration_s
    steady = proof.steady_s or longest
    if phases:
        return any(
            min(b, piece.to_s) - max(a, piece.from_s) >= min(WHOLE * (b - a), longest, steady) - 1e-9 for a, b in phases
        )
    turned = _turned_s(measured, proof) or steady
    return piece.length >= min(WHOLE * turned, longest)


def _turned_s(measured: Answer, proof: Proof) -> float | None:
    """Seconds of the turns that are asked for."""
    rpm = measured.reading("rpm")
    return 60 / rpm.value * proof.turns if proof.turns and rpm is not None and rpm.value else None


def _concise(piece: Piece, needs_s: float) -> float:
    """How well a piece points, 0 to 1: whole up to twice what is needed, then by that over its length."""
    return min(1.0, STILL_WHOLE * needs_s / piece.length) if piece.length else 1.0


def _needed_s(measured: Answer, proof: Proof, phases: Sequence[Span]) -> float:
    """Seconds that one movement, event or turn of the kind takes that shows a sound part."""
    least = LEAST_SHOWN * measured.duration_s
    if phases:
        return max(least, median(np.array([b - a for a, b in phases])))
    if proof.events and measured.events:
        starts = np.unique([e.from_s for e in measured.events])
        lasts = median(np.array([e.to_s - e.from_s for e in measured.events]))
        pitch = median(np.diff(starts)) if starts.size > 1 else 2 * lasts
        return max(least, proof.events * pitch)
    return max(least, _turned_s(measured, proof) or proof.steady_s)


def best_piece(case: CallOnTrace) -> Piece | None:
    """The one piece that shows the most for the call of a case, None where none is needed or none shows anything."""
    measured, proof = case.measured, case.circuit.proof
    begin = measured.first_phase_s
    long = max(proof.steady_s, 0.3, LEAST_SHOWN * measured.duration_s)
    spans = [place for f in case.deciding for place in f.shows_in] + _deciding_places(case)
    spans = [(a, min(b, a + long)) for a, b in spans]
    spans += [(p.from_s, p.to_s) for p in measured.phases if p.name in proof.phases]
    phases = [(p.from_s, p.to_s) for p in measured.phases if p.name in proof.phases]
    needs = _needed_s(measured, proof, phases)
    spans += [(a, min(b, a + STILL_WHOLE * needs)) for a, b in phases] + [(begin + 0.1, begin + 0.1 + needs)]
    spans += [(a, a + LONGEST * measured.duration_s) for a, b in spans if b - a > WIDEST * measured.duration_s]
    if proof.events and measured.events:
        few = measured.events[: proof.events]
        spans.append((few[0].from_s, few[-1].to_s))
    spans.append((begin + 0.1, begin + 0.1 + long))
    none = _shown(replace(case, given=replace(case.given, evidence=())))
    best, piece = none.share, None
    for a, b in spans:
        one = Piece(a, b)
        share = _shown(replace(case, given=replace(case.given, evidence=(one,)))).share
        if share > best:
            best, piece = share, one
    return piece


def _wanted(proof: Proof) -> str:
    """What shows a sound part, in words."""
    if proof.phases:
        whole = " or ".join(p.replace("_", " ") for p in proof.phases)
        some = f", {proof.steady_s:g} s of it at the least" if proof.steady_s else ""
        return f"a whole {whole}{some}"
    if proof.events:
        return "a few whole events in a row"
    return "a whole turn of the wheel" if proof.turns else f"{proof.steady_s:g} s of the steady signal"


EVIDENCE: Criterion = Criterion(
    "evidence",
    "Evidence",
    "recognise",
    6.0,
    "Up to three stretches that support the call which was made: their points go with the part that shows it.",
    judging(lambda: EVIDENCE, _evidence),
)
