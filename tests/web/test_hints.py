"""Hints that cost, steps that open after an earlier answer, and cards that open on a day: over the API."""

import unittest

from tests.support.client import WebTest, csv_of, work
from tests.support.waves import Sweep

STEPS = [
    {"kind": "capture", "prompt": "Capture"},
    {"kind": "reading", "reading": "closed_v", "prompt": "Closed?", "hint": "Look before the first movement."},
    {"kind": "reading", "reading": "open_v", "prompt": "The plateau at 8 s?", "after": "reading-closed_v"},
    {"kind": "call", "prompt": "Call", "after": "reading-open_v", "hint": "Hold both against their limits."},
]


class Hints(WebTest):
    def begun(self, **card):
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, steps=STEPS, **card)
        ann = self.caller("ann")
        path = f"/api/sittings/{ann.post(f'/api/cards/{card_id}/sittings').json['id']}"
        return ann, path, ann.post(f"{path}/capture", {"capture_id": ann.import_csv(csv_of(Sweep(rate_hz=200)))}).json

    def steps(self, state):
        return {s["id"]: s for s in state["card"]["steps"]}

    def test_a_step_opens_once_the_one_before_is_answered(self):
        ann, path, state = self.begun()
        later = self.steps(state)["reading-open_v"]
        self.assertEqual((later["locked"], later["prompt"]), (True, ""))
        self.assertNotIn("8 s", str(state))
        body = {"step": "reading-open_v", "answer": {"value": 4.2}, "revision": state["revision"]}
        refused = ann.put(f"{path}/answer", body)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("earlier one", refused.json["detail"])
        body = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}, "revision": state["revision"]}
        state = ann.put(f"{path}/answer", body).json
        opened = self.steps(state)
        self.assertEqual((opened["reading-open_v"]["locked"], opened["call"]["locked"]), (False, True))
        self.assertEqual(opened["reading-open_v"]["prompt"], "The plateau at 8 s?")

    def test_a_capture_waits_for_what_comes_before_it(self):
        wires = [{"label": x, "seen": "", "lane": lane} for x, lane in (("A", "signal"), ("B", "ground"))]
        steps = [{"kind": "connect", "wires": wires, "prompt": ""}, {**STEPS[0], "after": "connect"}]
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, steps=[*steps, {"kind": "call", "prompt": ""}])
        ann = self.caller("ann")
        path = f"/api/sittings/{ann.post(f'/api/cards/{card_id}/sittings').json['id']}"
        body = {"capture_id": ann.import_csv(csv_of(Sweep(rate_hz=200)))}
        self.assertEqual(ann.post(f"{path}/capture", body).status_code, 409)
        revision = ann.get(path).json["revision"]
        answer = {"wires": {"A": "ground", "B": "signal"}}
        ann.put(f"{path}/answer", {"step": "connect", "answer": answer, "revision": revision})
        self.assertEqual(ann.post(f"{path}/capture", body).status_code, 200)

    def test_a_hint_is_told_when_it_is_taken_and_costs_a_quarter(self):
        ann, path, state = self.begun()
        self.assertNotIn("first movement", str(state))
        self.assertTrue(self.steps(state)["reading-closed_v"]["has_hint"])
        # The hint of a locked step stays closed with it.
        self.assertEqual(ann.post(f"{path}/hint", {"step": "call"}).status_code, 404)
        self.assertEqual(ann.post(f"{path}/hint", {"step": "reading-open_v"}).status_code, 404)
        state = ann.post(f"{path}/hint", {"step": "reading-closed_v"}).json
        self.assertEqual(self.steps(state)["reading-closed_v"]["hint"], "Look before the first movement.")
        again = ann.post(f"{path}/hint", {"step": "reading-closed_v"}).json
        self.assertEqual(again["revision"], state["revision"])
        body = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}, "revision": state["revision"]}
        ann.put(f"{path}/answer", body)
        ann.post(f"{path}/hand-in", {"incomplete_ok": True})
        work(self.app)
        sheet = self.caller("teacher").get(path.replace("sittings", "marking")).json
        row = next(r for r in sheet["grade"]["results"] if r["criterion"] == "reading:closed_v")
        self.assertEqual(row["earned"], 2.25)
        self.assertIn("A hint was taken: 25 % off", row["reason"])

    def test_nobody_begins_before_the_day(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"], opens="2999-01-31")
        refused = self.caller("ann").post(f"/api/cards/{card_id}/sittings")
        self.assertEqual(refused.status_code, 409)
        self.assertIn("opens on 2999-01-31", refused.json["detail"])
        self.assertEqual(self.caller("teacher").post(f"/api/cards/{card_id}/sittings").status_code, 201)

    def test_bad_cards_are_refused_in_words(self):
        teacher = self.caller("teacher")
        document = self.card_document(self.published_reference()["version_id"])
        for change, said in (
            ({"steps": [{**STEPS[2]}]}, "after: the id of an earlier step"),
            ({"opens": "soon"}, "opens: a date"),
            ({"opens": "2030-02-30"}, "opens: a date"),
            ({"opens": "2030-13-01"}, "opens: a date"),
        ):
            refused = teacher.post("/api/cards", {"course_id": self.course_id, "document": {**document, **change}})
            self.assertEqual(refused.status_code, 422, refused.data)
            self.assertIn(said, refused.json["detail"])


if __name__ == "__main__":
    unittest.main()
