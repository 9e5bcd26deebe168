"""A disk that is full refuses what is written, in words, and lets people read. `benchmarks/full_disk.py` fills one."""

import unittest
from datetime import timedelta
from unittest import mock

import pymysql

from tests.support.client import CIRCUIT, WebTest
from tests.support.waves import Sweep
from tracebench.store import outlines
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts
from tracebench.usecases.shelf import outlining

FULL = pymysql.err.OperationalError(1114, "The table is full")
GONE = pymysql.err.OperationalError(2013, "Lost connection")


class FullDisk(WebTest):
    def test_who_is_signed_in_goes_on_reading(self):
        ann = self.caller("ann")
        late = mock.patch.object(accounts, "USED_EVERY", timedelta(seconds=-1))
        with late, mock.patch.object(queries.people, "used_session", side_effect=FULL) as written:
            self.assertEqual(ann.get("/api/sittings").status_code, 200)
        written.assert_called_once()
        with late, mock.patch.object(queries.people, "used_session", side_effect=GONE):
            self.assertEqual(ann.get("/api/sittings").status_code, 503)

    def test_shapes_that_cannot_be_kept_are_done_without(self):
        self.published_reference(Sweep(rate_hz=200))
        asked = (self.pool.transaction, self.ids["teacher"], CIRCUIT)
        with mock.patch.object(outlines, "keep", side_effect=FULL):
            self.assertEqual(outlining.outline_all(*asked), 1)
        with mock.patch.object(outlines, "keep", side_effect=GONE), self.assertRaises(pymysql.err.OperationalError):
            outlining.outline_all(*asked)
        self.assertEqual(outlining.outline_all(*asked), 0)

    def test_what_would_be_written_is_refused_in_words(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        with mock.patch.object(queries.sittings, "add", side_effect=FULL):
            refused = self.caller("ben").post(f"/api/cards/{card_id}/sittings")
        self.assertEqual(refused.status_code, 507)
        self.assertIn("nothing was changed", refused.json["detail"])


if __name__ == "__main__":
    unittest.main()
