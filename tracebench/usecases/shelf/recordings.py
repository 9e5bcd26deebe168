"""Captures recorded on the trainer, by a set manoeuvre or by hand, or taken from an instrument."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, NotRequired, TypedDict

from tracebench.bench.controls import Move
from tracebench.bench.hand import SweepPlan
from tracebench.bench.instrument import take
from tracebench.bench.scan import PARAMETERS
from tracebench.bench.scope import Input, ScopeSettings, Trigger
from tracebench.bench.sources import source as trainer_source
from tracebench.bench.trainer import Recording, Stretch, record_by_hand, record_with_scan
from tracebench.core.capture import Capture
from tracebench.core.circuits import circuit as circuit_of
from tracebench.store.pool import Connection
from tracebench.usecases.errors import NotAllowed
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures

PROBE_FACTORS = (0.1, 1.0, 10.0)
"""Told factor over the true one: what a clamp or attenuator shows against what is there."""


ZERO_ERROR = 0.35
"""What a clamp shows at rest that was not zeroed, in the lane's unit."""


NO_SCALE = 0.37
"""What a clip-on pickup without a scale shows for a kilovolt: something, and not one."""


PART_FIGURES = (
    "closed_v",
    "open_v",
    "altitude_m",
    "type",
    "command",
    "cylinders",
    "firing_order",
    "cylinder",
    "on_ms",
    "layout",
)
"""Figures of a part or of the day that a card's source may set."""


class TriggerSettings(TypedDict):
    lane: str
    level: float
    edge: NotRequired[Literal["rising", "falling"]]
    pre: NotRequired[float]


class TrainerSettings(TypedDict):
    """How a learner sets the trainer: scope, probe, wires and what the hand or the program does."""

    range_v: float
    duration_s: float
    rate_hz: float
    ground: str
    bits: NotRequired[int]
    peak_capture: NotRequired[bool]
    trigger: NotRequired[TriggerSettings | None]
    coupling: NotRequired[Literal["dc", "ac"]]
    bandwidth_hz: NotRequired[float | None]
    probe_factor: NotRequired[float]
    probe_reversed: NotRequired[bool]
    probe_zeroed: NotRequired[bool]
    probe_scaled: NotRequired[bool]
    wires: NotRequired[dict[str, str] | None]
    sweeps: NotRequired[int]
    way_s: NotRequired[float]
    hold_s: NotRequired[float]
    manoeuvre: NotRequired[str | None]
    movement: NotRequired[list[tuple[float, float]] | None]


def made_on_trainer(circuit: str, source: Mapping[str, Any], settings: TrainerSettings, seed: int) -> captures.Made:
    """A recording on the trainer with the fault and part that a card's source describes and the settings chosen."""
    scope = scope_of(settings)
    points = settings.get("movement")
    movement: Any = (
        [(p[0], p[1]) for p in points]
        if points
        else SweepPlan(settings.get("sweeps", 2), settings.get("way_s", 6.0), settings.get("hold_s", 0.8))
    )
    recording = record_with_scan(
        circuit,
        scope,
        seed,
        fault=str(source.get("fault", "none")),
        severity=float(source.get("severity", 1.0)),
        manoeuvre=settings.get("manoeuvre") or "",
        movement=movement if trainer_source(circuit).by_hand else None,
        part={k: v for k, v in source.items() if k in PART_FIGURES},
        inputs=_probed(circuit, settings),
    )
    detail = {"trainer": dict(settings) | {"movement": "by hand" if points else "planned"}, "seed": seed}
    return made_of(circuit, recording, detail)


def scope_of(settings: TrainerSettings) -> ScopeSettings:
    """The scope as it was set."""
    return ScopeSettings(
        range_v=settings["range_v"],
        duration_s=settings["duration_s"],
        rate_hz=settings["rate_hz"],
        ground=settings["ground"],
        bits=settings.get("bits", 12),
        peak_capture=bool(settings.get("peak_capture", False)),
        trigger=Trigger(**asked) if (asked := settings.get("trigger")) else None,
    )


@dataclass(frozen=True, slots=True)
class ByHand:
    """A run in which hands work the trainer's controls, before the scope as it is set; `source` is the card's part."""

    circuit: str
    source: Mapping[str, Any]
    settings: TrainerSettings
    moves: Sequence[Move]
    seed: int

    def recorded(self, stretch: Stretch) -> Recording:
        """A stretch of it, as the scope records it. Raises BadOption."""
        return record_by_hand(
            self.circuit,
            scope_of(self.settings),
            self.seed,
            self.moves,
            stretch,
            fault=str(self.source.get("fault", "none")),
            severity=float(self.source.get("severity", 1.0)),
            part={k: v for k, v in self.source.items() if k in PART_FIGURES},
            wires=self.settings.get("wires"),
            inputs=_probed(self.circuit, self.settings),
        )

    def made(self, stretch: Stretch) -> captures.Made:
        """The same as a capture to keep, with all that makes it again. Raises BadOption."""
        detail: dict[str, Any] = {"trainer": dict(self.settings) | {"movement": "by hand"}, "seed": self.seed}
        detail["run"] = {"begin_s": stretch.begin_s, "seconds": stretch.seconds, "moves": self.moves}
        return made_of(self.circuit, self.recorded(stretch), detail)


def made_of(circuit: str, recording: Recording, detail: dict[str, Any]) -> captures.Made:
    detail["scan"] = [
        {"name": name, "unit": PARAMETERS[name].unit, "points": points} for name, points in recording.scan.items()
    ]
    return captures.Made(circuit, "Trainer recording", "trainer", recording.capture, detail)


def _probed(circuit: str, settings: TrainerSettings) -> dict[str, Input]:
    """What hangs before the circuit's own lane, and how it is coupled: a factor told wrongly, leads reversed, a zero
    not set, a bandwidth limit."""
    lane = next(x for x in circuit_of(circuit).lanes if x.role in ("signal", "current", "supply"))
    factor = float(settings.get("probe_factor", 1.0)) * (-1 if settings.get("probe_reversed") else 1)
    zero = 0.0 if settings.get("probe_zeroed", True) else ZERO_ERROR
    coupling = settings.get("coupling", "dc")
    if not settings.get("probe_scaled", True) and lane.unit == "kV":
        # Capacity against the lead lets no rest through.
        factor, coupling = factor * NO_SCALE, "ac"
    before = Input(
        factor=factor,
        zero=zero,
        coupling=coupling,
        bandwidth_hz=settings.get("bandwidth_hz"),
    )
    return {} if before == Input() else {lane.name: before}


def read_instrument(person: Person, circuit: str, host: str, port: int, scope_ports: Sequence[int]) -> Capture:
    """The record of a scope that speaks SCPI on this machine. It may take long: no connection waits for it.

    A learner reads those on the ports that the school has named, and opens no other. Raises NotAllowed, BadOption.
    """
    person.must_be("instructor", "learner")
    if person.role == "learner" and port not in scope_ports:
        named = ", ".join(map(str, scope_ports)) or "none"
        raise NotAllowed(f"port {port} is not a scope of the workshop's; those are on {named}")
    return take(host, port, circuit_of(circuit))


def keep_from_instrument(
    conn: Connection, person: Person, circuit: str, host: str, port: int, capture: Capture, at: datetime
) -> int:
    """Store what `read_instrument` took."""
    where = f"{host}:{port}"
    made = captures.Made(circuit, f"From the scope at {where}", "instrument", capture, {"instrument": where})
    return captures.keep(conn, person, made, at)
