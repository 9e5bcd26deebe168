"""A backup of a database in use, restored into an empty one: every row and every byte is there again."""

import secrets
import stat
import tempfile
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path
from unittest import mock

import pymysql

from tests.support.client import NOW, WebTest
from tests.support.waves import Sweep
from tracebench.store import backup
from tracebench.store.migrate import migrate


class Backup(WebTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        version_id = cls.published_reference()["version_id"]
        cls.handed_in("ann", cls.published_card(version_id=version_id), Sweep(rate_hz=200, noise_v=0.003))
        # A file that waits to be mapped.
        cls.caller("ben").upload(b"time (s),A (V)\n" + b"".join(b"%d,%d\n" % (k, k % 7) for k in range(99)))

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "all.zip"

    def empty(self):
        """Settings of an empty database beside this one, with uploads of its own."""
        name = f"{self.settings.db_name}_{secrets.token_hex(4)}"
        connection = pymysql.connect(
            host=self.settings.db_host,
            port=self.settings.db_port,
            user=self.settings.db_user,
            password=self.settings.db_password,
            autocommit=True,
        )
        with connection.cursor() as cursor:
            cursor.execute(f"CREATE DATABASE `{name}` CHARACTER SET utf8mb4")
        self.addCleanup(connection.close)
        self.addCleanup(lambda: connection.cursor().execute(f"DROP DATABASE `{name}`"))
        return replace(self.settings, db_name=name, uploads=self.folder / "uploads")

    def everything(self, settings):
        """All rows of all tables, by table."""
        with backup._connected(settings) as connection, connection.cursor() as cursor:
            out = {}
            for table in backup._tables(cursor):
                cursor.execute(f"SELECT * FROM `{table}`")
                out[table] = sorted(map(repr, cursor.fetchall()))
            return out

    def test_files_that_are_put_back_are_their_owner_s_alone(self):
        backup.write(self.settings, self.file, NOW)
        other = self.empty()
        backup.restore(other, self.file)
        kept = list(other.uploads.iterdir())
        self.assertEqual([stat.S_IMODE(path.stat().st_mode) for path in kept], [0o600])

    def test_a_database_that_went_away_is_a_sentence_and_leaves_no_half(self):
        with self.assertRaisesRegex(backup.BadBackup, "the database went away"):
            backup.write(replace(self.settings, db_port=1), self.file, NOW)
        real = backup._lines

        def gone(connection, table):
            lines = real(connection, table)
            yield next(lines)
            with backup._connected(self.settings) as other, other.cursor() as cursor:
                cursor.execute(f"KILL {connection.thread_id()}")
            yield from lines

        with mock.patch.object(backup, "_lines", gone), self.assertRaisesRegex(backup.BadBackup, "went away"):
            backup.write(self.settings, self.file, NOW)
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_one_for_the_version_that_wrote_it_is_left_as_it_was(self):
        backup.write(self.settings, self.file, NOW)
        other = self.empty()
        with mock.patch.object(backup, "migrate", wraps=migrate) as asked:
            backup.restore(other, self.file, up_to_date=False)
        self.assertEqual([call.kwargs.keys() for call in asked.call_args_list], [{"only"}])

    def test_every_row_and_file_is_there_again(self):
        told = backup.write(self.settings, self.file, NOW)
        other = self.empty()
        backup.restore(other, self.file)
        ours, theirs = self.everything(self.settings), self.everything(other)
        self.assertEqual(ours.keys(), theirs.keys())
        for table, rows in ours.items():
            with self.subTest(table=table):
                self.assertEqual(rows, theirs[table])
        self.assertGreater(len(ours["capture_chunk"]), 0)
        self.assertGreater(len(ours["grade_run"]), 0)
        files = {p.name: p.read_bytes() for p in self.settings.uploads.iterdir()}
        waiting = [n.removeprefix("uploads/") for n in told["parts"] if n.startswith("uploads/")]
        self.assertEqual(len(waiting), 1)
        for name in waiting:
            self.assertEqual((other.uploads / name).read_bytes(), files[name])
        # New rows go on counting where the old ones ended.
        self.assertEqual(migrate(other), 0)

    def test_it_is_of_one_moment_whatever_is_written_meanwhile(self):
        before = len(self.everything(self.settings)["sign_in_turn"])
        lines = backup._lines

        def meanwhile(connection, table):
            with self.pool.transaction() as conn, conn.cursor() as cursor:
                cursor.execute("INSERT INTO sign_in_turn SELECT COALESCE(MAX(place), 0) + 1 FROM sign_in_turn")
            return lines(connection, table)

        backup._lines = meanwhile
        self.addCleanup(setattr, backup, "_lines", lines)
        told = backup.write(self.settings, self.file, NOW)
        self.assertEqual(told["parts"]["tables/sign_in_turn.ndjson"]["rows"], before)

    def test_only_its_owner_can_read_it_and_half_of_one_is_never_there(self):
        backup.write(self.settings, self.file, NOW)
        self.assertEqual(stat.S_IMODE(self.file.stat().st_mode), 0o600)
        with self.assertRaisesRegex(backup.BadBackup, "choose another place"):
            backup.write(self.settings, self.folder / "no" / "such" / "place.zip", NOW)
        self.assertEqual([p.name for p in self.folder.iterdir()], ["all.zip"])

    def test_damaged_foreign_and_second_are_refused_in_words(self):
        backup.write(self.settings, self.file, NOW)
        with self.assertRaisesRegex(backup.BadBackup, "already"):
            backup.restore(self.settings, self.file)
        damaged = self.folder / "damaged.zip"
        with zipfile.ZipFile(self.file) as whole, zipfile.ZipFile(damaged, "w") as out:
            for name in whole.namelist():
                content = whole.read(name)
                out.writestr(name, content.replace(b"Ann", b"Eve") if name == "tables/person.ndjson" else content)
        cut = self.folder / "cut.zip"
        cut.write_bytes(self.file.read_bytes()[:2000])
        other = self.empty()
        for path, why in ((damaged, "damaged"), (cut, "no whole backup"), (self.folder / "none.zip", "no file")):
            with self.subTest(path=path.name), self.assertRaisesRegex(backup.BadBackup, why):
                backup.restore(other, path)
        self.assertEqual(self.everything(other), {})


if __name__ == "__main__":
    unittest.main()
