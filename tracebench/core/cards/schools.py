"""Schools that disagree, as settings of a card: each says what it asks for, and where it applies.

Common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

GROUNDS = ("sensor ground", "battery negative", "engine metal")

_SENSORS = (
    "throttle-position",
    "pedal-position",
    "manifold-pressure",
    "airflow-voltage",
    "airflow-frequency",
    "oxygen-switching",
    "oxygen-wideband",
    "rail-pressure",
    "crank-position",
    "temperature",
)
_CYLINDERS = (
    "injector-current-parade",
    "coil-primary-current",
    "coil-primary-voltage",
    "secondary-voltage",
    "injector-voltage",
    "injector-current",
)


@dataclass(frozen=True, slots=True)
class Way:
    """One school: what it is called, what it tells the learner, and what it changes in measuring and marking.

    `options` go to the measuring core; `next_tests` are right beside those that the findings rank first; `waives` are
    cautions that do not apply; `ground` is where the ground lead is wanted; `filters` allows a low-pass filter.
    """

    key: str
    title: str
    says: str
    options: Mapping[str, str] = field(default_factory=dict)
    next_tests: tuple[str, ...] = ()
    waives: tuple[str, ...] = ()
    ground: str | None = None
    filters: bool = False


@dataclass(frozen=True, slots=True)
class School:
    """A question on which practitioners differ; the first way is the default. No circuits given: it applies to all."""

    key: str
    title: str
    ways: tuple[Way, ...]
    circuits: tuple[str, ...] = ()

    def applies(self, circuit: str) -> bool:
        return not self.circuits or circuit in self.circuits

    def way(self, key: str) -> Way | None:
        return next((w for w in self.ways if w.key == key), None)


SCHOOLS = (
    School(
        "sweep",
        "Speed of the sweep",
        (
            Way("slow", "Slow, 4 s or more a way", "Sweep slowly: 4 s or more each way.", {"sweep": "slow"}),
            Way(
                "any", "Any speed", "Any speed, as long as 200 samples or more lie across the travel.", {"sweep": "any"}
            ),
        ),
        ("throttle-position",),
    ),
    School(
        "engine",
        "Engine during a throttle sweep",
        (
            Way("off", "Key on, engine off", "Key on, engine off: a wide-open sweep would over-rev it."),
            Way(
                "running",
                "Running, rolled gently",
                "The engine may run if the throttle is rolled gently.",
                waives=("engine-off",),
            ),
        ),
        ("throttle-position", "pedal-position"),
    ),
    School(
        "ground",
        "Ground lead",
        (
            Way("sensor", "Sensor ground", "Ground lead on the sensor's own ground.", ground=GROUNDS[0]),
            Way("battery", "Battery negative", "Ground lead on battery negative.", ground=GROUNDS[1]),
            Way("engine", "Engine metal", "Ground lead on clean engine metal.", ground=GROUNDS[2]),
            Way("free", "Your choice, recorded", "Choose the ground point, and say which it was."),
        ),
        _SENSORS,
    ),
    School(
        "wideband",
        "Wideband sensor, five wire",
        (
            Way("current", "Current where recorded", "The pump current decides where it was recorded."),
            Way(
                "voltage",
                "Voltage is enough",
                "The pump lead's voltage against the two references decides.",
                {"decides": "voltage"},
            ),
            Way("current-only", "Current only", "Only the pump current counts: record it.", {"decides": "current"}),
        ),
        ("oxygen-wideband",),
    ),
    School(
        "airflow",
        "Airflow sensor",
        (
            Way("both", "Scope and data", "Scope and scan data both count."),
            Way(
                "data",
                "Scan data first",
                "Airflow in scan data first, the scope where data are missing.",
                next_tests=("scan-data",),
            ),
            Way("scope", "Scope first", "Scope first: shape and ratio count more than the level."),
        ),
        ("airflow-voltage", "airflow-frequency"),
    ),
    School(
        "dead-cylinder",
        "Finding the dead cylinder",
        (
            Way("any", "Any of them", "Unplugging, misfire counters or a current parade: log which you used."),
            Way(
                "unplug",
                "Drop test",
                "Disable one cylinder after the other and watch the speed.",
                next_tests=("drop-test",),
            ),
            Way(
                "swap",
                "Swap and see",
                "Swap the part with a neighbour's and see whether the fault moves.",
                next_tests=("swap",),
            ),
        ),
        _CYLINDERS,
    ),
    School(
        "scan",
        "Scan data for timing",
        (
            Way("trend", "For the trend only", "Scan data show the trend: no event is timed by them."),
            Way("timing", "Good enough for timing", "Slow events may be timed by scan data, at their update marks."),
        ),
    ),
    School(
        "filter",
        "Low-pass filter",
        (
            Way("never", "Not on what is relied on", "No filter on anything that you will rely on."),
            Way("view", "Clean first", "A filter for the view is fine; say its cut-off.", filters=True),
        ),
    ),
)


def applying(circuit: str) -> tuple[School, ...]:
    """Schools that are a question of this circuit."""
    return tuple(s for s in SCHOOLS if s.applies(circuit))
