"""The tool's own best path through random cases, on the trainer, through real captures: [cases] [seed].

Each case is a vehicle with one cause; the first test that is proposed is done, its capture measured, and its answer
read as any is, until one cause is supported, nothing is left to test, or `MOST_TESTS` are done.
"""

from __future__ import annotations

import json
import sys
from collections import Counter, defaultdict
from random import Random

from tracebench.bench.whole.faults import on_the_trainer
from tracebench.bench.whole.vehicle import WholeVehicle
from tracebench.core.circuits import measure
from tracebench.core.diagnosis.causes import Cause, vehicle_causes
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.posterior import asked_of
from tracebench.core.diagnosis.suspects import Suspicion, of_case
from tracebench.core.diagnosis.symptoms import GROUPS_OF, makes
from tracebench.core.errors import TraceBenchError

MOST_TESTS = 18
VEHICLES = (
    {"cylinders": 4, "ignition": "coil-on-plug", "load_sensor": ["manifold-pressure"], "oxygen": "switching"},
    {
        "cylinders": 6,
        "ignition": "paired-coils",
        "throttle": "electronic",
        "load_sensor": ["airflow-voltage"],
        "oxygen": "wideband",
        "charging": "commanded",
    },
    {
        "cylinders": 3,
        "ignition": "coil-on-plug",
        "injection": "direct",
        "throttle": "electronic",
        "load_sensor": ["manifold-pressure"],
        "oxygen": "wideband",
    },
    {
        "fuel": "diesel",
        "cylinders": 4,
        "ignition": "none",
        "injection": "rail-piezo",
        "throttle": "electronic",
        "load_sensor": ["airflow-voltage", "manifold-pressure"],
    },
    {
        "fuel": "diesel",
        "cylinders": 5,
        "ignition": "none",
        "injection": "rail-solenoid",
        "throttle": "electronic",
        "load_sensor": ["airflow-frequency"],
        "charging": "commanded",
    },
)


def played(document: dict[str, object], on: WholeVehicle) -> tuple[Suspicion, float, list[str]]:
    """The end of the path, its minutes and the tests in order."""
    evidence: list[dict[str, object]] = []
    minutes, done = 0.0, []
    while True:
        found = of_case(case_from({**document, "evidence": evidence}))
        if found.support.supported or not found.next or len(done) >= MOST_TESTS:
            return found, minutes, done
        step = found.next[0]
        under = [*step.conditions, *asked_of(step.offer.test, frozenset({"idle"}))]
        taken = on.do(step.offer, under, len(done))
        piece: dict[str, object] = {"test": step.offer.test, "conditions": under}
        if step.offer.place.text:
            piece["at"] = step.offer.place.text
        if taken.capture is not None:
            answer = measure(taken.capture, step.offer.test, options=dict(taken.options), limits=taken.limits).as_json()
            piece["answer"] = json.loads(json.dumps(answer))
            shown = [f["code"] for f in answer["findings"] if f["kind"] != "note"]
        else:
            piece["rows"] = list(taken.rows)
            shown = []
        evidence.append(piece)
        minutes += step.minutes
        done.append(f"{step.offer.test}@{step.offer.place.text} {'+'.join(shown)}".strip())


def main(cases: int, seed: int) -> None:
    rng = Random(seed)
    by_group: dict[str, Counter[str]] = defaultdict(Counter)
    spent: dict[str, list[float]] = defaultdict(list)
    for number in range(cases):
        plain = {"fuel": "petrol", "injection": "port", **rng.choice(VEHICLES)}
        vehicle = case_from({"vehicle": plain}).vehicle
        causes = [c for c in vehicle_causes(vehicle) if on_the_trainer(c, vehicle)]
        group = rng.choice(sorted({c.kind.group for c in causes}))
        cause: Cause = rng.choice([c for c in causes if c.kind.group == group])
        symptom = rng.choice([s for s in GROUPS_OF if makes(cause, s)])
        condition = cause.kind.condition
        when = [] if condition == "always" else [condition]
        document: dict[str, object] = {"vehicle": plain, "complaint": {"symptoms": [symptom], "when": when}}
        on = WholeVehicle(vehicle, (cause,), seed * 1000 + number, (symptom,), frozenset(when))
        try:
            found, minutes, done = played(document, on)
        except TraceBenchError as problem:
            by_group[group]["not done"] += 1
            print(f"{number:3} {cause.id}: {problem}", flush=True)
            continue
        ids = [c.id for c in found.posterior.causes]
        best = ids[int(found.posterior.probability.argmax())]
        one = {"reference-lost", "controller-internal"}
        right = best == cause.id or {best.partition("@")[0], cause.kind.id} <= one
        tally = by_group[group]
        tally["cases"] += 1
        tally["first"] += right
        tally["supported"] += right and found.support.supported
        tally["wrong supported"] += found.support.supported and not right
        tally["ruled out"] += found.ruled_out[ids.index(cause.id)]
        spent[group].append(minutes)
        if not right or not found.support.supported:
            say = "; ".join(done)
            print(f"{number:3} {cause.id} ({symptom} {when}): {best}, {found.support.why_not[:2]}; {say}", flush=True)
    print(f"{'group':12} cases first supported wrong-supported ruled-out minutes")
    for group, t in sorted(by_group.items()):
        mean = sum(spent[group]) / max(len(spent[group]), 1)
        row = (t["cases"], t["first"], t["supported"], t["wrong supported"], t["ruled out"], mean)
        print(f"{group:12} {row[0]:5} {row[1]:5} {row[2]:9} {row[3]:15} {row[4]:9} {row[5]:7.0f}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 500, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
