"""What each kind of job does, the demo class included: for whatever works jobs off."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from functools import partial
from pathlib import Path

from tracebench.store.pool import Begin
from tracebench.usecases.jobs.kinds import DEMO, works
from tracebench.usecases.jobs.queue import Keep, Payload, Work


def every_work(uploads: Path) -> Mapping[str, Work]:
    """Each kind of job, for an installation whose waiting files are in `uploads`."""
    return {**works(uploads), DEMO: partial(_demo, uploads)}


def _demo(uploads: Path, begin: Begin, payload: Payload, at: datetime) -> Keep:
    from tracebench.demo import seed  # noqa: PLC0415 - all of its cast is loaded when it is made, once

    return seed.work_demo_out(uploads, begin, payload, at)
