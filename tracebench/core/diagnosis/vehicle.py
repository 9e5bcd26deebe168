"""The vehicle of a case: what it has, so that its causes and tests can be told."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tracebench.core.errors import BadCase

FUELS = ("petrol", "diesel")
IGNITIONS = ("coil-on-plug", "paired-coils", "distributor", "none")
INJECTIONS = ("port", "throttle-body", "direct", "rail-solenoid", "rail-piezo")
THROTTLES = ("cable", "electronic")
LOAD_SENSORS = ("manifold-pressure", "airflow-voltage", "airflow-frequency")
OXYGENS = ("switching", "wideband", "none")
CHARGINGS = ("plain", "commanded")
CYLINDERS = range(3, 9)

USUAL_ORDERS: Mapping[int, tuple[int, ...]] = {
    3: (1, 2, 3),
    4: (1, 3, 4, 2),
    5: (1, 2, 4, 5, 3),
    6: (1, 5, 3, 6, 2, 4),
    7: (1, 3, 5, 7, 2, 4, 6),
    8: (1, 8, 4, 3, 6, 5, 7, 2),
}
"""Firing orders that are taken where none is told (from memory)."""

ON_A_FEED = (
    "throttle-position",
    "manifold-pressure",
    "pedal-position",
    "rail-pressure",
    "airflow-voltage",
    "airflow-frequency",
    "crank-position",
    "temperature",
)
"""Circuits that may hang on a reference or on the sensor ground."""

GROUND = "ground"

_USUAL_FEEDS = (
    ("A", ("throttle-position", "manifold-pressure", "pedal-position")),
    ("B", ("pedal-position", "rail-pressure")),
)
_USUAL_GROUND = ("throttle-position", "manifold-pressure", "pedal-position", "rail-pressure", "temperature")


@dataclass(frozen=True, slots=True)
class Vehicle:
    """A vehicle; `feeds` are what was told of its references, empty for the usual ones.

    Raises BadCase where its parts cannot go together.
    """

    fuel: str
    cylinders: int
    ignition: str
    injection: str
    firing_order: tuple[int, ...] = ()
    throttle: str = "cable"
    load_sensor: tuple[str, ...] = ()
    oxygen: str = "none"
    charging: str = "plain"
    told_feeds: tuple[tuple[str, tuple[str, ...]], ...] = ()

    def __post_init__(self) -> None:
        if self.firing_order and sorted(self.firing_order) != list(self.numbers):
            order = "-".join(map(str, self.firing_order))
            raise BadCase(f"vehicle.firing_order: {order} does not name each of {self.cylinders} cylinders once")
        if self.ignition == "paired-coils" and self.cylinders % 2:
            raise BadCase(f"vehicle.ignition: {self.cylinders} cylinders cannot be paired")

    @property
    def numbers(self) -> range:
        return range(1, self.cylinders + 1)

    @property
    def order(self) -> tuple[int, ...]:
        return self.firing_order or USUAL_ORDERS[self.cylinders]

    @property
    def pairs(self) -> tuple[tuple[int, int], ...]:
        """Companions of a paired coil: half a cycle apart in the firing order, the lower number first."""
        half = self.cylinders // 2
        both = (sorted((self.order[k], self.order[k + half])) for k in range(half))
        return tuple(sorted((a, b) for a, b in both))

    @property
    def has_rail(self) -> bool:
        return self.injection in ("direct", "rail-solenoid", "rail-piezo")

    @property
    def has_pedal(self) -> bool:
        return self.throttle == "electronic"

    @property
    def has_throttle_sensor(self) -> bool:
        return self.fuel == "petrol"

    def has(self, circuit: str) -> bool:
        """Whether this vehicle has the sensor that a circuit of `ON_A_FEED` records."""
        return {
            "throttle-position": self.has_throttle_sensor,
            "pedal-position": self.has_pedal,
            "rail-pressure": self.has_rail,
            "crank-position": True,
            "temperature": True,
        }.get(circuit, circuit in self.load_sensor)

    @property
    def feeds(self) -> Mapping[str, tuple[str, ...]]:
        """References and the circuits on each: as told, else the usual ones of what this vehicle has."""
        told = [(name, on) for name, on in self.told_feeds if name != GROUND]
        there = {name: tuple(c for c in on if self.has(c)) for name, on in told or _USUAL_FEEDS}
        return {name: on for name, on in there.items() if on}

    @property
    def grounded(self) -> tuple[str, ...]:
        """Circuits on the one sensor ground."""
        return tuple(c for c in dict(self.told_feeds).get(GROUND, _USUAL_GROUND) if self.has(c))

    def tracks(self, feed: str) -> tuple[str, ...]:
        """The tracks of the pedal that hang on a feed: one each where two feeds name it, in their order."""
        on = [name for name, circuits in self.feeds.items() if "pedal-position" in circuits]
        if feed not in on:
            return ()
        return ("track1", "track2") if len(on) == 1 else (f"track{on.index(feed) + 1}",)

    @property
    def injector_circuits(self) -> tuple[str, ...]:
        """Circuits that record an injector of this vehicle."""
        if self.injection == "rail-piezo":
            return ("injector-piezo",)
        if self.injection in ("direct", "rail-solenoid"):
            return ("injector-peak-hold",)
        if self.injection == "throttle-body":
            return ("injector-voltage", "injector-current")
        return ("injector-voltage", "injector-current", "injector-current-parade", "injector-current-group")
