"""The whole loop through the API: import, reference, card, sitting, marks, release, skill; and what stays secret."""

import json

import numpy as np

from tests.support.client import CIRCUIT, EMPTY_DOCUMENT, WebTest, csv_of
from tests.support.waves import Sweep

WORN = Sweep(rate_hz=500, dips=((1.8, 0.02, 0.9), (12.7, 0.02, 0.9)))

SECRETS = (
    "finding",
    "dropout",
    "uncertainty",
    "because",
    "worn",
    "severity",
    'state": "outside',
    "settled",
    'earned": 1',
)


class Import(WebTest):
    def captures(self):
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT (SELECT COUNT(*) FROM capture) + (SELECT COUNT(*) FROM capture_lane) AS n")
            return cursor.fetchone()["n"]

    def test_preview_says_what_was_understood(self):
        sent = self.caller("teacher").upload(csv_of(Sweep(rate_hz=100))).json
        self.assertEqual(sent["mapping"], [{"position": 2, "lane": "signal", "factor": 1.0}])
        self.assertTrue(sent["layout"]["columns"][0]["is_time"])
        self.assertEqual(sent["layout"]["columns"][1]["unit"], "V")

    def test_what_is_not_understood_is_refused_with_its_place_and_not_stored(self):
        teacher = self.caller("teacher")
        captures = self.captures()
        before = sorted(self.uploads.iterdir()) if self.uploads.exists() else []
        answer = teacher.upload(b"Dear Sir,\nthis is no capture\n")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("no rows of numbers", answer.json["detail"])
        self.assertEqual(sorted(self.uploads.iterdir()), before)
        rows = csv_of(Sweep(rate_hz=100)) + b"99,oops\n"
        sent = teacher.upload(rows).json
        body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
        refused = teacher.post("/api/captures", body)
        self.assertEqual(refused.status_code, 422)
        self.assertRegex(refused.json["detail"], r"line \d+, column 2: 'oops' is not a number")
        self.assertEqual(self.captures(), captures)

    def test_mapping_is_checked(self):
        teacher = self.caller("teacher")
        sent = teacher.upload(csv_of(Sweep(rate_hz=100))).json
        for mapping, words in (
            ([], "needs it"),
            ([{"position": 9, "lane": "signal", "factor": 1}], "no column 9"),
            ([{"position": 2, "lane": "knob", "factor": 1}], "no lane 'knob'"),
            ([{"position": 2, "lane": "signal", "factor": 0}], "other than 0"),
            ([{"position": 2, "lane": "signal", "factor": 1}] * 2, "same lane"),
        ):
            body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": mapping, "interval_s": None}
            answer = teacher.post("/api/captures", body)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json["detail"])

    def test_tiles_hold_every_extreme_and_are_cached_for_ever(self):
        sweep = Sweep(rate_hz=2000, dips=((3.0, 0.001, 0.9),))
        teacher = self.caller("teacher")
        capture_id = teacher.import_csv(csv_of(sweep))
        _, volts = sweep.samples()
        for level in (0, 1, 4, 7):
            parts, number = [], 0
            while True:
                answer = teacher.get(f"/api/captures/{capture_id}/lanes/signal/tiles/{level}/{number}")
                self.assertIn("immutable", answer.headers["Cache-Control"])
                part = np.frombuffer(answer.data, dtype="<f4")
                if not part.size:
                    break
                parts.append(part)
                number += 1
            seen = np.concatenate(parts)
            self.assertAlmostEqual(float(seen.min()), volts.min(), places=3)
            self.assertAlmostEqual(float(seen.max()), volts.max(), places=3)
            bins = volts.size if level == 0 else 2 * -(-volts.size // 2**level)
            self.assertEqual(seen.size, bins)


class Shelf(WebTest):
    def test_versions_never_change_and_stale_saves_are_refused(self):
        reference = self.published_reference()
        teacher = self.caller("teacher")
        path = f"/api/references/{reference['id']}"
        tag = {"from": 1.0, "to": 2.0, "lane": "signal", "text": "Even rise"}
        body = {
            "revision": reference["revision"],
            "title": "Sound, tagged",
            "document": {**EMPTY_DOCUMENT, "tags": [tag]},
        }
        saved = teacher.put(path, body).json
        self.assertEqual((saved["state"], saved["title"]), ("draft", "Sound, tagged"))
        self.assertEqual(teacher.put(path, body).status_code, 409)
        second = teacher.post(f"{path}/publish").json
        self.assertEqual([(v["version"], v["title"]) for v in second["versions"]], [(2, "Sound, tagged"), (1, "Sound")])
        self.assertEqual(teacher.post(f"{path}/publish").status_code, 409)
        self.assertEqual(teacher.post(f"{path}/retire").json["state"], "retired")

    def test_limits_phases_and_options_reach_the_answer(self):
        reference = self.published_reference()
        document = {
            **EMPTY_DOCUMENT,
            "limits": [{"reading": "closed_v", "low": 1.0, "high": 1.2, "basis": "maker", "marginal": None}],
            "phases": [{"name": "closed", "from": 0.1, "to": 0.4}],
        }
        body = {"revision": reference["revision"], "title": "Other maker", "document": document}
        answer = self.caller("teacher").put(f"/api/references/{reference['id']}", body).json["answer"]
        self.assertEqual(answer["call"], "faulty")
        self.assertIn("low_closed", answer["because"])
        self.assertEqual(answer["phases"][0]["from"], 0.1)

    def test_refusals_name_the_part(self):
        reference = self.published_reference()
        bad = {**EMPTY_DOCUMENT, "tags": [{"from": 1, "to": 2, "lane": "signal", "text": " "}]}
        body = {"revision": reference["revision"], "title": "x", "document": bad}
        answer = self.caller("teacher").put(f"/api/references/{reference['id']}", body)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("tag", answer.json["detail"])


class Sitting(WebTest):
    def begin(self, **card):
        card_id = self.published_card(**card)
        sitting_id = self.caller("ann").post(f"/api/cards/{card_id}/sittings").json["id"]
        return card_id, f"/api/sittings/{sitting_id}"

    def test_starting_again_goes_on_with_the_open_one(self):
        card_id, path = self.begin()
        again = self.caller("ann").post(f"/api/cards/{card_id}/sittings").json["id"]
        self.assertEqual(path, f"/api/sittings/{again}")

    def test_each_change_is_saved_and_another_windows_change_is_noticed(self):
        _, path = self.begin()
        ann = self.caller("ann")
        first = ann.get(path).json
        body = {"step": "reading-closed_v", "answer": {"value": 0.7}, "revision": first["revision"]}
        second = ann.put(f"{path}/answer", body).json
        self.assertEqual(second["answers"]["reading-closed_v"]["value"], 0.7)
        stale = ann.put(f"{path}/answer", body)
        self.assertEqual(stale.status_code, 409)
        self.assertIn("another window", stale.json["detail"])
        self.assertEqual(ann.get(path).json["answers"], second["answers"])

    def test_hand_in_says_what_is_missing(self):
        _, path = self.begin()
        refused = self.caller("ann").post(f"{path}/hand-in", {"incomplete_ok": False})
        self.assertEqual(refused.status_code, 409)
        self.assertIn("there is no capture yet", refused.json["detail"])

    def test_attempts_run_out(self):
        card_id = self.published_card(attempts=1)
        self.handed_in("ben", card_id, Sweep(rate_hz=100))
        answer = self.caller("ben").post(f"/api/cards/{card_id}/sittings")
        self.assertEqual(answer.status_code, 409)
        self.assertIn("attempts are used", answer.json["detail"])

    def test_the_trainer_records_with_the_cards_fault(self):
        _, path = self.begin(source={"kind": "trainer", "fault": "worn-idle", "severity": 1.0, "vehicle": "Bay 1"})
        ann = self.caller("ann")
        settings = {"range_v": 10, "duration_s": 32, "rate_hz": 500, "ground": "sensor ground", "sweeps": 2, "way_s": 6}
        state = ann.post(f"{path}/record", settings).json["sitting"]
        self.assertIsNotNone(state["capture_id"])
        self.assertEqual(state["card"]["source"], {"kind": "trainer", "vehicle": "Bay 1"})
        hand = {**settings, "movement": [[0, 0], [5, 1], [10, 0], [32, 0]]}
        self.assertEqual(ann.post(f"{path}/record", hand).status_code, 200)
        refused = ann.post(f"{path}/record", {**settings, "range_v": 7})
        self.assertIn("choose one of", refused.json["detail"])

    def test_somebody_elses_capture_cannot_be_used(self):
        _, path = self.begin()
        capture_id = self.caller("ben").import_csv(csv_of(Sweep(rate_hz=100)))
        self.assertEqual(self.caller("ann").post(f"{path}/capture", {"capture_id": capture_id}).status_code, 404)


class Release(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.reference = cls.published_reference()
        cls.card_id = cls.published_card(version_id=cls.reference["version_id"])

    def learner_responses(self, sitting_id, capture_id):
        """Every response a learner can get about a sitting."""
        ann = self.caller("ann")
        return {
            path: ann.get(path)
            for path in (
                "/api/today",
                "/api/cards",
                "/api/sittings",
                f"/api/sittings/{sitting_id}",
                f"/api/captures/{capture_id}",
                f"/api/captures/{capture_id}/values?at=0.5,3",
                f"/api/courses/{self.course_id}/logbook/{self.ids['ann']}",
                f"/api/marking/{sitting_id}",
                f"/api/references/{self.reference['id']}",
                f"/api/captures/{self.reference['capture_id']}",
                f"/api/cards/{self.card_id}",
            )
        }

    def test_key_stays_secret_until_release_then_feedback_comes(self):
        ann, teacher = self.caller("ann"), self.caller("teacher")
        sitting_id = self.handed_in("ann", self.card_id, WORN)
        sheet = teacher.get(f"/api/marking/{sitting_id}").json
        self.assertEqual(sheet["measured"]["call"], "faulty")
        key = [f["text"] for f in sheet["measured"]["findings"]] + [r["reason"] for r in sheet["grade"]["results"]]
        for path, answer in self.learner_responses(sitting_id, sheet["capture_id"]).items():
            with self.subTest(path=path):
                for text in key:
                    self.assertNotIn(text, answer.text)
                for secret in SECRETS:
                    self.assertNotIn(secret, answer.text.replace('"findings"', ""), answer.text[:500])
        hidden = ann.get(f"/api/sittings/{sitting_id}").json
        self.assertIsNone(hidden["feedback"])

        changed = teacher.post(
            f"/api/marking/{sitting_id}/changes",
            {"criterion": "reading:closed_v", "earned": 1.0, "reason": "Read at the wrong end of the rest."},
        ).json
        row = next(r for r in changed["grade"]["results"] if r["criterion"] == "reading:closed_v")
        self.assertEqual((row["settled"], row["earned"], row["changed"]["author"]), (1.0, 3.0, "Teacher"))

        teacher.post(f"/api/marking/{sitting_id}/release")
        feedback = ann.get(f"/api/sittings/{sitting_id}").json["feedback"]
        self.assertEqual(feedback["grade"]["earned"], changed["grade"]["earned"])
        call = next(r for r in feedback["grade"]["results"] if r["criterion"] == "call")
        self.assertIn("passed more than the capture shows", call["reason"])
        self.assertTrue(call["stretches"])
        self.assertEqual(ann.get(f"/api/captures/{feedback['reference_capture_id']}").status_code, 200)

        after = teacher.post(f"/api/marking/{sitting_id}/changes", {"criterion": "call", "earned": 4, "reason": "x"})
        self.assertEqual(after.status_code, 409)
        self.assertEqual(teacher.post(f"/api/marking/{sitting_id}/release").status_code, 409)

    def test_changes_need_points_in_range_and_a_reason(self):
        sitting_id = self.handed_in("ben", self.card_id, Sweep(rate_hz=100))
        teacher = self.caller("teacher")
        for change, words in (
            ({"earned": 99}, "points for the call: 0 to 2"),
            ({"reason": " "}, "say why"),
            ({"criterion": "magic"}, "no criterion"),
        ):
            body = {"criterion": "call", "earned": 1, "reason": "because", **change}
            answer = teacher.post(f"/api/marking/{sitting_id}/changes", body)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json["detail"])

    def test_the_desk_shows_so_many_of_those_released_as_are_asked_for(self):
        card_id = self.published_card(attempts=3)
        ids = [self.handed_in("ben", card_id, Sweep(rate_hz=200)) for _ in range(2)]
        for sitting_id in ids:
            self.caller("teacher").post(f"/api/marking/{sitting_id}/release")
        path = f"/api/courses/{self.course_id}/desk?released="
        for count, shown in ((0, []), (1, ids[1:]), (50, ids[::-1])):
            rows = self.caller("teacher").get(f"{path}{count}").json
            released = [r["id"] for r in rows if r["state"] == "released" and r["id"] in ids]
            self.assertEqual(released, shown)
        self.assertEqual(self.caller("teacher").get(f"{path}-1").status_code, 422)

    def test_desk_puts_the_least_certain_first_and_skill_moves_on_release(self):
        teacher = self.caller("teacher")
        path = f"/api/courses/{self.course_id}/skill-map"

        def cell(name, skill):
            learner = next(x for x in teacher.get(path).json["learners"] if x["id"] == self.ids[name])
            return next(c for c in learner["cells"] if c["skill"] == skill)

        before = cell("ben", "conclude")
        card_id = self.published_card(version_id=self.reference["version_id"], title="Second")
        sitting_id = self.handed_in("ben", card_id, Sweep(rate_hz=100))
        self.assertEqual(cell("ben", "conclude"), before)
        desk = [d for d in teacher.get(f"/api/courses/{self.course_id}/desk").json if d["state"] == "handed_in"]
        self.assertEqual([d["certainty"] for d in desk], sorted(d["certainty"] for d in desk))
        teacher.post(f"/api/marking/{sitting_id}/release")
        after = cell("ben", "conclude")
        self.assertGreater(after["criteria"], before["criteria"])
        self.assertGreater(after["estimate"], 0.5)
        logbook = self.caller("ben").get(f"/api/courses/{self.course_id}/logbook/{self.ids['ben']}").json
        self.assertEqual(logbook["sittings"][0]["id"], sitting_id)

    def test_grade_run_keeps_engine_and_inputs(self):
        sitting_id = self.handed_in("ann", self.published_card(), Sweep(rate_hz=100))
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT engine, inputs FROM grade_run WHERE sitting_id = %s", (sitting_id,))
            row = cursor.fetchone()
        self.assertEqual(row["engine"], self.caller("teacher").get(f"/api/marking/{sitting_id}").json["engine"])
        self.assertEqual(set(json.loads(row["inputs"])), {"answers", "capture_id", "card_version_id", "hints"})
