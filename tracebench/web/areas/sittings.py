"""A learner's sittings. What a response may hold before release is decided in the use cases."""

from __future__ import annotations

from typing import Any, cast

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length

from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import beside
from tracebench.usecases.school import disk
from tracebench.usecases.shelf.corridors import Laid
from tracebench.usecases.shelf.parades import Parade
from tracebench.usecases.shelf.recordings import TrainerSettings
from tracebench.usecases.sitting import recording, sittings
from tracebench.usecases.sitting.records import RecordShown
from tracebench.usecases.sitting.sittings import MeterFigure, OwnSitting, TimeLeft
from tracebench.web import fields as f
from tracebench.web.areas.answer_schemas import (
    AnswerOut,
    AnswerPhaseOut,
    BesideReferenceOut,
    CorridorOut,
    ParadeOut,
)
from tracebench.web.areas.captures import RecordIn
from tracebench.web.areas.cards import StepBody
from tracebench.web.areas.grade_schemas import AnswerBody, CommentOut, GradeOut
from tracebench.web.areas.jobs import JobOut
from tracebench.web.areas.records import RecordKeepIn, RecordOut
from tracebench.web.areas.shelf import MadeOut
from tracebench.web.context import may_be_kept, now, person, reading, settings, transaction

bp = APIBlueprint("sittings", __name__, url_prefix="/api", tag="Sittings")


class ShownStepOut(StepBody):
    """A step as its learner sees it; a locked one shows its kind alone."""

    locked = f.flag()
    has_hint = f.flag()


class ShownLimitOut(Schema):
    reading = f.text()
    low = f.number(allow_none=True)
    high = f.number(allow_none=True)
    basis = f.one_of("maker", "own-fleet", "common-practice")
    zone = f.number()
    source = f.text()


class ShownSchoolOut(Schema):
    key = f.text()
    title = f.text()
    way = f.text()
    says = f.text()


class ShownSourceOut(Schema):
    kind = f.one_of("trainer", "upload", "shelf")
    vehicle = fields.String()


class ShownCardOut(Schema):
    circuit = f.text()
    title = f.text()
    brief = f.text()
    source = f.nested(ShownSourceOut)
    complaint = f.text()
    schools = f.many(ShownSchoolOut)
    cautions = f.many(f.text())
    attempts = f.whole()
    due = f.text(allow_none=True)
    minutes = f.whole(allow_none=True)
    practice = f.flag()
    steps = f.many(ShownStepOut)
    limits = f.many(ShownLimitOut)


class UnansweredOut(Schema):
    step = f.text()
    what = f.text()


class ComparedBesideOut(Schema):
    step = f.text()
    capture_id = f.whole()


class FeedbackOut(Schema):
    grade = f.nested(GradeOut)
    measured = f.nested(AnswerOut, allow_none=True)
    reference_capture_id = f.whole(allow_none=True)
    reference_title = f.text(allow_none=True)
    reference_phases = f.many(AnswerPhaseOut)
    beside_reference = f.many(BesideReferenceOut)
    records = f.many(RecordOut)
    comments = f.many(CommentOut)


class HintIn(Schema):
    step = f.text(validate=Length(1, 120))


class SecondLookIn(Schema):
    words = f.text(validate=Length(1, 1000))


class SecondLookOut(Schema):
    words = f.text()
    asked_at = f.instant()
    answered_at = f.instant(allow_none=True)


