"""The condition that a complaint needs, and the conditions that a capture showed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from tracebench.core.answer import CONDITION_TITLES, Finding, Reading
from tracebench.core.circuits.circuit import Choice, Measured, OptionSpec
from tracebench.core.circuits.threshold import Threshold, reach
from tracebench.core.errors import BadOption

CONDITIONS = tuple(Choice(key, title) for key, title in CONDITION_TITLES.items())

ALWAYS = Choice("always", "Always")

COMMON_OPTIONS = (
    OptionSpec("complaint", "The complaint shows", "always", ("always", *(c.key for c in CONDITIONS))),
    OptionSpec("shown", "Conditions that the capture showed, as told", "", text=True),
    OptionSpec("design", "Part against the reference", "same", ("same", "other")),
    OptionSpec("trigger", "Trigger level that was set", ""),
    OptionSpec("accuracy_pct", "What scope and probe may be off by, % of the value", ""),
    OptionSpec("offset_pct", "And % of the lane's range", ""),
)
"""What may be told of a capture of any circuit."""

SHOWN_BY_PHASE: Mapping[str, tuple[str, ...]] = {
    "key_on": ("key_on",),
    "crank": ("cranking",),
    "cranking": ("cranking",),
    "idle": ("idle",),
    "idle_after": ("idle",),
    "steady_2500": ("load",),
    "steady_4000": ("load",),
    "accelerate": ("load",),
    "snap": ("snap", "load"),
    "overrun": ("overrun",),
}

MINUTES_S = Threshold(60.0, "s", "A record from which a complaint that needs some minutes has had them")

CRANKING_RPM = Threshold(450.0, "rpm", "Under this the engine is cranked (common practice, no published source)")
IDLE_RPM = reach(450.0, 1300.0, "rpm", "Speeds of idle (common practice, no published source)")
COLD_C = Threshold(40.0, "°C", "Up to here an engine counts as cold (common practice, no published source)")
WARM_C = Threshold(70.0, "°C", "From here it counts as warm (common practice, no published source)")
HOT_C = Threshold(100.0, "°C", "From here it counts as hot (common practice, no published source)")


def shown(measured: Measured, options: Mapping[str, str], duration_s: float) -> tuple[str, ...]:
    """The conditions that a capture showed, by its phases, speed and temperature, and as told, in their order.

    Raises BadOption for a told one that is none.
    """
    known = [c.key for c in CONDITIONS]
    told = [word.strip() for word in options.get("shown", "").split(",") if word.strip()]
    for word in told:
        if word not in known:
            raise BadOption(f"option shown: {word!r} is no condition; known: {', '.join(known)}")
    found = {*told, *measured.shown, *(c for p in measured.phases for c in SHOWN_BY_PHASE.get(p.name, ()))}
    found |= {c for r in measured.readings if r.cycle is None and r.cylinder is None for c in _by_reading(r)}
    if duration_s >= MINUTES_S:
        found.add("minutes")
    return tuple(c for c in known if c in found)


def _by_reading(reading: Reading) -> Iterator[str]:
    # A four-stroke engine turns twice a cycle.
    rpm = {"rpm": reading.value, "cycle_ms": 120_000 / reading.value if reading.value else 0.0}.get(reading.id)
    if rpm is not None and 0 < rpm < CRANKING_RPM:
        yield "cranking"
    if rpm is not None and IDLE_RPM[0] <= rpm <= IDLE_RPM[1]:
        yield "idle"
    if reading.id == "celsius":
        yield from of_temperature(reading.value)


def of_temperature(celsius: float) -> Iterator[str]:
    """Conditions that a temperature of engine or part stands for."""
    if celsius < COLD_C:
        yield "cold"
    if celsius >= WARM_C:
        yield "warm"
    if celsius >= HOT_C:
        yield "hot"


def satisfied(complaint: str, shown_conditions: Sequence[str]) -> bool:
    """True if a capture showed what the complaint needs; a snap is a load as well."""
    return complaint in (ALWAYS.key, *shown_conditions)


def not_shown(complaint: str, whole: tuple[float, float]) -> Finding:
    """The set-up finding of a clean capture that never showed the complaint's condition."""
    title = next(c.text for c in CONDITIONS if c.key == complaint)
    text = f"the complaint shows {title[:1].lower()}{title[1:]}, and this capture did not show that"
    return Finding("condition_not_shown", "set-up", *whole, text, None, None, None, None, hides=True)
