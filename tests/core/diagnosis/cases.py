"""Cases written as people would write them: JSON documents, by hand, with nothing of the core's tables."""

from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.suspects import of_case

FOUR = {
    "fuel": "petrol",
    "cylinders": 4,
    "firing_order": "1-3-4-2",
    "ignition": "coil-on-plug",
    "injection": "port",
    "throttle": "electronic",
    "load_sensor": ["manifold-pressure"],
    "oxygen": "switching",
    "charging": "commanded",
}
RAIL = {
    "fuel": "diesel",
    "cylinders": 4,
    "ignition": "none",
    "injection": "rail-piezo",
    "throttle": "electronic",
    "load_sensor": ["airflow-voltage"],
}


def capture(test, findings=(), conditions=("idle",), at=None, call=None, readings=(), **more):
    """A capture; a finding is its code, or (code, cylinder), or a whole object."""
    rows = []
    for finding in findings:
        if isinstance(finding, dict):
            rows.append({"kind": "fault", **finding})
        else:
            code, cylinder = (finding, None) if isinstance(finding, str) else finding
            rows.append({"code": code, "kind": "fault", "cylinder": cylinder})
    answer = {
        "call": call or ("faulty" if rows else "sound"),
        "findings": rows,
        "readings": [{"id": name, "value": value, "cylinder": None} for name, value in readings],
        **more,
    }
    out = {"test": test, "conditions": list(conditions), "answer": answer}
    return {**out, "at": at} if at else out


def record(kind, *rows, conditions=("idle",), at=None):
    out = {"test": kind, "conditions": list(conditions), "rows": list(rows)}
    return {**out, "at": at} if at else out


def drop(*dead, cylinders=4, conditions=("idle",)):
    """A cylinder drop test of a whole engine."""
    rows = [
        {"cylinder": n, "before_rpm": 800, "disabled_rpm": 797 if n in dead else 690} for n in range(1, cylinders + 1)
    ]
    return record("cylinder-drop", *rows, conditions=conditions)


def moved(part, at, to, did="yes", conditions=("idle",)):
    return record("swap", {"part": part, "from_place": at, "to_place": to, "moved": did}, conditions=conditions)


def loaded(at, conditions=("idle",), **volts):
    """Voltages, plugged in, engine running."""
    rows = [{"point": p, "volts": v, "loaded": "yes", "state": "running"} for p, v in volts.items()]
    return record("voltage", *rows, at=at, conditions=conditions)


def suspected(vehicle, symptoms, *evidence, when=(), **more):
    """What the core answers, as JSON."""
    complaint = {"symptoms": symptoms if isinstance(symptoms, list) else [symptoms], "when": list(when)}
    return of_case(
        case_from({"vehicle": vehicle, "complaint": complaint, "evidence": list(evidence), **more})
    ).as_json()


def of(answer, cause):
    """The row of one cause."""
    return next(s for s in answer["suspects"] if s["cause"] == cause)


def first(answer):
    return answer["suspects"][0]["cause"]
