"""From limits and findings to the call: faulty, inconclusive or sound, and because of what."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from tracebench.core.answer import Call, Finding, JudgedLimit
from tracebench.core.circuits.circuit import Circuit, Measured


def from_limits(
    kind: Circuit,
    measured: Measured,
    judged: Sequence[JudgedLimit],
    noiseless: Callable[[str], bool] = lambda lane: False,
) -> list[Finding]:
    """Fault findings that a deciding limit gives when its reading is outside, unless the trace gave them already.

    `noiseless` tells of a lane whether it carries no noise at all: slow edges are then a filter's, and `over_filtered`.
    """
    already = {f.code for f in measured.findings}
    summary = {r.id: r for r in measured.readings if r.cycle is None and r.cylinder is None}
    out = []
    for row in kind.limit_findings:
        decided = next((j for j in judged if j.decides and j.limit.reading == row.reading), None)
        if row.code in already or decided is None or decided.state != "outside":
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


def withheld(kind: Circuit, findings: Sequence[Finding]) -> list[Finding]:
    """The findings, faults that a set-up finding may have faked made notes: a bad capture condemns no part."""
    hiding = {f.code for f in findings if f.hides}
    out = []
    for f in findings:
        spec = kind.finding(f.code)
        faked = [code for code in spec.faked_by if code in hiding] if spec is not None and f.kind == "fault" else []
        if faked:
            names = " and ".join(code.replace("_", " ") for code in faked)
            text = f"{f.text}; the capture may have made it ({names}): capture again"
            out.append(replace(f, kind="note", text=text))
        else:
            out.append(f)
    return out


def too_short(kind: Circuit, start_s: float, duration_s: float, measured: Measured) -> list[Finding]:
    """A record that cannot hold the manoeuvre or the events of its circuit, unless the circuit says so itself."""
    if duration_s >= kind.shortest_s or any(f.code == "too_short" for f in measured.findings):
        return []
    text = f"{duration_s:.3g} s is too short a record: {kind.shortest_s:g} s at the least"
    return [Finding("too_short", "set-up", start_s, start_s + duration_s, text, None, None, None, None, hides=True)]


def hidden_by_noise(measured: Measured, judged: Sequence[JudgedLimit]) -> list[Finding]:
    """A reading whose uncertainty is over a quarter of its limit's span cannot be judged by it."""
    summary = {r.id: r for r in measured.readings if r.cycle is None and r.cylinder is None}
    out = []
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
            out.append(Finding("noisy", "set-up", *place, text, reading.lane, None, None, None, hides=True))
    return out


def _figures(value: float) -> str:
    """Three significant figures, never in powers of ten."""
    return f"{value:.0f}" if abs(value) >= 100 else f"{value:.3g}"


def call(kind: Circuit, findings: Sequence[Finding], judged: Sequence[JudgedLimit]) -> tuple[Call, tuple[str, ...]]:
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
    condemning = [j.limit.reading for j in deciding if j.state == "outside" and j.limit.condemns]
    if faults or condemning:
        return "faulty", tuple(dict.fromkeys([*faults, *condemning]))
    hiding = [f.code for f in findings if f.hides]
    if hiding:
        return "inconclusive", tuple(dict.fromkeys(hiding))
    other = [f.code for f in findings if f.kind == "set-up"]
    named = [j.limit.reading for j in deciding if j.state != "inside"]
    return "sound", tuple(dict.fromkeys([*other, *named]))
