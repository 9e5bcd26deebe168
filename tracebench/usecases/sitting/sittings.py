"""A learner's sitting: start, save each change, capture, hand in; and what may be seen of it when."""

from __future__ import annotations

import math
import zlib
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any, TypedDict

from tracebench.bench.meter import meter_figures
from tracebench.bench.sources import source as trainer_source
from tracebench.bench.varied import varied
from tracebench.core.answer import Answer
from tracebench.core.answer_rows import AnswerRow
from tracebench.core.cards.answers import Unanswered, answer_from_json, answers_as_json, unanswered
from tracebench.core.cards.learner_view import learner_view
from tracebench.core.cards.step import FIRST, step_id
from tracebench.core.errors import BadOption
from tracebench.core.steps.capture import CaptureStep
from tracebench.core.steps.compare.step import CompareStep
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection, Row
from tracebench.store.queries import packed, queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.marking import comments, grading, likeness, standing
from tracebench.usecases.marking.values import Comment, Settled
from tracebench.usecases.people import courses
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import trail
from tracebench.usecases.shelf import captures, versions
from tracebench.usecases.shelf.values import Beneath
from tracebench.usecases.sitting import measuring, records
from tracebench.usecases.sitting.records import RecordShown
from tracebench.usecases.sitting.rows import Sitting, SittingHead, State, card_of, sitting_of


class TimeLeft(TypedDict):
    state: State
    ends_at: datetime | None


class ShownBeside(TypedDict):
    """The capture that a comparing step shows."""

    step: str
    capture_id: int


class MeterFigure(TypedDict):
    at_s: float
    volts: float


class Feedback(Beneath):
    """Marks, what the tool measured, and what is laid beneath the trace."""

    grade: Settled
    measured: AnswerRow | None
    records: list[RecordShown]
    comments: list[Comment]


class OwnSitting(SittingHead):
    """A sitting as whoever sits it may see it: nothing of the key until it is released."""

    trial: bool
    revision: int
    started_at: datetime
    saved_at: datetime
    may_try_again: bool
    answers: dict[str, dict[str, object]]
    card: dict[str, object]
    beside: list[ShownBeside]
    unanswered: list[Unanswered]
    feedback: Feedback | None
    feedback_waits: bool
    second_look: Row | None
    marks_job: queue.Job | None


def start(conn: Connection, person: Person, card_id: int, at: datetime) -> int:
    """A new sitting, or the one still open. An instructor's is a trial on the card as it stands."""
    person.must_be("learner", "instructor")
    row = queries.cards.by_id(conn, card_id=card_id)
    if row is None:
        raise NotFound("there is no such job card for you")
    courses.in_reach(conn, person, row["course_id"])
    version = queries.cards.latest_version(conn, card_id=card_id)
    if version is None:
        raise (
            Conflict("publish the card first, then it can be tried")
            if person.role == "instructor"
            else NotFound("there is no such job card for you")
        )
    taken = list(queries.sittings.of_card_and_learner(conn, card_id=card_id, learner_id=person.id))
    trial = person.role == "instructor"
    for sitting in taken:
        if sitting["state"] == "open":
            return int(sitting["id"])
    if row["state"] == "retired":
        raise Conflict("this card has been retired; ask your instructor")
    card = card_of(version["document"])
    if not trial and card.opens is not None and at.date().isoformat() < card.opens:
        raise Conflict(f"this card opens on {card.opens}")
    if not trial and len(taken) >= card.attempts:
        raise Conflict(f"all {card.attempts} attempts are used; ask your instructor for another")
    ends_at = None
    if card.minutes is not None and not trial:
        extra = queries.courses.extra_time(conn, course_id=row["course_id"], person_id=person.id) or 0
        ends_at = at + timedelta(minutes=math.ceil(card.minutes * (100 + extra) / 100))
    sitting_id: int = queries.sittings.add(
        conn,
        card_version_id=version["id"],
        learner_id=person.id,
        trial=trial,
        practice=card.practice and not trial,
        attempt=len(taken) + 1,
        title=card.title,
        at=at,
        ends_at=None,
    )
    if version["given_capture_id"] is not None:
        queries.sittings.set_capture(conn, sitting_id=sitting_id, capture_id=version["given_capture_id"], at=at)
    if ends_at is not None:
        end_at(conn, sitting_id, ends_at, at)
    return sitting_id


