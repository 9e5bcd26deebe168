"""The marking desk."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length, Range

from tracebench.usecases.marking import beside, comments, grading, regrading, second_marking
from tracebench.usecases.marking import desk as desk_of
from tracebench.usecases.marking.desk import DecidedAlike, ReleasedMany
from tracebench.usecases.marking.regrading import Regrading
from tracebench.usecases.marking.second_marking import AgreedInCourse, UnseenSheet, WaitsForSecond
from tracebench.usecases.marking.values import MarkSheet
from tracebench.usecases.shelf.corridors import Laid
from tracebench.usecases.shelf.parades import Parade
from tracebench.web import fields as f
from tracebench.web.areas.answer_schemas import (
    AnswerOut,
    AnswerPhaseOut,
    BesideReferenceOut,
    CorridorOut,
    ParadeOut,
)
from tracebench.web.areas.cards import CardBody
from tracebench.web.areas.grade_schemas import AnswerBody, CommentOut, GradeOut
from tracebench.web.areas.records import RecordOut
from tracebench.web.context import now, person, reading, transaction

bp = APIBlueprint("marking", __name__, url_prefix="/api", tag="Marking desk")


class DeskItemOut(f.Rows):
    id = f.whole()
    learner = f.text()
    card_id = f.whole()
    title = f.text()
    attempt = f.whole()
    state = f.one_of("handed_in", "released")
    earned = f.number(allow_none=True)
    points = f.number(allow_none=True)
    certainty = f.number(allow_none=True)
    unsure = f.many(f.text())
    slips = f.many(f.text())
    alike = f.flag()
    asked = f.text(allow_none=True, metadata={"description": "what the learner wants looked at again"})
    reasons = f.many(f.text(), metadata={"description": "why it is looked at by itself"})
    clear = f.flag(metadata={"description": "nothing in particular: may be released with others like it"})
    sample = f.flag(metadata={"description": "of the clear ones, to be checked before they are released"})
    handed_in_at = f.instant()
    released_at = f.instant(allow_none=True)


class LikenessOut(Schema):
    """What a sitting has in common with another, with the shelf or with the trainer: a note, never a deduction."""

    kind = f.text()
    about = f.text()
    sitting_id = f.whole(allow_none=True)
    learner = f.text(allow_none=True)
    reference_id = f.whole(allow_none=True)
    reference = f.text(allow_none=True)
    capture_id = f.whole(allow_none=True)
    given_to = f.text(allow_none=True, metadata={"description": "whom the trainer gave that capture"})


class SecondOut(Schema):
    """A second marker's marks by criterion, empty until they are given."""

    marker = f.text()
    asked_at = f.instant()
    done_at = f.instant(allow_none=True)
    words = f.text()
    marks = fields.Dict(keys=fields.String(), values=fields.Float(), required=True)


class SheetOut(Schema):
    """What whoever marks a sitting sees of it: trace, answers, the tool's marks, the reference."""

    id = f.whole()
    capture_id = f.whole(allow_none=True)
    card = f.nested(CardBody)
    answers = fields.Dict(keys=fields.String(), values=fields.Nested(AnswerBody), required=True)
    grade = f.nested(GradeOut)
    measured = f.nested(AnswerOut, allow_none=True)
    reference_capture_id = f.whole(allow_none=True)
    reference_title = f.text(allow_none=True)
    reference_phases = f.many(AnswerPhaseOut)
    beside_reference = f.many(BesideReferenceOut)
    records = f.many(RecordOut)


class SecondSheetOut(SheetOut):
    """A sitting for its second marker: not whose it is, whose it is like, nor what was decided."""

    alike = f.many(fields.String(metadata={"description": "what it has in common with another sitting"}))


