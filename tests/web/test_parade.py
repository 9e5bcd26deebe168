"""The parade of a reference over the API: its events laid over each other, whatever their number."""

import unittest

import numpy as np

from tests.support.client import EMPTY_DOCUMENT, WebTest
from tracebench.core.answer import Event
from tracebench.core.parade import MOST_EVENTS, chosen, laid_over

RECORD = {
    "circuit": "injector-current-parade",
    "range_v": 5,
    "duration_s": 0.8,
    "rate_hz": 100_000,
    "ground": "sensor ground",
    "fault": "high-resistance",
}


class Parade(WebTest):
    def reference(self, **document):
        teacher = self.caller("teacher")
        capture = teacher.post("/api/captures/trainer", RECORD).json["capture"]
        body = {"capture_id": capture["id"], "title": "Row", "document": {**EMPTY_DOCUMENT, "limits": [], **document}}
        made = teacher.post("/api/references", body)
        self.assertEqual(made.status_code, 201, made.data)
        return teacher, made.json["id"]

    def test_every_event_with_its_cylinder_from_its_own_start(self):
        teacher, reference = self.reference(options={"firing_order": "1-3-4-2"})
        answer = teacher.get(f"/api/references/{reference}").json["answer"]
        made = teacher.get(f"/api/references/{reference}/parade").json
        self.assertEqual(made["total"], len(answer["events"]))
        self.assertEqual({c["cylinder"] for c in made["courses"]}, {1, 2, 3, 4})
        self.assertEqual((made["lane"], made["unit"]), ("current", "A"))
        steps = len(made["courses"][0]["values"])
        grid = np.linspace(made["from"], made["to"], steps, endpoint=False)
        for course in made["courses"][1:-1]:
            values = np.array(course["values"], dtype=float)
            self.assertLess(np.abs(values[grid < -1e-4]).max(), 0.05)
            own = next(r for r in answer["readings"] if r["id"] == "peak_a" and r["cycle"] == course["number"])
            self.assertAlmostEqual(values.max(), own["value"], delta=0.04)

    def test_what_is_told_later_names_the_cylinders(self):
        teacher, reference = self.reference()
        before = teacher.get(f"/api/references/{reference}").json
        # By the sync lane alone a number is a place in the row, and the text says so.
        self.assertIn("position 2", before["answer"]["findings"][0]["text"])
        body = {"revision": before["revision"], "title": "Row", "document": before["document"]}
        body["document"]["options"] = {"firing_order": "1-3-4-2"}
        saved = teacher.put(f"/api/references/{reference}", body)
        self.assertEqual(saved.status_code, 200)
        self.assertEqual(saved.json["answer"]["because"], ["weak_current"])
        self.assertIn("cylinder 3", saved.json["answer"]["findings"][0]["text"])
        body = {**body, "revision": saved.json["revision"]}
        body["document"]["options"] = {"firing_order": "1-3-3-2"}
        refused = teacher.put(f"/api/references/{reference}", body)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("firing_order", refused.json["detail"])


