"""From limits and findings to the call: faulty, inconclusive or sound, and because of what."""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping, Sequence
from dataclasses import replace

from tracebench.core.answer import Finding, JudgedLimit, Reading
from tracebench.core.answer_rows import Call
from tracebench.core.circuits.circuit import Circuit, Measured
from tracebench.core.circuits.setup_findings import COVERS, TIMES


def from_limits(
    kind: Circuit,
    readings: Sequence[Reading],
    judged: Sequence[JudgedLimit],
    already: Container[str],
    undecided: Container[str] = (),
    noiseless: Callable[[str], bool] = lambda lane: False,
) -> list[Finding]:
    """Fault findings that a deciding limit gives when its reading is outside, unless the trace gave it `already`.

    `noiseless` tells of a lane whether it carries no noise at all: slow edges are then a filter's, and `over_filtered`.
    """
    summary = {r.id: r for r in readings if r.cycle is None and r.cylinder is None}
    out = []
    for row in kind.limit_findings:
        decided = next((j for j in judged if j.decides and j.limit.reading == row.reading), None)
        if row.code in already or decided is None or decided.state != "outside" or row.reading in undecided:
            continue
        reading = summary[row.reading]
        bound = decided.limit.low if row.side == "low" else decided.limit.high
        if bound is None or (reading.value < bound) != (row.side == "low"):
            continue
        text = row.text.format(value=_figures(reading.value), limit=_figures(bound))
        place = reading.from_s, reading.to_s
        if row.slowed and reading.lane is not None and noiseless(reading.lane):
            text = f"{text}, and the lane has no noise: a filter is on, or it is the part; capture again without"
            out.append(Finding("over_filtered", "set-up", *place, text, reading.lane, None, None, None, hides=True))
            continue
        if decided.limit.basis == "common-practice":
            text += " (common practice; look the maker's figure up)"
        out.append(
            Finding(
                row.code,
                "fault",
                reading.from_s,
                reading.to_s,
                text,
                reading.lane,
                None,
                reading.value,
                reading.unit,
            )
        )
    return out


def undecided(
    measured: Measured, judged: Sequence[JudgedLimit], warm: Sequence[str], shown: Sequence[str], other_design: bool
) -> tuple[set[str], list[Finding]]:
    """Readings whose limits condemn nothing here, and the set-up findings that say why.

    One lies under a set-up finding that falsifies it; one was taken cold and has a limit for `warm` running; one is a
    level held against the figures of another design.
    """
    summary = {r.id: r for r in measured.readings if r.cycle is None and r.cylinder is None}
    covers = [f for f in measured.findings if f.hides and f.code in COVERS]
    none = {r.id for r in summary.values() if any(_covered(r, f) for f in covers)}
    slow = {f.lane for f in measured.findings if f.hides and f.code == "undersampled"}
    none |= {r.id for r in summary.values() if r.unit in TIMES and r.lane in slow}
    found: list[Finding] = []
    deciding = [j for j in judged if j.decides]
    if "cold" in shown and not {"warm", "hot"} & set(shown):
        found += _by_mistake(
            deciding, summary, warm, none, "cold_capture", "was captured cold and has a limit for warm"
        )
    if other_design:
        levels = [j.limit.reading for j in deciding if j.limit.basis != "common-practice"]
        found += _by_mistake(deciding, summary, levels, none, "other_design", "is held against another design's figure")
    return none, found


def _by_mistake(
    deciding: Sequence[JudgedLimit],
    summary: Mapping[str, Reading],
    wrong: Sequence[str],
    none: set[str],
    code: str,
    what: str,
) -> list[Finding]:
    """The finding on the first reading that is held against the wrong limit; it hides where one would be outside."""
    held = [j for j in deciding if j.limit.reading in wrong]
    if not held:
        return []
    none |= {j.limit.reading for j in held}
    worst = next((j for j in held if j.state == "outside"), held[0])
    reading = summary[worst.limit.reading]
    text = f"{reading.id} {what}: it condemns nothing"
    place = reading.from_s, reading.to_s
    return [Finding(code, "set-up", *place, text, reading.lane, hides=worst.state == "outside")]


def _covered(reading: Reading, finding: Finding) -> bool:
    """True if most of a reading's stretch lies under a finding on its lane."""
    if finding.lane is not None and reading.lane is not None and finding.lane != reading.lane:
        return False
    return _shares(reading.from_s, reading.to_s, finding)


