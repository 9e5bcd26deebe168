"""Captures over the API: preview, import, tiles, values, the scan tool's data and instruments on this machine."""

import threading
from contextlib import nullcontext
from dataclasses import replace
from unittest import mock

import numpy as np

from tests.support.client import CIRCUIT, NOW, WebTest, csv_of, work
from tests.support.waves import Sweep
from tracebench.bench.scpi import Instrument, ScopeServer
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import uploads

RECORD = {
    "circuit": "manifold-pressure",
    "range_v": 5,
    "duration_s": 19,
    "rate_hz": 1000,
    "ground": "sensor ground",
    "fault": "leak",
}


class Settings(WebTest):
    def test_settings_out_of_reach_are_refused_with_their_name(self):
        teacher = self.caller("teacher")
        for key, value in (
            ("severity", 4),
            ("sweeps", 99),
            ("way_s", 0.0),
            ("hold_s", 500),
            ("movement", [[1, 2, 3]]),
            ("probe_factor", 7),
            ("ground", "the moon"),
            ("coupling", "both"),
            ("bandwidth_hz", 0),
            ("trigger", {"lane": "signal", "level": 2, "edge": "rising", "pre": 2}),
        ):
            with self.subTest(setting=key):
                refused = teacher.post("/api/captures/trainer", {**RECORD, key: value})
                self.assertEqual(refused.status_code, 422)
                self.assertIn(key, refused.get_data(as_text=True))


