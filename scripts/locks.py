"""Pin what pyproject.toml asks for, with hashes: python -m scripts.locks [PACKAGE ...]

What is named is taken anew, in the newest version that fits; all else stays as it is pinned. Needs `uv` (PyPI), which
is no part of the project: `pip install uv` into an environment of its own, and run this with that on the path.
"""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
LOCKS = {"requirements.lock": ("dask",), "requirements-dev.lock": ("dask", "dev")}


def lock(name: str, extras: tuple[str, ...], anew: list[str]) -> None:
    command = [
        "uv",
        "pip",
        "compile",
        "--quiet",
        "pyproject.toml",
        "--generate-hashes",
        "--no-annotate",
        "--no-strip-extras",
    ]
    command += ["--python-version", "3.11", "--custom-compile-command", "python -m scripts.locks", "-o", name]
    for extra in extras:
        command += ["--extra", extra]
    for package in anew:
        command += ["--upgrade-package", package]
    subprocess.run(command, cwd=ROOT, check=True)


if __name__ == "__main__":
    for name, extras in LOCKS.items():
        lock(name, extras, sys.argv[1:])
