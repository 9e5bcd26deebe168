"""The SQL statements, loaded once from sql/<area>/."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, cast

import aiosql

from tracebench.store.signatures import Queries

SQL = Path(__file__).with_name("sql")

queries = cast(Queries, aiosql.from_path(SQL, "pymysql"))


def unpacked(row: dict[str, Any], *names: str) -> dict[str, Any]:
    """The row with the named JSON columns decoded (NULL stays None)."""
    return {k: json.loads(v) if k in names and v is not None else v for k, v in row.items()}


def packed(value: Any) -> str:
    """A JSON column's text; NaN is refused."""
    return json.dumps(value, ensure_ascii=False, allow_nan=False, sort_keys=True)
