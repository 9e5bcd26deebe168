"""Settings of the scope, judged by what they would capture and not against one right answer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit, LaneSpec
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result

LEAST_FILLED = 0.2
"""Of the range, so much the signal should fill: less, and an 8-bit recorder shows it in under 50 steps."""

SAMPLES_ACROSS = 10.0
"""Samples across the shortest thing that must be seen."""

CODES = 256

TRIGGER = "trigger"
"""What a card may ask besides."""

TRIGGER_MARGIN = 0.03
"""Of the signal's way, so far a trigger's level lies from either end: nearer, noise fires it or nothing does."""

MOST = 1e9

MOST_RANGE: Mapping[str, float] = {"V": 2000.0, "mV": 2e6, "kV": 100.0, "A": 2000.0, "mA": 2e6}
"""What workshop instruments take with their probes and clamps (from memory); other units have no such bound."""

MOST_SAMPLES, LONGEST_S = 1e9, 86_400.0
"""Of one record: beyond them no instrument's memory reaches (from memory)."""


@dataclass(frozen=True, slots=True)
class Settings(Given):
    """A range in the lane's unit (from zero to its end), record length, sampling rate, and the trigger's level."""

    range_v: float | None = None
    duration_s: float | None = None
    rate_hz: float | None = None
    trigger_level: float | None = None

    def as_json(self) -> dict[str, object]:
        return {k: v for k, v in asdict(self).items() if v is not None}


@dataclass(frozen=True, slots=True)
class SetUpStep(Step[Settings]):
    """What must be seen on the circuit's main lane: its highest value, how long a record needs to be, and the seconds
    of the shortest thing on it."""

    kind: ClassVar[str] = "set_up"

    lane: LaneSpec
    highest: float
    lasts_s: float
    sees_s: float | None
    asks: tuple[str, ...] = ()

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        lane = circuit.lane(circuit.main_lane(lane.name for lane in circuit.lanes))
        highest = row.get("highest")
        if highest is None and lane.exam.size is not None:
            highest = lane.exam.size[1]
        shortest = row.get("sees_s") or (lane.exam.feature[1] if lane.exam.feature is not None else None)
        told = json_fields.listed(row.get("asks") or [], f"{where}: asks", BadOption)
        asks = tuple(dict.fromkeys(json_fields.one_of(a, (TRIGGER,), f"{where}: asks", BadOption) for a in told))
        return cls(
            step_id(cls.kind, capture),
            json_fields.text(row.get("prompt"), PROMPT_LENGTH),
            capture,
            lane,
            json_fields.number_within(highest or lane.plausible[1], 1e-6, MOST, f"{where}: highest", BadOption),
            json_fields.number_within(row.get("lasts_s") or 1.0, 1e-6, 1e5, f"{where}: lasts_s", BadOption),
            None if not shortest else json_fields.number_within(shortest, 1e-9, 1e5, f"{where}: sees_s", BadOption),
            asks,
        )

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Settings:
        out = {}
        for key in ("range_v", "duration_s", "rate_hz"):
            value = given.get(key)
            out[key] = (
                None if value is None else json_fields.number_within(value, 1e-9, MOST, f"{self.id}: {key}", BadAnswer)
            )
        level = given.get("trigger_level")
        where = f"{self.id}: trigger_level"
        out["trigger_level"] = (
            None if level is None else json_fields.number_within(level, -MOST, MOST, where, BadAnswer)
        )
        return Settings(**out)

    def open(self, given: Settings | None, has_capture: bool) -> str | None:
        kept = given.as_json() if given is not None else {}
        words = {"range_v": "range", "duration_s": "length", "rate_hz": "rate"}
        words |= {"trigger_level": "trigger"} if TRIGGER in self.asks else {}
        left = [word for key, word in words.items() if key not in kept]
        return f"not set yet: {', '.join(left)}" if left else None

    def as_json(self) -> dict[str, object]:
        return {**self.shown(), "highest": self.highest, "lasts_s": self.lasts_s, "sees_s": self.sees_s}

    def shown(self) -> dict[str, object]:
        return {**Step.as_json(self), **({"asks": list(self.asks)} if self.asks else {})}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, SetUpStep)]


