"""What each kind of job does."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.usecases import grading, sittings
from tracebench.usecases.jobs import Work

WORKS: Mapping[str, Work] = {grading.GRADING: sittings.work_marks_out}
