"""Who may do what with a reference or a job card: its owner, and those whom its reach lets in.

`RIGHTS` says it once; `docs/security.md` shows it (`python -m scripts.rights`). What an instructor sees they may copy,
and the copy is theirs. Learners reach neither but through their sittings.
"""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import Any, Literal

from tracebench.usecases.errors import NotAllowed
from tracebench.usecases.people.person import Person

Reach = Literal["own", "course", "school"]
REACHES: tuple[Reach, ...] = ("own", "course", "school")


class Who(StrEnum):
    """Whom a reach lets in, beside the owner."""

    OWNER = "its owner"
    COURSE = "its course's instructors"
    ONCE_PUBLISHED = "every instructor, once it is published"
    EVERYONE = "every instructor"


RIGHTS: Mapping[str, Mapping[Reach, Who]] = {
    "see a reference, on sheet, shelf and trace": {
        "own": Who.OWNER,
        "course": Who.COURSE,
        "school": Who.ONCE_PUBLISHED,
    },
    "change, publish or retire a reference": {"own": Who.OWNER, "course": Who.COURSE, "school": Who.OWNER},
    "see and copy a card": {"own": Who.OWNER, "course": Who.COURSE, "school": Who.EVERYONE},
    "change, publish or retire a card": {"own": Who.OWNER, "course": Who.COURSE, "school": Who.COURSE},
    "say who reaches it": {"own": Who.OWNER, "course": Who.OWNER, "school": Who.OWNER},
}
SEE_REFERENCE, CHANGE_REFERENCE, SEE_CARD, CHANGE_CARD, SAY_WHO_REACHES = RIGHTS


def _may(what: str, row: Mapping[str, Any], owner: bool) -> bool:
    """`row` tells reach, of_course (the person is of its course) and, of a reference, was_published."""
    who = RIGHTS[what][row["reach"]]
    if who is Who.EVERYONE or (who is Who.ONCE_PUBLISHED and row["was_published"]):
        return True
    return bool(owner or (who is Who.COURSE and row["of_course"]))


def _owns(row: Mapping[str, Any], person: Person) -> bool:
    return bool(row["author_id"] == person.id)


def _owns_card(row: Mapping[str, Any], person: Person) -> bool:
    """A card is its course's: whoever has left that works on it no more."""
    return _owns(row, person) and bool(row["of_course"])


def sees_reference(row: Mapping[str, Any], person: Person) -> bool:
    return _may(SEE_REFERENCE, row, _owns(row, person))


def changes_reference(row: Mapping[str, Any], person: Person) -> bool:
    return _may(CHANGE_REFERENCE, row, _owns(row, person))


def sees_card(row: Mapping[str, Any], person: Person) -> bool:
    return _may(SEE_CARD, row, _owns_card(row, person))


def changes_card(row: Mapping[str, Any], person: Person) -> bool:
    return _may(CHANGE_CARD, row, _owns_card(row, person))


def must_be_owner(row: Mapping[str, Any], person: Person) -> None:
    """Raises NotAllowed unless the person owns it."""
    if not _may(SAY_WHO_REACHES, row, _owns(row, person)):
        raise NotAllowed(f"this is {row['author']}'s; only its owner says who reaches it")
