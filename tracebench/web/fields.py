"""Short forms of marshmallow fields: everything answered is required, so that generated types are exact."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from functools import cached_property
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


class Rows(Schema):
    """A schema of long lists, of values that are as they are sent already: what it names, and nothing else, is copied.

    Marshmallow looks at each value of each row; a list of fifty rows took three quarters of its request for that.
    """

    _PLAIN = (fields.String, fields.Integer, fields.Float, fields.Raw, fields.Dict)

    def dump(self, obj: Any, *, many: bool | None = None) -> Any:
        plan = self._plan

        def row(one: Any) -> dict[str, Any]:
            return {key: one[place] if way is None else way(one[place]) for key, place, way in plan}

        return [row(one) for one in obj] if (self.many if many is None else many) else row(obj)

    @cached_property
    def _plan(self) -> list[tuple[str, str, Callable[[Any], Any] | None]]:
        return [(f.data_key or name, f.attribute or name, self._way(f)) for name, f in self.dump_fields.items()]

    def _way(self, field: fields.Field[Any]) -> Callable[[Any], Any] | None:
        """How a field's value is turned into what is sent; None where it is that."""
        if isinstance(field, fields.List):
            inner = self._way(field.inner)
            return None if inner is None else lambda values: [inner(v) for v in values]
        if isinstance(field, fields.Nested):
            schema = field.schema
            return lambda value: None if value is None else schema.dump(value, many=field.many)
        if isinstance(field, self._PLAIN):
            return None
        return lambda value: field._serialize(value, None, None)


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


FROM: dict[str, Any] = {"data_key": "from", "attribute": "from"}
TO: dict[str, Any] = {"data_key": "to", "attribute": "to"}
