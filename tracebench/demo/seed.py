"""Fill an empty database with the demo, through the same use cases that the web takes."""

from __future__ import annotations

import io
import zlib
from contextlib import AbstractContextManager, nullcontext
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from tracebench.bench.hand import SweepPlan
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import source
from tracebench.bench.trainer import record
from tracebench.core.answer import Answer
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.limits import limits_from_json
from tracebench.demo import cast, ready_cards
from tracebench.demo.learners import answers_of, settings_of
from tracebench.demo.shelf import DemoReference
from tracebench.demo.shelf import references as shelf_of
from tracebench.store.pool import Begin, Connection, Pool
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import DEMO, works
from tracebench.usecases.marking import comments, desk, grading, second_marking
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, recordings, references, uploads
from tracebench.usecases.sitting import measuring, recording, records, sittings
from tracebench.usecases.sitting.rows import sitting_of

CIRCUIT = "throttle-position"

PLAN = (
    # card, attempt, days after the card began, share of learners that did it, then released?
    (0, 1, 3, 1.0, True),
    (0, 2, 8, 0.6, True),
    (1, 1, 4, 1.0, True),
    (2, 1, 3, 0.8, True),
    (2, 2, 6, 0.6, False),
    (3, 1, 3, 0.5, False),
)


SECOND_SEED, SECOND_MARKED = 20, 7


def ask(conn: Connection, now: datetime) -> bool:
    """Have the demo made by a job unless there is already a course; True if that was asked.

    Nobody else is at it: whoever was, went with the ./start that was killed meanwhile, however often.
    """
    if list(queries.courses.all_courses(conn)):
        return False
    queue.add(conn, DEMO, DEMO, {}, None, now)
    queries.jobs.afresh(conn, about=DEMO, at=now)
    return True


