"""Sign in, sign out, sign out everywhere, change the password, choose one by a link."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from flask import g, request, session
from flask_wtf.csrf import generate_csrf

from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts, invitations
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.web import fields as f
from tracebench.web.context import may_be_kept, now, person, reading, settings, transaction
from tracebench.web.device import came_from
from tracebench.web.errors import problem

bp = APIBlueprint("session", __name__, url_prefix="/api", tag="Session")


class PersonOut(Schema):
    id = f.whole()
    sign_in = f.text()
    name = f.text()
    role = f.one_of(*accounts.ROLES)


class SessionOut(Schema):
    person = f.nested(PersonOut, allow_none=True)
    csrf = f.text()
    school = f.text()


class SignedInOut(Schema):
    id = f.whole()
    address = f.text()
    device = f.text()
    created_at = f.instant()
    used_at = f.instant()
    this = f.flag()


class DoneOut(f.Rows):
    id = f.whole()
    at = f.instant()
    who = f.text()
    did = f.text()


class SignInIn(Schema):
    sign_in = f.text()
    password = f.text()


class FirstIn(Schema):
    token = f.text()
    sign_in = f.text()
    name = f.text()
    password = f.text()
    school = fields.String(load_default="")


class PasswordIn(Schema):
    old = f.text()
    new = f.text()


class LinkIn(Schema):
    token = f.text()


class JoinIn(LinkIn):
    password = f.text()


@bp.get("/session")
@bp.output(SessionOut)
def who() -> dict[str, Any]:
    """Who is signed in, and the token that changes need."""
    may_be_kept()
    return _session(g.person)


@bp.post("/session")
@bp.input(SignInIn)
@bp.output(SessionOut)
def sign_in(json_data: dict[str, Any]) -> Any:
    """Sign in with name and password."""
    found = accounts.sign_in(transaction, json_data["sign_in"], json_data["password"], came_from(), now())
    if found is None:
        return problem(
            401, "Not signed in", "name and password do not fit; check both, capitals matter in the password"
        )
    with transaction() as conn:
        _enter(conn, found)
    return _session(found)


@bp.post("/session/first")
@bp.input(FirstIn)
@bp.output(SessionOut)
def first(json_data: dict[str, Any]) -> dict[str, Any]:
    """The first administrator of a new installation, signed in."""
    with transaction() as conn:
        found = accounts.first(conn, settings().first_run, at=now(), **json_data)
        _enter(conn, found)
    return _session(found)


@bp.post("/session/invited")
@bp.input(LinkIn)
@bp.output(PersonOut)
def invited(json_data: dict[str, Any]) -> Person:
    """Whom a link is for."""
    with transaction() as conn:
        return invitations.whose(conn, json_data["token"], now())


@bp.post("/session/join")
@bp.input(JoinIn)
@bp.output(SessionOut)
def join(json_data: dict[str, Any]) -> dict[str, Any]:
    """Choose a password by a link, which signs in and ends the link."""
    found = invitations.use(transaction, json_data["token"], json_data["password"], now())
    with transaction() as conn:
        _enter(conn, found)
    return _session(found)


def _session(found: Person | None) -> dict[str, Any]:
    with reading() as conn:
        school = accounts.school_of(conn)
    return {"person": found, "csrf": generate_csrf(), "school": school}


def _enter(conn: Connection, found: Person) -> None:
    """Begin a session of this browser's."""
    session.clear()
    session.permanent = True
    device = request.headers.get("User-Agent", "")
    session["token"] = accounts.begin_session(conn, found, request.remote_addr or "", device, now())
    g.pop("csrf_token", None)


@bp.delete("/session")
@bp.output({}, status_code=204)
def sign_out() -> str:
    """Sign out here: the cookie is worth nothing any more, wherever a copy of it is."""
    if g.person is not None:
        with transaction() as conn:
            accounts.end_session(conn, g.person, g.person.session_id, now())
    session.clear()
    return ""


@bp.get("/session/all")
@bp.output(SignedInOut(many=True))
def signed_in() -> list[accounts.Session]:
    """Where this person is signed in."""
    with reading() as conn:
        return accounts.sessions(conn, person(), now())


@bp.get("/session/trail")
@bp.output(DoneOut(many=True))
def done_to_it() -> list[trail.Line]:
    """What was done to one's own account, and by whom."""
    with reading() as conn:
        return trail.of_account(conn, person())


@bp.delete("/session/all/<int:session_id>")
@bp.output(SignedInOut(many=True))
def end_one(session_id: int) -> list[accounts.Session]:
    """Sign out of one session."""
    with transaction() as conn:
        accounts.end_session(conn, person(), session_id, now())
        return accounts.sessions(conn, person(), now())


@bp.post("/session/everywhere")
@bp.output({}, status_code=204)
def sign_out_everywhere() -> str:
    """End every session of this person, this one too."""
    with transaction() as conn:
        queries.people.end_sessions(conn, person_id=person().id)
    session.clear()
    return ""


@bp.post("/session/password")
@bp.input(PasswordIn)
@bp.output({}, status_code=204)
def change_password(json_data: dict[str, Any]) -> str:
    """Change the password; every session ends."""
    accounts.change_password(transaction, person(), json_data["old"], json_data["new"], came_from(), now())
    session.clear()
    return ""
