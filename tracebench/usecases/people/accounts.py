"""Accounts: adding people, signing in with throttling, passwords and sessions."""

from __future__ import annotations

import hashlib
import json
import secrets
import threading
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any, TypedDict, cast

import pymysql
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from tracebench.core.errors import BadOption
from tracebench.store.pool import Begin, Connection, is_full
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotAllowed, NotFound
from tracebench.usecases.people import guessing
from tracebench.usecases.people.guessing import Came
from tracebench.usecases.people.person import Account, Person
from tracebench.usecases.school import trail

ROLES = ("administrator", "instructor", "learner")
SHORTEST_PASSWORD = 8
LEAST_SCORE, LONGEST_JUDGED = 2, 72
"""Of 0 to 4, by guesses needed (zxcvbn); what lies behind the first 72 characters only adds to them."""

LONGEST_UNUSED = timedelta(hours=14)
USED_EVERY = timedelta(minutes=1)

# argon2id, 19 MiB, two passes, one lane: the OWASP password storage cheat sheet's first choice of its equal ones.
_hasher = PasswordHasher(time_cost=2, memory_cost=19_456, parallelism=1)
_hashing = threading.BoundedSemaphore(2)
"""Two at once in each process: a rush of sign-ins queues here and leaves the other threads to pages."""

NO_PASSWORD = ""
"""What is kept of somebody who has not chosen one: nothing fits it."""

_NOBODY = _hasher.hash("a password nobody has")


def _person(row: dict[str, Any]) -> Person:
    return Person(row["id"], row["sign_in"], row["name"], row["role"], row["session_epoch"])


def add(
    conn: Connection,
    sign_in: str,
    name: str,
    role: str,
    password: str | None,
    at: datetime,
    by: Person | None = None,
) -> int:
    """A new person; returns the id. Without a password they choose one by a link. Raises BadOption or Conflict."""
    sign_in, name = checked_sign_in(sign_in), checked_name(name)
    if role not in ROLES:
        raise BadOption(f"role: one of {', '.join(ROLES)}, not {role!r}")
    kept = hashed(password) if password is not None else NO_PASSWORD
    try:
        person_id: int = queries.people.add(
            conn,
            sign_in=sign_in,
            name=name,
            role=role,
            password_hash=kept,
            added_by=None if by is None else by.id,
            at=at,
        )
    except pymysql.IntegrityError:
        raise Conflict(f"the sign-in name {sign_in!r} is taken; choose another") from None
    after = {"sign-in name": sign_in, "role": role}
    trail.write(conn, by, "person.add", ("person", person_id), name, at, before={}, after=after)
    return person_id


def checked_sign_in(sign_in: str) -> str:
    """A name to sign in with as it is kept. Raises BadOption."""
    sign_in = sign_in.strip().lower()
    if not 2 <= len(sign_in) <= 64 or any(c.isspace() for c in sign_in):
        raise BadOption("sign-in name: 2 to 64 characters without blanks")
    return sign_in


def checked_name(name: str) -> str:
    """A person's name as it is kept. Raises BadOption."""
    if not 1 <= len(name.strip()) <= 120:
        raise BadOption("name: 1 to 120 characters")
    return name.strip()


def first(
    conn: Connection, wanted: str, token: str, sign_in: str, name: str, password: str, school: str, at: datetime
) -> Person:
    """The administrator of a new installation, by the link that was printed when it was started.

    Raises NotAllowed for another link, or once there is anybody.
    """
    if not wanted or not secrets.compare_digest(wanted.encode(), token.encode()):
        raise NotAllowed("this link is not the one that ./start printed last; use that one")
    if queries.people.any_to_be_sure(conn):
        raise NotAllowed("this installation has its administrator already; sign in")
    person_id = add(conn, sign_in, name, "administrator", password, at)
    person = Person(person_id, sign_in.strip().lower(), name.strip(), "administrator", 1)
    if school.strip():
        name_school(conn, person, school, at)
    return person


def school_of(conn: Connection) -> str:
    """What the school is called; nothing until it was said."""
    return queries.people.school(conn) or ""


def name_school(conn: Connection, by: Person, name: str, at: datetime) -> None:
    """Say what the school is called. Raises BadOption."""
    by.must_be("administrator")
    before, name = school_of(conn), name.strip()
    if not 1 <= len(name) <= 120:
        raise BadOption("name of the school: 1 to 120 characters")
    queries.people.name_school(conn, name=name)
    trail.write(conn, by, "school.name", ("school", 1), name, at, before={"name": before}, after={"name": name})


def hashed(password: str) -> str:
    """An argon2id hash. Raises BadOption for a password that is too short, or one that is guessed first."""
    if not SHORTEST_PASSWORD <= len(password) <= 256:
        raise BadOption(f"password: {SHORTEST_PASSWORD} to 256 characters")
    from zxcvbn import zxcvbn  # noqa: PLC0415 - its lists take a moment to load, and few requests need them

    if zxcvbn(password[:LONGEST_JUDGED])["score"] < LEAST_SCORE:
        raise BadOption("password: this one is among the first that are guessed; take three or four words")
    return _hasher.hash(password)


