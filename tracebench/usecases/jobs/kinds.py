"""What each kind of job does."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from pathlib import Path

from tracebench.usecases.cards import before_publishing
from tracebench.usecases.jobs.queue import Work
from tracebench.usecases.marking import grading, regrading
from tracebench.usecases.shelf import exchange, inbox, uploads
from tracebench.usecases.sitting import recording, sittings

DEMO = "demo"
"""The kind of job that makes the demo class, and what it is about: there is one. What it does stands over all this."""


def works(folder: Path) -> Mapping[str, Work]:
    """Each kind of job, for an installation whose waiting files are in `folder`."""
    return {
        grading.GRADING: sittings.work_marks_out,
        sittings.TIME_UP: sittings.work_time_up,
        recording.RECORD: recording.work_recording_out,
        before_publishing.CHECK: before_publishing.work_check_out,
        uploads.IMPORT: partial(uploads.work_import_out, folder),
        exchange.TAKE: partial(exchange.work_take_in, folder),
        regrading.REGRADE: regrading.work_regrade_out,
        inbox.LOOK: partial(inbox.work_look_out, folder),
        inbox.DRAFT: partial(inbox.work_draft_out, folder),
    }
