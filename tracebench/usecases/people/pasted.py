"""Many people at once, pasted as a table: checked row by row, brought in together, each with a link of their own."""

from __future__ import annotations

import csv
import io
import unicodedata
from datetime import datetime
from typing import Literal, TypedDict

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict
from tracebench.usecases.people import accounts, courses, invitations
from tracebench.usecases.people.person import Person

MOST_ROWS, MOST_CHARACTERS = 300, 60_000
HEADINGS = ("name", "full name", "person")


class TableRow(TypedDict):
    """A row as it was understood. `state` is new, known (has an account already) or wrong, with what is wrong."""

    line: int
    name: str
    sign_in: str
    role: str
    state: Literal["new", "known", "wrong"]
    problem: str
    token: str | None


def checked(conn: Connection, by: Person, text: str, course_id: int | None) -> list[TableRow]:
    """The rows of a pasted table: name, then sign-in name and role where they are given. Raises BadOption, NotFound.

    Columns stand apart by tabs, semicolons or commas. Without a sign-in name one is made of the name; without a role
    it is a learner, and an instructor brings in nobody else.
    """
    by.must_be("instructor", "administrator")
    if by.role == "instructor" and course_id is None:
        raise BadOption("choose the course that these learners come into")
    if course_id is not None:
        courses.in_reach(conn, by, course_id)
    known = {row["sign_in"]: row for row in queries.people.everyone(conn)}
    taken = set(known)
    out: list[TableRow] = []
    for line, cells in _rows(text):
        name, given, role = (*cells, "", "", "")[:3]
        row: TableRow = {
            "line": line,
            "name": name,
            "sign_in": given.lower() or _made_of(name, taken),
            "role": role.lower() or "learner",
            "state": "new",
            "problem": "",
            "token": None,
        }
        out.append(row)
        row["problem"] = _problem(row, by, known, {r["sign_in"] for r in out[:-1]})
        if row["problem"]:
            row["state"] = "wrong"
        elif row["sign_in"] in known:
            row["state"], row["name"] = "known", known[row["sign_in"]]["name"]
        taken.add(row["sign_in"])
    if not out:
        raise BadOption("there is no row in it; write one person a line, the name first")
    return out


def keep(conn: Connection, by: Person, text: str, course_id: int | None, at: datetime) -> list[TableRow]:
    """Make the new accounts, bring everybody into the course, and answer a link for each who has no password yet.

    Raises Conflict, and keeps nothing, while a row is wrong.
    """
    rows = checked(conn, by, text, course_id)
    wrong = next((r for r in rows if r["state"] == "wrong"), None)
    if wrong is not None:
        raise Conflict(f"line {wrong['line']}: {wrong['problem']}; nobody was brought in")
    known = {row["sign_in"]: row for row in queries.people.everyone(conn)}
    for row in rows:
        old = known.get(row["sign_in"])
        person_id = old["id"] if old else accounts.add(conn, row["sign_in"], row["name"], row["role"], None, at, by)
        if course_id is not None:
            courses.set_member(conn, by, course_id, person_id, True, at)
        if old is None or (old["invited"] and invitations.may_make(conn, by, old)):
            row["token"] = invitations.make(conn, by, person_id, at)
    return rows


def _rows(text: str) -> list[tuple[int, list[str]]]:
    """Line number and cells of each row that holds something; a line of headings is left out."""
    if len(text) > MOST_CHARACTERS:
        raise BadOption(f"that is more than {MOST_CHARACTERS:,} characters; paste it in parts")
    mark = "\t" if "\t" in text else ";" if ";" in text else ","
    try:
        cells = [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter=mark)]
    except csv.Error as problem:
        raise BadOption(f"this is no table: {problem}") from None
    rows = [(k + 1, row) for k, row in enumerate(cells) if any(row)]
    if rows and rows[0][1][0].lower() in HEADINGS:
        rows = rows[1:]
    if len(rows) > MOST_ROWS:
        raise BadOption(f"that is more than {MOST_ROWS} people; paste them in parts")
    return rows


def _made_of(name: str, taken: set[str]) -> str:
    """A sign-in name of a name's first and last word, without accents; with a number where that is taken."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    words = ["".join(c for c in word if c.isalnum()) for word in plain.split()]
    words = [word for word in words if word]
    base = ".".join(dict.fromkeys((words[0], words[-1])))[:60] if words else "learner"
    base = base if len(base) > 1 else f"{base}.learner"
    made, number = base, 2
    while made in taken:
        made, number = f"{base}{number}", number + 1
    return made


def _problem(row: TableRow, by: Person, known: dict[str, dict[str, object]], before: set[str]) -> str:
    """What is wrong with a row, or nothing."""
    try:
        accounts.checked_name(row["name"])
        accounts.checked_sign_in(row["sign_in"])
    except BadOption as wrong:
        return str(wrong)
    if row["role"] not in accounts.ROLES:
        return f"role: one of {', '.join(accounts.ROLES)}, not {row['role']!r}"
    if by.role == "instructor" and row["role"] != "learner":
        return "instructors bring in learners only; the administrator does the others"
    if row["sign_in"] in before:
        return f"the sign-in name {row['sign_in']!r} stands in a line before this"
    old = known.get(row["sign_in"])
    if old is not None and by.role == "instructor" and old["role"] != "learner":
        return f"{row['sign_in']!r} is no learner; choose another sign-in name"
    if old is not None and not old["active"]:
        return f"the account {row['sign_in']!r} is closed; the administrator opens it again"
    return ""