class Twice(WebTest):
    def test_one_upload_that_is_imported_six_times_at_once_is_one_capture(self):
        sent = self.caller("ann").upload(csv_of(Sweep(rate_hz=200))).json
        asked = {"circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
        ann = Person(self.ids["ann"], "ann", "Ann", "learner", 1)
        together, made, refused = threading.Barrier(6), [], []
        real = uploads.read_file

        def read(*arguments):
            out = real(*arguments)
            # All have read it before the first keeps it.
            together.wait(timeout=20)
            return out

        def take():
            try:
                begin = self.pool.transaction
                made.append(uploads.import_upload(begin, self.uploads, ann, sent["upload_id"], at=NOW, **asked))
            except NotFound as gone:
                refused.append(str(gone))

        no_turns = mock.patch.object(uploads, "turn", lambda *_: nullcontext())
        with no_turns, mock.patch.object(uploads, "read_file", read):
            threads = [threading.Thread(target=take) for _ in range(6)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        self.assertEqual((len(made), len(refused)), (1, 5))
        self.assertIn("imported already", refused[0])


class FrontEnd(WebTest):
    """Coupling, bandwidth and trigger of the trainer's scope as a person sets them."""

    def recorded(self, **settings):
        made = self.caller("teacher").post("/api/captures/trainer", {**RECORD, "fault": "none", **settings})
        self.assertEqual(made.status_code, 201, made.json)
        made = made.json["capture"]
        tile = self.caller("teacher").get(f"/api/captures/{made['id']}/lanes/signal/tiles/0/0")
        return made, np.frombuffer(tile.data, "<f4")

    def test_without_its_rest_a_level_goes_to_zero(self):
        _, plain = self.recorded()
        _, coupled = self.recorded(coupling="ac", range_v=5)
        # Key on rests at some 4.4 V; a corner of 1 Hz has forgotten it after a second.
        self.assertGreater(float(np.median(plain[1000:1800])), 4.0)
        self.assertLess(abs(float(np.median(coupled[1000:1800]))), 0.1)

    def test_a_narrow_bandwidth_slows_an_edge(self):
        trigger = {"lane": "throttle", "level": 2.0, "edge": "rising", "pre": 0.5}
        fast, slow = (self.recorded(duration_s=2, trigger=trigger, bandwidth_hz=hz)[1] for hz in (None, 2.0))
        # A corner of 2 Hz has a time constant of 80 ms: a snap's rise of some 60 ms is cut short by it.
        rises = [float(x[1000:1150].max() - x[900:1000].min()) for x in (fast, slow)]
        self.assertGreater(rises[0], 1.5)
        self.assertLess(rises[1], 0.85 * rises[0])

    def test_the_record_begins_before_the_trigger(self):
        head, samples = self.recorded(
            duration_s=2, trigger={"lane": "signal", "level": 2.0, "edge": "falling", "pre": 0.2}
        )
        at = round(0.2 * 2 * 1000)
        self.assertEqual(head["samples"], 2000)
        self.assertGreater(float(samples[at - 40]), 2.0)
        self.assertLess(float(samples[at + 40]), 2.1)

    def test_a_trigger_that_never_fires_says_what_the_lane_does(self):
        refused = self.caller("teacher").post(
            "/api/captures/trainer",
            {**RECORD, "trigger": {"lane": "signal", "level": 9.0, "edge": "rising", "pre": 0.2}},
        )
        self.assertEqual(refused.status_code, 422)
        self.assertIn("never fires", refused.json["detail"])
        self.assertIn("lies between", refused.json["detail"])


class Uploads(WebTest):
    def test_the_preview_says_what_was_understood(self):
        sent = self.caller("teacher").upload(b"\xef\xbb\xbfZeit;Kanal 1\r\n(ms);(mV)\r\n" + b"0,1;512,5\r\n" * 40)
        self.assertEqual(sent.status_code, 201, sent.data)
        layout = sent.json["layout"]
        self.assertEqual((layout["delimiter"], layout["decimal"], layout["data_line"]), (";", ",", 3))
        self.assertEqual([c["is_time"] for c in layout["columns"]], [True, False])
        self.assertEqual(sent.json["mapping"], [{"position": 2, "lane": "signal", "factor": 0.001}])

    def test_what_is_not_understood_is_refused_and_not_kept(self):
        teacher = self.caller("teacher")
        before = len(list(self.uploads.iterdir())) if self.uploads.exists() else 0
        for body, words in (
            (b"", "empty"),
            (b"\x00\x01\x02" * 500, "not text"),
            (b"hello\nworld\n", "no rows of numbers"),
        ):
            answer = teacher.upload(body)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json["detail"])
        self.assertEqual(len(list(self.uploads.iterdir())) if self.uploads.exists() else 0, before)

    def test_an_import_that_fails_stores_nothing_and_can_be_tried_again(self):
        teacher = self.caller("teacher")
        sent = teacher.upload(csv_of(Sweep(rate_hz=100))).json
        body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": [], "interval_s": None}
        refused = teacher.post("/api/captures", body)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("Signal", refused.json["detail"])
        twice = [{"position": 2, "lane": "signal", "factor": 1}] * 2
        self.assertEqual(teacher.post("/api/captures", {**body, "mapping": twice}).status_code, 422)
        done = teacher.post("/api/captures", {**body, "mapping": sent["mapping"]})
        self.assertEqual(done.status_code, 201)

    def _asked(self, text: bytes, **changes):
        """A file that counts as large, asked to be imported: what was answered."""
        sent = self.caller("teacher").upload(text).json
        body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
        with mock.patch.object(uploads, "AT_ONCE_BYTES", 100):
            return body, self.caller("teacher").post("/api/captures", {**body, **changes})

    def test_a_large_file_is_read_by_a_job_once_and_is_the_same_capture(self):
        teacher, text = self.caller("teacher"), csv_of(Sweep(rate_hz=100))
        body, asked = self._asked(text)
        self.assertEqual(asked.status_code, 201, asked.data)
        self.assertIsNone(asked.json["capture"])
        with mock.patch.object(uploads, "AT_ONCE_BYTES", 100):
            self.assertEqual(teacher.post("/api/captures", body).json["job"]["id"], asked.json["job"]["id"])
        files = len(list(self.uploads.iterdir()))
        work(self.app)
        job = teacher.get(f"/api/jobs/{asked.json['job']['id']}").json
        self.assertEqual(job["state"], "done", job)
        self.assertEqual(len(list(self.uploads.iterdir())), files - 1)
        plain = teacher.import_csv(text)
        large = job["result"]["capture_id"]
        one, other = (teacher.get(f"/api/captures/{k}/lanes/signal/tiles/0/0").data for k in (plain, large))
        self.assertEqual(one, other)
        self.assertEqual(self.caller("stranger").get(f"/api/captures/{large}").status_code, 404)

    def test_lanes_that_cannot_be_are_said_at_once_and_a_bad_row_by_the_job(self):
        self.assertEqual(self._asked(csv_of(Sweep(rate_hz=100)), mapping=[])[1].status_code, 422)
        lines = csv_of(Sweep(rate_hz=100)).splitlines()
        lines[900] = b"9.0,not a number"
        _, asked = self._asked(b"\n".join(lines))
        work(self.app)
        job = self.caller("teacher").get(f"/api/jobs/{asked.json['job']['id']}").json
        self.assertEqual(job["state"], "failed")
        self.assertIn("line 901", job["problem"])
        self.assertNotIn(str(self.uploads), job["problem"])

    def test_its_owner_stops_an_import_and_nothing_is_kept(self):
        body, asked = self._asked(csv_of(Sweep(rate_hz=100)))
        path = f"/api/jobs/{asked.json['job']['id']}/cancel"
        self.assertEqual(self.caller("stranger").post(path).status_code, 404)
        self.assertEqual(self.caller("teacher").post(path).json["state"], "cancelled")
        work(self.app)
        # The file is still there; asked once more in the same way, the same job begins again.
        with mock.patch.object(uploads, "AT_ONCE_BYTES", 100):
            again = self.caller("teacher").post("/api/captures", body).json["job"]
        self.assertEqual((again["id"], again["state"]), (asked.json["job"]["id"], "waiting"))
        work(self.app)
        self.assertEqual(self.caller("teacher").get(f"/api/jobs/{again['id']}").json["state"], "done")

    def test_a_disk_that_is_nearly_full_takes_no_recording_and_still_takes_answers(self):
        card_id = self.published_card(source={"kind": "trainer", "fault": "none"})
        ann = self.caller("ann")
        sitting = ann.get(f"/api/sittings/{ann.post(f'/api/cards/{card_id}/sittings').json['id']}").json
        recording = {"range_v": 10, "duration_s": 5, "rate_hz": 100, "ground": "sensor ground"}
        path = f"/api/sittings/{sitting['id']}"
        with mock.patch.object(disk.shutil, "disk_usage", return_value=mock.Mock(free=1000)):
            told = ann.post(f"{path}/record", recording)
            self.assertEqual(told.status_code, 507)
            self.assertIn("administrator to make room", told.json["detail"])
            answer = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}}
            kept = ann.put(f"{path}/answer", {**answer, "revision": sitting["revision"]})
            self.assertEqual(kept.status_code, 200)
        self.assertEqual(ann.post(f"{path}/record", recording).status_code, 200)

    def test_another_persons_upload_is_not_there(self):
        sent = self.caller("teacher").upload(csv_of(Sweep(rate_hz=100))).json
        body = {"upload_id": sent["upload_id"], "circuit": CIRCUIT, "mapping": sent["mapping"], "interval_s": None}
        self.assertEqual(self.caller("stranger").post("/api/captures", body).status_code, 404)


