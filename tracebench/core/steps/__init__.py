"""Kinds of steps: a module or a folder each, with its declaration, the check of its answer and its criterion."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tracebench.core.cards.step import Step
from tracebench.core.steps.call.step import CallStep
from tracebench.core.steps.capture import CaptureStep
from tracebench.core.steps.cautions import CautionsStep
from tracebench.core.steps.compare.step import CompareStep
from tracebench.core.steps.connect import ConnectStep
from tracebench.core.steps.explain import ExplainStep
from tracebench.core.steps.name import NameStep
from tracebench.core.steps.reading.step import ReadingStep
from tracebench.core.steps.record import RecordStep
from tracebench.core.steps.set_up import SetUpStep
from tracebench.core.steps.spot import SpotStep
from tracebench.core.steps.work_out import WorkOutStep

KINDS: Mapping[str, type[Step[Any]]] = {
    kind.kind: kind
    for kind in (
        CautionsStep,
        ConnectStep,
        SetUpStep,
        CaptureStep,
        ReadingStep,
        WorkOutStep,
        NameStep,
        SpotStep,
        CompareStep,
        RecordStep,
        CallStep,
        ExplainStep,
    )
}
