"""Files that break their readers, sent to the site: a sentence for whoever sent them, nothing for anybody else."""

import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from tests.formats.test_apart import held, torn
from tests.support.client import WebTest, csv_of, work
from tests.support.waves import Sweep
from tracebench.formats.apart import limits
from tracebench.usecases.jobs import turns


class BreakingFiles(WebTest):
    def made(self, make):
        folder = Path(self.uploads) / "made"
        folder.mkdir(exist_ok=True)
        path = make(folder)
        data = path.read_bytes()
        path.unlink()
        folder.rmdir()
        return data

    def test_a_learner_is_told_and_the_next_file_is_taken(self):
        ann = self.caller("ann")
        refused = ann.upload(self.made(torn), "torn.mf4")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("breaks its reader", refused.json["detail"])
        self.assertEqual(list(self.uploads.iterdir()), [])
        self.assertGreater(ann.import_csv(csv_of(Sweep(rate_hz=200))), 0)

    def test_an_instructor_s_list_says_so_beside_it_and_goes_on(self):
        teacher = self.caller("teacher")
        for name, data in (("torn.mf4", self.made(torn)), ("good.csv", csv_of(Sweep(rate_hz=200)))):
            sent = teacher.client.post(f"/api/inbox?filename={name}", data=data, headers={"X-CSRFToken": teacher.csrf})
            self.assertEqual(sent.status_code, 201, sent.json)
        work(self.app)
        items = {item["filename"]: item for item in teacher.get("/api/inbox").json}
        self.assertIn("breaks its reader", items["torn.mf4"]["problem"])
        self.assertEqual((items["torn.mf4"]["state"], items["good.csv"]["state"]), ("refused", "ready"))

    def test_one_at_a_time_for_each_person_and_others_are_not_kept(self):
        data, good = self.made(held), csv_of(Sweep(rate_hz=200))
        ann, ben = self.caller("ann"), self.caller("ben")
        with mock.patch.object(limits, "LEAST_S", 4.0), mock.patch.object(turns, "PATIENCE_S", 0.5):
            first = threading.Thread(target=ann.upload, args=(data, "held.h5"))
            first.start()
            time.sleep(1.0)
            begun = time.monotonic()
            self.assertEqual(ben.upload(good).status_code, 201)
            self.assertLess(time.monotonic() - begun, 2.0)
            refused = ann.upload(good)
            self.assertEqual((refused.status_code, refused.headers["Retry-After"]), (429, "5"))
            self.assertIn("another file of yours", refused.json["detail"])
            first.join()
        self.assertEqual(ann.upload(good).status_code, 201)


if __name__ == "__main__":
    unittest.main()