def sign_in(begin: Begin, name: str, password: str, came: Came, at: datetime) -> Person | None:
    """The person if name and password fit, else None and the failure is remembered. Raises TooSoon.

    A hash is checked for unknown names too, so that the time taken tells nothing.
    """
    name = name.strip().lower()[:64]
    guessing.let_in(begin, name, came, at)
    with begin() as conn:
        found = queries.people.by_sign_in(conn, sign_in=name)
    kept = found["password_hash"] if found else NO_PASSWORD
    right = _fits(kept or _NOBODY, password)
    if not (right and kept and found and found["active"]):
        return None
    with begin() as conn:
        guessing.was_right(conn, found["id"], name, came, at)
    return _person(found)


def _fits(password_hash: str, password: str) -> bool:
    try:
        with _hashing:
            return _hasher.verify(password_hash, password)
    except (VerifyMismatchError, InvalidHashError):
        return False


class Session(TypedDict):
    id: int
    address: str
    device: str
    created_at: datetime
    used_at: datetime
    this: bool


def begin_session(conn: Connection, person: Person, address: str, device: str, at: datetime) -> str:
    """A session of somebody who has signed in; the token that its cookie holds. Only its hash is kept."""
    token = secrets.token_hex(32)
    queries.people.begin_session(
        conn,
        token_hash=_token_hash(token),
        person_id=person.id,
        epoch=person.epoch,
        address=address[:64],
        device=device[:120],
        at=at,
    )
    return token


def of_session(conn: Connection, token: str, at: datetime) -> Person | None:
    """The person of a session, None once it has ended, is too old, or the account is closed."""
    found = queries.people.of_session(conn, token_hash=_token_hash(token), since=at - LONGEST_UNUSED)
    row = {} if found is None else json.loads(found)
    if not row.get("active"):
        return None
    if at - datetime.fromisoformat(row["used_at"]) > USED_EVERY:
        # On a full disk people go on reading, and are signed in for as long as it was last written down.
        try:
            queries.people.used_session(conn, session_id=row["session_id"], at=at)
        except pymysql.err.OperationalError as problem:
            if not is_full(problem):
                raise
    return replace(_person(row), session_id=row["session_id"])


def sessions(conn: Connection, person: Person, at: datetime) -> list[Session]:
    """Where this person is signed in, the last used first."""
    rows = queries.people.sessions_of(conn, person_id=person.id, since=at - LONGEST_UNUSED)
    return [cast(Session, {**row, "this": row["id"] == person.session_id}) for row in rows]


def end_session(conn: Connection, person: Person, session_id: int, at: datetime) -> None:
    """Sign out of one of one's own sessions. Raises NotFound."""
    if not queries.people.end_session(conn, session_id=session_id, person_id=person.id, at=at):
        raise NotFound("that session has ended already")


def _token_hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def change_password(begin: Begin, person: Person, old: str, new: str, came: Came, at: datetime) -> None:
    """Raises BadOption if the old one does not fit or the new one is no good, TooSoon. Ends all sessions."""
    if sign_in(begin, person.sign_in, old, came, at) is None:
        raise BadOption("the old password does not fit")
    kept = hashed(new)
    with begin() as conn:
        queries.people.set_password(conn, person_id=person.id, password_hash=kept)
        trail.write(conn, person, "person.password", ("person", person.id), person.name, at)


def set_active(conn: Connection, by: Person, person_id: int, active: bool, at: datetime) -> None:
    """Let a person in or keep them out. Raises NotFound, or Conflict for the last administrator there is."""
    by.must_be("administrator")
    found = queries.people.by_id(conn, person_id=person_id)
    if found is None:
        raise NotFound("there is no such account")
    others = [p for p in queries.people.everyone(conn) if p["role"] == "administrator" and p["active"]]
    if not active and [p["id"] for p in others] == [person_id]:
        raise Conflict("this is the last administrator; make another one first")
    queries.people.set_active(conn, person_id=person_id, active=active)
    if bool(found["active"]) != active:
        action = "person.open" if active else "person.close"
        trail.write(conn, by, action, ("person", person_id), found["name"], at)


def listed(conn: Connection, person: Person) -> list[Account]:
    """All accounts for the administrator; for an instructor the learners who can be brought into a course."""
    person.must_be("administrator", "instructor")
    everyone = [cast(Account, row) for row in queries.people.everyone(conn)]
    if person.role == "administrator":
        return everyone
    return [p for p in everyone if p["role"] == "learner" and p["active"]]


def hand_over(conn: Connection, by: Person, from_id: int, to_id: int, at: datetime) -> None:
    """Every reference and card of one person becomes another instructor's. Raises NotFound."""
    by.must_be("administrator")
    one, other = (queries.people.by_id(conn, person_id=person_id) for person_id in (from_id, to_id))
    if one is None or other is None or other["role"] != "instructor" or not other["active"]:
        raise NotFound("choose an instructor whose account is open, to hand over to")
    count = {
        "references": queries.shelf.hand_over(conn, from_id=from_id, to_id=to_id),
        "cards": queries.cards.hand_over(conn, from_id=from_id, to_id=to_id),
    }
    title = f"{one['name']} to {other['name']}"
    trail.write(conn, by, "person.hand_over", ("person", from_id), title, at, before={}, after=count)
