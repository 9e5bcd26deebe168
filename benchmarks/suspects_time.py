"""How long the suspects of a case with twelve pieces of evidence take inside a server, on three vehicles."""

from __future__ import annotations

from statistics import median
from time import perf_counter

from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.suspects import of_case

PETROL = {"fuel": "petrol", "injection": "port", "throttle": "electronic", "oxygen": "switching"}
VEHICLES = (
    {**PETROL, "cylinders": 4, "ignition": "coil-on-plug", "load_sensor": ["manifold-pressure"]},
    {**PETROL, "cylinders": 8, "ignition": "coil-on-plug", "load_sensor": ["manifold-pressure"]},
    {**PETROL, "cylinders": 6, "ignition": "paired-coils", "load_sensor": ["airflow-voltage"]},
)
CIRCUITS = (
    "coil-primary-current",
    "injector-current-parade",
    "crank-position",
    "throttle-position",
    "oxygen-switching",
    "charging",
    "pedal-position",
    "temperature",
    "wheel-speed",
)


def evidence(cylinders: int) -> list[dict[str, object]]:
    """A drop test, nine clean captures, and two at one cylinder, of which one shows a fault."""
    rows = [{"cylinder": n, "before_rpm": 790, "disabled_rpm": 788 if n == 2 else 690} for n in range(1, cylinders + 1)]
    clean = {"call": "sound", "findings": [], "readings": []}
    fault = {"call": "faulty", "findings": [{"code": "high_firing", "kind": "fault"}], "readings": []}
    return [
        {"test": "cylinder-drop", "conditions": ["idle"], "rows": rows},
        *({"test": code, "conditions": ["idle"], "answer": clean} for code in CIRCUITS),
        {"test": "secondary-voltage", "at": "2", "conditions": ["idle"], "answer": fault},
        {"test": "coil-primary-voltage", "at": "2", "conditions": ["idle"], "answer": clean},
    ]


def main() -> None:
    print("cylinders first_ms then_ms")
    for vehicle in VEHICLES:
        count = int(str(vehicle["cylinders"]))
        document = {"vehicle": vehicle, "complaint": {"symptoms": ["misfire"]}, "evidence": evidence(count)}
        took = []
        for _ in range(30):
            begun = perf_counter()
            of_case(case_from(document)).as_json()
            took.append(1000 * (perf_counter() - begun))
        print(f"{count:9} {took[0]:8.0f} {median(took[1:]):7.1f}")


if __name__ == "__main__":
    main()
