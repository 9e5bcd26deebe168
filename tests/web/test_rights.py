"""Who reaches what: role x endpoint x whose object. A new endpoint without a row here fails the last test."""

from tests.support.client import CIRCUIT, EMPTY_DOCUMENT, WebTest
from tests.support.waves import Sweep

CALLERS = (None, "admin", "teacher", "stranger", "ann", "ben", "outsider")

# Expected status by caller, in the order of CALLERS. Objects belong to ann, her teacher and their course.
NOBODY = 401
TABLE = {
    ("GET", "/api/today"): (401, 200, 200, 200, 200, 200, 200),
    ("GET", "/api/facts"): (401, 200, 200, 200, 200, 200, 200),
    ("GET", "/api/calculations"): (401, 200, 200, 200, 200, 200, 200),
    ("POST", "/api/calculations/{no_record}"): (401, 422, 422, 422, 422, 422, 422),
    # Suspects and their strengths are a key: for those who teach only.
    ("GET", "/api/diagnosis/choices"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/diagnosis/suspects"): (401, 422, 422, 422, 422, 422, 422),
    ("POST", "/api/diagnosis/drawn"): (401, 422, 422, 422, 422, 422, 422),
    ("POST", "/api/diagnosis/done"): (401, 422, 422, 422, 422, 422, 422),
    ("GET", "/api/maker-facts"): (401, 403, 200, 200, 403, 403, 403),
    # An instructor sees the learners who can be brought in.
    ("GET", "/api/people"): (401, 200, 200, 200, 403, 403, 403),
    ("POST", "/api/people"): (401, 422, 422, 422, 422, 422, 422),
    ("PATCH", "/api/people/{spare}"): (401, 200, 403, 403, 403, 403, 403),
    ("POST", "/api/people/table"): (401, 200, 200, 404, 403, 403, 403),
    # A learner whom neither instructor brought in: the administrator alone makes a link to it.
    ("POST", "/api/people/{ann}/link"): (401, 201, 404, 404, 403, 403, 403),
    ("POST", "/api/people/{spare}/hand-over"): (401, 204, 403, 403, 403, 403, 403),
    ("GET", "/api/installation"): (401, 200, 403, 403, 403, 403, 403),
    ("PUT", "/api/school"): (401, 204, 403, 403, 403, 403, 403),
    ("GET", "/api/audit"): (401, 200, 403, 403, 403, 403, 403),
    ("GET", "/api/courses"): (401, 200, 200, 200, 200, 200, 200),
    ("POST", "/api/courses"): (401, 201, 201, 201, 403, 403, 403),
    ("GET", "/api/courses/{course}/members"): (401, 200, 200, 404, 403, 403, 403),
    ("POST", "/api/courses/{course}/members"): (401, 200, 200, 404, 403, 403, 403),
    ("PUT", "/api/courses/{course}/members/{spare}/extra-time"): (401, 404, 404, 404, 403, 403, 403),
    ("GET", "/api/vehicles"): (401, 200, 200, 200, 403, 403, 403),
    ("POST", "/api/captures"): (401, 404, 404, 404, 404, 404, 404),
    ("POST", "/api/captures/trainer"): (401, 403, 201, 201, 403, 403, 403),
    ("POST", "/api/captures/instrument"): (401, 403, 422, 422, 422, 422, 422),
    ("GET", "/api/captures/{capture}"): (401, 404, 200, 404, 200, 404, 404),
    ("GET", "/api/captures/{capture}/values?at=1"): (401, 404, 200, 404, 200, 404, 404),
    ("GET", "/api/captures/{capture}/file?ending=csv"): (401, 404, 200, 404, 200, 404, 404),
    ("GET", "/api/captures/{capture}/lanes/signal/tiles/0/0"): (401, 404, 200, 404, 200, 404, 404),
    ("GET", "/api/captures/{capture}/lanes/signal/samples"): (401, 404, 200, 404, 200, 404, 404),
    # Records may give the cause away: for those who teach only.
    ("GET", "/api/record-kinds"): (401, 200, 200, 200, 200, 200, 200),
    ("GET", "/api/captures/{capture}/records"): (401, 403, 200, 404, 403, 403, 403),
    ("POST", "/api/captures/{capture}/records"): (401, 422, 422, 422, 422, 422, 422),
    ("DELETE", "/api/captures/{capture}/records/{no_record}"): (401, 403, 404, 404, 403, 403, 403),
    ("GET", "/api/captures/{shelf_capture}"): (401, 404, 200, 200, 404, 404, 404),
    # Files on their way to the shelf are their sender's own.
    ("GET", "/api/inbox"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/inbox?filename=x.csv"): (401, 403, 201, 201, 403, 403, 403),
    ("PUT", "/api/inbox/{no_record}"): (401, 422, 422, 422, 422, 422, 422),
    ("POST", "/api/inbox/accept"): (401, 422, 422, 422, 422, 422, 422),
    ("POST", "/api/inbox/give-up"): (401, 422, 422, 422, 422, 422, 422),
    ("GET", "/api/references"): (401, 403, 200, 200, 403, 403, 403),
    ("GET", "/api/references/bundle?ids={reference}"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/inbox/starter"): (401, 403, 201, 201, 403, 403, 403),
    ("POST", "/api/inbox/bundles/{no_record}"): (401, 422, 422, 422, 422, 422, 422),
    ("GET", "/api/references/compare?ids={reference}"): (401, 403, 422, 422, 403, 403, 403),
    ("GET", "/api/references/offered"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/references"): (401, 403, 201, 404, 403, 403, 403),
    ("GET", "/api/references/same/{shelf_capture}"): (401, 403, 200, 200, 403, 403, 403),
    ("GET", "/api/references/{reference}"): (401, 403, 200, 200, 403, 403, 403),
    ("GET", "/api/references/{reference}/pdf"): (401, 403, 200, 200, 403, 403, 403),
    ("GET", "/api/references/{reference}/changes"): (401, 403, 200, 200, 403, 403, 403),
    # No part is named: nothing can be told.
    ("GET", "/api/references/{reference}/fleet?reading=closed_v"): (401, 403, 422, 422, 403, 403, 403),
    ("PUT", "/api/references/{reference}/steps"): (401, 422, 422, 422, 422, 422, 422),
    ("POST", "/api/references/{reference}/split"): (401, 422, 422, 422, 422, 422, 422),
    # A throttle has no row of events: not found for those who may look at all.
    ("GET", "/api/references/{reference}/parade"): (401, 403, 404, 404, 403, 403, 403),
    ("GET", "/api/references/{reference}/corridor"): (401, 403, 200, 200, 403, 403, 403),
    ("GET", "/api/references/{reference}/alike?lane=signal&from=0&to=1e300"): (401, 403, 422, 422, 403, 403, 403),
    # Every instructor sees what is published to the school, and its owner alone changes it.
    ("PUT", "/api/references/{reference}"): (401, 403, 409, 403, 403, 403, 403),
    ("POST", "/api/references/{reference}/publish"): (401, 403, 409, 403, 403, 403, 403),
    ("POST", "/api/references/{reference}/copy"): (401, 403, 201, 201, 403, 403, 403),
    ("GET", "/api/references/collections"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/references/collections"): (401, 403, 200, 200, 403, 403, 403),
    ("PUT", "/api/references/{reference}/pair"): (401, 403, 409, 403, 403, 403, 403),
    ("POST", "/api/references/{reference}/review"): (401, 403, 422, 422, 403, 403, 403),
    ("PUT", "/api/courses/{course}/review"): (401, 200, 200, 404, 403, 403, 403),
    ("PUT", "/api/references/{reference}/reach"): (401, 403, 200, 403, 403, 403, 403),
    ("GET", "/api/cards"): (401, 200, 200, 200, 200, 200, 200),
    ("POST", "/api/cards"): (401, 403, 201, 404, 403, 403, 403),
    ("GET", "/api/cards/{card}"): (401, 403, 200, 404, 403, 403, 403),
    ("PUT", "/api/cards/{card}"): (401, 403, 409, 404, 403, 403, 403),
    ("GET", "/api/cards/shared"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/cards/{card}/copy"): (401, 403, 201, 404, 403, 403, 403),
    ("GET", "/api/cards/{card}/job-sheet"): (401, 403, 200, 404, 403, 403, 403),
    ("GET", "/api/cards/{card}/file"): (401, 403, 200, 404, 403, 403, 403),
    ("PUT", "/api/cards/{card}/reach"): (401, 403, 200, 404, 403, 403, 403),
    ("GET", "/api/cards/{card}/check"): (401, 403, 200, 404, 403, 403, 403),
    ("POST", "/api/cards/{card}/publish"): (401, 403, 409, 404, 403, 403, 403),
    ("GET", "/api/sittings"): (401, 200, 200, 200, 200, 200, 200),
    ("POST", "/api/cards/{card}/sittings"): (401, 403, 201, 404, 201, 201, 404),
    ("GET", "/api/sittings/{sitting}"): (401, 404, 404, 404, 200, 404, 404),
    ("GET", "/api/sittings/{sitting}/parade"): (401, 404, 404, 404, 404, 404, 404),
    ("GET", "/api/sittings/{sitting}/corridor"): (401, 404, 404, 404, 404, 404, 404),
    ("GET", "/api/sittings/{sitting}/time"): (401, 404, 404, 404, 200, 404, 404),
    # Handed in already: nothing to give, for those who may.
    ("POST", "/api/sittings/{sitting}/more-time"): (401, 403, 409, 404, 403, 403, 403),
    ("GET", "/api/courses/{course}/under-way"): (401, 403, 200, 404, 403, 403, 403),
    # The sitting's capture is a file of one's own, whose meter was in one's hand.
    ("GET", "/api/sittings/{sitting}/meter"): (401, 404, 404, 404, 409, 404, 404),
    # A learner's own, as typed; handed in, nothing is added any more.
    ("GET", "/api/sittings/{sitting}/records"): (401, 404, 404, 404, 200, 404, 404),
    ("POST", "/api/sittings/{sitting}/records"): (401, 404, 404, 404, 409, 404, 404),
    ("DELETE", "/api/sittings/{sitting}/records/{no_record}"): (401, 404, 404, 404, 409, 404, 404),
    ("PUT", "/api/sittings/{sitting}/answer"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/record"): (401, 404, 404, 404, 409, 404, 404),
    ("GET", "/api/sittings/{sitting}/run"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/run"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/run/moves"): (401, 404, 404, 404, 409, 404, 404),
    ("PUT", "/api/sittings/{sitting}/run/scope"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/run/freeze"): (401, 404, 404, 404, 409, 404, 404),
    ("GET", "/api/sittings/{sitting}/run/events?run=1"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/capture"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/hand-in"): (401, 404, 404, 404, 409, 404, 404),
    ("GET", "/api/courses/{course}/desk"): (401, 403, 200, 404, 403, 403, 403),
    ("GET", "/api/marking/{sitting}"): (401, 403, 200, 404, 403, 403, 403),
    ("GET", "/api/marking/{sitting}/parade"): (401, 403, 404, 404, 403, 403, 403),
    ("GET", "/api/courses/{course}/regrade"): (401, 403, 404, 404, 403, 403, 403),
    ("POST", "/api/courses/{course}/regrade"): (401, 403, 202, 404, 403, 403, 403),
    ("POST", "/api/courses/{course}/regrade/take"): (401, 403, 404, 404, 403, 403, 403),
    ("POST", "/api/marking/release"): (401, 403, 200, 200, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/take-back"): (401, 403, 409, 404, 403, 403, 403),
    ("GET", "/api/marking/{sitting}/alike?criterion=no such"): (401, 403, 422, 404, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/changes/alike"): (401, 403, 422, 404, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/comments"): (401, 403, 200, 404, 403, 403, 403),
    ("DELETE", "/api/marking/{sitting}/comments/{no_record}"): (401, 403, 404, 404, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/second-marker"): (401, 403, 422, 404, 403, 403, 403),
    ("DELETE", "/api/marking/{sitting}/second-marker"): (401, 403, 409, 404, 403, 403, 403),
    ("GET", "/api/second-marking"): (401, 200, 200, 200, 200, 200, 200),
    ("GET", "/api/second-marking/{sitting}"): (401, 404, 404, 404, 404, 404, 404),
    ("GET", "/api/second-marking/{sitting}/parade"): (401, 404, 404, 404, 404, 404, 404),
    ("GET", "/api/second-marking/{sitting}/corridor"): (401, 404, 404, 404, 404, 404, 404),
    ("POST", "/api/second-marking/{sitting}"): (401, 404, 404, 404, 404, 404, 404),
    ("GET", "/api/courses/{course}/agreement"): (401, 403, 200, 404, 403, 403, 403),
    ("POST", "/api/sittings/{sitting}/hint"): (401, 404, 404, 404, 409, 404, 404),
    ("POST", "/api/sittings/{sitting}/second-look"): (401, 404, 404, 404, 409, 404, 404),
    ("GET", "/api/marking/{sitting}/corridor"): (401, 403, 200, 404, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/changes"): (401, 403, 422, 404, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/marks"): (401, 403, 409, 404, 403, 403, 403),
    # A job is its owner's: the marks of what ann handed in.
    ("GET", "/api/jobs"): (401, 200, 403, 403, 403, 403, 403),
    ("GET", "/api/jobs/{job}"): (401, 200, 404, 404, 200, 404, 404),
    ("GET", "/api/jobs/{job}/events"): (401, 200, 404, 404, 200, 404, 404),
    ("POST", "/api/jobs/{job}/cancel"): (401, 409, 404, 404, 403, 404, 404),
    ("POST", "/api/jobs/{job}/again"): (401, 409, 403, 403, 403, 403, 403),
    ("GET", "/api/courses/{course}/skill-map"): (401, 403, 200, 404, 403, 403, 403),
    ("GET", "/api/courses/{course}/logbook/{ann}"): (401, 200, 200, 404, 200, 404, 404),
    ("POST", "/api/references/{reference}/retire"): (401, 403, 200, 403, 403, 403, 403),
    ("POST", "/api/marking/{sitting}/release"): (401, 403, 200, 404, 403, 403, 403),
    ("POST", "/api/cards/{card}/retire"): (401, 403, 200, 404, 403, 403, 403),
}

OPEN = {"/api/session", "/api/session/first", "/api/session/invited", "/api/session/join"}
SIGNED_IN = {"/api/openapi.json"}
"""For all who are signed in."""
OWN = {
    "/api/session/all",
    "/api/session/trail",
    "/api/session/all/<int:session_id>",
    "/api/session/everywhere",
    "/api/session/password",
    "/api/uploads",
    "/api/captures/unused",
    "/api/captures/give-up",
}
"""Endpoints that only ever touch the caller's own things; tested in test_session, test_loop and test_uploads."""


class Rights(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        reference = cls.published_reference()
        card_id = cls.published_card(version_id=reference["version_id"])
        sitting_id = cls.handed_in("ann", card_id, Sweep(rate_hz=200))
        capture_id = cls.caller("teacher").get(f"/api/marking/{sitting_id}").json["capture_id"]
        cls.objects = {
            "course": cls.course_id,
            "ann": cls.ids["ann"],
            "spare": cls.ids["spare"],
            "capture": capture_id,
            "shelf_capture": reference["capture_id"],
            "reference": reference["id"],
            "card": card_id,
            "sitting": sitting_id,
            "no_record": 999,
            "job": cls.caller("admin").get("/api/jobs").json[0]["id"],
        }
        scope = {"range_v": 10, "duration_s": 2, "rate_hz": 500, "ground": "sensor ground"}
        record = {"range_v": 10, "duration_s": 5, "rate_hz": 100, "ground": "sensor ground"}
        document = cls.card_document(reference["version_id"])
        cls.bodies = {
            ("POST", "/api/people"): {"sign_in": "q"},
            ("PUT", "/api/school"): {"name": "Quay Workshops"},
            ("POST", "/api/people/table"): {"text": "New One", "course_id": cls.course_id, "keep": False},
            ("POST", "/api/people/{spare}/hand-over"): {"to_id": cls.ids["teacher"]},
            ("PATCH", "/api/people/{spare}"): {"active": True},
            ("POST", "/api/courses"): {"title": "New"},
            ("POST", "/api/courses/{course}/members"): {"person_id": cls.ids["ben"], "member": True},
            ("PUT", "/api/courses/{course}/members/{spare}/extra-time"): {"percent": 25},
            ("POST", "/api/sittings/{sitting}/more-time"): {"minutes": 5},
            ("POST", "/api/captures"): {"upload_id": 999, "circuit": CIRCUIT, "mapping": [], "interval_s": None},
            ("POST", "/api/captures/trainer"): {**record, "circuit": CIRCUIT},
            ("POST", "/api/captures/instrument"): {"circuit": CIRCUIT, "host": "10.0.0.1", "port": 5025},
            ("POST", "/api/references"): {
                "capture_id": capture_id,
                "title": "From a sitting",
                "document": EMPTY_DOCUMENT,
                "word": True,
            },
            ("POST", "/api/references/collections"): {"name": "Level 1", "ids": [cls.objects["reference"]]},
            ("PUT", "/api/references/{reference}/pair"): {"revision": 999, "other_id": None},
            ("POST", "/api/references/{reference}/review"): {"revision": 999, "fine": True},
            ("PUT", "/api/courses/{course}/review"): {"wanted": False},
            ("PUT", "/api/references/{reference}/reach"): {"reach": "school", "course_id": None},
            ("PUT", "/api/cards/{card}/reach"): {"reach": "course"},
            ("POST", "/api/cards/{card}/copy"): {"course_id": cls.course_id},
            ("PUT", "/api/references/{reference}"): {"revision": 999, "title": "x", "document": EMPTY_DOCUMENT},
            ("POST", "/api/cards"): {"course_id": cls.course_id, "document": document},
            ("PUT", "/api/cards/{card}"): {"revision": 999, "document": document},
            ("GET", "/api/sittings/{sitting}/parade"): (401, 404, 404, 404, 404, 404, 404),
            ("POST", "/api/sittings/{sitting}/records"): {"kind": "log", "rows": [{"at_s": "1", "action": "tap"}]},
            ("PUT", "/api/sittings/{sitting}/answer"): {"step": "capture", "answer": {}, "revision": 1},
            ("POST", "/api/sittings/{sitting}/record"): record,
            ("POST", "/api/sittings/{sitting}/run"): scope,
            ("PUT", "/api/sittings/{sitting}/run/scope"): {"run": 1, "settings": scope},
            ("POST", "/api/sittings/{sitting}/run/moves"): {"run": 1, "moves": []},
            ("POST", "/api/sittings/{sitting}/run/freeze"): {"run": 1, "begin_s": 0.0, "seconds": 1.0},
            ("POST", "/api/marking/{sitting}/comments"): {"from": 1.0, "to": 1.0, "words": "here"},
            ("POST", "/api/marking/{sitting}/second-marker"): {"marker_id": cls.ids["ann"]},
            ("POST", "/api/second-marking/{sitting}"): {"marks": {}},
            ("POST", "/api/sittings/{sitting}/capture"): {"capture_id": capture_id},
            ("POST", "/api/sittings/{sitting}/hand-in"): {"incomplete_ok": True},
            ("GET", "/api/marking/{sitting}/parade"): (401, 403, 404, 404, 403, 403, 403),
            ("GET", "/api/marking/{sitting}/corridor"): (401, 403, 200, 404, 403, 403, 403),
            ("POST", "/api/courses/{course}/regrade"): {"newest": False},
            ("POST", "/api/courses/{course}/regrade/take"): {"run_id": 999, "ids": [1], "why": "x"},
            ("POST", "/api/marking/release"): {"ids": [999_999]},
            ("POST", "/api/marking/{sitting}/changes/alike"): {
                "criterion": "no such",
                "earned": 0,
                "reason": "x",
                "also": [1],
            },
            ("POST", "/api/sittings/{sitting}/hint"): {"step": "call"},
            ("POST", "/api/sittings/{sitting}/second-look"): {"words": "Look at the evidence."},
            ("POST", "/api/marking/{sitting}/changes"): {"criterion": "no such", "earned": 0, "reason": "x"},
        }

    def test_role_by_endpoint_by_object(self):
        for (method, path), expected in TABLE.items():
            for name, status in zip(CALLERS, expected, strict=True):
                caller = self.caller(name)
                answer = caller._send(method, path.format(**self.objects), self.bodies.get((method, path), {}))
                with self.subTest(caller=name, call=f"{method} {path}"):
                    self.assertEqual(answer.status_code, status, answer.data[:300])

    def test_every_endpoint_is_in_the_table(self):
        def shape(path):
            parts = path.split("?")[0].split("/")
            return tuple("*" if p.startswith(("{", "<")) or p == "signal" or p.isdigit() else p for p in parts)

        known = {(method, shape(path)) for method, path in TABLE}
        for rule in self.app.url_map.iter_rules():
            if not rule.rule.startswith("/api/") or rule.rule in OPEN | OWN | SIGNED_IN:
                continue
            for method in rule.methods - {"HEAD", "OPTIONS"}:
                self.assertIn((method, shape(rule.rule)), known, f"{method} {rule.rule} has no row")