class Cylinders(WebTest):
    """How many there are, their order, and which of them has the fault."""

    def test_the_trainer_has_the_engine_that_is_told(self):
        teacher = self.caller("teacher")
        told = {"firing_order": "1-5-3-6-2-4", "cylinder": 5}
        capture = teacher.post("/api/captures/trainer", {**RECORD, **told}).json["capture"]["id"]
        document = {**EMPTY_DOCUMENT, "limits": [], "options": {"firing_order": told["firing_order"]}}
        body = {"capture_id": capture, "title": "Row of six", "document": document}
        made = teacher.post("/api/references", body).json["id"]
        answer = teacher.get(f"/api/references/{made}").json["answer"]
        self.assertEqual((answer["call"], [f["cylinder"] for f in answer["findings"]]), ("faulty", [5]))

    def test_what_no_engine_has_is_refused(self):
        teacher = self.caller("teacher")
        paired = {"circuit": "secondary-voltage", "layout": "paired", "firing_order": "1-2-3", "fault": "none"}
        for changes, words in (
            ({"firing_order": "1-3-3-2"}, "name each cylinder"),
            ({**paired, "range_v": 50, "rate_hz": 500_000}, "3 cylinders have no pairs"),
        ):
            refused = teacher.post("/api/captures/trainer", {**RECORD, **changes})
            self.assertEqual(refused.status_code, 422)
            self.assertIn(words, refused.json["detail"])

    def test_a_card_that_no_engine_can_be_is_refused_when_it_is_made(self):
        trainer, circuit = {"kind": "trainer", "fault": "none", "severity": 1.0}, "secondary-voltage"
        for source, order, words in (
            ({**trainer, "layout": "paired"}, "1-2-3", "3 cylinders have no pairs"),
            ({"kind": "upload"}, "1-2-2", "name each cylinder"),
            ({**trainer, "layout": "boxer"}, "1-2-3", "choose one of"),
        ):
            document = self.card_document(None, circuit=circuit, source=source, options={"firing_order": order})
            document["steps"] = [{"kind": "capture", "reading": None, "prompt": ""}]
            body = {"course_id": self.course_id, "document": document}
            refused = self.caller("teacher").post("/api/cards", body)
            self.assertEqual(refused.status_code, 422)
            self.assertIn(words, refused.json["detail"])

    def test_a_trainers_card_without_an_order_has_the_usual_one(self):
        source = {"kind": "trainer", "fault": "none", "severity": 1.0}
        card = self.published_card(
            title="Row",
            circuit=RECORD["circuit"],
            source=source,
            steps=[{"kind": "capture", "reading": None, "prompt": ""}],
        )
        kept = self.caller("teacher").get(f"/api/cards/{card}").json["document"]
        self.assertEqual(kept["options"], {"firing_order": "1-3-4-2"})

    def test_a_cards_engine_is_its_references_and_the_learner_is_not_told_which_cylinder(self):
        card_id = self.published_card(
            title="Row of six",
            circuit=RECORD["circuit"],
            source={"kind": "trainer", "fault": "high-resistance", "severity": 1.0, "cylinder": 6},
            options={"firing_order": "1-5-3-6-2-4"},
            steps=[{"kind": "capture", "reading": None, "prompt": "Clamp round the common feed"}],
            points={},
        )
        learner, teacher = self.caller("ann"), self.caller("teacher")
        begun = learner.post(f"/api/cards/{card_id}/sittings").json
        begun = learner.get(f"/api/sittings/{begun['id']}").json
        self.assertEqual(set(begun["card"]["source"]), {"kind", "vehicle"})
        settings = {k: RECORD[k] for k in ("range_v", "duration_s", "rate_hz", "ground")}
        learner.post(f"/api/sittings/{begun['id']}/record", settings)
        learner.post(f"/api/sittings/{begun['id']}/hand-in", {"incomplete_ok": True})
        sheet = teacher.get(f"/api/marking/{begun['id']}").json
        odd = [f for f in sheet["measured"]["findings"] if f["kind"] == "fault"]
        self.assertEqual([(f["code"], f["cylinder"]) for f in odd], [("weak_current", 6)])


class OfASitting(WebTest):
    """A learner's capture beside the reference's cylinders: at the marking desk, and theirs once released."""

    def test_from_the_desk_to_the_learner(self):
        teacher, learner = self.caller("teacher"), self.caller("ann")
        options = {"firing_order": "1-3-4-2"}
        capture = teacher.post("/api/captures/trainer", {**RECORD, "fault": "none"}).json["capture"]["id"]
        document = {**EMPTY_DOCUMENT, "limits": [], "options": options}
        made = teacher.post("/api/references", {"capture_id": capture, "title": "Sound", "document": document}).json
        version = teacher.post(f"/api/references/{made['id']}/publish").json["versions"][0]["id"]
        source = {"kind": "trainer", "fault": "high-resistance", "severity": 1.0}
        steps = [{"kind": "capture", "reading": None, "prompt": ""}, {"kind": "call", "reading": None, "prompt": ""}]
        card = self.published_card(
            circuit=RECORD["circuit"], reference_version_id=version, source=source, steps=steps, limits=[], points={}
        )
        sitting = learner.post(f"/api/cards/{card}/sittings").json["id"]
        settings = {k: v for k, v in RECORD.items() if k not in ("circuit", "fault")}
        self.assertEqual(learner.post(f"/api/sittings/{sitting}/record", settings).status_code, 200)
        # Before the release its events would say which of them is odd.
        self.assertEqual(learner.get(f"/api/sittings/{sitting}/parade").status_code, 404)
        learner.post(f"/api/sittings/{sitting}/hand-in", {"incomplete_ok": True})
        self.assertEqual(learner.get(f"/api/sittings/{sitting}/parade").status_code, 404)
        sheet = teacher.get(f"/api/marking/{sitting}").json
        told = [b for b in sheet["beside_reference"] if b["told"]]
        self.assertEqual({b["cylinder"] for b in told}, {3})
        self.assertIn("peak_a", {b["reading"] for b in told})
        seen = teacher.get(f"/api/marking/{sitting}/parade")
        self.assertEqual(seen.status_code, 200, seen.data)
        self.assertEqual({c["cylinder"] for c in seen.json["courses"]}, {1, 2, 3, 4})
        teacher.post(f"/api/marking/{sitting}/release")
        self.assertEqual(learner.get(f"/api/sittings/{sitting}/parade").json, seen.json)
        feedback = learner.get(f"/api/sittings/{sitting}").json["feedback"]
        self.assertEqual(feedback["beside_reference"], sheet["beside_reference"])