class SittingOut(Schema):
    id = f.whole()
    card_id = f.whole()
    attempt = f.whole()
    trial = f.flag()
    state = f.one_of("open", "handed_in", "released")
    capture_id = f.whole(allow_none=True)
    card = f.nested(ShownCardOut)
    answers = fields.Dict(keys=fields.String(), values=fields.Nested(AnswerBody), required=True)
    unanswered = f.many(UnansweredOut)
    beside = f.many(ComparedBesideOut, metadata={"description": "what comparing steps show beneath the trace"})
    revision = f.whole()
    started_at = f.instant()
    saved_at = f.instant()
    handed_in_at = f.instant(allow_none=True)
    released_at = f.instant(allow_none=True)
    ends_at = f.instant(allow_none=True, metadata={"description": "when the time is up"})
    practice = f.flag(metadata={"description": "the tool's own marks, told at once; they count for nothing"})
    may_try_again = f.flag()
    feedback = f.nested(FeedbackOut, allow_none=True)
    second_look = f.nested(SecondLookOut, allow_none=True)
    feedback_waits = f.flag(metadata={"description": "another attempt is open: what was told is shown after it"})
    marks_job = f.nested(JobOut, allow_none=True)


class RecordedOut(Schema):
    """The sitting, and the job that still records where that takes long."""

    sitting = f.nested(SittingOut)
    job = f.nested(JobOut, allow_none=True)


class SittingItemOut(f.Rows):
    id = f.whole()
    card_id = f.whole()
    title = f.text()
    attempt = f.whole()
    trial = f.flag()
    state = f.one_of("open", "handed_in", "released")
    due = f.text(allow_none=True)
    started_at = f.instant()
    saved_at = f.instant()
    handed_in_at = f.instant(allow_none=True)
    released_at = f.instant(allow_none=True)
    practice = f.flag()
    earned = f.number(allow_none=True)
    points = f.number(allow_none=True)


class AnswerIn(Schema):
    step = f.text()
    answer = f.nested(AnswerBody)
    revision = f.whole()


class UseCaptureIn(Schema):
    capture_id = f.whole()


class MeterFigureOut(Schema):
    at_s = f.number()
    volts = f.number()


class TimeOut(Schema):
    state = f.one_of("open", "handed_in", "released")
    ends_at = f.instant(allow_none=True)


class HandInIn(Schema):
    incomplete_ok = f.flag()


@bp.get("/sittings")
@bp.output(SittingItemOut(many=True))
def listed() -> list[sittings.SittingItem]:
    """The person's own sittings."""
    with reading() as conn:
        return sittings.listed(conn, person())


@bp.post("/cards/<int:card_id>/sittings")
@bp.output(MadeOut, status_code=201)
def start(card_id: int) -> dict[str, Any]:
    """Begin a card, or go on with the sitting that is open. An instructor's is a trial."""
    with transaction() as conn:
        return {"id": sittings.start(conn, person(), card_id, now())}


@bp.get("/sittings/<int:sitting_id>/parade")
@bp.output(ParadeOut)
def events_laid_over(sitting_id: int) -> Parade:
    """The events of one's own released sitting laid over each other."""
    with transaction() as conn:
        return beside.parade(conn, person(), sitting_id, beside.RELEASED)


@bp.get("/sittings/<int:sitting_id>/corridor")
@bp.output(CorridorOut)
def corridor(sitting_id: int) -> Laid:
    """The band that sound ones stay within, along one's own trace of a released sitting."""
    return beside.corridor(transaction, person(), sitting_id, beside.RELEASED_IN_COURSE)


@bp.get("/sittings/<int:sitting_id>")
@bp.output(SittingOut)
def one(sitting_id: int) -> OwnSitting:
    """A sitting of one's own; from the first time its marks are shown a release is not taken back unasked."""
    with transaction() as conn:
        shown = sittings.one(conn, person(), sitting_id)
        if shown["feedback"] is not None:
            sittings.see(conn, person(), sitting_id, now())
        if shown["state"] == "open":
            may_be_kept()
        return shown


@bp.post("/sittings/<int:sitting_id>/hint")
@bp.input(HintIn)
@bp.output(SittingOut)
def take_hint(sitting_id: int, json_data: dict[str, Any]) -> OwnSitting:
    """Take a step's hint, which costs part of its points."""
    with transaction() as conn:
        return sittings.take_hint(conn, person(), sitting_id, json_data["step"], now())


