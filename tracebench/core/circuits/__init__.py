"""The list of circuits, and `measure`, the one door to the measuring core."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from tracebench.core import ENGINE_VERSION
from tracebench.core.answer import Answer, Finding, LaneInfo, Limit, Phase, Reading
from tracebench.core.capture import Capture
from tracebench.core.circuits import conditions, verdict
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.catalogue import Rooms
from tracebench.core.circuits.circuit import Circuit, FindingSpec, Measured, Told
from tracebench.core.circuits.conditions import COMMON_OPTIONS
from tracebench.core.circuits.conversions import converted, with_conversion
from tracebench.core.circuits.examining import measured_by
from tracebench.core.circuits.missing import with_missing
from tracebench.core.circuits.places import with_places
from tracebench.core.circuits.recorder import accuracy_told, off_by, with_recorder
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS
from tracebench.core.errors import BadCapture, BadOption, UnknownCircuit
from tracebench.core.limits import judge, merged

CIRCUITS: Mapping[str, Circuit] = Rooms("circuit", "CIRCUIT", with_conversion)


def circuit(code: str) -> Circuit:
    """The circuit of that code; raises UnknownCircuit that lists the known ones."""
    try:
        return CIRCUITS[code]
    except KeyError:
        raise UnknownCircuit(f"unknown circuit {code!r}; known: {', '.join(CIRCUITS)}") from None


def finding_spec(kind: Circuit, code: str) -> FindingSpec:
    """What is declared of a finding code of this circuit, or of the common set-up findings."""
    return kind.finding(code) or next(f for f in SETUP_FINDINGS if f.code == code)


def measure(
    capture: Capture,
    code: str,
    phases: Sequence[Phase] = (),
    options: Mapping[str, str] | None = None,
    limits: Sequence[Limit] = (),
) -> Answer:
    """Measure a capture as one circuit: phases, readings, limits, findings and the call.

    `phases` told by the user replace those found under the same name. `limits` are added to the circuit's
    common-practice ones; the highest-ranking basis of each reading decides. Raises UnknownCircuit,
    BadOption or BadCapture.
    """
    kind = circuit(code)
    options = dict(options or {})
    _check(kind, capture, phases, options)
    measured = converted(kind, options, measured_by(kind, capture, Told(phases, options)).measured())
    measured = replace(measured, readings=with_recorder(measured.capture, measured.readings))
    accuracy = accuracy_told(options)
    school = "any" if options.get("sweep") == "any" else None
    defaults = [
        limit
        for limit in kind.limits
        if not (school and (spec := kind.reading(limit.reading)) is not None and spec.school)
    ]
    shown = conditions.shown(measured, options, capture.duration_s)
    limits = [limit for limit in limits if not limit.when or limit.when in shown]
    doubts = off_by(measured.capture, measured.readings, accuracy)
    judged = judge(measured.readings, merged((*defaults, *measured.limits), limits), doubts)
    warm = [r.id for r in kind.readings if r.warm]
    none, mistaken = verdict.undecided(measured, judged, warm, shown, options.get("design") == "other")
    whole = capture.start_s, capture.start_s + capture.duration_s
    noisy = verdict.hidden_by_noise(measured, judged)
    none |= {reading for reading, _ in noisy}
    drowned = setup.drowned(kind, measured.capture)
    bare = dict.fromkeys(drowned, "noisy") | setup.unseen(measured.findings)
    none |= {r.id for r in measured.readings if r.lane in bare}
    found = (
        *measured.findings,
        *mistaken,
        *setup.told_setup(capture, options),
        *verdict.too_short(kind, *whole, measured),
        *verdict.from_limits(
            kind,
            measured.readings,
            judged,
            {f.code for f in measured.findings},
            none,
            lambda lane: setup.is_noiseless(capture.lanes[lane].samples),
        ),
        *(finding for _, finding in noisy),
        *drowned.values(),
    )
    findings = with_places(kind, measured, judged, verdict.withheld(kind, found, bare), whole)
    second: list[Reading] = []
    for lane, other in measured.beside.items():
        if lane in bare:
            continue
        own = replace(other, readings=with_recorder(other.capture, other.readings))
        doubts = off_by(own.capture, own.readings, accuracy)
        more, readings = _beside(kind, own, lane, merged((*kind.limits, *own.limits), limits), doubts, whole)
        findings += more
        second += readings
    call, because = verdict.call(kind, findings, judged, none)
    complaint = options.get("complaint", conditions.ALWAYS.key)
    if call == "sound" and not conditions.satisfied(complaint, shown):
        findings.append(conditions.not_shown(complaint, whole))
        call, because = verdict.call(kind, findings, judged, none)
    return Answer(
        circuit=code,
        engine=ENGINE_VERSION,
        samples=capture.source_samples or capture.samples,
        rate_hz=capture.rate_hz,
        duration_s=capture.duration_s,
        lanes=tuple(LaneInfo(x.name, x.unit, x.column, x.factor) for x in capture.lanes.values()),
        phases=measured.phases,
        readings=(*measured.readings, *second),
        limits=judged,
        findings=tuple(findings),
        call=call,
        because=because,
        missing=with_missing(kind, measured),
        events=measured.events,
        shown=shown,
    )


def _beside(
    kind: Circuit,
    measured: Measured,
    lane: str,
    limits: Sequence[Limit],
    doubts: Mapping[str, float],
    whole: tuple[float, float],
) -> tuple[list[Finding], list[Reading]]:
    """What a lane beside the first shows by the same limits: its findings and summaries, which name the lane."""
    judged = judge(measured.readings, limits, doubts)
    found = [
        *measured.findings,
        *verdict.from_limits(kind, measured.readings, judged, {f.code for f in measured.findings}),
    ]
    placed = with_places(kind, measured, judged, verdict.withheld(kind, found), whole)
    readings = [replace(r, lane=lane) for r in measured.readings if r.cycle is None and r.cylinder is None]
    return [replace(f, lane=lane) for f in placed if f.kind != "note"], readings


def _check(kind: Circuit, capture: Capture, phases: Sequence[Phase], options: Mapping[str, str]) -> None:
    known = {lane.name for lane in kind.lanes}
    for name in capture.lanes:
        if name not in known:
            raise BadOption(f"{kind.code} has no lane {name!r}; known: {', '.join(sorted(known))}")
    for lane in kind.lanes:
        if lane.required and lane.name not in capture.lanes:
            raise BadCapture(f"{kind.code} needs the lane {lane.name!r}; map a column to it")
    names = {p.name for p in kind.phases}
    end = capture.start_s + capture.duration_s
    for phase in phases:
        if phase.name not in names:
            raise BadOption(f"{kind.code} has no phase {phase.name!r}; known: {', '.join(p.name for p in kind.phases)}")
        if not phase.from_s < phase.to_s:
            raise BadOption(f"phase {phase.name}: from {phase.from_s:g} s must be before to {phase.to_s:g} s")
        if phase.to_s < capture.start_s or phase.from_s > end:
            raise BadOption(
                f"phase {phase.name}: {phase.from_s:g} to {phase.to_s:g} s lies outside the record "
                f"({capture.start_s:g} to {end:g} s)"
            )
    specs = {o.key: o for o in (*kind.options, *COMMON_OPTIONS)}
    for key, value in options.items():
        if key not in specs:
            raise BadOption(f"{kind.code} has no option {key!r}; known: {', '.join(specs)}")
        choices = specs[key].choices
        if choices is not None and value not in choices:
            raise BadOption(f"option {key} must be one of {', '.join(choices)}, not {value!r}")
