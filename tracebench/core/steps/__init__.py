"""Kinds of steps: a module or a folder each, with its declaration, the check of its answer and its criterion."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tracebench.core.cards.step import Step
from tracebench.core.steps.call.step import CallStep
from tracebench.core.steps.capture import CaptureStep
from tracebench.core.steps.cautions import CautionsStep
from tracebench.core.steps.compare import CompareStep
from tracebench.core.steps.reading.step import ReadingStep

KINDS: Mapping[str, type[Step[Any]]] = {
    kind.kind: kind for kind in (CautionsStep, CaptureStep, ReadingStep, CompareStep, CallStep)
}
