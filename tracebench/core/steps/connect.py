"""What goes where: wires told apart by their volts or colours, the ground point, what hangs before the input."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar, Self

from tracebench.core import json_fields
from tracebench.core.cards.schools import GROUNDS
from tracebench.core.cards.step import PROMPT_LENGTH, Given, Step, step_id
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading import certainty as sure
from tracebench.core.grading.attempt import Attempt
from tracebench.core.grading.result import Criterion, Result
from tracebench.core.steps.probes import PROBES, fitting, probe

MOST_WIRES = 12
GROUND, PROBE = "ground", "probe"
ASKS = (GROUND, PROBE)
"""What a card may ask besides, or without wires: the ground point, and probe, clamp or attenuator."""


@dataclass(frozen=True, slots=True)
class Wire:
    """`lane` is what the wire carries, the key; `seen` is what a meter or the loom tells of it."""

    label: str
    seen: str
    lane: str

    def as_json(self) -> dict[str, str]:
        return {"label": self.label, "seen": self.seen, "lane": self.lane}


@dataclass(frozen=True, slots=True)
class Connected(Given):
    wires: Mapping[str, str] = field(default_factory=dict)
    ground: str | None = None
    probe: str | None = None

    def as_json(self) -> dict[str, object]:
        told = {"wires": dict(self.wires), "ground": self.ground, "probe": self.probe}
        return {key: value for key, value in told.items() if value}


@dataclass(frozen=True, slots=True)
class ConnectStep(Step[Connected]):
    kind: ClassVar[str] = "connect"

    wires: tuple[Wire, ...]
    asks: tuple[str, ...] = ()
    unit: str = "V"
    reach: float = 0.0
    """How far the circuit's main lane can go, in its unit."""

    @classmethod
    def parsed(cls, row: json_fields.Fields, circuit: Circuit, capture: str, where: str) -> Self:
        known = [lane.name for lane in circuit.lanes]
        wires: list[Wire] = []
        for place, one in enumerate(json_fields.listed(row.get("wires"), f"{where}: wires", BadOption), start=1):
            wire = json_fields.fields(one, f"{where}: wire {place}", BadOption)
            label = json_fields.text(wire.get("label"), 60).strip()
            if not label or label in {w.label for w in wires}:
                raise BadOption(f"{where}: wire {place}: give it a name of its own")
            lane = json_fields.one_of(wire.get("lane"), known, f"{where}: wire {place}: lane", BadOption)
            wires.append(Wire(label, json_fields.text(wire.get("seen"), 200), lane))
        told = json_fields.listed(row.get("asks") or [], f"{where}: asks", BadOption)
        asks = tuple(dict.fromkeys(json_fields.one_of(a, ASKS, f"{where}: asks", BadOption) for a in told))
        if not (2 <= len(wires) <= MOST_WIRES or (asks and not wires)):
            raise BadOption(f"{where}: wires: 2 to {MOST_WIRES} to be told apart")
        main = circuit.lane(circuit.main_lane(lane.name for lane in circuit.lanes))
        reach = max(abs(end) for end in main.plausible)
        if PROBE in asks and fitting(main.unit, reach) is None:
            raise BadOption(f"{where}: asks: this circuit has no probe to choose")
        prompt = json_fields.text(row.get("prompt"), PROMPT_LENGTH)
        return cls(step_id(cls.kind, capture), prompt, capture, tuple(wires), asks, main.unit, reach)

    def checked(self, circuit: Circuit, given: json_fields.Fields) -> Connected:
        wires = json_fields.fields(given.get("wires") or {}, f"{self.id}: wires", BadAnswer)
        known, lanes = {w.label for w in self.wires}, [lane.name for lane in circuit.lanes]
        if not set(wires) <= known:
            raise BadAnswer(f"{self.id}: wires: expected {', '.join(sorted(known))}")
        ground, probe_key = given.get("ground"), given.get("probe")
        keys = [p.key for p in PROBES]
        return Connected(
            {k: json_fields.one_of(v, lanes, f"{self.id}: {k}", BadAnswer) for k, v in wires.items()},
            None if ground is None else json_fields.one_of(ground, GROUNDS, f"{self.id}: ground", BadAnswer),
            None if probe_key is None else json_fields.one_of(probe_key, keys, f"{self.id}: probe", BadAnswer),
        )

    def open(self, given: Connected | None, has_capture: bool) -> str | None:
        kept = given or Connected()
        left = [w.label for w in self.wires if w.label not in kept.wires]
        said = [f"not told apart yet: {', '.join(left)}"] if left else []
        said += ["no ground point chosen"] if GROUND in self.asks and kept.ground is None else []
        said += ["no probe chosen"] if PROBE in self.asks and kept.probe is None else []
        return "; ".join(said) or None

    def schools_asked(self) -> frozenset[str]:
        return frozenset(("ground",) if GROUND in self.asks else ())

    def as_json(self) -> dict[str, object]:
        asks = {"asks": list(self.asks)} if self.asks else {}
        return {**Step.as_json(self), "wires": [w.as_json() for w in self.wires], **asks}

    def shown(self) -> dict[str, object]:
        asks = {"asks": list(self.asks)} if self.asks else {}
        return {**Step.as_json(self), "wires": [{"label": w.label, "seen": w.seen} for w in self.wires], **asks}