class MarkSheetOut(SheetOut):
    """A sitting at the desk: whose it is, and what was decided."""

    learner_id = f.whole()
    learner = f.text()
    card_id = f.whole()
    course_id = f.whole()
    practice = f.flag(metadata={"description": "the tool's own marks, told at once; they count for nothing"})
    ends_at = f.instant(allow_none=True)
    attempt = f.whole()
    state = f.one_of("handed_in", "released")
    engine = f.text()
    likenesses = f.many(LikenessOut)
    comments = f.many(CommentOut)
    second = f.nested(SecondOut, allow_none=True)
    handed_in_at = f.instant()
    released_at = f.instant(allow_none=True)


class ChangeIn(Schema):
    criterion = f.text()
    earned = f.number()
    reason = f.text()
    stood = fields.Float(load_default=None, allow_none=True)


class CommentIn(Schema):
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    words = f.text(validate=Length(1, 1000))


class SecondMarkerIn(Schema):
    marker_id = f.whole()


class SecondWaitingOut(f.Rows):
    id = f.whole()
    title = f.text()
    asker = f.text()
    asked_at = f.instant()


class SecondMarksIn(Schema):
    marks = fields.Dict(keys=fields.String(), values=fields.Float(), required=True)
    words = fields.String(load_default="", validate=Length(max=1000))


class CriterionAgreementOut(Schema):
    title = f.text()
    decisions = f.whole()
    same = f.whole()
    kappa = f.number(allow_none=True)


class AgreementOut(Schema):
    """Cohen's weighted kappa of second markers with what stands; None of too few decisions."""

    sittings = f.whole()
    decisions = f.whole()
    same = f.whole()
    kappa = f.number(allow_none=True)
    criteria = f.many(CriterionAgreementOut)


class ReleaseIn(Schema):
    ids = f.many(fields.Integer(), validate=Length(1, desk_of.MOST_AT_ONCE))


class RefusedOut(Schema):
    id = f.whole()
    why = f.text()


class ReleasedOut(Schema):
    released = f.many(fields.Integer())
    refused = f.many(RefusedOut)


class TakeBackIn(Schema):
    why = fields.String(load_default="", validate=Length(max=1000))


class AlikeDecisionsIn(Schema):
    criterion = f.text(validate=Length(1, 120))


class AlikeDecisionOut(Schema):
    id = f.whole()
    learner = f.text()
    settled = f.number()
    reason = f.text()


class ChangeAlikeIn(Schema):
    criterion = f.text()
    earned = f.number()
    reason = f.text()
    also = f.many(fields.Integer(), validate=Length(1, desk_of.MOST_AT_ONCE))


class RegradeIn(Schema):
    newest = fields.Boolean(
        load_default=False, metadata={"description": "by the newest version of each card: its limits, points, rubric"}
    )


class RegradeTakeIn(Schema):
    run_id = f.whole()
    ids = f.many(fields.Integer(), validate=Length(1, 500))
    why = f.text(validate=Length(1, 1000))


class RegradeChangeOut(f.Rows):
    criterion = f.text()
    title = f.text()
    from_ = f.number(allow_none=True, **f.FROM)
    to = f.number(allow_none=True, **f.TO)
    reason = f.text()


class RegradeRowOut(f.Rows):
    sitting_id = f.whole()
    learner = f.text()
    title = f.text()
    attempt = f.whole()
    state = f.one_of("handed_in", "released")
    changes = f.many(RegradeChangeOut)
    problem = f.text(allow_none=True)
    taken_at = f.instant(allow_none=True)


class RegradeOut(Schema):
    id = f.whole()
    newest = f.flag()
    engine = f.text()
    author = f.text()
    total = f.whole()
    done = f.whole()
    created_at = f.instant()
    rows = f.many(RegradeRowOut)


class DeskIn(Schema):
    released = fields.Integer(load_default=desk_of.RELEASED_SHOWN, validate=Range(0, 2000))


@bp.get("/courses/<int:course_id>/desk")
@bp.input(DeskIn, location="query")
@bp.output(DeskItemOut(many=True))
def desk(course_id: int, query_data: dict[str, Any]) -> list[desk_of.DeskEntry]:
    """Sittings handed in, least certain first, then the last of those released."""
    with reading() as conn:
        return desk_of.desk(conn, person(), course_id, query_data["released"])