class Clamp(WebTest):
    """Errors that learners make with a clamp reach the capture and are found."""

    def found(self, **probe):
        teacher = self.caller("teacher")
        body = {**RECORD, "circuit": "injector-current", "fault": "none", "duration_s": 0.5, **probe}
        capture = teacher.post("/api/captures/trainer", body)
        self.assertEqual(capture.status_code, 201, capture.data)
        document = {**EMPTY_DOCUMENT, "limits": []}
        body = {"capture_id": capture.json["capture"]["id"], "title": "Clamp", "document": document}
        made = teacher.post("/api/references", body).json["id"]
        return teacher.get(f"/api/references/{made}").json["answer"]

    def test_wrong_factor_reversed_arrow_and_a_zero_not_set(self):
        peak = next(r["value"] for r in self.found()["readings"] if r["id"] == "peak_a")
        tenfold = self.found(probe_factor=10.0, range_v=50)
        self.assertIn("scale_suspect", [f["code"] for f in tenfold["findings"]])
        read = next(r["value"] for r in tenfold["readings"] if r["id"] == "peak_a")
        self.assertAlmostEqual(read, peak, delta=0.04)
        # The range holds little below its zero, so that a reversed clamp is cut off as well.
        turned = self.found(probe_reversed=True)
        self.assertLessEqual({"reversed_polarity", "clipped"}, {f["code"] for f in turned["findings"]})
        self.assertNotEqual(turned["call"], "sound")
        drifted = self.found(probe_zeroed=False)
        self.assertAlmostEqual(next(r["value"] for r in drifted["readings"] if r["id"] == "peak_a"), peak, delta=0.02)
        refused = self.caller("teacher").post("/api/captures/trainer", {**RECORD, "probe_factor": 3.0})
        self.assertEqual(refused.status_code, 422)


class Choosing(unittest.TestCase):
    def test_of_many_the_unusual_and_some_of_every_cylinder(self):
        events = [Event(k + 1, 0.04 * k, 0.04 * k + 0.003, k % 4 + 1, float(k == 700) * 90, "") for k in range(2000)]
        shown = chosen(events)
        self.assertLessEqual(len(shown), MOST_EVENTS)
        self.assertIn(701, [e.number for e in shown])
        self.assertEqual({e.cylinder for e in shown}, {1, 2, 3, 4})
        self.assertEqual([e.number for e in shown], sorted(e.number for e in shown))

    def test_a_spike_of_one_sample_is_still_there_and_beyond_the_record_is_nothing(self):
        samples = np.zeros(100_000)
        samples[50_003] = 9.0
        events = [Event(1, 0.5, 0.52, None, 0.0, ""), Event(2, 0.99, 1.01, None, 0.0, "")]
        made = laid_over(events, lambda a, b: samples[a:b], samples.size, 1e-5, 0.0)
        self.assertEqual(np.nanmax(made.courses[0].values), 9.0)
        self.assertTrue(np.isnan(made.courses[1].values[-1]))
        with self.assertRaises(ValueError):
            laid_over([], lambda a, b: samples[a:b], samples.size, 1e-5, 0.0)


if __name__ == "__main__":
    unittest.main()
