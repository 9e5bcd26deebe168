"""Uploaded files and their rows agree, whatever is broken off; and a full disk is said before anything breaks."""

import io
import os
import stat
import time
import unittest
from collections import namedtuple
from contextlib import contextmanager
from datetime import timedelta
from unittest import mock

from tests.support.client import CIRCUIT, NOW, PASSWORD, csv_of
from tests.support.database import DatabaseTest
from tests.support.waves import Sweep
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NoRoom, NotFound
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.school import disk
from tracebench.usecases.shelf import captures, uploads

Usage = namedtuple("Usage", "total used free")


class Uploads(DatabaseTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            person_id = accounts.add(conn, "ann", "Ann", "learner", PASSWORD, NOW)
        cls.ann = Person(person_id, "ann", "Ann", "learner", 1)
        cls.text = csv_of(Sweep(rate_hz=100))

    def setUp(self):
        for path in self.uploads.iterdir():
            path.unlink()
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("DELETE FROM upload")

    def receive(self, at=NOW):
        stream = io.BytesIO(self.text)
        return uploads.receive(self.pool.transaction, self.uploads, self.ann, "own.csv", stream, CIRCUIT, at)

    def rows(self):
        with self.pool.transaction() as conn:
            return [r["stored_as"] for r in queries.captures.every_upload(conn)]

    def files(self):
        return [p.name for p in self.uploads.iterdir()]

    def take(self, sent, begin=None):
        begin = begin or self.pool.transaction
        return uploads.import_upload(
            begin, self.uploads, self.ann, sent["upload_id"], CIRCUIT, sent["mapping"], None, NOW
        )

    def test_only_we_can_read_what_was_sent(self):
        self.receive()
        (path,) = self.uploads.iterdir()
        self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o600)

    def test_an_import_that_is_not_kept_leaves_the_file_for_the_next_try(self):
        sent = self.receive()
        opened = 0

        @contextmanager
        def breaks():
            nonlocal opened
            opened += 1
            with self.pool.transaction() as conn:
                yield conn
                if opened == 2:
                    raise ConnectionError("lost before the commit")

        with self.assertRaises(ConnectionError):
            self.take(sent, breaks)
        self.assertEqual(self.files(), self.rows())
        self.assertGreater(self.take(sent), 0)
        self.assertEqual((self.files(), self.rows()), ([], []))
        with self.assertRaisesRegex(NotFound, "no longer here"):
            self.take(sent)

    def test_the_sweep_removes_what_has_no_other_half_and_nothing_else(self):
        kept = self.receive()
        old = self.receive(NOW - uploads.KEEP_UPLOADS - timedelta(minutes=1))
        lost = self.receive()
        with self.pool.transaction() as conn:
            name = queries.captures.upload_of(conn, upload_id=lost["upload_id"], owner_id=self.ann.id)["stored_as"]
        (self.uploads / name).unlink()
        (self.uploads / "just-arriving").write_bytes(b"x")
        (self.uploads / "nobody-knows").write_bytes(b"x")
        long_ago = time.time() - 3 * 86400
        with self.pool.transaction() as conn:
            stale = queries.captures.upload_of(conn, upload_id=old["upload_id"], owner_id=self.ann.id)["stored_as"]
            mine = queries.captures.upload_of(conn, upload_id=kept["upload_id"], owner_id=self.ann.id)["stored_as"]
        for orphan in ("nobody-knows", stale, mine):
            os.utime(self.uploads / orphan, (long_ago, long_ago))
        self.assertEqual(uploads.sweep(self.pool.transaction, self.uploads, NOW), 2)
        self.assertEqual(sorted(self.files()), sorted(["just-arriving", mine]))
        self.assertEqual(self.rows(), [mine])

    def test_a_disk_that_is_nearly_full_takes_no_file_and_goes_on_when_there_is_room_again(self):
        full = Usage(10**12, 10**12, disk.RESERVE_BYTES - 1)
        with (
            mock.patch.object(disk.shutil, "disk_usage", return_value=full),
            self.assertRaisesRegex(NoRoom, "nearly full"),
        ):
            self.receive()
        self.assertEqual((self.files(), self.rows()), ([], []))
        self.assertIn("upload_id", self.receive())

    def test_a_disk_that_fills_while_a_file_arrives_keeps_no_half_of_it(self):
        answers = [Usage(10**12, 0, 10**12), Usage(10**12, 10**12, 0)]
        with mock.patch.object(disk.shutil, "disk_usage", side_effect=answers), self.assertRaises(NoRoom):
            self.receive()
        self.assertEqual((self.files(), self.rows()), ([], []))

    def test_one_person_s_waiting_files_have_a_share(self):
        self.receive()
        with mock.patch.object(disk, "MOST_WAITING_BYTES", len(self.text) - 1), self.assertRaisesRegex(NoRoom, "wait"):
            self.receive()

    def test_captures_have_a_share_and_what_nothing_holds_can_be_given_up(self):
        first, second = (self.take(self.receive()) for _ in range(2))
        with self.pool.transaction() as conn:
            own = captures.unused(conn, self.ann)
            self.assertLessEqual({first, second}, {c["id"] for c in own["captures"]})
            each = {c["id"]: c["stored_bytes"] for c in own["captures"]}
            packed = sum(map(len, self.stored_of(conn, first)))
        self.assertEqual(each[first], packed)
        self.assertEqual(own["taken_bytes"], sum(each.values()))
        share = {"learner": own["taken_bytes"]}
        with mock.patch.object(disk, "SHARE_BYTES", share):
            sent = self.receive()
            with self.assertRaisesRegex(NoRoom, "Account"):
                self.take(sent)
            with self.pool.transaction() as conn:
                captures.give_up(conn, self.ann, [first])
            # The file stayed: it is taken as soon as there is room.
            self.assertGreater(self.take(sent), 0)
        with self.pool.transaction() as conn:
            self.assertEqual(list(self.stored_of(conn, first)), [])
            queries.shelf.add(
                conn,
                author_id=self.ann.id,
                capture_id=second,
                circuit=CIRCUIT,
                title="held",
                document="{}",
                at=NOW,
            )
            with self.assertRaisesRegex(Conflict, "held by"):
                captures.give_up(conn, self.ann, [second])
            with self.assertRaises(NotFound):
                captures.give_up(conn, self.ann, [first])

    @staticmethod
    def stored_of(conn, capture_id):
        with conn.cursor() as cursor:
            for table in ("capture_chunk", "capture_envelope"):
                cursor.execute(f"SELECT packed FROM {table} WHERE capture_id = %s", (capture_id,))
                yield from (row["packed"] for row in cursor.fetchall())


if __name__ == "__main__":
    unittest.main()
