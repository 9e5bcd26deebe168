"""What differs between two documents, in words a reader can follow."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, TypedDict

NAMES = ("id", "reading", "criterion", "key", "name")
"""Fields by which rows of a list are the same row, in the order in which they are tried."""


class Difference(TypedDict):
    """Where two documents differ; None stands for what is not there."""

    where: str
    before: Any
    after: Any


def differences(before: Any, after: Any) -> list[Difference]:
    """Every place at which two documents of mappings, lists and plain values differ, in the order of the documents.

    Rows of a list are held against each other by a field that names them, where each row has one of its own; plain
    lists are compared whole.
    """
    return list(_between(before, after, ""))


def _between(before: Any, after: Any, where: str) -> Iterator[Difference]:
    if before == after:
        return
    one, other = _named(before), _named(after)
    if one is not None and other is not None:
        for key in [*one, *(k for k in other if k not in one)]:
            yield from _between(one.get(key), other.get(key), f"{where}.{key}" if where else str(key))
    else:
        yield {"where": where, "before": before, "after": after}


def _named(value: Any) -> Mapping[str, Any] | None:
    """A mapping of the parts of a document by their names; None for what is a value of its own."""
    if isinstance(value, Mapping):
        return value
    if isinstance(value, Sequence) and not isinstance(value, str) and all(isinstance(x, Mapping) for x in value):
        for field in NAMES:
            keys = [x.get(field) for x in value]
            if None not in keys and len({str(k) for k in keys}) == len(keys):
                return {str(k): x for k, x in zip(keys, value, strict=True)}
        return {str(k + 1): x for k, x in enumerate(value)}
    return None
