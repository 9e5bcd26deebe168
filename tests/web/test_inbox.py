"""A folder of files to drafts: mixed formats, one broken, none of them told what it is."""

import base64
import io
import json
import unittest

from tests.outside import workshop
from tests.support.client import WebTest, work
from tests.support.files import hdf5_of, matlab_of, parquet_of, text_of, zip_of
from tests.support.waves import Sweep
from tracebench.core.circuits import CIRCUITS
from tracebench.formats import archive, bundle
from tracebench.usecases.shelf import exchange


class Inbox(WebTest):
    def setUp(self):
        self.clear(self.caller("teacher"))
        for path in self.uploads.iterdir():
            path.unlink()

    def clear(self, who):
        ids = [item["id"] for item in who.get("/api/inbox").json]
        if ids:
            who.post("/api/inbox/give-up", {"ids": ids})

    def send(self, name, data, who="teacher"):
        caller = self.caller(who)
        return caller.client.post(
            f"/api/inbox?filename={name}",
            input_stream=io.BytesIO(data),
            content_length=len(data),
            headers={"X-CSRFToken": caller.csrf, "Content-Type": "application/octet-stream"},
        )

    def looked(self, name, data):
        """What the tool says of one file."""
        sent = self.send(name, data)
        self.assertEqual(sent.status_code, 201, sent.json)
        work(self.app)
        return [item for item in self.items() if item["id"] in sent.json["ids"]]

    def items(self):
        return self.caller("teacher").get("/api/inbox").json

    def put(self, item_id, **body):
        answer = self.caller("teacher").put(f"/api/inbox/{item_id}", body)
        work(self.app)
        return answer

    def accept(self, *ids):
        answer = self.caller("teacher").post("/api/inbox/accept", {"ids": list(ids)})
        work(self.app)
        return answer

    def test_mixed_files_become_drafts_and_a_broken_one_stops_none(self):
        sent = {
            "scan 12.csv": text_of(workshop.sweep()),
            "scan 13.mat": matlab_of(workshop.warming()),
            "scan 14.parquet": parquet_of(workshop.loop()),
            "scan 15.h5": hdf5_of(workshop.pedal()),
            "scan 16.csv": b"time,volts\n0,1\n1,\xff\xfe broken",
        }
        ids = []
        for name, data in sent.items():
            answer = self.send(name, data)
            self.assertEqual(answer.status_code, 201, answer.json)
            ids += answer.json["ids"]
        before = self.items()
        self.assertEqual({item["state"] for item in before}, {"looking"})
        work(self.app)
        found = {item["filename"]: item for item in self.items()}
        self.assertEqual(found["scan 16.csv"]["state"], "refused")
        self.assertTrue(found["scan 16.csv"]["problem"])
        wanted = {
            "scan 12.csv": "throttle-position",
            "scan 13.mat": "temperature",
            "scan 14.parquet": "oxygen-switching",
            "scan 15.h5": "pedal-position",
        }
        for name, circuit in wanted.items():
            with self.subTest(name):
                looked = found[name]["looked"]
                self.assertEqual(looked["circuit"], circuit, looked["proposals"])
                self.assertEqual(looked["proposals"][0]["circuit"], circuit)
                self.assertTrue(looked["proposals"][0]["reasons"])
                self.assertEqual(looked["missing_lanes"], [])
                self.assertEqual(len(base64.b64decode(looked["picture"])), 240)
        self.assertEqual(self.accept(*(found[name]["id"] for name in wanted)).status_code, 204)
        made = {item["filename"]: item for item in self.items()}
        # What was made needs its file no more; the broken one is still there to be looked at.
        self.assertEqual(len(list(self.uploads.iterdir())), 1)
        for name, circuit in wanted.items():
            self.assertEqual(made[name]["state"], "made", made[name])
            sheet = self.caller("teacher").get(f"/api/references/{made[name]['reference_id']}").json
            self.assertEqual((sheet["circuit"], sheet["state"]), (circuit, "draft"))
            self.assertEqual(sheet["document"]["provenance"]["taken_by"], "Teacher")
            self.assertIn(name, sheet["document"]["notes"])
            self.assertTrue(sheet["answer"]["readings"])
        # Accepted once is accepted: no second draft.
        self.assertEqual(self.accept(made["scan 12.csv"]["id"]).status_code, 409)

    def test_a_zip_gives_each_of_its_files_by_its_plain_name(self):
        files = {
            "cars/../../etc/throttle.csv": text_of(workshop.sweep()),
            "__MACOSX/._throttle.csv": b"x",
            "cars/": b"",
            "cars/notes.txt": b"Only words here.\nNothing else.\n",
        }
        found = {item["filename"]: item for item in self.looked("folder.zip", zip_of(files))}
        self.assertEqual(set(found), {"throttle.csv", "notes.txt"})
        self.assertEqual(found["throttle.csv"]["state"], "ready")
        self.assertEqual(found["notes.txt"]["state"], "refused")

    def test_archives_that_cannot_be_taken_are_refused_in_a_sentence_and_leave_nothing(self):
        good = zip_of({"a.csv": text_of(workshop.sweep())})
        damaged = bytearray(good)
        damaged[60:90] = bytes(30)
        bomb = zip_of({"zeros.csv": bytes(4_000_000)})
        sheet = zip_of({"[Content_Types].xml": b"<x/>", "xl/sheet1.xml": b"<x/>"})
        most = archive.MOST_BYTES
        try:
            archive.MOST_BYTES = 1_000_000
            for name, data, word in (
                ("cut.zip", good[: len(good) // 2], "damaged"),
                ("damaged.zip", bytes(damaged), "damaged"),
                ("bomb.zip", bomb, "larger"),
                ("sheet.xlsx", sheet, "spreadsheet"),
                ("empty.zip", zip_of({}), "no file"),
            ):
                with self.subTest(name):
                    refused = self.send(name, data)
                    self.assertEqual(refused.status_code, 422, refused.json)
                    self.assertIn(word, json.dumps(refused.json))
        finally:
            archive.MOST_BYTES = most
        self.assertEqual(self.items(), [])
        self.assertEqual(list(self.uploads.iterdir()), [])

    def test_another_circuit_and_other_lanes_are_chosen_and_remembered_for_the_next_file(self):
        # Two feeds in an order of their own: ground first.
        capture = workshop.feeds()
        names = list(capture.lanes)
        turned = type(capture)({n: capture.lanes[n] for n in reversed(names)}, capture.interval_s)
        (item,) = self.looked("feeds 1.csv", text_of(turned))
        lanes = [{"position": len(names) + 1 - k, "lane": n, "factor": 1.0} for k, n in enumerate(names)]
        self.assertEqual(self.put(item["id"], circuit="supply-ground", mapping=lanes).status_code, 204)
        (item,) = [i for i in self.items() if i["id"] == item["id"]]
        self.assertEqual(item["looked"]["circuit"], "supply-ground")
        self.assertEqual({m["lane"]: m["position"] for m in item["looked"]["mapping"]}[names[0]], len(names) + 1)
        self.accept(item["id"])
        again = workshop.feeds(supply=12.4)
        turned = type(again)({n: again.lanes[n] for n in reversed(names)}, again.interval_s)
        (second,) = self.looked("feeds 2.csv", text_of(turned))
        self.put(second["id"], circuit="supply-ground", mapping=None)
        (second,) = [i for i in self.items() if i["id"] == second["id"]]
        self.assertTrue(second["looked"]["remembered"])
        self.assertEqual({m["lane"]: m["position"] for m in second["looked"]["mapping"]}[names[0]], len(names) + 1)
        # One file at a time is read so as well.
        caller = self.caller("teacher")
        data = text_of(turned)
        preview = caller.client.post(
            "/api/uploads?filename=x.csv&circuit=supply-ground",
            input_stream=io.BytesIO(data),
            content_length=len(data),
            headers={"X-CSRFToken": caller.csrf, "Content-Type": "application/octet-stream"},
        ).json
        self.assertTrue(preview["remembered"])
        self.assertEqual({m["lane"]: m["position"] for m in preview["mapping"]}[names[0]], len(names) + 1)

    def test_the_same_samples_again_are_said(self):
        data = parquet_of(Sweep(rate_hz=200, noise_v=0.003).capture())
        (item,) = self.looked("one.parquet", data)
        self.put(item["id"], circuit="throttle-position")
        self.accept(item["id"])
        (first,) = [i for i in self.items() if i["id"] == item["id"]]
        (second,) = self.looked("another name.parquet", data)
        self.put(second["id"], circuit="throttle-position")
        (second,) = [i for i in self.items() if i["id"] == second["id"]]
        self.assertEqual([s["id"] for s in second["looked"]["same"]], [first["reference_id"]])

    def test_a_file_without_times_is_asked_for_its_interval(self):
        rows = Sweep(rate_hz=200).capture().lanes["signal"].samples
        text = "volts (V)\n" + "\n".join(f"{v:.4f}" for v in rows)
        (item,) = self.looked("no times.csv", text.encode())
        self.assertEqual(item["state"], "refused")
        self.assertIn("how far apart", item["problem"])
        self.put(item["id"], circuit="throttle-position", interval_s=0.005)
        (item,) = [i for i in self.items() if i["id"] == item["id"]]
        self.assertEqual(item["state"], "ready", item)
        self.assertAlmostEqual(item["looked"]["duration_s"], rows.size * 0.005)
        self.accept(item["id"])
        (item,) = [i for i in self.items() if i["id"] == item["id"]]
        self.assertEqual(item["state"], "made", item)

    def test_given_up_files_leave_nothing_behind_and_drafts_stay(self):
        (item,) = self.looked("throttle.csv", text_of(workshop.sweep()))
        (other,) = self.looked("warm.csv", text_of(workshop.warming()))
        self.accept(item["id"])
        (made,) = [i for i in self.items() if i["id"] == item["id"]]
        self.caller("teacher").post("/api/inbox/give-up", {"ids": [item["id"], other["id"]]})
        self.assertEqual(self.items(), [])
        self.assertEqual(list(self.uploads.iterdir()), [])
        self.assertEqual(self.caller("teacher").get(f"/api/references/{made['reference_id']}").status_code, 200)

    def test_one_that_is_accepted_twice_is_made_once_and_no_job_fails(self):
        item = self.looked("twice.csv", text_of(workshop.sweep()))[0]
        teacher, path = self.caller("teacher"), "/api/inbox/accept"
        for _ in range(2):
            self.assertLess(teacher.post(path, {"ids": [item["id"]]}).status_code, 300)
        changed = teacher.put(f"/api/inbox/{item['id']}", {"circuit": "manifold-pressure"})
        self.assertEqual(changed.status_code, 409)
        self.assertIn("a draft is being made", changed.json["detail"])
        work(self.app)
        self.assertEqual(self.accept(item["id"]).status_code, 409)
        jobs = [job for job in self.caller("admin").get("/api/jobs").json if f":{item['id']}:" in job["about"]]
        self.assertEqual(sorted((job["kind"], job["state"]) for job in jobs), [("draft", "done"), ("look", "done")])

    def test_nobody_else_reaches_them(self):
        (item,) = self.looked("throttle.csv", text_of(workshop.sweep()))
        self.assertEqual(self.caller("stranger").get("/api/inbox").json, [])
        body = {"circuit": "throttle-position", "mapping": None, "interval_s": None}
        self.assertEqual(self.caller("stranger").put(f"/api/inbox/{item['id']}", body).status_code, 404)
        self.assertEqual(self.caller("stranger").post("/api/inbox/accept", {"ids": [item["id"]]}).status_code, 404)
        self.caller("stranger").post("/api/inbox/give-up", {"ids": [item["id"]]})
        self.assertEqual(len(self.items()), 1)
        self.assertEqual(self.send("x.csv", b"1,2\n", "ann").status_code, 403)


class Starter(unittest.TestCase):
    """It is taken in by a browser in tests.ui.test_shelf."""

    def test_it_has_a_sound_and_a_faulty_reference_of_every_circuit_and_nobody_s_name(self):
        sheets = bundle.sheets(exchange.STARTER)
        for code in CIRCUITS:
            own = [s for s in sheets if s["circuit"] == code]
            calls = {s["versions"][-1]["answer"]["call"] for s in own}
            # A module that passes cold is not shown to be sound.
            self.assertEqual(calls, {"inconclusive" if code == "igniter-bench" else "sound", "faulty"}, code)
            for sheet in own:
                self.assertTrue(sheet["document"]["notes"].startswith("Made by the trainer: a simulation"))
                self.assertEqual(sheet["document"]["provenance"]["vehicle"], "")
                self.assertEqual(sheet["author"], "The trainer")