def work_demo_out(uploads: Path, begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job. The demo is there whole or not at all, so that it can begin again after anything."""
    made = _load(begin, uploads, at)
    return lambda _: {"made": made}


def load(pool: Pool, uploads: Path, now: datetime) -> bool:
    """Load the demo here and now unless there is already a course; True if it was loaded."""
    return _load(pool.transaction, uploads, now)


def _load(begin: Begin, uploads: Path, now: datetime) -> bool:
    with begin() as conn:
        if list(queries.courses.all_courses(conn)):
            return False
        _Demo(conn, uploads, now).load()
    return True


class _Demo:
    def __init__(self, conn: Connection, uploads: Path, now: datetime) -> None:
        self.conn = conn
        self.uploads = uploads
        self.now = now
        self.people: dict[str, Person] = {}

    def _begin(self) -> AbstractContextManager[Connection]:
        """The demo is one transaction: what would open its own works in that."""
        return nullcontext(self.conn)

    def load(self) -> None:
        began = self.now - timedelta(days=35)
        self._people(began)
        accounts.name_school(self.conn, self.people[cast.ADMINISTRATOR[0]], cast.SCHOOL, began)
        course_id = queries.courses.add(self.conn, title=cast.COURSE, at=began)
        for sign_in, person in self.people.items():
            if sign_in != cast.ADMINISTRATOR[0]:
                queries.courses.join_course(self.conn, course_id=course_id, person_id=person.id)
        for name, engine, bay in cast.VEHICLES:
            queries.courses.add_vehicle(self.conn, name=name, engine=engine, bay=bay)
        # Hours apart, those last that the class is at.
        every = sorted((r for code in CIRCUITS for r in shelf_of(code)), key=lambda r: r.title in cast.TAUGHT)
        version_of = {r.title: self._reference(r, began + timedelta(hours=5 * k)) for k, r in enumerate(every)}
        versions = [version_of[title] for title in cast.TAUGHT]
        card_ids = [self._card(course_id, card, versions) for card in cast.CARDS]
        for step in PLAN:
            self._round(card_ids, *step)
        self._open_sittings(card_ids)
        self._second_marks(course_id)
        for other in cast.OTHER_CARDS:
            self._other_card(course_id, other, version_of[other.reference])

        steps = [dict(step) for step in cast.LOOM_STEPS]
        self._published(course_id, cast.LOOM_CARD, CIRCUIT, versions[cast.LOOM_CARD.reference], steps)

        beside = version_of[cast.SLOW_REFERENCE]
        steps = [dict(step) for step in cast.SLOW_STEPS]
        self._published(course_id, cast.SLOW_CARD, cast.SLOW_CIRCUIT, beside, steps)

        self._card(course_id, cast.PRACTICE_CARD, versions, mode="practice", minutes=20)
        given = replace(cast.GIVEN_CARD, source={"kind": "shelf", "version_id": versions[cast.GIVEN]})
        self._card(course_id, given, versions)

        self._ready_cards(began)

    def _ready_cards(self, at: datetime) -> None:
        """Every circuit at three levels, in a course of the instructor's own to copy from."""
        course_id = queries.courses.add(self.conn, title=ready_cards.COURSE, at=at)
        queries.courses.join_course(self.conn, course_id=course_id, person_id=self.instructor.id)
        for _, _, document in ready_cards.ready_cards():
            card_id = job_cards.create(self.conn, self.instructor, course_id, document, at)
            job_cards.publish(self.conn, self.instructor, card_id, at)

    def _people(self, at: datetime) -> None:
        rows = [
            (*cast.ADMINISTRATOR, "administrator"),
            (*cast.INSTRUCTOR, "instructor"),
            (*cast.COLLEAGUE, "instructor"),
            *((x.sign_in, x.name, "learner") for x in cast.LEARNERS),
        ]
        for sign_in, name, role in rows:
            person_id = accounts.add(self.conn, sign_in, name, role, cast.PASSWORD, at)
            self.people[sign_in] = Person(person_id, sign_in, name, role, 1)

    @property
    def instructor(self) -> Person:
        return self.people[cast.INSTRUCTOR[0]]

    def _reference(self, wanted: DemoReference, at: datetime) -> int | None:
        made_by = source(wanted.circuit)
        settings: recordings.TrainerSettings = {
            "range_v": made_by.range_v,
            "duration_s": wanted.duration_s or made_by.manoeuvres[0].duration_s,
            "rate_hz": 5000 if wanted.circuit == CIRCUIT else made_by.rate_hz,
            "ground": "sensor ground",
            "manoeuvre": wanted.manoeuvre,
        }
        made = recordings.made_on_trainer(wanted.circuit, wanted.part, settings, wanted.seed)
        capture_id = captures.keep(self.conn, self.instructor, made, at)
        limits = cast.MAKER_LIMITS if wanted.circuit == CIRCUIT else wanted.limits or []
        options = wanted.options or {}
        circuit = circuit_of(wanted.circuit)
        held = limits_from_json({"limits": limits}, circuit.reading_ids)
        answer = captures.measured(self.conn, capture_id, wanted.circuit, options, limits=held)
        vehicle, engine, _ = cast.VEHICLES[wanted.vehicle]
        done = made_by.manoeuvre(wanted.manoeuvre).title
        document = {
            "limits": limits,
            "options": options,
            "tags": [_tag(answer, place, text) for place, text in wanted.tags],
            "provenance": {
                "vehicle": vehicle,
                "engine": engine,
                "conditions": f"{done[:1].lower()}{done[1:]}, 21 °C",
                "ground": "sensor ground",
                "probe": "back-probed at the plug, 10:1 off",
                "taken_by": self.instructor.name,
                "taken_on": at.date().isoformat(),
                "part": f"{circuit.title}, series {'ABCD'[wanted.vehicle]}",
            },
            "notes": wanted.notes,
        }
        reference_id = references.create(self._begin, self.instructor, capture_id, wanted.title, document, at)
        for kind, rows in wanted.records:
            records.add(self.conn, self.instructor, capture_id, kind, rows, at)
        if not wanted.publish:
            return None
        return int(references.publish(self._begin, self.instructor, reference_id, at)["versions"][0]["id"])

    def _card(self, course_id: int, card: cast.DemoCard, versions: list[int | None], **more: Any) -> int:
        steps: list[dict[str, Any]] = [
            {"kind": "cautions", "prompt": "Read before you begin."},
            {
                "kind": "capture",
                "prompt": ""
                if card.source["kind"] == "shelf"
                else "Two slow sweeps, 4 s or more each way, key on, engine off.",
            },
            *({"kind": "reading", "reading": r, "prompt": cast.PROMPTS[r]} for r in card.readings),
            *(
                {"kind": "compare", "reading": r, "prompt": "Hold your reading against the limit."}
                for r in cast.COMPARED
            ),
            {"kind": "call", "prompt": "Sound, faulty, or cannot tell yet? Say what shows it."},
        ]
        return self._published(course_id, card, CIRCUIT, versions[card.reference], steps, **more)

    def _published(
        self,
        course_id: int,
        card: cast.DemoCard,
        circuit: str,
        version: int | None,
        steps: list[dict[str, Any]],
        **more: Any,
    ) -> int:
        began = self.now - timedelta(days=card.began_days_ago)
        document = {
            "circuit": circuit,
            "title": card.title,
            "brief": card.brief,
            "source": card.source,
            "attempts": card.attempts,
            "due": (self.now + timedelta(days=card.due_days)).date().isoformat(),
            "reference_version_id": version,
            "steps": steps,
            "rubric": cast.SHOWN,
            **more,
        }
        card_id = job_cards.create(self.conn, self.instructor, course_id, document, began)
        job_cards.publish(self.conn, self.instructor, card_id, began)
        return card_id

    def _round(self, card_ids: list[int], card_no: int, attempt: int, days: int, share: float, released: bool) -> None:
        began = self.now - timedelta(days=cast.CARDS[card_no].began_days_ago)
        for place, learner in enumerate(cast.LEARNERS):
            rng = np.random.default_rng(zlib.crc32(f"{card_no}/{attempt}/{learner.sign_in}".encode()))
            if rng.random() > share:
                continue
            # A day's class, in the evening, one after the other.
            at = (began + timedelta(days=days)).replace(hour=18, minute=3 * place, second=0, microsecond=0)
            at = min(at, self.now - timedelta(minutes=30 - place))
            sitting_id = self._sit(card_ids[card_no], card_no, learner, rng, at)
            handed_in = at + timedelta(minutes=50)
            sittings.hand_in(self.conn, self.people[learner.sign_in], sitting_id, True, handed_in)
            self._mark(handed_in)
            if released:
                self._settle(sitting_id, rng, at + timedelta(days=1))

    def _mark(self, at: datetime) -> None:
        """What a worker does: the marks of what was handed in."""
        queue.do_all(self._begin, works(self.uploads), lambda: at)

    def _sit(self, card_id: int, card_no: int, learner: cast.Learner, rng: np.random.Generator, at: datetime) -> int:
        person = self.people[learner.sign_in]
        sitting_id = sittings.start(self.conn, person, card_id, at)
        settings = settings_of(learner, rng)
        if cast.CARDS[card_no].source["kind"] == "trainer":
            sitting = self._recorded(person, sitting_id, settings, at)
        else:
            capture_id = self._own_file(person, settings, rng, at)
            sitting = sittings.use_capture(self.conn, person, sitting_id, capture_id, at)
        measured = captures.measured(self.conn, sitting["capture_id"] or 0, CIRCUIT, {})
        for step_id, answer in answers_of(learner, measured, rng, cast.CARDS[card_no].readings).items():
            sitting = sittings.save_answer(
                self.conn, person, sitting_id, step_id, answer, sitting["revision"], at + timedelta(minutes=30)
            )
        return sitting_id

    def _recorded(
        self, person: Person, sitting_id: int, settings: recordings.TrainerSettings, at: datetime
    ) -> sittings.OwnSitting:
        """The sitting with its capture taken on the trainer."""
        recording.for_sitting(self._begin, person, sitting_id, settings, at)
        return sittings.one(self.conn, person, sitting_id)

    def _own_file(
        self, person: Person, settings: recordings.TrainerSettings, rng: np.random.Generator, at: datetime
    ) -> int:
        """A text file as a learner's scope would leave it, brought in through the import."""
        scope = ScopeSettings(settings["range_v"], settings["duration_s"], settings["rate_hz"], bits=8, noise_v=0.012)
        capture = record(
            CIRCUIT,
            scope,
            int(rng.integers(1 << 30)),
            movement=SweepPlan(settings["sweeps"], settings["way_s"], settings["hold_s"]),
            part={"closed_v": 0.58 + 0.1 * rng.random(), "open_v": 4.05 + 0.2 * rng.random()},
            lanes=("signal",),
        )
        rows = [f"{capture.time_s(k):.4f};{v:.4f}" for k, v in enumerate(capture.lanes["signal"].samples)]
        text = "\r\n".join(["Zeit (s);Kanal 1 (V)", *rows]).replace(".", ",") + "\r\n"
        received = uploads.receive(
            self._begin, self.uploads, person, "test2 (3).csv", io.BytesIO(text.encode()), CIRCUIT, at
        )
        done = uploads.import_upload(
            self._begin, self.uploads, person, received["upload_id"], CIRCUIT, received["mapping"], None, at
        )
        if not isinstance(done, int):
            raise RuntimeError("the demo's files are small; one was handed to a worker")
        return done

    def _settle(self, sitting_id: int, rng: np.random.Generator, at: datetime) -> None:
        at = min(at, self.now - timedelta(minutes=5))
        graded = grading.settled(self.conn, sitting_id)["grade"]
        unsure = [r for r in graded["results"] if r["certainty"] <= 0.6 and r["earned"] < r["points"]]
        if unsure and rng.random() < 0.4:
            row = unsure[0]
            grading.change(
                self.conn,
                self.instructor,
                sitting_id,
                row["criterion"],
                row["points"],
                "Your way of reading it holds as well: full points.",
                at,
            )
        sitting = queries.sittings.by_id(self.conn, sitting_id=sitting_id)
        missed = next((r for r in graded["results"] if r["slip"] and r["stretches"]), None)
        if missed is not None and sitting is not None and sitting["capture_id"] is not None:
            place = missed["stretches"][0]
            words = f"{missed['title']}: this is the place to read it."
            comments.pin(self.conn, self.instructor, sitting_id, place["from"], place["to"], words, at)
        grading.release(self.conn, self.instructor, sitting_id, at)

    def _second_marks(self, course_id: int) -> None:
        """A colleague marks some sittings unseen: near the tool's proposal, as two people are; one still waits."""
        colleague = self.people[cast.COLLEAGUE[0]]
        rng = np.random.default_rng(SECOND_SEED)
        done = desk.desk(self.conn, self.instructor, course_id, released=SECOND_MARKED)
        chosen = [entry for entry in done if entry["state"] == "released"]
        for place, entry in enumerate(chosen):
            asked = self.now - timedelta(days=2, hours=place)
            second_marking.ask(self.conn, self.instructor, entry["id"], colleague.id, asked)
            if place == 0:
                continue
            marks = {}
            for row in second_marking.sheet(self.conn, colleague, entry["id"])["grade"]["results"]:
                apart = rng.choice((0.0, 0.0, 0.0, 0.0, 0.25, -0.25)) * row["points"]
                marks[row["criterion"]] = round(min(row["points"], max(0.0, row["earned"] + apart)), 2)
            second_marking.give(self.conn, colleague, entry["id"], marks, "", asked + timedelta(hours=20))

    def _other_card(self, course_id: int, other: cast.OtherCard, version: int | None) -> None:
        """A card on another circuit, with its sittings: one released, the others waiting at the desk."""
        steps: list[dict[str, Any]] = [
            {"kind": "cautions", "prompt": "Read before you begin."},
            {"kind": "capture", "prompt": other.prompt},
            *(_step("reading", r) for r in other.readings),
            *(_step("compare", r, "Hold your reading against the limit.") for r in other.compared),
            {"kind": "call", "prompt": "Sound, faulty, or cannot tell yet? Say what shows it."},
        ]
        more = {"complaint": other.complaint, "schools": other.schools, "points": other.points}
        card_id = self._published(course_id, other.card, other.circuit, version, steps, **more)
        made_by = source(other.circuit)
        for place in other.sat_by:
            learner = cast.LEARNERS[place]
            person = self.people[learner.sign_in]
            rng = np.random.default_rng(zlib.crc32(f"{other.circuit}/{learner.sign_in}".encode()))
            at = self.now - timedelta(days=3 if place == other.sat_by[0] else 1, hours=2)
            sitting_id = sittings.start(self.conn, person, card_id, at)
            settings: recordings.TrainerSettings = {
                "range_v": made_by.range_v,
                "duration_s": other.duration_s,
                "rate_hz": made_by.rate_hz,
                "ground": "sensor ground",
                "manoeuvre": other.manoeuvre,
            }
            sitting = self._recorded(person, sitting_id, settings, at)
            row = queries.sittings.by_id(self.conn, sitting_id=sitting_id)
            assert row is not None
            measured = measuring.measured(self.conn, sitting_of(row))
            for step_id, answer in answers_of(learner, measured, rng, other.readings, other.compared).items():
                sitting = sittings.save_answer(self.conn, person, sitting_id, step_id, answer, sitting["revision"], at)
            if other.record is not None:
                sittings.add_record(self.conn, person, sitting_id, *other.record, at + timedelta(minutes=20))
            handed_in = at + timedelta(minutes=25)
            sittings.hand_in(self.conn, person, sitting_id, True, handed_in)
            self._mark(handed_in)
            if place == other.sat_by[0]:
                self._settle(sitting_id, rng, at + timedelta(days=1))

    def _open_sittings(self, card_ids: list[int]) -> None:
        """Two learners in the middle of a card."""
        for card_no, sign_in in ((3, "learner"), (2, "eskil")):
            learner = next(x for x in cast.LEARNERS if x.sign_in == sign_in)
            rng = np.random.default_rng(zlib.crc32(f"open/{sign_in}".encode()))
            person = self.people[sign_in]
            taken = list(
                queries.sittings.of_card_and_learner(self.conn, card_id=card_ids[card_no], learner_id=person.id)
            )
            if len(taken) >= cast.CARDS[card_no].attempts:
                continue
            at = self.now - timedelta(minutes=40)
            sitting_id = sittings.start(self.conn, person, card_ids[card_no], at)
            settings = settings_of(learner, rng)
            if cast.CARDS[card_no].source["kind"] == "upload":
                capture_id = self._own_file(person, settings, rng, at)
                sitting = sittings.use_capture(self.conn, person, sitting_id, capture_id, at)
            else:
                sitting = self._recorded(person, sitting_id, settings, at)
            measured = captures.measured(self.conn, sitting["capture_id"] or 0, CIRCUIT, {})
            answers = answers_of(learner, measured, rng)
            for step_id in ("cautions", "reading-closed_v"):
                sitting = sittings.save_answer(
                    self.conn, person, sitting_id, step_id, answers[step_id], sitting["revision"], at
                )


def _step(kind: str, name: str, prompt: str = "") -> dict[str, Any]:
    """A step on a reading, of one cylinder where its name says so."""
    reading, _, cylinder = name.partition("@")
    return {"kind": kind, "reading": reading, "cylinder": int(cylinder) if cylinder else None, "prompt": prompt}


def _tag(answer: Answer, place: str, text: str) -> dict[str, Any]:
    """A tag on the first finding, phase or reading of that name; in the middle of the record for a whole one."""
    codes = {"slip": "probe_slip"}
    found = [(f.from_s, f.to_s, f.lane) for f in answer.findings if f.code == codes.get(place, place)]
    found += [(p.from_s, p.to_s, None) for p in answer.phases if p.name == place]
    found += [(r.from_s, r.to_s, r.lane) for r in answer.readings if r.id == place and r.cycle is None]
    start, stop, lane = found[0] if found else (answer.phases[0].from_s if answer.phases else 0.0, 0.0, None)
    if not found or stop - start > 0.7 * answer.duration_s:
        start, stop = 0.4 * answer.duration_s, 0.6 * answer.duration_s
    return {"from": start, "to": stop, "lane": lane or answer.lanes[0].lane, "text": text}