class Tiles(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.sweep = Sweep(rate_hz=1000, noise_v=0.01)
        cls.capture_id = cls.caller("teacher").import_csv(csv_of(cls.sweep))

    def tile(self, level, number, lane="signal"):
        return self.caller("teacher").get(f"/api/captures/{self.capture_id}/lanes/{lane}/tiles/{level}/{number}")

    def test_samples_come_as_float32_and_may_be_kept_for_ever(self):
        answer = self.tile(0, 1)
        _, volts = self.sweep.samples()
        np.testing.assert_allclose(np.frombuffer(answer.data, "<f4"), volts[2048:4096], atol=1e-4)
        self.assertIn("immutable", answer.headers["Cache-Control"])
        # Kept by one person's browser, and by nobody between.
        self.assertIn("private", answer.headers["Cache-Control"])
        self.assertNotIn("public", answer.headers["Cache-Control"])
        self.assertEqual(answer.headers["Content-Type"], "application/octet-stream")

    def test_a_lane_comes_whole_unless_it_is_too_long_for_a_device(self):
        teacher, path = self.caller("teacher"), f"/api/captures/{self.capture_id}/lanes"
        _, volts = self.sweep.samples()
        answer = teacher.get(f"{path}/signal/samples")
        np.testing.assert_allclose(np.frombuffer(answer.data, "<f4"), volts, atol=1e-4)
        self.assertIn("immutable", answer.headers["Cache-Control"])
        self.assertEqual(teacher.get(f"{path}/nope/samples").status_code, 404)
        with mock.patch("tracebench.web.areas.captures.MOST_ON_A_DEVICE", 100):
            refused = teacher.get(f"{path}/signal/samples")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("too many for a device", refused.json["detail"])

    def test_pairs_hold_every_extreme(self):
        _, volts = self.sweep.samples()
        pairs = np.frombuffer(self.tile(5, 0).data, "<f4")
        self.assertAlmostEqual(float(pairs[1::2].max()), float(volts.max()), places=3)
        self.assertAlmostEqual(float(pairs[0::2].min()), float(volts.min()), places=3)

    def test_what_is_not_there(self):
        self.assertEqual(self.tile(0, 999).data, b"")
        self.assertEqual(self.tile(0, 0, "nope").status_code, 404)
        self.assertEqual(self.tile(60, 0).status_code, 404)

    def test_values_at_pegs_are_samples_and_their_level_between(self):
        answer = self.caller("teacher").get(f"/api/captures/{self.capture_id}/values?at=0.2,0.8").json
        _, volts = self.sweep.samples()
        lane = answer["lanes"][0]
        np.testing.assert_allclose(lane["at"], [volts[200], volts[800]], atol=1e-4)
        self.assertAlmostEqual(lane["level"], float(np.median(volts[200:801])), places=3)
        beyond = self.caller("teacher").get(f"/api/captures/{self.capture_id}/values?at=-1e308,1e308").json
        np.testing.assert_allclose(beyond["lanes"][0]["at"], [volts[0], volts[-1]], atol=1e-4)
        for text in ("soon", "nan", "1,inf", ""):
            bad = self.caller("teacher").get(f"/api/captures/{self.capture_id}/values?at={text}")
            self.assertEqual(bad.status_code, 422, text)


class Trainer(WebTest):
    def test_any_circuit_is_recorded_with_its_scan_data(self):
        made = self.caller("teacher").post("/api/captures/trainer", RECORD)
        self.assertEqual(made.status_code, 201, made.data)
        made = made.json["capture"]
        self.assertEqual([x["lane"] for x in made["lanes"]], ["signal", "throttle", "oxygen"])
        speed = next(s for s in made["scan"] if s["name"] == "engine speed")
        self.assertEqual(speed["unit"], "rpm")
        self.assertTrue(all(value % 0.25 == 0 for _, value in speed["points"]))

    def test_refusals_say_what_there_is(self):
        for change, words in (
            ({"fault": "gremlins"}, "leak"),
            ({"circuit": "flux"}, "manifold-pressure"),
            ({"manoeuvre": "wheelie"}, "snap"),
            ({"range_v": 7}, "choose one of"),
        ):
            answer = self.caller("teacher").post("/api/captures/trainer", {**RECORD, **change})
            self.assertIn(answer.status_code, (404, 422))
            self.assertIn(words, answer.json["detail"])


class Instruments(WebTest):
    def setUp(self):
        self.server = ScopeServer(0, Instrument())
        threading.Thread(target=self.server.serve_forever, daemon=True).start()
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)
        self.server.instrument.answer("TRA:CIRC supply-ground;ACQ:RATE 1000")

    def take(self, **changes):
        body = {"circuit": "supply-ground", "host": "127.0.0.1", "port": self.server.port, **changes}
        return self.caller("teacher").post("/api/captures/instrument", body)

    def test_a_scope_on_a_loopback_port_gives_a_capture(self):
        taken = self.take()
        self.assertEqual(taken.status_code, 201, taken.data)
        self.assertEqual(taken.json["origin"], "instrument")
        self.assertEqual({x["lane"] for x in taken.json["lanes"]}, {"supply", "reference", "ground", "battery"})

    def test_a_learner_reads_the_scopes_of_the_workshop_and_opens_no_other_port(self):
        body = {"circuit": "supply-ground", "host": "127.0.0.1", "port": self.server.port}
        refused = self.caller("ann").post("/api/captures/instrument", body)
        self.assertEqual(refused.status_code, 403)
        self.assertIn("those are on 5025", refused.json["detail"])
        named = replace(self.app.extensions["tracebench.settings"], scope_ports=(self.server.port,))
        with mock.patch.dict(self.app.extensions, {"tracebench.settings": named}):
            taken = self.caller("ann").post("/api/captures/instrument", body)
        self.assertEqual(taken.status_code, 201, taken.data)
        card_id = self.published_card(circuit="supply-ground", steps=[{"kind": "capture", "prompt": ""}])
        path = f"/api/sittings/{self.caller('ann').post(f'/api/cards/{card_id}/sittings').json['id']}"
        state = self.caller("ann").post(f"{path}/capture", {"capture_id": taken.json["id"]})
        self.assertEqual(state.json["capture_id"], taken.json["id"])

    def test_other_machines_and_silent_ports_are_refused(self):
        self.assertIn("on this machine", self.take(host="192.0.2.7").json["detail"])
        self.assertIn("no instrument answers", self.take(port=1).json["detail"])
        self.assertIn("no lane of", self.take(circuit="charging").json["detail"])
