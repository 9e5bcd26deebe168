"""The backup of the day: made once, tried again soon where it failed, and the administrator told meanwhile."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

from tracebench.processes import daily
from tracebench.store import backup
from tracebench.usecases.school.health import _failed_backup


class Process:
    """One that ends as it is told, and writes its file where it does well."""

    def __init__(self, path, status):
        self.path, self.returncode = path, status

    def poll(self):
        if self.returncode == 0:
            self.path.write_bytes(b"whole")
        return self.returncode


class DailyBackup(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "backups"
        self.now, self.statuses, self.said = 1000.0, [], []
        self.enterContext(mock.patch.object(daily.time, "monotonic", lambda: self.now))
        self.begun = self.enterContext(mock.patch.object(daily, "spawn", side_effect=self.spawn))
        self.daily = daily.Daily(mock.sentinel.settings, self.folder, self.said.append)

    def spawn(self, command, silent):
        return Process(Path(command[4]), self.statuses.pop(0))

    def passes(self, seconds):
        for _ in range(int(seconds)):
            self.now += 1
            self.daily()

    def test_one_that_failed_is_tried_again_within_the_hour_and_told_meanwhile(self):
        self.statuses = [1, 1, 0]
        self.daily()
        self.passes(61)
        self.assertEqual(self.begun.call_count, 1)
        self.assertIn("failed", self.said[0])
        self.assertRegex(_failed_backup(self.folder)[0], "the backup of .* UTC failed; it is tried again")
        self.passes(1000)
        self.assertEqual(self.begun.call_count, 2)
        self.passes(2000)
        self.assertEqual(self.begun.call_count, 3)
        self.assertEqual(_failed_backup(self.folder), [])
        self.passes(4000)
        self.assertEqual(self.begun.call_count, 3)

    def test_a_note_that_is_damaged_is_none(self):
        self.folder.mkdir()
        (self.folder / backup.FAILED).write_text("{")
        self.assertEqual(_failed_backup(self.folder), [])


if __name__ == "__main__":
    unittest.main()
