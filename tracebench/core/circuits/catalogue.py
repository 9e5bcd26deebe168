"""The circuits there are: one for each folder of `tracebench/circuits`, each file of it loaded when first asked for.

Nothing lists them by hand. A command that measures one circuit loads no other.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Iterator, Mapping
from functools import cache
from importlib import import_module
from types import ModuleType
from typing import TypeVar

ROOMS = "tracebench.circuits"

T = TypeVar("T")


@cache
def _codes() -> frozenset[str]:
    rooms = pkgutil.iter_modules(import_module(ROOMS).__path__)
    return frozenset(room.name.replace("_", "-") for room in rooms if room.ispkg)


@cache
def _in_order() -> tuple[str, ...]:
    return tuple(sorted(_codes(), key=lambda code: (_room(code).PLACE, code)))


def _room(code: str, file: str = "") -> ModuleType:
    return import_module(".".join(part for part in (ROOMS, code.replace("-", "_"), file) if part))


class Rooms(Mapping[str, T]):
    """What one file of each circuit's folder declares under one name, by the circuit's code, in order of PLACE."""

    def __init__(self, file: str, name: str, made: Callable[[T], T] = lambda found: found) -> None:
        self._file, self._name, self._made = file, name, made
        self._loaded: dict[str, T] = {}

    def __getitem__(self, code: str) -> T:
        if code not in self._loaded:
            if code not in _codes():
                raise KeyError(code)
            self._loaded[code] = self._made(getattr(_room(code, self._file), self._name))
        return self._loaded[code]

    def __contains__(self, code: object) -> bool:
        return code in _codes()

    def __iter__(self) -> Iterator[str]:
        return iter(_in_order())

    def __len__(self) -> int:
        return len(_codes())