def end_at(conn: Connection, sitting_id: int, ends_at: datetime, at: datetime) -> None:
    """Say when a sitting's time is up; a job hands in then what was saved, unless it was given more time meanwhile."""
    queries.sittings.set_end(conn, sitting_id=sitting_id, ends_at=ends_at)
    about, payload = f"{TIME_UP}:{sitting_id}:{ends_at:%Y%m%d%H%M%S}", {"sitting_id": sitting_id}
    queue.add(conn, TIME_UP, about, payload, None, at, not_before=ends_at + 2 * GRACE)


def time_of(conn: Connection, person: Person, sitting_id: int) -> TimeLeft:
    """When the time of one's own sitting is up, and whether it is open still: asked for while it runs."""
    sitting = _own(conn, person, sitting_id)
    return {"state": sitting.state, "ends_at": sitting.ends_at}


GIVEN = "the capture of this card is given; read that one"

TIME_UP = "time-up"
"""The kind of job that hands a sitting in whose time is up."""

GRACE = timedelta(seconds=60)
"""How long after its end a sitting still takes what was on its way."""


def work_time_up(begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job of a sitting with a time limit: hands in what was saved, unless its learner has, or has more time."""

    def keep(conn: Connection) -> dict[str, int]:
        queries.sittings.lock_by_id(conn, sitting_id=payload["sitting_id"])
        row = queries.sittings.by_id(conn, sitting_id=payload["sitting_id"])
        if row is not None and row["state"] == "open" and (row["ends_at"] is None or at > row["ends_at"] + GRACE):
            _to_be_marked(conn, row["id"], row["learner_id"], at)
        return {"sitting_id": payload["sitting_id"]}

    return keep


def _to_be_marked(conn: Connection, sitting_id: int, learner_id: int, at: datetime) -> None:
    queries.sittings.hand_in(conn, sitting_id=sitting_id, at=at)
    end_run(conn, sitting_id)
    queue.add(conn, grading.GRADING, grading.about_marks(sitting_id), {"sitting_id": sitting_id}, learner_id, at)


def end_run(conn: Connection, sitting_id: int) -> None:
    """The trainer's run of a sitting is over, if it has one: to delete what is not there would hold up neighbours."""
    if queries.sittings.run(conn, sitting_id=sitting_id) is not None:
        queries.sittings.end_run(conn, sitting_id=sitting_id)


def _own(conn: Connection, person: Person, sitting_id: int) -> Sitting:
    row = queries.sittings.by_id(conn, sitting_id=sitting_id)
    if row is None or row["learner_id"] != person.id:
        raise NotFound("there is no such sitting for you")
    return sitting_of(row)


def _still_open(sitting: Sitting) -> Sitting:
    if sitting.state != "open":
        raise Conflict("this sitting is handed in; its answers can no longer change")
    return sitting


def _own_open(conn: Connection, person: Person, sitting_id: int, at: datetime) -> Sitting:
    """One's own open sitting whose time is not up, held until the transaction ends."""
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    return _in_time(_still_open(_own(conn, person, sitting_id)), at)


def _in_time(sitting: Sitting, at: datetime) -> Sitting:
    if sitting.ends_at is not None and at > sitting.ends_at + GRACE:
        raise Conflict("the time is up; what was saved by then is handed in")
    return sitting


CAPTURE = step_id(CaptureStep.kind, FIRST)


def _must_be_open(sitting: Sitting, step: str) -> None:
    """Raises Conflict for a step that comes after one not answered yet."""
    if sitting.card.is_locked(step, sitting.answered):
        raise Conflict("this step opens once an earlier one is answered")


def one(conn: Connection, person: Person, sitting_id: int) -> OwnSitting:
    """The sitting as its learner may see it: nothing of the key until it is released."""
    return _shown(conn, _own(conn, person, sitting_id))


def _shown(conn: Connection, sitting: Sitting) -> OwnSitting:
    ready = sitting.state != "open" and grading.is_graded(conn, sitting.id)
    attempts = _attempts(conn, sitting) if sitting.state == "released" else []
    again = any(state != "released" for state in attempts)
    return {
        **sitting.head,
        "trial": sitting.trial,
        "revision": sitting.revision,
        "started_at": sitting.started_at,
        "saved_at": sitting.saved_at,
        "may_try_again": not sitting.trial and not again and 0 < len(attempts) < sitting.card.attempts,
        "answers": answers_as_json(sitting.answers),
        "card": learner_view(sitting.card, sitting.answered, sitting.hints),
        "beside": _beside(conn, sitting),
        "unanswered": unanswered(sitting.card, sitting.answers, sitting.capture_id is not None),
        "feedback": feedback(conn, sitting) if sitting.seen_by_learner and ready and not again else None,
        "feedback_waits": again,
        "second_look": queries.sittings.second_look(conn, sitting_id=sitting.id) if sitting.state != "open" else None,
        "marks_job": _marks_job(conn, sitting.id) if sitting.state != "open" and not ready else None,
    }


def see(conn: Connection, person: Person, sitting_id: int, at: datetime) -> None:
    """Note that the learner has seen the marks: from then on a release is not taken back unasked."""
    if _own(conn, person, sitting_id).seen_by_learner:
        queries.sittings.set_seen(conn, sitting_id=sitting_id, at=at)


def ask_again(conn: Connection, person: Person, sitting_id: int, words: str, at: datetime) -> OwnSitting:
    """Ask the instructor for a second look at one's own released sitting, once. Raises BadOption, Conflict."""
    sitting = _own(conn, person, sitting_id)
    if sitting.state != "released" or sitting.trial or sitting.practice:
        raise Conflict("a second look can be asked for once marks that count are released")
    if not words.strip():
        raise BadOption("say what is to be looked at again")
    if not queries.sittings.ask_again(conn, sitting_id=sitting_id, words=words.strip()[:1000], at=at):
        raise Conflict("a second look was asked for already; it is given once")
    about, title = ("sitting", sitting_id), grading.named(sitting)
    trail.write(conn, person, "mark.asked", about, title, at, why=words.strip()[:1000])
    return one(conn, person, sitting_id)


def _beside(conn: Connection, sitting: Sitting) -> list[ShownBeside]:
    """The captures that comparing steps show, once their steps are open to the learner."""
    card = sitting.card
    if not any(isinstance(s, CompareStep) and s.version_id is not None for s in card.steps):
        return []
    answered = sitting.answered
    rows = queries.cards.shown_beside(conn, card_version_id=sitting.card_version_id)
    open_rows = [row for row in rows if not card.is_locked(row["step_id"], answered)]
    return [{"step": row["step_id"], "capture_id": row["capture_id"]} for row in open_rows]


def _sits_again(conn: Connection, sitting: Sitting) -> bool:
    """Whether another attempt at the same card is not released yet: what was told after this one would be its key."""
    return any(state != "released" for state in _attempts(conn, sitting))


def _attempts(conn: Connection, sitting: Sitting) -> list[State]:
    """Where each attempt of the learner at a sitting's card stands."""
    rows = queries.sittings.of_card_and_learner(conn, card_id=sitting.card_id, learner_id=sitting.learner_id)
    return [row["state"] for row in rows]


def _marks_job(conn: Connection, sitting_id: int) -> queue.Job | None:
    job = queue.of(conn, grading.about_marks(sitting_id))
    return None if job is None else queue.without_reason(job)


def in_course(conn: Connection, sitting: Sitting) -> bool:
    """Whether whoever sat it still belongs to the course."""
    return bool(queries.courses.is_member(conn, course_id=sitting.course_id, person_id=sitting.learner_id))


def feedback(conn: Connection, sitting: Sitting) -> Feedback:
    """Marks, what the tool measured, and the reference, for a released sitting."""
    graded = grading.settled(conn, sitting.id)
    # Marks and trace are the learner's own; the reference is the course's.
    reference = sitting.card.first.reference_version_id if in_course(conn, sitting) else None
    return {
        "grade": graded["grade"],
        "measured": graded["measured"],
        **versions.beside(conn, reference, graded["measured"]),
        "records": grading.records_of(conn, sitting),
        "comments": comments.of_sitting(conn, sitting.id),
    }


def records_of(conn: Connection, person: Person, sitting_id: int) -> list[RecordShown]:
    """Records typed in one's own sitting; what they say is told once it is released."""
    sitting = _own(conn, person, sitting_id)
    if sitting.seen_by_learner and not (sitting.state == "released" and _sits_again(conn, sitting)):
        return grading.records_of(conn, sitting)
    return records.of_sitting(conn, sitting, None)


def add_record(
    conn: Connection, person: Person, sitting_id: int, kind: str, rows: Any, at: datetime
) -> list[RecordShown]:
    """Keep a record in one's own open sitting; answers all of them. Raises BadOption that names row and column."""
    records.add_to_sitting(conn, person, _own_open(conn, person, sitting_id, at), kind, rows, at)
    return records_of(conn, person, sitting_id)


def take_record_away(
    conn: Connection, person: Person, sitting_id: int, record_id: int, at: datetime
) -> list[RecordShown]:
    """Take a record of one's own open sitting away; answers those that are left."""
    _own_open(conn, person, sitting_id, at)
    records.take_from_sitting(conn, sitting_id, record_id, at)
    return records_of(conn, person, sitting_id)


def meter_along(conn: Connection, person: Person, sitting_id: int) -> list[MeterFigure]:
    """What a meter on the signal's wire showed while the capture was taken; rows of a meter sweep, earliest first.

    Raises Conflict without a capture, on one of the learner's own, whose meter was in their hand, and without volts.
    """
    sitting = _own(conn, person, sitting_id)
    asked = sitting.card.first
    if sitting.capture_id is None:
        raise Conflict("take the capture first: the meter is read along with it")
    if asked.source.kind == "upload":
        raise Conflict("this capture is your own: write down what your meter showed")
    head = store.head(conn, sitting.capture_id)
    if head is None:
        raise NotFound("the capture of this sitting is not there any more")
    lane = asked.circuit.main_lane(x["lane"] for x in head["lanes"])
    if asked.circuit.lane(lane).unit != "V":
        raise Conflict("a meter on this wire shows no volts")
    samples = store.samples_of(conn, sitting.capture_id, lane, 0, head["samples"])
    figures = meter_figures(samples, head["interval_s"], head["start_s"])
    return [{"at_s": at, "volts": volts} for at, volts in figures]


def released_events(conn: Connection, person: Person, sitting_id: int) -> tuple[Sitting, Answer]:
    """One's own released sitting, and its capture's events: before the release they would say what is odd."""
    sitting = _own(conn, person, sitting_id)
    if sitting.capture_id is None or not sitting.seen_by_learner:
        raise NotFound("events are laid over each other once this sitting is released")
    if sitting.state == "released" and _sits_again(conn, sitting):
        raise Conflict("this is shown again once your other attempt at this card is released")
    return sitting, measuring.measured(conn, sitting)


def save_answer(
    conn: Connection, person: Person, sitting_id: int, step_id: str, answer: Any, revision: int, at: datetime
) -> OwnSitting:
    """Save one step's answer. Raises Conflict when another window saved since `revision`."""
    sitting = _own_open(conn, person, sitting_id, at)
    given = answer_from_json(sitting.card, step_id, answer)
    _must_be_open(sitting, step_id)
    if sitting.revision != revision:
        raise Conflict("this sitting was changed in another window; it has been reloaded here")
    answers = {**sitting.answers, step_id: given}
    queries.sittings.save_answers(conn, sitting_id=sitting_id, answers=packed(answers_as_json(answers)), at=at)
    # A class saves all the time: what was just written is not read again.
    return _shown(conn, replace(sitting, answers=answers, revision=revision + 1, saved_at=at))


def on_trainer_anew(conn: Connection, person: Person, sitting_id: int, at: datetime) -> tuple[str, dict[str, Any], int]:
    """Circuit, part and seed of the next recording for one's own open sitting. Raises NotFound, Conflict."""
    code, part = on_trainer(conn, person, sitting_id, at)
    # Each recording differs as hands do, but the same settings in the same sitting can be made again.
    return code, part, zlib.crc32(f"{sitting_id}:{_own(conn, person, sitting_id).revision}".encode())


def on_trainer(conn: Connection, person: Person, sitting_id: int, at: datetime) -> tuple[str, dict[str, Any]]:
    """Circuit and part of one's own open sitting that is done on the trainer. Raises NotFound, Conflict."""
    sitting = _in_time(_still_open(_own(conn, person, sitting_id)), at)
    _must_be_open(sitting, CAPTURE)
    if sitting.card.first.source.given:
        raise Conflict(GIVEN)
    if sitting.card.first.source.kind != "trainer":
        raise Conflict("this card is done on a vehicle; bring the file from your scope")
    code, part = sitting.card.first.circuit.code, sitting.card.trainer_part()
    if sitting.card.first.source.varied:
        part = varied(trainer_source(code), part, _place(conn, sitting), sitting.card.first.source.instead)
    return code, part


def keep_recording(conn: Connection, person: Person, sitting_id: int, made: captures.Made, at: datetime) -> int:
    """What was recorded on the trainer becomes the capture of one's own open sitting; its id."""
    _own_open(conn, person, sitting_id, at)
    capture_id = captures.keep(conn, person, made, at)
    queries.sittings.set_capture(conn, sitting_id=sitting_id, capture_id=capture_id, at=at)
    return capture_id


def hold_open(conn: Connection, person: Person, sitting_id: int, at: datetime) -> None:
    """Hold one's own open sitting whose time is not up. Raises NotFound, Conflict."""
    _own_open(conn, person, sitting_id, at)


def _place(conn: Connection, sitting: Sitting) -> int:
    """A place of its own for each sitting: learners one after the other, and each attempt at another place again."""
    before = queries.courses.place_of_learner(conn, course_id=sitting.course_id, person_id=sitting.learner_id)
    return int(before) + PLACES * (sitting.attempt - 1)


PLACES = 101
"""Places between two attempts of a learner: more than a class has, and no multiple of an engine's cylinders."""


def take_hint(conn: Connection, person: Person, sitting_id: int, step_id: str, at: datetime) -> OwnSitting:
    """Tell a step's hint in one's own open sitting; from then on it costs part of the step's points."""
    sitting = _own_open(conn, person, sitting_id, at)
    if step_id not in sitting.card.hints or sitting.card.is_locked(step_id, sitting.answered):
        raise NotFound("there is no hint for this step")
    if step_id not in sitting.hints:
        queries.sittings.set_hints(conn, sitting_id=sitting_id, hints=packed(sorted({*sitting.hints, step_id})))
    return one(conn, person, sitting_id)


def use_capture(conn: Connection, person: Person, sitting_id: int, capture_id: int, at: datetime) -> OwnSitting:
    """Work with an imported capture of the learner's own."""
    sitting = _own_open(conn, person, sitting_id, at)
    _must_be_open(sitting, CAPTURE)
    head = captures.in_reach(conn, person, capture_id)
    if head["owner_id"] != person.id:
        raise NotFound("there is no such capture for you")
    asked = sitting.card.first
    if head["circuit"] != asked.circuit.code:
        raise Conflict(f"that capture is of {head['circuit']}; this card is about {asked.circuit.code}")
    if asked.source.given:
        raise Conflict(GIVEN)
    if asked.source.kind != "upload":
        raise Conflict("this card is done on the trainer; record there")
    queries.sittings.set_capture(conn, sitting_id=sitting_id, capture_id=capture_id, at=at)
    return one(conn, person, sitting_id)


def hand_in(conn: Connection, person: Person, sitting_id: int, incomplete_ok: bool, at: datetime) -> OwnSitting:
    """Hand in; the marks are worked out by a job. Raises Conflict that lists what is missing unless that is meant."""
    queries.sittings.lock_by_id(conn, sitting_id=sitting_id)
    sitting = _still_open(_own(conn, person, sitting_id))
    missing = unanswered(sitting.card, sitting.answers, sitting.capture_id is not None)
    if missing and not incomplete_ok:
        raise Conflict(f"{len(missing)} steps are not complete: " + "; ".join(m["what"] for m in missing))
    _to_be_marked(conn, sitting_id, person.id, at)
    return one(conn, person, sitting_id)


def work_marks_out(begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job of a hand-in: measures and marks with nothing held. What is handed in changes no more."""
    with begin() as conn:
        row = queries.sittings.by_id(conn, sitting_id=payload["sitting_id"])
        if row is None:
            raise NotFound("the sitting is gone")
        sitting = sitting_of(row)
        loaded = measuring.load(conn, sitting)
    taken = loaded.taken(sitting) if loaded is not None else None
    result = grading.graded(sitting, taken)
    alike = [] if sitting.trial or sitting.practice else likeness.find(begin, sitting)

    def keep(conn: Connection) -> dict[str, int]:
        grading.keep(conn, sitting, taken, result, at)
        likeness.keep(conn, sitting.id, alike)
        if sitting.practice:
            # Nobody settles it: what the tool makes of it is told at once.
            queries.sittings.release(conn, sitting_id=sitting.id, released_by=None, at=at)
            trail.write(conn, None, "mark.release", ("sitting", sitting.id), grading.named(sitting), at, why="practice")
        return {"sitting_id": sitting.id}

    return keep


class SittingItem(TypedDict):
    """One's own sitting in a list; points only once released."""

    id: int
    card_id: int
    trial: bool
    attempt: int
    state: State
    started_at: datetime
    saved_at: datetime
    handed_in_at: datetime | None
    released_at: datetime | None
    practice: bool
    title: str
    due: str | None
    earned: float | None
    points: float | None


def listed(conn: Connection, person: Person) -> list[SittingItem]:
    """A person's own sittings, with the sum of marks only once released."""
    out: list[SittingItem] = []
    for row in queries.sittings.of_learner(conn, learner_id=person.id):
        stands = standing.read(row["standing"])
        out.append(
            {
                "id": row["id"],
                "card_id": row["card_id"],
                "trial": row["trial"],
                "attempt": row["attempt"],
                "state": row["state"],
                "started_at": row["started_at"],
                "saved_at": row["saved_at"],
                "handed_in_at": row["handed_in_at"],
                "released_at": row["released_at"],
                "practice": bool(row["practice"]),
                "title": row["title"],
                "due": row["due"],
                "earned": None if stands is None else stands["earned"],
                "points": None if stands is None else stands["points"],
            }
        )
    return out