def _judge(attempt: Attempt, points: float) -> list[Result]:
    return [_one(attempt, step, points) for step in attempt.card.steps if isinstance(step, ConnectStep)]


def _one(attempt: Attempt, step: ConnectStep, points: float) -> Result:
    given = attempt.given(step) or Connected()
    parts = [_wires(attempt, step, given)] if step.wires else []
    parts += [_ground(attempt, step, given)] if GROUND in step.asks else []
    parts += [_probe(step, given)] if PROBE in step.asks else []
    # Each wire counts as much as a ground point or a probe.
    weights = [len(step.wires)] * bool(step.wires) + [1] * len(step.asks)
    share = sum(w * s for w, (s, _) in zip(weights, parts, strict=True)) / sum(weights)
    return Result.of(CONNECTING, step, share, points, sure.CERTAIN, " ".join(text for _, text in parts))


def _wires(attempt: Attempt, step: ConnectStep, given: Connected) -> tuple[float, str]:
    titles = {lane.name: lane.title.lower() for lane in attempt.card.circuit_of(step).lanes}
    wrong = [w for w in step.wires if given.wires.get(w.label) != w.lane]
    if not wrong:
        return 1.0, "Every wire was told apart."
    return 1 - len(wrong) / len(step.wires), " ".join(f"{w.label} ({w.seen}) is the {titles[w.lane]}." for w in wrong)


def _ground(attempt: Attempt, step: ConnectStep, given: Connected) -> tuple[float, str]:
    wanted = attempt.card.ground_wanted(step.capture)
    if given.ground is None:
        return 0.0, "No ground point was chosen."
    if wanted is None:
        return 1.0, f"The ground lead goes on the {given.ground}, and it is said."
    if given.ground == wanted:
        return 1.0, f"The ground lead belongs on the {wanted}."
    return 0.0, f"On the {given.ground} what drops between is in the trace; this card wants the {wanted}."


def _probe(step: ConnectStep, given: Connected) -> tuple[float, str]:
    chosen = probe(given.probe or "")
    what = f"{step.reach:g} {step.unit}"
    if chosen is None:
        return 0.0, "Nothing was chosen to go before the input."
    named = chosen.title[:1].lower() + chosen.title[1:]
    if chosen.unit != step.unit:
        return 0.0, f"A {named} does not take {step.unit}; the signal can reach {what}."
    if step.reach > chosen.highest:
        return 0.0, f"A {named} takes {chosen.highest:g} {chosen.unit}, and the signal can reach {what}."
    if step.reach < chosen.fine_from:
        return 0.5, f"A {named} holds {what} and shows it in few steps: a finer one sees more."
    return 1.0, f"A {named} takes {what}."


CONNECTING = Criterion(
    "connect",
    "Connecting",
    "connect",
    2.0,
    "The share of the wires that were told apart, and of ground point and probe where the card asks for them.",
    _judge,
)
