"""One measurement in the making: what a circuit's code notes down while it works through a capture."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TypeVar, cast

from tracebench.core.answer import Event, Finding, Limit, Missing, Phase, Reading
from tracebench.core.answer_rows import Kind
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits.circuit import Measured, Told
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.errors import BadOption
from tracebench.core.robust.series import course_medians
from tracebench.core.samples import Samples

Span = tuple[float, float]
"""From and to, seconds on the file's axis."""

Made = TypeVar("Made")

TRIM = Threshold(0.10, "", "Part of a phase left out at either end when its level is read")


@dataclass
class Work:
    """Findings, readings and phases of one capture, filled step by step. Sample indices never leave it."""

    capture: Capture
    told: Told
    findings: list[Finding] = field(default_factory=list)
    readings: list[Reading] = field(default_factory=list)
    missing: list[Missing] = field(default_factory=list)
    phases: list[Phase] = field(default_factory=list)
    course: list[Phase] = field(default_factory=list)
    """What was found and told in order, the found ones of a told name too where they stand beside it: how the record
    goes, of which sweeps are counted and movements timed. Levels are read in `phases`."""
    limits: list[Limit] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    shown: tuple[str, ...] = ()
    beside: dict[str, Measured] = field(default_factory=dict)
    _made: dict[tuple[str, str], tuple[Lane, object]] = field(default_factory=dict, init=False, repr=False)

    # --- where things are ---

    @property
    def whole(self) -> Span:
        return self.capture.start_s, self.capture.start_s + self.capture.duration_s

    def span(self, start: int, stop: int) -> Span:
        """Instants of a half-open stretch of samples."""
        return self.capture.time_s(start), self.capture.time_s(stop)

    def indices(self, span_s: Span, trim: float = 0.0) -> tuple[int, int]:
        """Samples [start, stop) of a span, less `trim` of its length at either end; at least one sample."""
        edge = trim * (span_s[1] - span_s[0])
        start = self.capture.index(span_s[0] + edge)
        return start, max(start + 1, self.capture.index(span_s[1] - edge))

    def samples(self, name: str) -> Samples:
        """Samples of a lane that is there; `lane` answers None for one that may not be."""
        return self.capture.lanes[name].samples

    def lane(self, name: str) -> Samples | None:
        lane = self.capture.lanes.get(name)
        return None if lane is None else lane.samples

    def block_medians(self, samples: Samples, block: int) -> Samples:
        """Medians of runs of `block` samples, as a course is followed by."""
        made: Samples = self.once(samples, f"medians of {block}", lambda x: _read_only(course_medians(x, block)))
        return made

    def code(self, name: str) -> float:
        """Step of the recorder on a lane that is there, by all of its samples; 0 where it shows none."""
        return self.capture.lanes[name].step

    def once(self, samples: Samples, what: str, make: Callable[[Samples], Made]) -> Made:
        """What is made of samples, under its name; of those of a lane as it is now it is made a single time."""
        lane = next((x for x in self.capture.lanes.values() if x.samples is samples), None)
        if lane is None:
            return make(samples)
        known = self._made.get((lane.name, what))
        if known is None or known[0] is not lane:
            known = self._made[lane.name, what] = (lane, make(samples))
        return cast(Made, known[1])

    # --- phases ---

    def phases_of(self, name: str) -> list[Phase]:
        return [p for p in self.phases if p.name == name]

    def phase(self, name: str) -> Phase | None:
        """The longest phase of that name, or None."""
        return max(self.phases_of(name), key=lambda p: p.to_s - p.from_s, default=None)

    def settle_phases(
        self, found: Sequence[Phase], numbered: Callable[[list[Phase]], list[Phase]] | None = None
    ) -> None:
        """Take found phases and those told: a told one stands for all of its name, and wins where others overlap it."""
        kept = [part for phase in found if (part := _beside(phase, self.told.phases)) is not None]
        ordered = sorted([*kept, *self.told.phases], key=lambda p: p.from_s)
        self.course = numbered(ordered) if numbered else ordered
        told = {phase.name: [t.from_s for t in self.told.phases if t.name == phase.name] for phase in self.told.phases}
        self.phases = [p for p in self.course if p.name not in told or p.from_s in told[p.name]]

    # --- what was found ---

    def add(
        self,
        reading_id: str,
        value: float,
        unit: str,
        uncertainty: float,
        span_s: Span,
        lane: str | None,
        cycle: int | None = None,
        cylinder: int | None = None,
    ) -> None:
        """Note a reading; one that comes to no number is missing instead: no answer holds NaN or infinity."""
        if not (math.isfinite(value) and math.isfinite(uncertainty)):
            self.miss(reading_id, "it comes to no number in this capture")
            return
        self.readings.append(
            Reading(reading_id, float(value), unit, float(uncertainty), span_s[0], span_s[1], lane, cylinder, cycle)
        )

    def value(self, reading_id: str) -> float | None:
        """Value of a summary reading noted so far."""
        return next(
            (r.value for r in self.readings if r.id == reading_id and r.cycle is None and r.cylinder is None),
            None,
        )

    def miss(self, reading_id: str, why: str) -> None:
        if not any(m.reading == reading_id for m in self.missing):
            self.missing.append(Missing(reading_id, why))

    def find(
        self,
        code: str,
        kind: Kind,
        text: str,
        span_s: Span | None = None,
        lane: str | None = None,
        value: float | None = None,
        unit: str | None = None,
        hides: bool = False,
        cylinder: int | None = None,
        places: Sequence[Span] = (),
    ) -> None:
        """Note a finding; without a span it speaks of the whole record. `places` are all stretches that show it."""
        from_s, to_s = span_s or self.whole
        value = value if value is not None and math.isfinite(value) else None
        here = tuple(dict.fromkeys(((from_s, to_s), *places))) if places else ()
        self.findings.append(Finding(code, kind, from_s, to_s, text, lane, cylinder, value, unit, hides, here))

    def fault(
        self,
        code: str,
        text: str,
        span_s: Span | None = None,
        lane: str | None = None,
        value: float | None = None,
        unit: str | None = None,
        cylinder: int | None = None,
        places: Sequence[Span] = (),
    ) -> None:
        self.find(code, "fault", text, span_s, lane, value, unit, cylinder=cylinder, places=places)

    def setup(
        self, code: str, text: str, lane: str | None = None, span_s: Span | None = None, hides: bool = False
    ) -> None:
        self.find(code, "set-up", text, span_s, lane, hides=hides)

    def has(self, *codes: str) -> bool:
        return any(f.code in codes for f in self.findings)

    def number(self, option: str, default: float, least: float, most: float) -> float:
        """A numeric option; raises BadOption that says what is possible."""
        text = self.told.options.get(option)
        if text is None:
            return default
        try:
            value = float(text)
        except ValueError:
            raise BadOption(f"option {option} must be a number, not {text!r}") from None
        if not least <= value <= most:
            raise BadOption(f"option {option} must lie between {least:g} and {most:g}, not {value:g}")
        return value

    def measured(self) -> Measured:
        return Measured(
            self.capture,
            tuple(self.phases),
            tuple(self.readings),
            tuple(sorted(self.findings, key=lambda f: f.from_s)),
            tuple(self.missing),
            tuple(self.limits),
            tuple(self.events),
            self.beside,
            self.shown,
        )


def inner(phase: Phase) -> Span:
    """The stretch of a phase whose level is read."""
    edge = TRIM * (phase.to_s - phase.from_s)
    return phase.from_s + edge, phase.to_s - edge


def _read_only(samples: Samples) -> Samples:
    """What several look at, so that none changes it for the others."""
    view = samples.view()
    view.flags.writeable = False
    return view


def _beside(phase: Phase, told: Sequence[Phase]) -> Phase | None:
    """What is left of a found phase beside the told ones; one of the same name that overlaps it is replaced whole."""
    start, stop = phase.from_s, phase.to_s
    for t in told:
        if t.from_s < stop and t.to_s > start:
            if t.name == phase.name or (t.from_s <= start and t.to_s >= stop):
                return None
            if t.from_s <= start:
                start = t.to_s
            else:
                stop = t.from_s
    return Phase(phase.name, start, stop, phase.cycle)
