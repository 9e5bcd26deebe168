"""Write the table of rights into docs/security.md: python -m scripts.rights"""

from __future__ import annotations

import re
from pathlib import Path

from tracebench.usecases.people.reach import REACHES, RIGHTS

TARGET = Path(__file__).resolve().parent.parent / "docs" / "security.md"
TABLE = re.compile(r"^\| what \| own .*?(?=\n\n)", re.MULTILINE | re.DOTALL)


def table() -> str:
    """The rows as Markdown."""
    head = f"| what | {' | '.join(REACHES)} |\n|{'---|' * (1 + len(REACHES))}"
    rows = (f"| {what} | {' | '.join(by[reach] for reach in REACHES)} |" for what, by in RIGHTS.items())
    return "\n".join((head, *rows))


if __name__ == "__main__":
    TARGET.write_text(TABLE.sub(lambda _: table(), TARGET.read_text(encoding="utf-8")), encoding="utf-8")
