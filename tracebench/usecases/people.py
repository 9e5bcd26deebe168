"""Accounts: adding people, signing in with throttling, passwords and sessions."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import pymysql
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound

ROLES = ("administrator", "instructor", "learner")
THROTTLE_WINDOW = timedelta(minutes=15)
MOST_FAILURES_BY_NAME = 8
MOST_FAILURES_BY_ADDRESS = 40
SHORTEST_PASSWORD = 8

_hasher = PasswordHasher()  # argon2id with the library's defaults (RFC 9106, low-memory profile)
_NOBODY = _hasher.hash("a password nobody has")


@dataclass(frozen=True, slots=True)
class Person:
    """Who asks."""

    id: int
    sign_in: str
    name: str
    role: str
    epoch: int

    def must_be(self, *roles: str) -> None:
        """Raises NotAllowed unless the person has one of the roles."""
        if self.role not in roles:
            raise NotAllowed(f"this is for {' and '.join(roles)} only")


def _person(row: dict[str, Any]) -> Person:
    return Person(row["id"], row["sign_in"], row["name"], row["role"], row["session_epoch"])


def add(conn: Connection, sign_in: str, name: str, role: str, password: str, at: datetime) -> int:
    """A new person; returns the id. Raises BadOption or Conflict."""
    sign_in = sign_in.strip().lower()
    if not 2 <= len(sign_in) <= 64 or any(c.isspace() for c in sign_in):
        raise BadOption("sign-in name: 2 to 64 characters without blanks")
    if not 1 <= len(name.strip()) <= 120:
        raise BadOption("name: 1 to 120 characters")
    if role not in ROLES:
        raise BadOption(f"role: one of {', '.join(ROLES)}, not {role!r}")
    try:
        person_id: int = queries.people.add(
            conn, sign_in=sign_in, name=name.strip(), role=role, password_hash=hashed(password), at=at
        )
    except pymysql.IntegrityError:
        raise Conflict(f"the sign-in name {sign_in!r} is taken; choose another") from None
    return person_id


def hashed(password: str) -> str:
    """An argon2id hash. Raises BadOption for a password that is too short."""
    if not SHORTEST_PASSWORD <= len(password) <= 256:
        raise BadOption(f"password: {SHORTEST_PASSWORD} to 256 characters")
    return _hasher.hash(password)


def sign_in(conn: Connection, name: str, password: str, address: str, at: datetime) -> Person | None:
    """The person if name and password fit, else None and the failure is remembered. Raises Conflict when throttled.

    A name or address with too many failures in a quarter of an hour has to wait. A hash is checked for
    unknown names too, so that the time taken tells nothing.
    """
    name = name.strip().lower()[:64]
    row = queries.people.failures(conn, sign_in=name, address=address, since=at - THROTTLE_WINDOW)
    if row and (row["by_name"] >= MOST_FAILURES_BY_NAME or row["by_address"] >= MOST_FAILURES_BY_ADDRESS):
        raise Conflict("too many failed sign-ins; wait a quarter of an hour or ask your instructor")
    found = queries.people.by_sign_in(conn, sign_in=name)
    if not _fits(found["password_hash"] if found else _NOBODY, password) or not found or not found["active"]:
        queries.people.failed(conn, sign_in=name, address=address, at=at)
        return None
    queries.people.forget_failures(conn, sign_in=name, before=at - timedelta(days=1))
    return _person(found)


def _fits(password_hash: str, password: str) -> bool:
    try:
        return _hasher.verify(password_hash, password)
    except (VerifyMismatchError, InvalidHashError):
        return False


def by_id(conn: Connection, person_id: int, epoch: int) -> Person | None:
    """The person of a session, None once they are out or have signed out everywhere."""
    row = queries.people.by_id(conn, person_id=person_id)
    return _person(row) if row and row["active"] and row["session_epoch"] == epoch else None


def change_password(conn: Connection, person: Person, old: str, new: str) -> None:
    """Raises BadOption if the old one does not fit or the new one is too short. Ends all sessions."""
    row = queries.people.by_sign_in(conn, sign_in=person.sign_in)
    if row is None or not _fits(row["password_hash"], old):
        raise BadOption("the old password does not fit")
    queries.people.set_password(conn, person_id=person.id, password_hash=hashed(new))


def course_in_reach(conn: Connection, person: Person, course_id: int) -> None:
    """Raises NotFound unless the person belongs to the course (an administrator reaches all)."""
    if person.role != "administrator" and not queries.courses.is_member(conn, course_id=course_id, person_id=person.id):
        raise NotFound("there is no such course for you")
