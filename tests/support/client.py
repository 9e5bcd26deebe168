"""The application under test, and people who talk to it: a signed-in Flask test client each."""

from __future__ import annotations

import io
from datetime import UTC, datetime, timedelta
from typing import Any

from flask import Flask
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from tests.support.database import DatabaseTest
from tests.support.waves import Sweep
from tracebench.store.queries import queries
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import works
from tracebench.usecases.people import accounts
from tracebench.web import create_app

CIRCUIT = "throttle-position"
PASSWORD = "long enough"
NOW = datetime(2026, 3, 1, 18, 0)  # noqa: DTZ001 - UTC without a mark, as the database has it

STEPS = [
    {"kind": "cautions", "reading": None, "prompt": ""},
    {"kind": "capture", "reading": None, "prompt": ""},
    {"kind": "reading", "reading": "closed_v", "prompt": ""},
    {"kind": "compare", "reading": "closed_v", "prompt": ""},
    {"kind": "call", "reading": None, "prompt": ""},
]

EMPTY_DOCUMENT = {
    "phases": [],
    "options": {},
    "limits": [{"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker", "marginal": None}],
    "tags": [],
    "provenance": dict.fromkeys(
        ("vehicle", "engine", "conditions", "ground", "probe", "taken_by", "taken_on", "part"), ""
    ),
    "notes": "",
}


def work(app: Flask) -> None:
    """What a worker does beside the server: every job that is due."""
    uploads = app.extensions["tracebench.settings"].uploads
    begin = app.extensions["tracebench.pool"].transaction
    queue.do_all(begin, works(uploads), lambda: datetime.now(UTC).replace(tzinfo=None))


class Caller:
    """A person at a browser: keeps the cookie and sends the token that changes need."""

    def __init__(self, client: FlaskClient) -> None:
        self.client = client
        self.csrf = client.get("/api/session").json["csrf"]

    def sign_in(self, name: str, password: str = PASSWORD) -> TestResponse:
        answer = self.post("/api/session", {"sign_in": name, "password": password})
        if answer.status_code == 200:
            self.csrf = answer.json["csrf"]
        return answer

    def get(self, path: str) -> TestResponse:
        return self.client.get(path)

    def _send(self, method: str, path: str, body: Any) -> TestResponse:
        answer = self.client.open(path, method=method, json=body, headers={"X-CSRFToken": self.csrf})
        if path.endswith("/hand-in") and answer.status_code == 200:
            work(self.client.application)
        return answer

    def post(self, path: str, body: Any = None) -> TestResponse:
        return self._send("POST", path, body if body is not None else {})

    def put(self, path: str, body: Any) -> TestResponse:
        return self._send("PUT", path, body)

    def patch(self, path: str, body: Any) -> TestResponse:
        return self._send("PATCH", path, body)

    def delete(self, path: str) -> TestResponse:
        return self.client.delete(path, headers={"X-CSRFToken": self.csrf})

    def upload(self, text: bytes, filename: str = "capture.csv") -> TestResponse:
        return self.client.post(
            f"/api/uploads?filename={filename}&circuit={CIRCUIT}",
            input_stream=io.BytesIO(text),
            content_length=len(text),
            headers={"X-CSRFToken": self.csrf, "Content-Type": "application/octet-stream"},
        )

    def import_csv(self, text: bytes) -> int:
        """Upload and import with the guessed mapping; the capture's id."""
        sent = self.upload(text).json
        body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
        return int(self.post("/api/captures", body).json["capture"]["id"])


def csv_of(sweep: Sweep) -> bytes:
    """A sweep as a scope would export it."""
    times, volts = sweep.samples()
    return ("time (s),A (V)\n" + "".join(f"{t:.4f},{v:.4f}\n" for t, v in zip(times, volts, strict=True))).encode()