def _shares(from_s: float, to_s: float, finding: Finding) -> bool:
    """True if half of a stretch, or an instant, lies where a finding shows."""
    parts = [min(b, to_s) - max(a, from_s) for a, b in finding.shows_in]
    return any(p >= 0 for p in parts) and sum(p for p in parts if p > 0) >= 0.5 * (to_s - from_s)


def withheld(kind: Circuit, findings: Sequence[Finding], drowned: Mapping[str, str] | None = None) -> list[Finding]:
    """The findings, faults that a set-up finding may have faked made notes: a bad capture condemns no part.

    It may have where its circuit says so, where a fault shows for the most part under a finding that falsifies levels,
    and on a lane that is `drowned` (by name, with the finding's code) wherever it shows.
    """
    drowned = drowned or {}
    hiding = {f.code for f in findings if f.hides}
    covers = [f for f in findings if f.hides and f.code in COVERS]
    out = []
    for f in findings:
        spec = kind.finding(f.code)
        faked = [code for code in spec.faked_by if code in hiding] if spec is not None and f.kind == "fault" else []
        lane = f.lane or kind.lanes[0].name
        if not faked and f.kind == "fault":
            faked = [drowned[lane]] if lane in drowned else []
            if not faked and not (spec is not None and (spec.at_rail or spec.stills)):
                faked = [c.code for c in covers if c.lane == lane and _shares(f.from_s, f.to_s, c)][:1]
        if faked:
            names = " and ".join(code.replace("_", " ") for code in faked)
            text = f"{f.text}; the capture may have made it ({names}): capture again"
            out.append(replace(f, kind="note", text=text))
        else:
            out.append(f)
    return out


def too_short(kind: Circuit, start_s: float, end_s: float, measured: Measured) -> list[Finding]:
    """A record that cannot hold the manoeuvre or the events of its circuit, unless the circuit says so itself."""
    duration_s = end_s - start_s
    if duration_s >= kind.shortest_s or any(f.code == "too_short" for f in measured.findings):
        return []
    text = f"{duration_s:.3g} s is too short a record: {kind.shortest_s:g} s at the least"
    return [Finding("too_short", "set-up", start_s, end_s, text, None, None, None, None, hides=True)]


def hidden_by_noise(measured: Measured, judged: Sequence[JudgedLimit]) -> list[tuple[str, Finding]]:
    """Readings, with the finding, whose uncertainty is over a quarter of their limit's span: it cannot judge them."""
    summary = {r.id: r for r in measured.readings if r.cycle is None and r.cylinder is None}
    out: list[tuple[str, Finding]] = []
    for j in judged:
        reading = summary[j.limit.reading]
        if not j.decides or j.limit.low is None or j.limit.high is None:
            continue
        span = j.limit.high - j.limit.low
        if reading.uncertainty > 0.25 * span > 0:
            text = (
                f"{j.limit.reading} is uncertain by {_figures(reading.uncertainty)} {reading.unit}, over a quarter of "
                f"its limit's span of {_figures(span)}"
            )
            place = reading.from_s, reading.to_s
            noisy = Finding("noisy", "set-up", *place, text, reading.lane, None, None, None, hides=True)
            out.append((reading.id, noisy))
    return out


def _figures(value: float) -> str:
    """Three significant figures, never in powers of ten."""
    return f"{value:.0f}" if abs(value) >= 100 else f"{value:.3g}"


def call(
    kind: Circuit, findings: Sequence[Finding], judged: Sequence[JudgedLimit], undecided: Container[str] = ()
) -> tuple[Call, tuple[str, ...]]:
    """The call and its reasons: finding codes, and readings whose deciding limit is outside or marginal.

    A reading outside its limit is not named beside the finding that says the same.
    """
    faults = [f.code for f in findings if f.kind == "fault"]
    filtered = any(f.code == "over_filtered" for f in findings)
    noted = {f.code for f in findings if f.kind == "note"}
    said = {
        row.reading
        for row in kind.limit_findings
        if row.code in faults or row.code in noted or (filtered and row.slowed)
    }
    deciding = [j for j in judged if j.decides and j.limit.reading not in said]
    condemning = [
        j.limit.reading
        for j in deciding
        if j.state == "outside" and j.limit.condemns and j.limit.reading not in undecided
    ]
    if faults or condemning:
        return "faulty", tuple(dict.fromkeys([*faults, *condemning]))
    hiding = [f.code for f in findings if f.hides]
    if hiding:
        return "inconclusive", tuple(dict.fromkeys(hiding))
    other = [f.code for f in findings if f.kind == "set-up"]
    named = [j.limit.reading for j in deciding if j.state != "inside"]
    return "sound", tuple(dict.fromkeys([*other, *named]))
