"""What is declared of a kind of cause: what it shows in which test, how often it is met and how it is cured.

Weights and minutes: common practice, no published source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.strengths import MOSTLY, SCAN_PART, SURELY

Group = Literal[
    "ignition", "injection", "fuel", "breathing", "position", "speed", "sensors", "shared", "charging", "none"
]
Kind = Literal["part", "wire", "feed", "controller", "mechanical", "nothing"]
"""What a cause is: a part, the wire to it, a feed that others share, an output of the controller, or mechanical."""

Where = Literal["own", "all", ""]
"""On which cylinders a finding shows: the cause's own, all, or it is not tied to one."""

ORDINARY = Threshold(1.0, "", "Weight of a cause that is met as often as most (common practice, no published source)")
WEARS = Threshold(3.0, "", "Weight of what wears: track, plug, coil, alternator (common practice, no published source)")
SELDOM = Threshold(0.3, "", "Weight of a controller (common practice, no published source)")

RENEW = Threshold(10.0, "min", "To renew a sensor, plug or coil (common practice, no published source)")
RENEW_PUMP = Threshold(30.0, "min", "To renew a pedal or a pump (common practice, no published source)")
RENEW_DEEP = Threshold(60.0, "min", "To renew an injector or alternator (common practice, no published source)")
REPAIR_WIRES = Threshold(90.0, "min", "To repair wiring or a controller (common practice, no published source)")


@dataclass(frozen=True, slots=True)
class Shows:
    """One of `codes` shows in `test` with a strength; `lane` where a circuit's findings name one."""

    test: str
    codes: tuple[str, ...]
    strength: float
    where: Where = ""
    at: str = ""
    """The place of the test, where it shows only there: `coil`, `controller`, … ; empty: wherever it is done."""
    lane: str = ""


@dataclass(frozen=True, slots=True)
class CauseKind:
    """A kind of cause. `part` and `at` name what it concerns as a place does; a cylinder is added where it has one."""

    id: str
    title: str
    group: Group
    kind: Kind
    part: str
    shows: tuple[Shows, ...]
    condition: str = "always"
    weight: float = ORDINARY
    repair: str = ""
    minutes: float = RENEW
    proofs: tuple[str, ...] = ()
    """What must be proven before it is condemned: `supply`, `reference`, `ground`, `signal`."""
    circuits: tuple[str, ...] = ()
    """The circuits that a code of theirs names it by."""
    by_itself: tuple[tuple[str, str], ...] = ()
    """Findings (test, code) that condemn it without further proof."""
    variants: tuple[tuple[Shows, ...], ...] = ((),)
    """Ways in which it may show, as often as each other; each adds to `shows`."""
    no_symptom: tuple[str, ...] = ()
    """Symptoms of its group that it cannot make."""
    symptoms: tuple[str, ...] = ()
    """Symptoms that it makes beside its group's."""


def shows(test: str, codes: str, strength: float, where: Where = "", at: str = "", lane: str = "") -> Shows:
    """One of the codes, parted by blanks; scan data tell half of what a scope lane of the same thing tells."""
    told = strength * SCAN_PART if test == "scan-data" else strength
    return Shows(test, tuple(codes.split()), told, where, at, lane)


def on_own(test: str, codes: str, strength: float) -> Shows:
    return shows(test, codes, strength, "own")


def on_every(test: str, codes: str, strength: float) -> Shows:
    return shows(test, codes, strength, "all")


def feed_off(code: str, *places: str, strength: float = SURELY) -> tuple[Shows, ...]:
    """A feed off its level, by voltage record and by capture, at each of these places."""
    return tuple(shows(test, code, strength, at=place) for test in ("voltage", "supply-ground") for place in places)


DEAD = on_own("cylinder-drop", "no_contribution", SURELY)
ALL_DEAD = on_every("cylinder-drop", "no_contribution", MOSTLY)
ELECTRICAL = ("supply", "ground", "signal")
RATIOMETRIC = ("reference", "ground", "signal")
COILS = ("coil-primary-current", "coil-primary-voltage", "secondary-voltage")
INJECTORS = (
    "injector-voltage",
    "injector-current",
    "injector-current-parade",
    "injector-current-group",
    "injector-peak-hold",
    "injector-piezo",
)
AIRFLOWS = ("airflow-voltage", "airflow-frequency")
OXYGENS = ("oxygen-switching", "oxygen-wideband")


def moved(part: str) -> Shows:
    return on_own("swap", f"moved:{part}", SURELY)
