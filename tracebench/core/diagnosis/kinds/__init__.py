"""Every kind of cause, a module a group; `KINDS` is the table of all."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.core.diagnosis.kinds.breathing import BREATHING
from tracebench.core.diagnosis.kinds.cause_kind import CauseKind
from tracebench.core.diagnosis.kinds.charging import CHARGING
from tracebench.core.diagnosis.kinds.fuel import FUEL
from tracebench.core.diagnosis.kinds.ignition import IGNITION
from tracebench.core.diagnosis.kinds.injection import INJECTION
from tracebench.core.diagnosis.kinds.position import POSITION
from tracebench.core.diagnosis.kinds.sensors import SENSORS
from tracebench.core.diagnosis.kinds.shared import SHARED
from tracebench.core.diagnosis.kinds.speed import SPEED

NORMAL = CauseKind("normal-behaviour", "Nothing is wrong: it behaves as built", "none", "nothing", "", ())

KINDS: Mapping[str, CauseKind] = {
    k.id: k
    for k in (
        *IGNITION,
        *INJECTION,
        *FUEL,
        *BREATHING,
        *POSITION,
        *SPEED,
        *SENSORS,
        *SHARED,
        *CHARGING,
        NORMAL,
    )
}
