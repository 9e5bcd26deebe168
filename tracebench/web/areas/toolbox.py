"""The toolbox: small calculations with their working. For everyone who is signed in; they know no capture."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields

from tracebench.core.arithmetic import CALCULATIONS, worked
from tracebench.web import fields as f
from tracebench.web.context import may_be_kept, person

bp = APIBlueprint("toolbox", __name__, url_prefix="/api/calculations", tag="Toolbox")


class CalculationInputOut(Schema):
    key = f.text()
    title = f.text()
    unit = f.text()


class CalculationOut(Schema):
    key = f.text()
    title = f.text()
    rule = f.text()
    unit = f.text(metadata={"description": "of what comes out; empty: that of what goes in"})
    inputs = f.many(CalculationInputOut)


class FiguresIn(Schema):
    figures = fields.Dict(keys=fields.String(), values=fields.String(), required=True)


class WorkedOut(Schema):
    value = f.number()
    unit = f.text()
    lines = f.many(f.text())


@bp.get("")
@bp.output(CalculationOut(many=True))
def calculations() -> list[dict[str, Any]]:
    """What can be worked out, and from which figures."""
    person()
    may_be_kept()
    return [
        {
            "key": c.key,
            "title": c.title,
            "rule": c.rule,
            "unit": c.unit,
            "inputs": [{"key": i.key, "title": i.title, "unit": i.unit} for i in c.inputs],
        }
        for c in CALCULATIONS.values()
    ]


@bp.post("/<key>")
@bp.input(FiguresIn)
@bp.output(WorkedOut)
def work_out(key: str, json_data: dict[str, Any]) -> dict[str, Any]:
    """One calculation with the lines of its working."""
    person()
    made = worked(key, json_data["figures"])
    return {"value": made.value, "unit": made.unit, "lines": list(made.lines)}