@bp.post("/courses/<int:course_id>/regrade")
@bp.input(RegradeIn)
@bp.output(RegradeOut, status_code=202)
def regrade(course_id: int, json_data: dict[str, Any]) -> Regrading:
    """Compare all marks of a course with what would be given now; nothing changes by it."""
    with transaction() as conn:
        return regrading.begin_run(conn, person(), course_id, json_data["newest"], now())


@bp.get("/courses/<int:course_id>/regrade")
@bp.output(RegradeOut)
def regraded(course_id: int) -> Regrading:
    """The newest comparison: how far it is, and whose marks would change."""
    with transaction() as conn:
        return regrading.run(conn, person(), course_id)


@bp.post("/courses/<int:course_id>/regrade/take")
@bp.input(RegradeTakeIn)
@bp.output(RegradeOut)
def take_regraded(course_id: int, json_data: dict[str, Any]) -> Regrading:
    """Let marks of a comparison stand, with a reason."""
    with transaction() as conn:
        return regrading.take_over(conn, person(), course_id, at=now(), **json_data)


@bp.post("/marking/release")
@bp.input(ReleaseIn)
@bp.output(ReleasedOut)
def release_many(json_data: dict[str, Any]) -> ReleasedMany:
    """Let the learners of several see them."""
    return desk_of.release_many(transaction, person(), json_data["ids"], now())


@bp.post("/marking/<int:sitting_id>/take-back")
@bp.input(TakeBackIn)
@bp.output(MarkSheetOut)
def take_back(sitting_id: int, json_data: dict[str, Any]) -> MarkSheet:
    """Undo a release until the learner has seen it, or as the second look they asked for."""
    with transaction() as conn:
        return desk_of.take_back(conn, person(), sitting_id, json_data["why"], now())


@bp.get("/marking/<int:sitting_id>/alike")
@bp.input(AlikeDecisionsIn, location="query")
@bp.output(AlikeDecisionOut(many=True))
def decided_alike(sitting_id: int, query_data: dict[str, Any]) -> list[DecidedAlike]:
    """Sittings that wait where a criterion was decided as here."""
    with transaction() as conn:
        return desk_of.alike_decisions(conn, person(), sitting_id, query_data["criterion"])


@bp.post("/marking/<int:sitting_id>/changes/alike")
@bp.input(ChangeAlikeIn)
@bp.output(MarkSheetOut)
def change_alike(sitting_id: int, json_data: dict[str, Any]) -> MarkSheet:
    """Make the same change in sittings decided alike."""
    with transaction() as conn:
        return desk_of.change_alike(conn, person(), sitting_id, at=now(), **json_data)


@bp.get("/marking/<int:sitting_id>/parade")
@bp.output(ParadeOut)
def events_laid_over(sitting_id: int) -> Parade:
    """The events of a handed-in capture laid over each other, aligned by their starts."""
    with transaction() as conn:
        return beside.parade(conn, person(), sitting_id, beside.AT_THE_DESK)


@bp.get("/marking/<int:sitting_id>/corridor")
@bp.output(CorridorOut)
def corridor(sitting_id: int) -> Laid:
    """The band that sound ones of the card's design stay within, along what the learner captured."""
    return beside.corridor(transaction, person(), sitting_id, beside.AT_THE_DESK)


@bp.get("/marking/<int:sitting_id>")
@bp.output(MarkSheetOut)
def sheet(sitting_id: int) -> MarkSheet:
    """One sitting to settle."""
    with transaction() as conn:
        return grading.sheet(conn, person(), sitting_id)


@bp.post("/marking/<int:sitting_id>/changes")
@bp.input(ChangeIn)
@bp.output(MarkSheetOut)
def change(sitting_id: int, json_data: dict[str, Any]) -> MarkSheet:
    """Change one criterion's points, with a reason."""
    with transaction() as conn:
        return grading.change(conn, person(), sitting_id, at=now(), **json_data)


