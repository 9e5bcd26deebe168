"""One-time links by which people choose their own password: when they are brought in, and when they forgot it."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotAllowed, NotFound
from tracebench.usecases.people.accounts import hashed
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail

LASTS = timedelta(days=14)


def make(conn: Connection, by: Person | None, person_id: int, at: datetime) -> str:
    """The token of a new link for a person; older ones end. Only its hash is kept.

    An administrator, or the command line, makes one for anybody; an instructor only for a learner whom they brought in
    themselves, who has not chosen a password yet and stands in nobody else's course, so that no account is taken over
    by a link. Raises NotFound, NotAllowed.
    """
    found = queries.people.by_id(conn, person_id=person_id)
    if found is None or not found["active"]:
        raise NotFound("there is no such account, or it is closed")
    if by is not None and by.role != "administrator":
        by.must_be("instructor", "administrator")
        if found["role"] != "learner" or found["added_by"] != by.id:
            raise NotFound("there is no such learner whom you brought in; the administrator makes a link for others")
        if not found["invited"]:
            raise NotAllowed("this learner has a password already; the administrator makes a link for a new one")
        if not may_make(conn, by, found):
            raise NotAllowed("this learner is in another instructor's course too; the administrator makes a link")
    token = secrets.token_urlsafe(24)
    queries.people.end_invitations(conn, person_id=person_id)
    queries.people.invite(conn, token_hash=_hash(token), person_id=person_id, at=at, ends_at=at + LASTS)
    trail.write(conn, by, "person.invite", ("person", person_id), found["name"], at)
    return token


def may_make(conn: Connection, by: Person, of: Mapping[str, Any]) -> bool:
    """Whether somebody may make a link for a person (a row with id, role, active, invited and added_by)."""
    if not of["active"] or by.role == "administrator":
        return bool(of["active"])
    brought_in = by.role == "instructor" and of["role"] == "learner" and of["added_by"] == by.id
    return (
        brought_in and bool(of["invited"]) and not queries.courses.elsewhere(conn, asker_id=by.id, person_id=of["id"])
    )


def whose(conn: Connection, token: str, at: datetime) -> Person:
    """Whom a link is for. Raises NotFound once it was used or is too old."""
    found = queries.people.invited(conn, token_hash=_hash(token), at=at)
    if found is None or not found["active"]:
        raise NotFound("this link was used already or is too old; ask for a new one")
    return Person(found["person_id"], found["sign_in"], found["name"], found["role"], found["session_epoch"])


def use(begin: Begin, token: str, password: str, at: datetime) -> Person:
    """Choose the password: the person, who is signed in by it; their other sessions end. Raises BadOption, NotFound."""
    with begin() as conn:
        whose(conn, token, at)
    kept = hashed(password)
    with begin() as conn:
        found = queries.people.invited(conn, token_hash=_hash(token), at=at)
        person = whose(conn, token, at)
        queries.people.use_invitation(conn, invitation_id=found["id"] if found else 0, at=at)
        queries.people.set_password(conn, person_id=person.id, password_hash=kept)
        trail.write(conn, person, "person.password", ("person", person.id), person.name, at)
    return replace(person, epoch=person.epoch + 1)


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
