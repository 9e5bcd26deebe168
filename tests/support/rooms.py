"""What the tests of each circuit's folder say of it, for tests that go over all circuits."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from tracebench.core.circuits import CIRCUITS


def fact(code: str, name: str, default: Any = None) -> Any:
    """A fact of a circuit by its name in `tests/circuits/<code>/facts.py`; the default where it has none."""
    return getattr(import_module(f"tests.circuits.{code.replace('-', '_')}.facts"), name, default)


def facts(name: str) -> dict[str, Any]:
    """A fact of every circuit that has it, by code."""
    found = {code: fact(code, name) for code in CIRCUITS}
    return {code: value for code, value in found.items() if value is not None}
