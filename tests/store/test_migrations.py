"""An upgrade that goes wrong half-way leaves the version before with all of its data, and says what happened."""

import shutil
import tempfile
from pathlib import Path
from unittest import mock

from yoyo import read_migrations
from yoyo.backends.base import DatabaseBackend

from tests.support.database import DatabaseTest
from tracebench.store import migrate as migrating
from tracebench.store.pool import Pool
from tracebench.store.queries import queries


class FailedUpgrade(DatabaseTest):
    def test_what_it_had_changed_is_taken_back_and_the_rows_are_still_there(self):
        with self.pool.transaction() as conn:
            person_id = queries.people.add(
                conn, sign_in="kept", name="Kept", role="learner", password_hash="", added_by=None, at="2026-03-01"
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


class Killed(BaseException):
    """The process is gone: nothing behind it is done any more."""


class KilledUpgrade(DatabaseTest):
    """Killed at each of the moments that there are, an upgrade is gone on with by the next start."""

    MOMENTS = ("apply_one", "mark_one", "log_migration")

    def setUp(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.fresh = folder / "migrations"
        shutil.copytree(migrating.MIGRATIONS, self.fresh)
        self.put("9001.wider", "ALTER TABLE person ADD COLUMN nickname INT NULL;")
        self.put("9001.wider.rollback", "ALTER TABLE person DROP COLUMN nickname;")
        self.put("9002.filled", "UPDATE person SET nickname = id;")
        self.put("9002.filled.rollback", "UPDATE person SET nickname = NULL;")
        self.put("9003.another", "CREATE TABLE another (id INT PRIMARY KEY);")
        self.put("9003.another.rollback", "DROP TABLE another;")
        self.enterContext(mock.patch.object(migrating, "MIGRATIONS", self.fresh))
        self.addCleanup(self.back)

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            queries.people.add(
                conn, sign_in="x", name="X", role="learner", password_hash="", added_by=None, at="2026-03-01"
            )

    def put(self, name, statement):
        (self.fresh / f"{name}.sql").write_text(statement + "\n")

    def back(self):
        for statement in (
            "DELETE FROM _yoyo_migration WHERE migration_id LIKE '900%'",
            "DROP TABLE IF EXISTS another",
            "ALTER TABLE person DROP COLUMN IF EXISTS nickname",
            "DELETE FROM migration_progress",
        ):
            self.execute(statement)

    def execute(self, statement):
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute(statement)
            return [next(iter(row.values())) for row in cursor.fetchall()]

    def killed_in(self, name, method, after):
        """Where yoyo's `method` is called for the migration `name`, the process ends before or after it."""
        real = getattr(DatabaseBackend, method)

        def here(backend, migration, *arguments, **named):
            if migration.id == name and not after:
                raise Killed
            out = real(backend, migration, *arguments, **named)
            if migration.id == name:
                raise Killed
            return out

        return mock.patch.object(DatabaseBackend, method, here)

    def test_at_any_moment_the_next_one_goes_on(self):
        for name in ("9001.wider", "9002.filled", "9003.another"):
            for method in self.MOMENTS:
                for after in (False, True):
                    with self.subTest(killed_at=name, method=method, after=after):
                        self.back()
                        with self.killed_in(name, method, after), self.assertRaises(Killed):
                            migrating.migrate(self.settings)
                        migrating.migrate(self.settings)
                        self.assertEqual(migrating.pending(self.settings), 0)
                        self.assertEqual(self.execute("SELECT COUNT(*) - COUNT(nickname) FROM person"), [0])
                        self.assertEqual(self.execute("SELECT COUNT(*) FROM another"), [0])
                        self.assertEqual(self.execute("SELECT COUNT(*) FROM migration_progress"), [0])

    def test_while_it_is_taken_back_too(self):
        self.put("9004.broken", "ALTER TABLE no_such_table ADD COLUMN x INT;")
        for name in ("9001.wider", "9003.another"):
            for method in ("rollback_one", "unmark_one"):
                for after in (False, True):
                    with self.subTest(killed_at=name, method=method, after=after):
                        self.back()
                        with self.killed_in(name, method, after), self.assertRaises(Killed):
                            migrating.migrate(self.settings)
                        with self.assertRaisesRegex(migrating.MigrationFailed, "9004.broken"):
                            migrating.migrate(self.settings)
                        self.assertEqual(migrating.pending(self.settings), 4)
                        columns = self.execute(
                            "SELECT column_name FROM information_schema.columns "
                            "WHERE table_schema = DATABASE() AND table_name = 'person'"
                        )
                        self.assertNotIn("nickname", columns)

    def test_the_lock_of_one_that_was_killed_keeps_nobody_out(self):
        self.execute("INSERT INTO yoyo_lock (locked, ctime, pid) VALUES (1, NOW(), 1)")
        self.assertEqual(migrating.migrate(self.settings), 3)

    def test_what_is_there_though_nobody_began_it_is_no_success(self):
        self.execute("CREATE TABLE another (id INT PRIMARY KEY)")
        with self.assertRaisesRegex(migrating.MigrationFailed, "another"):
            migrating.migrate(self.settings)


class KilledFirst(DatabaseTest):
    """Killed while the first tables of all are made, the next start makes them."""

    def test_the_library_s_own_tables(self):
        statements = []
        real = DatabaseBackend.execute

        def counted(backend, sql, params=None):
            statements.append(sql)
            return real(backend, sql, params)

        with mock.patch.object(migrating, "read_migrations", lambda _: read_migrations(str(self.few()))):
            self.empty()
            with mock.patch.object(DatabaseBackend, "execute", counted):
                migrating.migrate(self.settings)
            changing = [k + 1 for k, said in enumerate(statements) if said.split()[0] in ("CREATE", "INSERT", "DROP")]
            self.assertGreater(len(changing), 6)
            for last in changing:
                self.empty()
                with self.subTest(killed_after=last, statement=statements[last - 1]):
                    left = iter([None] * last)

                    def dies(backend, sql, params=None, left=left):
                        out = real(backend, sql, params)
                        if next(left, Killed) is Killed:
                            raise Killed
                        return out

                    with mock.patch.object(DatabaseBackend, "execute", dies), self.assertRaises(Killed):
                        migrating.migrate(self.settings)
                    migrating.migrate(self.settings)
                    self.assertEqual(migrating.pending(self.settings), 0)

    def few(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name in ("0001", "0002"):
            for file in migrating.MIGRATIONS.glob(f"{name}.*"):
                shutil.copy(file, folder)
        return folder

    def empty(self):
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
            cursor.execute("SHOW TABLES")
            for row in cursor.fetchall():
                cursor.execute(f"DROP TABLE `{next(iter(row.values()))}`")
            cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
