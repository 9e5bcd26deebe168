"""Recordings on the trainer that take longer than a page should wait: a worker makes them."""

from __future__ import annotations

from unittest import mock

from tests.support.client import CIRCUIT, WebTest, work
from tracebench.usecases.sitting import recording

SETTINGS = {"range_v": 10, "duration_s": 32, "rate_hz": 500, "ground": "sensor ground", "sweeps": 2, "way_s": 6}


class LongRecordings(WebTest):
    """The line between short and long is drawn so low here that every record is long."""

    def setUp(self):
        super().setUp()
        drawn = mock.patch.object(recording, "AT_ONCE_VALUES", 1000)
        drawn.start()
        self.addCleanup(drawn.stop)

    def begun(self, *others):
        card_id = self.published_card(source={"kind": "trainer", "fault": "worn-idle", "severity": 1.0})
        whose = [self.caller(name) for name in ("ann", *others)]
        paths = [f"/api/sittings/{who.post(f'/api/cards/{card_id}/sittings').json['id']}" for who in whose]
        return sum(zip(whose, paths, strict=True), ())

    def test_a_sitting_goes_on_while_it_is_recorded_and_has_it_then(self):
        ann, path = self.begun()
        asked = ann.post(f"{path}/record", SETTINGS)
        self.assertEqual(asked.status_code, 200, asked.data)
        job = asked.json["job"]
        self.assertEqual((asked.json["sitting"]["capture_id"], job["state"]), (None, "waiting"))
        # What is recorded, and so the key, is known to the worker alone.
        self.assertNotIn("worn-idle", asked.get_data(as_text=True))
        answer = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}}
        saved = ann.put(f"{path}/answer", {**answer, "revision": asked.json["sitting"]["revision"]})
        self.assertEqual(saved.status_code, 200, saved.data)
        work(self.app)
        ended = ann.get(f"/api/jobs/{job['id']}")
        self.assertNotIn("worn-idle", ended.get_data(as_text=True))
        state = ann.get(path).json
        self.assertEqual((ended.json["state"], ended.json["result"]), ("done", {"capture_id": state["capture_id"]}))
        self.assertEqual(state["answers"]["reading-closed_v"]["value"], 0.7)
        self.assertEqual(ann.get(f"/api/captures/{state['capture_id']}").json["samples"], 16_000)

    def test_it_is_what_a_short_one_would_have_been(self):
        ann, path, ben, other = self.begun("ben")
        ann.post(f"{path}/record", SETTINGS)
        work(self.app)
        long = ann.get(path).json["capture_id"]
        with mock.patch.object(recording, "AT_ONCE_VALUES", 10**9):
            short = ben.post(f"{other}/record", SETTINGS).json
        self.assertIsNone(short["job"])
        heads = [who.get(f"/api/captures/{k}").json for who, k in ((ann, long), (ben, short["sitting"]["capture_id"]))]
        self.assertEqual(*([x["lane"] for x in head["lanes"]] for head in heads))
        self.assertEqual(*(head["samples"] for head in heads))

    def test_asked_twice_it_is_one_job_and_once_handed_in_it_changes_nothing(self):
        ann, path = self.begun()
        first, second = (ann.post(f"{path}/record", SETTINGS).json["job"]["id"] for _ in range(2))
        self.assertEqual(first, second)
        self.assertEqual(ann.post(f"{path}/hand-in", {"incomplete_ok": True}).status_code, 200)
        work(self.app)
        ended = ann.get(f"/api/jobs/{first}").json
        self.assertEqual(ended["state"], "failed")
        self.assertIn("handed in", ended["problem"])
        self.assertIsNone(ann.get(path).json["capture_id"])

    def test_settings_out_of_reach_are_refused_at_once(self):
        ann, path = self.begun()
        refused = ann.post(f"{path}/record", {**SETTINGS, "range_v": 7})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("choose one of", refused.json["detail"])

    def test_a_run_by_hand_is_kept_by_a_worker_too(self):
        ann, path = self.begun()
        scope = {"range_v": 10, "duration_s": 2, "rate_hz": 1000, "ground": "sensor ground"}
        run = ann.post(f"{path}/run", {**scope, "wires": None}).json["run"]
        ann.post(f"{path}/run/moves", {"run": run, "moves": [{"at_s": 0.0, "control": "key", "value": 1}]})
        with mock.patch("tracebench.usecases.sitting.trainer_run.Run.elapsed_s", return_value=5.0):
            kept = ann.post(f"{path}/run/freeze", {"run": run, "begin_s": 1.0, "seconds": 2.0})
        self.assertEqual(kept.status_code, 200, kept.data)
        work(self.app)
        self.assertEqual(ann.get(f"/api/jobs/{kept.json['job']['id']}").json["state"], "done")
        self.assertEqual(ann.get(f"/api/captures/{ann.get(path).json['capture_id']}").json["samples"], 2000)

    def test_an_instructors_own_becomes_a_capture_and_what_was_wrong_is_told(self):
        teacher = self.caller("teacher")
        body = {**SETTINGS, "circuit": CIRCUIT, "fault": "none"}
        jobs = [teacher.post("/api/captures/trainer", {**body, **more}).json for more in ({}, {"fault": "gremlins"})]
        self.assertEqual([told["capture"] for told in jobs], [None, None])
        work(self.app)
        done, failed = (teacher.get(f"/api/jobs/{told['job']['id']}").json for told in jobs)
        self.assertEqual(teacher.get(f"/api/captures/{done['result']['capture_id']}").json["origin"], "trainer")
        self.assertEqual(failed["state"], "failed")
        self.assertIn("worn-idle", failed["problem"])


if __name__ == "__main__":
    import unittest

    unittest.main()
