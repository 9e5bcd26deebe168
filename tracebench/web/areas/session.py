"""Sign in, sign out, sign out everywhere, change the password; and people, for the administrator."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema
from flask import g, request, session
from flask_wtf.csrf import generate_csrf

from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases import people
from tracebench.web import fields as f
from tracebench.web.context import now, person, settings, transaction
from tracebench.web.errors import problem

bp = APIBlueprint("session", __name__, url_prefix="/api", tag="Session")


class PersonOut(Schema):
    id = f.whole()
    sign_in = f.text()
    name = f.text()
    role = f.one_of(*people.ROLES)


class SessionOut(Schema):
    person = f.nested(PersonOut, allow_none=True)
    csrf = f.text()


class SignedInOut(Schema):
    id = f.whole()
    address = f.text()
    device = f.text()
    created_at = f.instant()
    used_at = f.instant()
    this = f.flag()


class SignInIn(Schema):
    sign_in = f.text()
    password = f.text()


class FirstIn(Schema):
    token = f.text()
    sign_in = f.text()
    name = f.text()
    password = f.text()


class PasswordIn(Schema):
    old = f.text()
    new = f.text()


class PersonIn(Schema):
    sign_in = f.text()
    name = f.text()
    role = f.one_of(*people.ROLES)
    password = f.text()


class ListedPersonOut(PersonOut):
    active = f.flag()


class ActiveIn(Schema):
    active = f.flag()


@bp.get("/session")
@bp.output(SessionOut)
def who() -> dict[str, Any]:
    """Who is signed in, and the token that changes need."""
    return {"person": g.person, "csrf": generate_csrf()}


@bp.post("/session")
@bp.input(SignInIn)
@bp.output(SessionOut)
def sign_in(json_data: dict[str, Any]) -> Any:
    """Sign in with name and password."""
    found = people.sign_in(transaction, json_data["sign_in"], json_data["password"], request.remote_addr or "", now())
    if found is None:
        return problem(
            401, "Not signed in", "name and password do not fit; check both, capitals matter in the password"
        )
    with transaction() as conn:
        _enter(conn, found)
    return {"person": found, "csrf": generate_csrf()}


@bp.post("/session/first")
@bp.input(FirstIn)
@bp.output(SessionOut)
def first(json_data: dict[str, Any]) -> dict[str, Any]:
    """The first administrator of a new installation, signed in."""
    with transaction() as conn:
        found = people.first(conn, settings().first_run, at=now(), **json_data)
        _enter(conn, found)
    return {"person": found, "csrf": generate_csrf()}


def _enter(conn: Connection, found: people.Person) -> None:
    """Begin a session of this browser's."""
    session.clear()
    session.permanent = True
    device = request.headers.get("User-Agent", "")
    session["token"] = people.begin_session(conn, found, request.remote_addr or "", device, now())
    g.pop("csrf_token", None)


@bp.delete("/session")
@bp.output({}, status_code=204)
def sign_out() -> str:
    """Sign out here: the cookie is worth nothing any more, wherever a copy of it is."""
    if g.person is not None:
        with transaction() as conn:
            people.end_session(conn, g.person, g.person.session_id, now())
    session.clear()
    return ""


@bp.get("/session/all")
@bp.output(SignedInOut(many=True))
def signed_in() -> list[people.Session]:
    """Where this person is signed in."""
    with transaction() as conn:
        return people.sessions(conn, person(), now())


@bp.delete("/session/all/<int:session_id>")
@bp.output(SignedInOut(many=True))
def end_one(session_id: int) -> list[people.Session]:
    """Sign out of one session."""
    with transaction() as conn:
        people.end_session(conn, person(), session_id, now())
        return people.sessions(conn, person(), now())


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
    address = request.remote_addr or ""
    people.change_password(transaction, person(), json_data["old"], json_data["new"], address, now())
    session.clear()
    return ""


@bp.get("/people")
@bp.output(ListedPersonOut(many=True))
def everyone() -> list[dict[str, Any]]:
    """All accounts, for the administrator."""
    person().must_be("administrator")
    with transaction() as conn:
        return list(queries.people.everyone(conn))


@bp.post("/people")
@bp.input(PersonIn)
@bp.output(ListedPersonOut(many=True), status_code=201)
def add_person(json_data: dict[str, Any]) -> list[dict[str, Any]]:
    """A new account."""
    person().must_be("administrator")
    with transaction() as conn:
        people.add(conn, at=now(), **json_data)
        return list(queries.people.everyone(conn))


@bp.patch("/people/<int:person_id>")
@bp.input(ActiveIn)
@bp.output(ListedPersonOut(many=True))
def set_active(person_id: int, json_data: dict[str, Any]) -> list[dict[str, Any]]:
    """Close or open an account; closing ends its sessions. Nothing of it is lost."""
    person().must_be("administrator")
    with transaction() as conn:
        people.set_active(conn, person_id, json_data["active"])
        return list(queries.people.everyone(conn))
