"""What a browser may keep for a time without network: one's own and open, never what can be closed again."""

import unittest

from tests.support.client import WebTest, csv_of, work
from tests.support.waves import Sweep

MARK = "X-Keep-Offline"


class KeptOffline(WebTest):
    def test_an_open_sitting_may_be_kept_and_what_was_told_of_it_may_not(self):
        reference = self.published_reference()
        card_id = self.published_card(version_id=reference["version_id"], attempts=2)
        ann, teacher = self.caller("ann"), self.caller("teacher")
        sitting_id = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
        path = f"/api/sittings/{sitting_id}"
        capture_id = ann.import_csv(csv_of(Sweep(rate_hz=200)))
        ann.post(f"{path}/capture", {"capture_id": capture_id})
        own = f"/api/captures/{capture_id}"
        for kept in (
            "/api/session",
            "/api/facts",
            path,
            own,
            f"{own}/lanes/signal/tiles/0/0",
            f"{own}/lanes/signal/samples",
        ):
            self.assertEqual(ann.get(kept).headers.get(MARK), "1", kept)
        for gone in ("/api/today", "/api/sittings", "/api/cards", f"{path}/records", f"{path}/parade"):
            self.assertNotIn(MARK, ann.get(gone).headers, gone)

        ann.post(f"{path}/hand-in", {"incomplete_ok": True})
        work(self.app)
        self.assertNotIn(MARK, ann.get(path).headers)
        teacher.post(f"/api/marking/{sitting_id}/release")
        told = ann.get(path)
        self.assertNotIn(MARK, told.headers)
        shelf = f"/api/captures/{told.json['feedback']['reference_capture_id']}"
        self.assertEqual(ann.get(shelf).status_code, 200)
        self.assertNotIn(MARK, ann.get(shelf).headers)
        self.assertNotIn(MARK, ann.get(f"{path}/corridor").headers)
        # Of somebody else's capture nothing is kept either, though it may be looked at.
        self.assertNotIn(MARK, teacher.get(own).headers)


if __name__ == "__main__":
    unittest.main()