@bp.post("/marking/<int:sitting_id>/release")
@bp.output(MarkSheetOut)
def release(sitting_id: int) -> MarkSheet:
    """Let the learner see it."""
    with transaction() as conn:
        return grading.release(conn, person(), sitting_id, now())


@bp.post("/marking/<int:sitting_id>/marks")
@bp.output({}, status_code=202)
def mark_again(sitting_id: int) -> dict[str, Any]:
    """Work the marks out again where that failed."""
    with transaction() as conn:
        grading.mark_again(conn, person(), sitting_id, now())
    return {}


@bp.post("/marking/<int:sitting_id>/comments")
@bp.input(CommentIn)
@bp.output(MarkSheetOut)
def pin(sitting_id: int, json_data: dict[str, Any]) -> MarkSheet:
    """Pin a comment to a stretch of the learner's trace."""
    with transaction() as conn:
        where = json_data["from"], json_data["to"]
        return comments.pin(conn, person(), sitting_id, *where, json_data["words"], now())


@bp.delete("/marking/<int:sitting_id>/comments/<int:comment_id>")
@bp.output(MarkSheetOut)
def take_comment_away(sitting_id: int, comment_id: int) -> MarkSheet:
    """Take a comment away again."""
    with transaction() as conn:
        return comments.take_away(conn, person(), sitting_id, comment_id, now())


@bp.post("/marking/<int:sitting_id>/second-marker")
@bp.input(SecondMarkerIn)
@bp.output(MarkSheetOut)
def ask_second(sitting_id: int, json_data: dict[str, Any]) -> MarkSheet:
    """Ask another instructor to mark a sitting without seeing what was decided."""
    with transaction() as conn:
        return second_marking.ask(conn, person(), sitting_id, json_data["marker_id"], now())


@bp.delete("/marking/<int:sitting_id>/second-marker")
@bp.output(MarkSheetOut)
def withdraw_second(sitting_id: int) -> MarkSheet:
    """Ask for it no more, while it is not done."""
    with transaction() as conn:
        return second_marking.withdraw(conn, person(), sitting_id, now())


@bp.get("/second-marking")
@bp.output(SecondWaitingOut(many=True))
def second_waiting() -> list[WaitsForSecond]:
    """What the person is asked to mark a second time."""
    with reading() as conn:
        return second_marking.waiting(conn, person())


@bp.get("/second-marking/<int:sitting_id>")
@bp.output(SecondSheetOut)
def second_sheet(sitting_id: int) -> UnseenSheet:
    """A sitting for its second marker."""
    with transaction() as conn:
        return second_marking.sheet(conn, person(), sitting_id)


@bp.get("/second-marking/<int:sitting_id>/parade")
@bp.output(ParadeOut)
def events_of_second(sitting_id: int) -> Parade:
    """The events of its capture laid over each other, for its second marker."""
    with transaction() as conn:
        return beside.parade(conn, person(), sitting_id, beside.UNSEEN)


@bp.get("/second-marking/<int:sitting_id>/corridor")
@bp.output(CorridorOut)
def corridor_of_second(sitting_id: int) -> Laid:
    """The band that sound ones stay within, for its second marker."""
    return beside.corridor(transaction, person(), sitting_id, beside.UNSEEN)


@bp.post("/second-marking/<int:sitting_id>")
@bp.input(SecondMarksIn)
@bp.output(SecondWaitingOut(many=True))
def give_second(sitting_id: int, json_data: dict[str, Any]) -> list[WaitsForSecond]:
    """Give the second marks, and see what else waits."""
    with transaction() as conn:
        second_marking.give(conn, person(), sitting_id, json_data["marks"], json_data["words"], now())
        return second_marking.waiting(conn, person())


@bp.get("/courses/<int:course_id>/agreement")
@bp.output(AgreementOut)
def agreement(course_id: int) -> AgreedInCourse:
    """How far second markers agree with what stands."""
    with transaction() as conn:
        return second_marking.of_course(conn, person(), course_id)
