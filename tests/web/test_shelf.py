"""The shelf as it is searched and paged: what is found, what is not, and that a change is found at once."""

import statistics
from unittest import mock

import numpy as np

from tests.support.client import EMPTY_DOCUMENT, WebTest, csv_of
from tests.support.waves import Sweep
from tracebench.usecases.shelf import listing


class Shelf(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        teacher = cls.caller("teacher")
        cls.capture_id = teacher.import_csv(csv_of(Sweep(rate_hz=200)))
        cls.made = [
            cls.add(
                f"Sweep number {k}", vehicle=f"Linnet {1 + k % 3}.6", conditions="warm" if k % 2 else "cold morning"
            )
            for k in range(9)
        ]
        cls.add("Worn near rest", tags=("The dropout stands at rest",), vehicle="Osier 2.0 D")

    @classmethod
    def document(cls, tags=(), **provenance):
        return {
            **EMPTY_DOCUMENT,
            "tags": [{"from": 0.0, "to": 1.0, "lane": "signal", "text": text} for text in tags],
            "provenance": {**EMPTY_DOCUMENT["provenance"], **provenance},
        }

    @classmethod
    def add(cls, title, tags=(), **provenance):
        body = {"capture_id": cls.capture_id, "title": title, "document": cls.document(tags, **provenance)}
        return cls.caller("teacher").post("/api/references", body).json["id"]

    def found(self, query="", who="teacher"):
        answer = self.caller(who).get(f"/api/references?{query}")
        self.assertEqual(answer.status_code, 200, answer.json)
        self.assertGreaterEqual(answer.json["total"], len(answer.json["items"]))
        return answer.json

    def titles(self, query):
        return [item["title"] for item in self.found(query)["items"]]

    def test_pages_hold_each_once_the_newest_change_first(self):
        pages = [self.found(f"size=4&after={k}") for k in (0, 4, 8)]
        self.assertEqual({p["total"] for p in pages}, {10})
        ids = [item["id"] for p in pages for item in p["items"]]
        self.assertEqual(len(set(ids)), 10)
        self.assertEqual(ids[-1], self.made[0])
        self.assertEqual(self.found("after=500")["items"], [])
        self.assertEqual(self.found("after=500")["total"], 10)

    def test_every_word_must_be_there_as_a_beginning_in_title_provenance_or_tags(self):
        # Rare words by their index, common ones by reading what is there: the answer is the same.
        for common in (listing.COMMON, 0):
            with self.subTest(common=common), mock.patch.object(listing, "COMMON", common):
                self.assertEqual(self.titles("words=worn"), ["Worn near rest"])
                self.assertEqual(self.titles("words=OSI dropo"), ["Worn near rest"])
                self.assertEqual(self.titles("words=throttle osier"), ["Worn near rest"])
                self.assertEqual(self.titles("words=osier linnet"), [])
                self.assertEqual(len(self.titles("words=linnet warm")), 4)
                # Of an index of words these would not be there: they are left out, or looked for in the text.
                self.assertEqual(self.titles("words=the dropout"), ["Worn near rest"])
                self.assertEqual(len(self.titles("words=3.6")), 3)
                self.assertEqual(self.titles("words=%2B%2D%28%22*~"), self.titles(""))
                self.assertEqual(self.titles("words=%25"), self.titles(""))
                self.assertEqual(self.titles("words=ropout"), [])

    def test_filters_narrow_and_none_finds_what_is_retired(self):
        self.assertEqual(self.titles("circuit=crank-position"), [])
        self.assertEqual(len(self.titles("circuit=throttle-position&state=draft")), 10)
        self.assertEqual(self.titles("state=published"), [])
        self.assertEqual(self.titles("call=sound"), [])
        self.assertEqual(self.caller("teacher").get("/api/references?state=lost").status_code, 422)
        gone = self.add("Passing", vehicle="Brack")
        self.caller("teacher").post(f"/api/references/{gone}/retire")
        self.assertEqual(self.titles("words=brack"), [])
        self.assertEqual(self.titles("words=brack&state=retired"), ["Passing"])

    def test_a_change_is_found_at_once_and_what_it_replaced_is_not(self):
        made = self.add("Before", vehicle="Sedge")
        sheet = self.caller("teacher").get(f"/api/references/{made}").json
        body = {"revision": sheet["revision"], "title": "After", "document": self.document(vehicle="Fenland")}
        self.assertEqual(self.caller("teacher").put(f"/api/references/{made}", body).status_code, 200)
        self.assertEqual(self.titles("words=sedge"), [])
        self.assertEqual(self.titles("words=fenland"), ["After"])
        self.caller("teacher").post(f"/api/references/{made}/publish")
        (item,) = self.found("words=fenland&state=published")["items"]
        self.assertEqual((item["version"], item["call"]), (1, "sound"))
        # Published to the school, every instructor finds it, and no draft of another's.
        self.caller("teacher").put(f"/api/references/{made}/reach", {"reach": "school"})
        self.assertEqual([i["title"] for i in self.found("", "stranger")["items"]], ["After"])
        self.assertEqual(self.found("", "stranger")["total"], 1)
        self.caller("teacher").post(f"/api/references/{made}/retire")

    def test_versions_that_a_card_may_take(self):
        published = self.published_reference()
        rows = self.caller("teacher").get("/api/references/offered?circuit=throttle-position").json
        self.assertIn(published["version_id"], [r["version_id"] for r in rows])
        other = self.caller("teacher").get(f"/api/references/offered?version_id={published['version_id']}").json
        self.assertEqual([r["circuit"] for r in other], ["throttle-position"])
        self.caller("teacher").post(f"/api/references/{published['id']}/retire")
        rows = self.caller("teacher").get("/api/references/offered?circuit=throttle-position").json
        self.assertNotIn(published["version_id"], [r["version_id"] for r in rows])


class Fleet(WebTest):
    def add(self, closed_v, part="Two-track, series 3", publish=True, **sweep):
        teacher = self.caller("teacher")
        capture_id = teacher.import_csv(csv_of(Sweep(rate_hz=200, closed_v=closed_v, **sweep)))
        document = {
            **EMPTY_DOCUMENT,
            "limits": [],
            "provenance": {**EMPTY_DOCUMENT["provenance"], "part": part},
        }
        body = {"capture_id": capture_id, "title": f"At {closed_v}", "document": document}
        made = teacher.post("/api/references", body).json["id"]
        if publish:
            teacher.post(f"/api/references/{made}/publish")
        return made

    def asked(self, reference_id, reading="closed_v"):
        return self.caller("teacher").get(f"/api/references/{reference_id}/fleet?reading={reading}")

    def test_limits_come_from_the_sound_ones_of_the_same_design_alone(self):
        levels = (0.58, 0.60, 0.61, 0.63, 0.66, 0.69)
        made = [self.add(v) for v in levels[:4]]
        refused = self.asked(made[0])
        self.assertEqual(refused.status_code, 422)
        self.assertIn("4 sound captures", refused.json["detail"])
        made += [self.add(v) for v in levels[4:]]
        self.add(0.64, part="Another design")
        self.add(0.65, publish=False)
        # The same samples twice are one capture.
        self.add(0.58)
        retired = self.add(0.67)
        self.caller("teacher").post(f"/api/references/{retired}/retire")
        told = self.asked(made[0]).json
        self.assertEqual(told["count"], 6)
        self.assertEqual([round(m["value"], 2) for m in told["of"]], list(levels))
        mean, sd = statistics.mean(levels), statistics.stdev(levels)
        # Two-sided 95/95 of six: 4.41 (ISO 16269-6:2014 annex D, from memory; Bowker 1947 has 4.414).
        self.assertAlmostEqual(told["low"], mean - 4.41 * sd, delta=0.004)
        self.assertAlmostEqual(told["high"], mean + 4.41 * sd, delta=0.004)
        self.assertIn("6 sound captures (normal)", told["source"])

    def test_a_design_must_be_named_and_a_reading_known(self):
        made = self.add(0.7, part="")
        self.assertIn("name the part", self.asked(made).json["detail"])
        self.assertEqual(self.asked(self.add(0.71, part="Of its own"), "nonsense").status_code, 422)


class Steps(WebTest):
    def setUp(self):
        self.sheet = self.published_reference(Sweep(rate_hz=200, noise_v=0.002))

    def put(self, *steps, who="teacher", revision=None):
        body = {"revision": revision or self.sheet["revision"], "steps": list(steps)}
        answer = self.caller(who).put(f"/api/references/{self.sheet['id']}/steps", body)
        if answer.status_code == 200:
            self.sheet = answer.json
        return answer

    def test_steps_are_recorded_drawn_and_taken_back_to_the_very_samples(self):
        raw_id = self.sheet["capture_id"]
        self.assertEqual(self.put({"kind": "rescale", "lane": "signal", "factor": 0.5}).status_code, 200)
        self.assertEqual([s["words"] for s in self.sheet["steps"]], ["signal times 0.5"])
        self.assertEqual(self.sheet["state"], "draft")
        self.assertNotEqual(self.sheet["capture_id"], raw_id)
        tile = f"/api/captures/{self.sheet['capture_id']}/lanes/signal/tiles/0/0"
        half = np.frombuffer(self.caller("teacher").get(tile).data, "<f4")
        tile = f"/api/captures/{raw_id}/lanes/signal/tiles/0/0"
        whole = np.frombuffer(self.caller("teacher").get(tile).data, "<f4")
        np.testing.assert_allclose(half, 0.5 * whole, rtol=1e-6)
        made_id = self.sheet["capture_id"]
        self.put()
        self.assertEqual((self.sheet["capture_id"], self.sheet["steps"]), (raw_id, []))
        # What steps had made is gone, and no room is taken by it.
        self.assertEqual(self.caller("teacher").get(f"/api/captures/{made_id}").status_code, 404)
        # The raw samples are no capture that nothing holds, while something is made of them.
        self.put({"kind": "invert", "lane": "signal"})
        unused = [c["id"] for c in self.caller("teacher").get("/api/captures/unused").json["captures"]]
        self.assertNotIn(raw_id, unused)

    def test_tags_move_with_the_axis_and_a_stale_window_is_told(self):
        document = {**self.sheet["document"], "tags": [{"from": 1.0, "to": 2.0, "lane": "signal", "text": "here"}]}
        body = {"revision": self.sheet["revision"], "title": "Moved", "document": document}
        self.sheet = self.caller("teacher").put(f"/api/references/{self.sheet['id']}", body).json
        stale = self.sheet["revision"]
        self.put({"kind": "shift", "by": 10.0})
        self.assertEqual(self.sheet["document"]["tags"][0]["from"], 11.0)
        self.assertEqual(self.put(revision=stale).status_code, 409)
        self.put()
        self.assertEqual(self.sheet["document"]["tags"][0]["from"], 1.0)
        self.assertEqual(self.put({"kind": "blur"}).status_code, 422)
        self.assertEqual(self.put(who="stranger").status_code, 403)

    def test_what_lies_outside_the_record_cannot_be_split_off_and_leaves_no_copy(self):
        teacher = self.caller("teacher")
        before = teacher.get("/api/references").json["total"]
        for stretch in ({"from": 1e308, "to": 2e308 / 2}, {"from": 900.0, "to": 950.0}, {"from": 0.5, "to": 0.5}):
            refused = teacher.post(f"/api/references/{self.sheet['id']}/split", stretch)
            self.assertEqual(refused.status_code, 422, refused.json)
        self.assertEqual(teacher.get("/api/references").json["total"], before)

    def test_a_stretch_is_split_off_as_a_draft_of_its_own(self):
        made = self.caller("teacher").post(f"/api/references/{self.sheet['id']}/split", {"from": 0.5, "to": 8.0})
        self.assertEqual(made.status_code, 201)
        part = self.caller("teacher").get(f"/api/references/{made.json['id']}").json
        self.assertEqual((part["state"], part["steps"][0]["kind"]), ("draft", "crop"))
        self.assertAlmostEqual(part["answer"]["capture"]["duration_s"], 7.5, delta=0.02)
        whole = self.caller("teacher").get(f"/api/references/{self.sheet['id']}").json
        self.assertEqual(whole["capture_id"], self.sheet["capture_id"])


class Versions(WebTest):
    def test_what_each_version_changed_is_told_and_the_draft_s_work(self):
        teacher = self.caller("teacher")
        sheet = self.published_reference()

        def save(title, **document):
            nonlocal sheet
            body = {"revision": sheet["revision"], "title": title, "document": {**sheet["document"], **document}}
            sheet = teacher.put(f"/api/references/{sheet['id']}", body).json

        self.assertEqual(teacher.get(f"/api/references/{sheet['id']}/changes").json, [])
        save("Sound, better", notes="Looked at again.")
        teacher.post(f"/api/references/{sheet['id']}/publish")
        sheet = teacher.get(f"/api/references/{sheet['id']}").json
        limits = [{**sheet["document"]["limits"][0], "high": 0.8}]
        save("Sound, better", limits=limits)
        draft, second = teacher.get(f"/api/references/{sheet['id']}/changes").json
        self.assertEqual((draft["version"], second["version"]), (None, 2))
        self.assertEqual(
            [(c["where"], c["before"], c["after"]) for c in draft["changes"]], [("limits.closed_v.high", 0.75, 0.8)]
        )
        self.assertEqual({c["where"] for c in second["changes"]}, {"title", "notes"})


class Compared(WebTest):
    def test_what_parts_references_most_stands_first_and_another_design_is_said(self):
        teacher = self.caller("teacher")
        made = []
        for closed_v, part in ((0.6, "A"), (0.7, "A"), (0.6, "B")):
            capture_id = teacher.import_csv(csv_of(Sweep(rate_hz=200, closed_v=closed_v)))
            document = {**EMPTY_DOCUMENT, "provenance": {**EMPTY_DOCUMENT["provenance"], "part": part}}
            body = {"capture_id": capture_id, "title": f"{closed_v} {part}", "document": document}
            made.append(teacher.post("/api/references", body).json["id"])
        told = teacher.get(f"/api/references/compare?ids={','.join(map(str, made))}").json
        self.assertEqual([r["shape_only"] for r in told["references"]], [False, False, True])
        first = told["rows"][0]
        self.assertEqual(first["reading"], "closed_v")
        # A tenth of a volt of the told limit's span of 0.3.
        self.assertAlmostEqual(first["matters"], 0.1 / 0.3, delta=0.02)
        self.assertEqual([round(v, 2) for v in first["values"]], [0.6, 0.7, 0.6])
        for ids in (str(made[0]), f"{made[0]},{made[0]}", "1,2,3,4,5", "0,99999"):
            self.assertIn(teacher.get(f"/api/references/compare?ids={ids}").status_code, (404, 422), ids)
        self.assertEqual(teacher.get("/api/references/compare?ids=a,b").status_code, 422)