@bp.post("/sittings/<int:sitting_id>/second-look")
@bp.input(SecondLookIn)
@bp.output(SittingOut)
def ask_again(sitting_id: int, json_data: dict[str, Any]) -> OwnSitting:
    """Ask the instructor for a second look at released marks."""
    with transaction() as conn:
        return sittings.ask_again(conn, person(), sitting_id, json_data["words"], now())


@bp.put("/sittings/<int:sitting_id>/answer")
@bp.input(AnswerIn)
@bp.output(SittingOut)
def save_answer(sitting_id: int, json_data: dict[str, Any]) -> OwnSitting:
    """Save one step's answer."""
    with transaction() as conn:
        return sittings.save_answer(
            conn, person(), sitting_id, json_data["step"], json_data["answer"], json_data["revision"], now()
        )


@bp.post("/sittings/<int:sitting_id>/record")
@bp.input(RecordIn)
@bp.output(RecordedOut)
def record(sitting_id: int, json_data: dict[str, Any]) -> dict[str, Any]:
    """Take the capture on the trainer; a long record is made by a job."""
    disk.check_reserve(settings().uploads)
    return recorded(
        sitting_id, recording.for_sitting(transaction, person(), sitting_id, cast(TrainerSettings, json_data), now())
    )


def recorded(sitting_id: int, job: queue.Job | None) -> dict[str, Any]:
    """The sitting with what was recorded for it, or as it stands while a job still does that."""
    with transaction() as conn:
        return {"sitting": sittings.one(conn, person(), sitting_id), "job": job}


@bp.post("/sittings/<int:sitting_id>/capture")
@bp.input(UseCaptureIn)
@bp.output(SittingOut)
def use_capture(sitting_id: int, json_data: dict[str, Any]) -> OwnSitting:
    """Work with an imported capture."""
    with transaction() as conn:
        return sittings.use_capture(conn, person(), sitting_id, json_data["capture_id"], now())


@bp.get("/sittings/<int:sitting_id>/records")
@bp.output(RecordOut(many=True))
def records_of(sitting_id: int) -> list[RecordShown]:
    """Records typed in a sitting; what they say is told once it is released."""
    with reading() as conn:
        return sittings.records_of(conn, person(), sitting_id)


@bp.get("/sittings/<int:sitting_id>/time")
@bp.output(TimeOut)
def time_of(sitting_id: int) -> TimeLeft:
    """When the time of one's own sitting is up: an instructor may have given more."""
    with reading() as conn:
        return sittings.time_of(conn, person(), sitting_id)


@bp.get("/sittings/<int:sitting_id>/meter")
@bp.output(MeterFigureOut(many=True))
def meter_along(sitting_id: int) -> list[MeterFigure]:
    """What a workshop meter on the signal's wire showed during the sitting's capture."""
    with transaction() as conn:
        return sittings.meter_along(conn, person(), sitting_id)


@bp.post("/sittings/<int:sitting_id>/records")
@bp.input(RecordKeepIn)
@bp.output(RecordOut(many=True), status_code=201)
def add_record(sitting_id: int, json_data: dict[str, Any]) -> list[RecordShown]:
    """Keep a record with the sitting's capture; answers all of them."""
    with transaction() as conn:
        return sittings.add_record(conn, person(), sitting_id, at=now(), **json_data)


@bp.delete("/sittings/<int:sitting_id>/records/<int:record_id>")
@bp.output(RecordOut(many=True), status_code=200)
def take_record_away(sitting_id: int, record_id: int) -> list[RecordShown]:
    """Take a record away; answers those that are left."""
    with transaction() as conn:
        return sittings.take_record_away(conn, person(), sitting_id, record_id, now())


@bp.post("/sittings/<int:sitting_id>/hand-in")
@bp.input(HandInIn)
@bp.output(SittingOut)
def hand_in(sitting_id: int, json_data: dict[str, Any]) -> OwnSitting:
    """Hand in; the marks are worked out by a job, and show after release."""
    with transaction() as conn:
        return sittings.hand_in(conn, person(), sitting_id, json_data["incomplete_ok"], now())
