"""A run of the trainer over the API: what the scope shows comes by itself while hands move."""

import json
import unittest

from tests.support.client import WebTest
from tracebench.web.areas.trainer_runs import rest_s

SCOPE = {"range_v": 10, "duration_s": 0.2, "rate_hz": 1000, "ground": "sensor ground"}


class Runs(WebTest):
    def begun(self):
        card_id = self.published_card(
            version_id=self.published_reference()["version_id"], source={"kind": "trainer", "fault": "none"}
        )
        ann = self.caller("ann")
        path = f"/api/sittings/{ann.post(f'/api/cards/{card_id}/sittings').json['id']}"
        return ann, path, ann.post(f"{path}/run", SCOPE).json["run"]

    def pictures(self, caller, path, run):
        """What comes over the stream, one after another."""
        answer = caller.get(f"{path}/run/events?run={run}")
        self.assertEqual(answer.mimetype, "text/event-stream")
        with answer:
            for part in answer.iter_encoded():
                if part.startswith(b"data: "):
                    yield json.loads(part.decode().removeprefix("data: "))

    def test_the_picture_follows_the_hand_and_is_kept_as_it_stands(self):
        ann, path, run = self.begun()
        told = ann.post(f"{path}/run/moves", {"run": run, "moves": [{"at_s": 0.0, "control": "key", "value": 1}]})
        self.assertEqual((told.status_code, told.json["run"]), (200, run))
        stream = self.pictures(ann, path, run)
        shown = next(p for p in stream if p["lanes"] and p["begin_s"] > 0.05)
        stream.close()
        self.assertEqual((shown["whole"], shown["seconds"]), (True, 0.2))
        self.assertEqual([x["name"] for x in shown["lanes"]], ["signal", "reference", "ground"])
        self.assertAlmostEqual(shown["lanes"][1]["high"][50], 5.0, delta=0.1)
        body = {"run": run, "begin_s": shown["begin_s"], "seconds": shown["seconds"]}
        state = ann.post(f"{path}/run/freeze", body).json["sitting"]
        record = ann.get(f"/api/captures/{state['capture_id']}").json
        self.assertEqual(record["samples"], 200)

    def test_a_picture_that_took_long_does_not_hold_up_the_next(self):
        # A quick one waits for its turn, a long one rests; neither a busy machine nor a first picture makes that long.
        self.assertAlmostEqual(rest_s(0.05, 0.02), 0.35)
        self.assertAlmostEqual(rest_s(0.5, 0.4), 0.8)
        self.assertAlmostEqual(rest_s(6.0, 0.1), 0.2)
        self.assertLessEqual(rest_s(7.0, 1.5), 1.5)

    def test_a_window_that_was_overtaken_is_told_and_a_bad_move_says_why(self):
        ann, path, run = self.begun()
        bad = ann.post(f"{path}/run/moves", {"run": run, "moves": [{"at_s": 0.0, "control": "wings", "value": 1}]})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("choose one of key, travel", bad.json["detail"])
        ann.post(f"{path}/run", SCOPE)
        for answer in (
            ann.post(f"{path}/run/moves", {"run": run, "moves": []}),
            ann.put(f"{path}/run/scope", {"run": run, "settings": SCOPE}),
            ann.get(f"{path}/run/events?run={run}"),
        ):
            self.assertEqual(answer.status_code, 409)
            self.assertIn("another window", answer.json["detail"])


if __name__ == "__main__":
    unittest.main()
