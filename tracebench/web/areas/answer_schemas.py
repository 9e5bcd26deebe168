"""The core's answer as the readings contract spells it."""

from __future__ import annotations

from apiflask import Schema, fields

from tracebench.web import fields as f


class AnswerPhaseOut(Schema):
    name = f.text()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    cycle = f.whole(allow_none=True)


class AnswerReadingOut(Schema):
    id = f.text()
    value = f.number()
    unit = f.text()
    uncertainty = f.number()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    lane = f.text(allow_none=True)
    cylinder = f.whole(allow_none=True)
    cycle = f.whole(allow_none=True)


class AnswerLimitOut(Schema):
    reading = f.text()
    low = f.number(allow_none=True)
    high = f.number(allow_none=True)
    basis = f.one_of("maker", "own-fleet", "common-practice")
    zone = f.number(dump_default=0.0)
    condemns = f.flag(dump_default=True)
    source = f.text(dump_default="")
    when = f.text(dump_default="")
    state = f.one_of("inside", "marginal", "outside")
    decides = f.flag()
    says = f.text(dump_default="")


class AnswerFindingOut(Schema):
    code = f.text()
    kind = f.one_of("fault", "set-up", "note")
    lane = f.text(allow_none=True)
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    cylinder = f.whole(allow_none=True)
    value = f.number(allow_none=True)
    unit = f.text(allow_none=True)
    text = f.text()
    places = f.many(fields.List(fields.Float()), dump_default=[])
    count = f.whole(dump_default=1)
    hides = f.flag(dump_default=False)


class AnswerLaneOut(Schema):
    lane = f.text()
    unit = f.text()
    column = f.text()
    factor = f.number()


class AnswerCaptureOut(Schema):
    samples = f.whole()
    rate_hz = f.number()
    duration_s = f.number()
    lanes = f.many(AnswerLaneOut)


class AnswerMissingOut(Schema):
    reading = f.text()
    why = f.text()


class AnswerEventOut(Schema):
    number = f.whole()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    cylinder = f.whole(allow_none=True)
    unusual = f.number()
    by = f.text()


class AnswerOut(Schema):
    circuit = f.text()
    engine = f.text()
    capture = f.nested(AnswerCaptureOut)
    phases = f.many(AnswerPhaseOut)
    readings = f.many(AnswerReadingOut)
    limits = f.many(AnswerLimitOut)
    findings = f.many(AnswerFindingOut)
    call = f.one_of("sound", "faulty", "inconclusive")
    because = f.many(f.text())
    shown = f.many(f.text(), dump_default=[])
    missing = f.many(AnswerMissingOut)


class AnswerWithEventsOut(AnswerOut):
    events = f.many(AnswerEventOut)


class EventCourseOut(AnswerEventOut):
    values = fields.List(fields.Float(allow_none=True), required=True)


class ParadeOut(Schema):
    lane = f.text()
    title = f.text()
    unit = f.text()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    total = f.whole()
    courses = f.many(EventCourseOut)


class BesideReferenceOut(Schema):
    """One cylinder's reading beside what the reference's same cylinder leads one to expect."""

    reading = f.text()
    unit = f.text()
    cylinder = f.whole()
    value = f.number()
    expected = f.number()
    apart = f.number()
    told = f.flag()


class CorridorPieceOut(f.Rows):
    """The corridor along one stretch, in even parts of it."""

    lane = f.text()
    name = f.text()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    low = f.many(fields.Float())
    high = f.many(fields.Float())
    outside = f.many(fields.List(fields.Float()), metadata={"description": "stretches that leave it: from, to"})
    of_fleet = f.flag()


class CorridorOut(Schema):
    pieces = f.many(CorridorPieceOut)
    captures = f.whole()
    coverage = f.number(allow_none=True)
    inside = f.whole()
    words = f.text()