class WebTest(DatabaseTest):
    """An application with two courses; ids by sign-in name in `cls.ids`, `self.caller(name)` signs in."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.app = create_app(cls.settings)
        cls.app.testing = True
        cls.app.config["PROPAGATE_EXCEPTIONS"] = False
        roles = {
            "admin": "administrator",
            "teacher": "instructor",
            "stranger": "instructor",
            "ann": "learner",
            "ben": "learner",
            "outsider": "learner",
            "spare": "learner",
        }
        cls.callers: dict[str, Caller] = {}
        with cls.pool.transaction() as conn:
            cls.ids = {n: accounts.add(conn, n, n.title(), role, PASSWORD, NOW) for n, role in roles.items()}
            cls.course_id = queries.courses.add(conn, title="One", at=NOW)
            cls.other_course_id = queries.courses.add(conn, title="Other", at=NOW + timedelta(days=1))
            for course, members in (
                (cls.course_id, ("teacher", "ann", "ben")),
                (cls.other_course_id, ("stranger", "outsider")),
            ):
                for name in members:
                    queries.courses.join_course(conn, course_id=course, person_id=cls.ids[name])

    @classmethod
    def caller(cls, name: str | None) -> Caller:
        """A caller signed in under the name, kept for the class; None for nobody."""
        if name is None:
            return Caller(cls.app.test_client())
        if name not in cls.callers:
            cls.callers[name] = Caller(cls.app.test_client())
            cls.callers[name].sign_in(name)
        return cls.callers[name]

    @classmethod
    def published_reference(cls, sweep: Sweep | None = None) -> dict[str, Any]:
        """A published reference of the teacher's; its newest version's id under 'version_id'."""
        teacher = cls.caller("teacher")
        capture_id = teacher.import_csv(csv_of(sweep or Sweep(rate_hz=200)))
        made = teacher.post(
            "/api/references", {"capture_id": capture_id, "title": "Sound", "document": EMPTY_DOCUMENT}
        ).json
        out = teacher.post(f"/api/references/{made['id']}/publish").json
        return {**out, "version_id": out["versions"][0]["id"]}

    @classmethod
    def card_document(cls, version_id: int | None, **changes: Any) -> dict[str, Any]:
        document = {
            "circuit": CIRCUIT,
            "title": "Hesitates",
            "brief": "Stumbles off idle.",
            "source": {"kind": "upload"},
            "schools": {"sweep": "slow"},
            "attempts": 2,
            "due": "2030-01-01",
            "reference_version_id": version_id,
            "limits": [],
            "steps": STEPS,
            "points": {},
        }
        return {**document, **changes}

    @classmethod
    def published_card(cls, **changes: Any) -> int:
        teacher = cls.caller("teacher")
        document = cls.card_document(changes.pop("version_id", None), **changes)
        card_id = teacher.post("/api/cards", {"course_id": cls.course_id, "document": document}).json["id"]
        teacher.post(f"/api/cards/{card_id}/publish")
        return int(card_id)

    SOUND_CALL = {
        "verdict": "sound",
        "cause": "none",
        "evidence": [[1.0, 6.5]],
        "next_test": "none",
        "confidence": 80,
    }

    @classmethod
    def handed_in(cls, name: str, card_id: int, sweep: Sweep) -> int:
        """A sitting with a capture and a call, handed in; its id."""
        learner = cls.caller(name)
        sitting_id = learner.post(f"/api/cards/{card_id}/sittings").json["id"]
        capture_id = learner.import_csv(csv_of(sweep))
        state = learner.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id}).json
        answers = {
            "reading-closed_v": {"value": 0.7, "pegs": [0.5]},
            "call": cls.SOUND_CALL,
        }
        for step, answer in answers.items():
            body = {"step": step, "answer": answer, "revision": state["revision"]}
            state = learner.put(f"/api/sittings/{sitting_id}/answer", body).json
        learner.post(f"/api/sittings/{sitting_id}/hand-in", {"incomplete_ok": True})
        return int(sitting_id)

    @classmethod
    def own_sitting(
        cls, name: str, card_id: int, seed: int, value: float = 0.7, call: dict[str, Any] | None = None
    ) -> int:
        """A sitting handed in; its answers are its own, so that it is like no other."""
        learner = cls.caller(name)
        sitting_id = learner.post(f"/api/cards/{card_id}/sittings").json["id"]
        capture_id = learner.import_csv(csv_of(Sweep(rate_hz=200, noise_v=0.004, seed=seed)))
        state = learner.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id}).json
        answers = {"reading-closed_v": {"value": value, "pegs": [0.5 + seed / 100]}, "call": call or cls.SOUND_CALL}
        for step, answer in answers.items():
            body = {"step": step, "answer": answer, "revision": state["revision"]}
            state = learner.put(f"/api/sittings/{sitting_id}/answer", body).json
        learner.post(f"/api/sittings/{sitting_id}/hand-in", {"incomplete_ok": True})
        return sitting_id
