"""Short forms of marshmallow fields: everything answered is required, so that generated types are exact."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from apiflask import Schema, fields
from apiflask.validators import OneOf


class Instant(fields.DateTime):
    """A UTC instant; the database keeps it without a mark, the API says Z."""

    def _serialize(self, value: Any, attr: str | None, obj: Any, **kwargs: Any) -> str | None:
        if isinstance(value, datetime):
            return value.replace(tzinfo=UTC).isoformat().replace("+00:00", "Z")
        return None


class Flag(fields.Boolean):
    """True or false, also where the database answers 0 or 1."""

    def _serialize(self, value: Any, attr: str | None, obj: Any, **kwargs: Any) -> bool | None:
        return None if value is None else bool(value)


def text(**kw: Any) -> fields.String:
    return fields.String(required=True, **kw)


def whole(**kw: Any) -> fields.Integer:
    return fields.Integer(required=True, **kw)


def number(**kw: Any) -> fields.Float:
    return fields.Float(required=True, **kw)


def flag(**kw: Any) -> Flag:
    return Flag(required=True, **kw)


def instant(**kw: Any) -> Instant:
    return Instant(required=True, **kw)


def nested(schema: type[Schema], **kw: Any) -> fields.Nested:
    return fields.Nested(schema, required=True, **kw)


def many(of: Any, **kw: Any) -> fields.List[Any]:
    """A list of a schema or of a field."""
    inner = fields.Nested(of) if isinstance(of, type) else of
    return fields.List(inner, required=True, **kw)


def one_of(*choices: str, **kw: Any) -> fields.String:
    allowed = (*choices, None) if kw.get("allow_none") else choices
    return fields.String(required=kw.pop("required", True), validate=OneOf(allowed), **kw)


FROM = {"data_key": "from", "attribute": "from"}
TO = {"data_key": "to", "attribute": "to"}
