"""Accounts: one by one or as a table, each with a link by which its person chooses a password."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields

from tracebench.usecases.people import accounts, invitations, pasted
from tracebench.usecases.people.person import Account
from tracebench.web import fields as f
from tracebench.web.areas.session import PersonOut
from tracebench.web.context import now, person, reading, transaction

bp = APIBlueprint("people", __name__, url_prefix="/api/people", tag="People")


class PersonIn(Schema):
    sign_in = f.text()
    name = f.text()
    role = f.one_of(*accounts.ROLES)


class ListedPersonOut(PersonOut):
    active = f.flag()
    invited = f.flag()


class ActiveIn(Schema):
    active = f.flag()


class HandOverIn(Schema):
    to_id = f.whole()


class LinkOut(Schema):
    """What follows `/join#` in the link; it is shown this once and kept nowhere."""

    token = f.text()


class TableIn(Schema):
    text = f.text()
    course_id = fields.Integer(load_default=None, allow_none=True)
    keep = f.flag()


class TableRowOut(Schema):
    line = f.whole()
    name = f.text()
    sign_in = f.text()
    role = f.text()
    state = f.one_of("new", "known", "wrong")
    problem = f.text()
    token = f.text(allow_none=True)


@bp.get("")
@bp.output(ListedPersonOut(many=True))
def everyone() -> list[Account]:
    """All accounts for the administrator; the learners who can be brought in for an instructor."""
    with reading() as conn:
        return accounts.listed(conn, person())


@bp.post("")
@bp.input(PersonIn)
@bp.output(LinkOut, status_code=201)
def add_person(json_data: dict[str, Any]) -> dict[str, Any]:
    """A new account, and the link by which its person chooses a password."""
    person().must_be("administrator")
    with transaction() as conn:
        person_id = accounts.add(conn, password=None, at=now(), by=person(), **json_data)
        return {"token": invitations.make(conn, person(), person_id, now())}


@bp.post("/table")
@bp.input(TableIn)
@bp.output(TableRowOut(many=True))
def table(json_data: dict[str, Any]) -> list[pasted.TableRow]:
    """Look at a pasted table row by row; with `keep`, bring everybody in, with a link for each."""
    with transaction() as conn:
        if json_data["keep"]:
            return pasted.keep(conn, person(), json_data["text"], json_data["course_id"], now())
        return pasted.checked(conn, person(), json_data["text"], json_data["course_id"])


@bp.patch("/<int:person_id>")
@bp.input(ActiveIn)
@bp.output(ListedPersonOut(many=True))
def set_active(person_id: int, json_data: dict[str, Any]) -> list[Account]:
    """Close or open an account; closing ends its sessions. Nothing of it is lost."""
    with transaction() as conn:
        accounts.set_active(conn, person(), person_id, json_data["active"], now())
        return accounts.listed(conn, person())


@bp.post("/<int:person_id>/link")
@bp.output(LinkOut, status_code=201)
def link(person_id: int) -> dict[str, Any]:
    """A new link by which a person chooses a password; older ones end."""
    with transaction() as conn:
        return {"token": invitations.make(conn, person(), person_id, now())}


@bp.post("/<int:person_id>/hand-over")
@bp.input(HandOverIn)
@bp.output({}, status_code=204)
def hand_over(person_id: int, json_data: dict[str, Any]) -> str:
    """Every reference and card of a person becomes another instructor's."""
    with transaction() as conn:
        accounts.hand_over(conn, person(), person_id, json_data["to_id"], now())
    return ""
