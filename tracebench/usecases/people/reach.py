"""Who may do what with a reference or a job card: its owner, and those whom its reach lets in.

| what | own | course | school |
|---|---|---|---|
| see a reference | its owner | its course's instructors | once published, every instructor |
| change, publish or retire a reference | its owner | its course's instructors | its owner |
| see and copy a card | its owner | its course's instructors | every instructor |
| change, publish or retire a card | its owner | its course's instructors | its course's instructors |
| say who reaches it | its owner | its owner | its owner |

What an instructor sees they may copy, and the copy is theirs. Learners reach neither but through their sittings.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tracebench.usecases.errors import NotAllowed
from tracebench.usecases.people.person import Person

REACHES = ("own", "course", "school")


def sees_reference(row: Mapping[str, Any], person: Person) -> bool:
    """`row` tells author_id, reach, of_course (the person is of its course) and was_published."""
    return changes_reference(row, person) or (row["reach"] == "school" and bool(row["was_published"]))


def changes_reference(row: Mapping[str, Any], person: Person) -> bool:
    return bool(row["author_id"] == person.id or (row["reach"] == "course" and row["of_course"]))


def sees_card(row: Mapping[str, Any], person: Person, of_course: bool) -> bool:
    return changes_card(row, person, of_course) or row["reach"] == "school"


def changes_card(row: Mapping[str, Any], person: Person, of_course: bool) -> bool:
    return bool(of_course and (row["author_id"] == person.id or row["reach"] != "own"))


def must_be_owner(row: Mapping[str, Any], person: Person) -> None:
    """Raises NotAllowed unless the person owns it."""
    if row["author_id"] != person.id:
        raise NotAllowed(f"this is {row['author']}'s; only its owner says who reaches it")
