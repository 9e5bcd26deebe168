"""Where a running installation is: ./start leaves a note in its data folder, and commands find it there."""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from pathlib import Path

from tracebench.core.errors import BadOption
from tracebench.own_files import write_whole
from tracebench.settings import MissingSetting, Settings

NOTE = "installation.json"
KEPT = "TRACEBENCH_"


def leave_note(folder: Path, env: Mapping[str, str]) -> None:
    """Keep how the installation is reached, readable by its owner alone."""
    write_whole(folder / NOTE, json.dumps({k: v for k, v in env.items() if k.startswith(KEPT)}))


def settings_of(folder: Path | None) -> Settings:
    """Settings of the environment, or of the installation in `folder`, here, or in ./var. Raises BadOption."""
    if folder is None and "TRACEBENCH_DB_PASSWORD" in os.environ:
        places = []
    else:
        places = [folder] if folder is not None else [Path(), Path("var")]
    for place in places:
        note = place / NOTE
        if note.is_file():
            return Settings.from_env(json.loads(note.read_text()))
    if folder is not None:
        raise BadOption(f"no installation has been started in {folder}; tell its folder by --data")
    try:
        return Settings.from_env(os.environ)
    except MissingSetting:
        raise BadOption("no installation found here; tell its folder by --data, or go there") from None
