"""Which groups of causes can make which symptom, and how complaint, history and codes weigh the causes.

Common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.case import Case, Code
from tracebench.core.diagnosis.causes import Cause

_SOURCE = "(common practice, no published source)"
CANNOT_MAKE = Threshold(0.02, "", f"Weight of a cause that cannot make the symptom {_SOURCE}")
ANOTHER_CONDITION = Threshold(0.2, "", f"Weight of a cause that shows under another condition {_SOURCE}")
RENEWED_LATELY = Threshold(0.3, "", f"Weight of a part renewed lately {_SOURCE}")
NAMED_BY_CODE = Threshold(5.0, "", f"Weight of what a code names {_SOURCE}")

GROUPS_OF: Mapping[str, tuple[str, ...]] = {
    "misfire": ("ignition", "injection", "fuel", "breathing", "speed", "shared"),
    "no-start": ("ignition", "injection", "fuel", "breathing", "speed", "sensors", "shared", "charging"),
    "stalls": ("ignition", "injection", "fuel", "breathing", "position", "speed", "sensors", "shared"),
    "hesitates": ("ignition", "injection", "fuel", "breathing", "position", "speed", "sensors", "shared"),
    "no-power": ("ignition", "injection", "fuel", "breathing", "position", "speed", "sensors", "shared"),
    "surges": ("ignition", "injection", "fuel", "breathing", "position", "speed", "sensors", "shared"),
    "rich": ("injection", "fuel", "sensors"),
    "lean": ("injection", "fuel", "breathing", "sensors"),
    "high-idle": ("fuel", "breathing", "position", "sensors", "shared"),
    "warning-lamp": (
        "ignition",
        "injection",
        "fuel",
        "breathing",
        "position",
        "speed",
        "sensors",
        "shared",
        "charging",
    ),
    "overcharge": ("charging",),
    "flat-battery": ("charging",),
    "noise": ("breathing", "injection", "charging"),
}
"""Groups that can make a symptom; `none` weighs nothing."""

SYMPTOMS = (*GROUPS_OF, "none")

CODE_GROUPS: Mapping[str, str] = {
    "ignition": "ignition",
    "injection": "injection",
    "fuel": "fuel",
    "mixture": "fuel",
    "fuel and mixture": "fuel",
    "fuel-and-mixture": "fuel",
    "breathing": "breathing",
    "position": "position",
    "speed": "speed",
    "sensors": "sensors",
    "other sensors": "sensors",
    "other-sensors": "sensors",
    "shared": "shared",
    "charging": "charging",
}


def makes(cause: Cause, symptom: str) -> bool:
    """Whether a cause can make a symptom; nothing wrong can be taken for any."""
    if cause.kind.group == "none" or symptom == "none":
        return True
    if symptom in cause.kind.symptoms:
        return True
    return cause.kind.group in GROUPS_OF[symptom] and symptom not in cause.kind.no_symptom


def made(causes: Sequence[Cause], symptoms: Sequence[str]) -> NDArray[np.bool_]:
    """Which cause can make which symptom, causes x symptoms."""
    return np.array([[makes(c, s) for s in symptoms] for c in causes], bool).reshape(len(causes), len(symptoms))


def history(cause: Cause, case: Case) -> float:
    """What condition, history and codes make of a cause's weight, symptoms apart."""
    factor = cause.weight
    if case.named and cause.kind.group != "none" and cause.kind.condition not in case.named:
        factor *= ANOTHER_CONDITION
    if cause.part in case.renewed or any(_same_part(cause, part) for part in case.renewed):
        factor *= RENEWED_LATELY
    for code in case.codes:
        if names(code, cause):
            factor *= NAMED_BY_CODE
    return factor


def _same_part(cause: Cause, renewed: str) -> bool:
    """Whether a part renewed is this cause's: parts of a paired coil are named by either cylinder."""
    name, _, at = renewed.partition("@")
    if cause.kind.kind not in ("part", "mechanical") or cause.kind.part != name:
        return False
    return not at or at in cause.place.split("+") or at == cause.place


def names(code: Code, cause: Cause) -> bool:
    """Whether a stored code names a cause."""
    kind = cause.kind
    if code.names == "misfire":
        fires = kind.group in ("ignition", "injection") or kind.id == "cylinder-mechanical"
        return fires and (code.cylinder is None or not cause.cylinders or code.cylinder in cause.cylinders)
    if code.names in CODE_GROUPS:
        return kind.group == CODE_GROUPS[code.names]
    return code.names in cause.names_circuits
