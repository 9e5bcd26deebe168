"""Write what each SQL statement takes and answers, so that the type check knows it: python -m scripts.query_signatures

The file is made from the `-- name:` lines of store/sql; a test fails when it is not fresh.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

STORE = Path(__file__).resolve().parent.parent / "tracebench" / "store"
TARGET = STORE / "signatures.py"

NAME = re.compile(
    r"^-- name: (?P<name>\w+)\((?P<parameters>[^)]*)\)(?P<how>[\^$!]?)\s*\n-- (?P<about>[^\n]+)", re.MULTILINE
)

ANSWERS = {"^": "Row | None", "$": "Any", "!": "int", "": "Iterator[Row]"}
"""One row or none; one value; how many rows were changed; all rows."""

HEAD = '''"""What each SQL statement takes and answers. Made by scripts/query_signatures.py: do not edit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Protocol

from tracebench.store.pool import Connection, Row
'''


def areas() -> Iterator[tuple[str, str]]:
    """Each area of store/sql with the text of its statements."""
    for folder in sorted(p for p in (STORE / "sql").iterdir() if p.is_dir()):
        yield folder.name, "\n".join(path.read_text(encoding="utf-8") for path in sorted(folder.glob("*.sql")))


def _method(found: re.Match[str]) -> str:
    names = [p.strip() for p in found["parameters"].split(",") if p.strip()]
    keywords = "".join(f", {name}: object" for name in names)
    star = ", *" if names else ""
    about = found["about"].replace('"', "'")
    return (
        f"    def {found['name']}(self, conn: Connection{star}{keywords}) -> {ANSWERS[found['how']]}:\n"
        f'        """{about}"""\n        ...\n'
    )


def text() -> str:
    """The whole file, before it is formatted."""
    parts, names = [HEAD], []
    for area, sql in areas():
        names.append(area)
        methods = "\n".join(_method(m) for m in NAME.finditer(sql))
        parts.append(f"\n\nclass {area.title()}(Protocol):\n{methods}")
    fields = "".join(f"    {name}: {name.title()}\n" for name in names)
    parts.append(f"\n\nclass Queries(Protocol):\n{fields}")
    return "".join(parts)


if __name__ == "__main__":
    TARGET.write_text(text(), encoding="utf-8")
