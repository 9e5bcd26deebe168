"""A grade as the marking desk and the learner's feedback show it."""

from __future__ import annotations

from apiflask import Schema, fields

from tracebench.web import fields as f


class StretchOut(Schema):
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    lane = f.text(allow_none=True)


class ChangedOut(Schema):
    reason = f.text()
    author = f.text()
    at = f.instant()


class ResultOut(Schema):
    criterion = f.text()
    title = f.text()
    skill = f.text()
    step = f.text(allow_none=True)
    points = f.number()
    earned = f.number()
    settled = f.number()
    certainty = f.number()
    reason = f.text()
    slip = f.text(allow_none=True)
    stretches = f.many(StretchOut)
    changed = f.nested(ChangedOut, allow_none=True)


class CommentOut(Schema):
    """What an instructor pinned to a learner's trace."""

    id = f.whole()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    words = f.text()
    author = f.text()


class SumOut(Schema):
    points = f.number()
    earned = f.number()


class GradeOut(Schema):
    points = f.number()
    earned = f.number()
    trace = f.nested(SumOut)
    around = f.nested(SumOut)
    certainty = f.number()
    results = f.many(ResultOut)


class RuledOutBody(Schema):
    cause = f.text()
    by = fields.List(fields.Float(), metadata={"description": "the stretch or instant that shows it, seconds"})


class AnswerBody(Schema):
    """One step's answer; which fields count depends on the kind of step."""

    read = fields.List(fields.String())
    note = fields.String()
    ground = fields.String()
    value = fields.Float(allow_none=True)
    pegs = fields.List(fields.Float())
    absent = fields.Boolean()
    state = fields.String()
    lane = fields.String()
    verdict = fields.String()
    cause = fields.String()
    next_test = fields.String()
    evidence = fields.List(fields.List(fields.Float()))
    confidence = fields.Float()
    ruled_out = fields.List(fields.Nested(RuledOutBody))
    otherwise = fields.String()
    words = fields.String()
    figures = fields.Dict(keys=fields.String(), values=fields.Float())
    marks = fields.Dict(keys=fields.String(), values=fields.List(fields.Float()))
    wires = fields.Dict(keys=fields.String(), values=fields.String())
    probe = fields.String()
    trigger_level = fields.Float()
    range_v = fields.Float()
    duration_s = fields.Float()
    rate_hz = fields.Float()
    rows = fields.List(fields.Dict(keys=fields.String(), values=fields.String()))