def _one(attempt: Attempt, step: SetUpStep, points: float) -> Result:
    given = attempt.given(step) or Settings()
    parts = [_range(step, given), _rate(step, given), _length(step, given)]
    parts += [_trigger(step, given)] if TRIGGER in step.asks else []
    score = sum(share for share, _ in parts) / len(parts)
    return Result.of(SETTING_UP, step, score, points, sure.FIRM, " ".join(text for _, text in parts))


def _range(step: SetUpStep, given: Settings) -> tuple[float, str]:
    unit, wanted = step.lane.unit, f"{step.highest:g} {step.lane.unit}"
    if given.range_v is None:
        return 0.0, "No range was set."
    if given.range_v > MOST_RANGE.get(unit, MOST):
        return 0.0, f"No instrument has a range of {given.range_v:g} {unit}."
    if given.range_v < step.highest:
        return 0.0, f"A range of {given.range_v:g} {unit} would cut off what reaches {wanted}."
    if step.highest < LEAST_FILLED * given.range_v:
        code = given.range_v / CODES
        return 0.5, (
            f"On {given.range_v:g} {unit} a signal of {wanted} fills {100 * step.highest / given.range_v:.0f} % of the "
            f"range: a step of 8 bits is {code:.2g} {unit}."
        )
    return 1.0, f"The range of {given.range_v:g} {unit} holds {wanted} and shows it well."


def _rate(step: SetUpStep, given: Settings) -> tuple[float, str]:
    if given.rate_hz is None:
        return 0.0, "No rate was set."
    if given.duration_s is not None and given.rate_hz * given.duration_s > MOST_SAMPLES:
        return 0.0, f"{given.rate_hz:g} samples a second for {given.duration_s:g} s are more than any memory holds."
    if step.sees_s is None:
        return 1.0, f"{given.rate_hz:g} samples a second will do."
    across, what = given.rate_hz * step.sees_s, f"what takes {step.sees_s:g} s"
    if across >= SAMPLES_ACROSS:
        return 1.0, f"{given.rate_hz:g} samples a second put {across:.0f} across {what}."
    share = 0.5 if across >= 0.5 * SAMPLES_ACROSS else 0.0
    return share, (
        f"{given.rate_hz:g} samples a second put {across:.2g} across {what}; {SAMPLES_ACROSS:g} are wanted, "
        f"{SAMPLES_ACROSS / step.sees_s:g} a second."
    )


def _length(step: SetUpStep, given: Settings) -> tuple[float, str]:
    if given.duration_s is None:
        return 0.0, "No length was set."
    if given.duration_s > LONGEST_S:
        return 0.0, f"No instrument records {given.duration_s:g} s at a stretch."
    if given.duration_s < step.lasts_s:
        share = 0.5 if given.duration_s >= 0.5 * step.lasts_s else 0.0
        return share, f"{given.duration_s:g} s end before all is shown; that takes {step.lasts_s:g} s."
    return 1.0, f"{given.duration_s:g} s show all of it."


def _trigger(step: SetUpStep, given: Settings) -> tuple[float, str]:
    level, unit = given.trigger_level, step.lane.unit
    # A lane that goes below zero is triggered on either side.
    lowest = -step.highest if step.lane.plausible[0] < -0.2 * step.lane.plausible[1] else 0.0
    margin = TRIGGER_MARGIN * (step.highest - lowest)
    if level is None:
        return 0.0, "No trigger level was set."
    if not lowest + margin <= level <= step.highest - margin:
        return 0.0, (
            f"A trigger at {level:g} {unit} lies outside of what the signal passes, {lowest:g} to {step.highest:g} "
            f"{unit}, or at its very edge: it would not fire, or fire on noise."
        )
    return 1.0, f"A trigger at {level:g} {unit} fires as the signal passes it."


SETTING_UP = Criterion(
    "set_up",
    "Setting the scope up",
    "capture",
    2.0,
    "What range, rate and length would have captured: nothing cut off, few steps of the recorder, the shortest thing "
    "seen, all of it shown; and whether the trigger would fire, where the card asks for one.",
    _judge,
)
