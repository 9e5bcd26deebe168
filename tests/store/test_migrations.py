"""An upgrade that goes wrong half-way leaves the version before with all of its data, and says what happened."""

import shutil
import tempfile
from pathlib import Path
from unittest import mock

from tests.support.database import DatabaseTest
from tracebench.store import migrate as migrating
from tracebench.store.pool import Pool
from tracebench.store.queries import queries


class FailedUpgrade(DatabaseTest):
    def test_what_it_had_changed_is_taken_back_and_the_rows_are_still_there(self):
        with self.pool.transaction() as conn:
            person_id = queries.people.add(
                conn, sign_in="kept", name="Kept", role="learner", password_hash="", at="2026-03-01"
            )
        before = migrating.applied(self.settings)
        columns = self._columns()
        with tempfile.TemporaryDirectory() as folder:
            fresh = Path(folder) / "migrations"
            shutil.copytree(migrating.MIGRATIONS, fresh)
            (fresh / "9001.wider.sql").write_text("ALTER TABLE person ADD COLUMN nickname VARCHAR(40) NULL;\n")
            (fresh / "9001.wider.rollback.sql").write_text("ALTER TABLE person DROP COLUMN nickname;\n")
            (fresh / "9002.broken.sql").write_text("ALTER TABLE no_such_table ADD COLUMN x INT;\n")
            with mock.patch.object(migrating, "MIGRATIONS", fresh):
                with self.assertRaisesRegex(migrating.MigrationFailed, "9002.broken.*no_such_table"):
                    migrating.migrate(self.settings)
                self.assertEqual(migrating.pending(self.settings), 2)
        self.assertEqual(migrating.applied(self.settings), before)
        self.assertEqual(self._columns(), columns)
        # The version before goes on: its own statements work on what is there.
        pool = Pool(self.settings)
        with pool.transaction() as conn:
            found = queries.people.by_id(conn, person_id=person_id)
        pool.close()
        self.assertEqual(found["name"] if found else None, "Kept")
        self.assertEqual(migrating.migrate(self.settings), 0)

    def _columns(self) -> list[str]:
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute(
                "SELECT CONCAT(table_name, '.', column_name) AS c FROM information_schema.columns "
                "WHERE table_schema = DATABASE() ORDER BY 1"
            )
            return [row["c"] for row in cursor.fetchall()]
