"""Accounts from the command line: for the first administrator, and for whoever forgot a password."""

import json
import tempfile
from pathlib import Path

from click.testing import CliRunner

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tracebench.cli import main
from tracebench.processes.installation import leave_note
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts, invitations
from tracebench.usecases.people.guessing import Came


class PersonCommands(DatabaseTest):
    def _run(self, *arguments: str, typed: str = ""):
        env = {
            "TRACEBENCH_DB_PORT": str(self.settings.db_port),
            "TRACEBENCH_DB_NAME": self.settings.db_name,
            "TRACEBENCH_DB_USER": self.settings.db_user,
            "TRACEBENCH_DB_PASSWORD": self.settings.db_password,
            "TRACEBENCH_SECRET_KEY": "for this test",
        }
        with tempfile.TemporaryDirectory() as folder:
            leave_note(Path(folder), env)
            return CliRunner().invoke(main, ["person", *arguments, "--data", folder], input=typed)

    def test_an_account_is_added_and_stands_in_the_trail(self):
        told = ["--sign-in", "office", "--name", "Office", "--role", "administrator"]
        done = self._run("add", *told, typed="three quiet words\nthree quiet words\n")
        self.assertEqual(done.exit_code, 0, done.output)
        with self.pool.transaction() as conn:
            found = queries.people.by_sign_in(conn, sign_in="office")
            line = next(
                iter(
                    queries.audit.page(
                        conn, before_id=1 << 40, about="person", about_id=found["id"], person_id=None, most=1
                    )
                )
            )
        self.assertEqual((found["role"], line["action"]), ("administrator", "person.add"))
        self.assertNotIn("quiet", json.dumps(line, default=str))

    def test_a_link_lets_its_person_choose_a_new_password(self):
        with self.pool.transaction() as conn:
            accounts.add(conn, "ann", "Ann", "learner", "long enough", NOW)
        done = self._run("link", "--sign-in", "Ann")
        self.assertEqual(done.exit_code, 0, done.output)
        token = done.output.split("#")[1].split()[0]
        at = NOW.replace(year=2026)
        invitations.use(self.pool.transaction, token, "three other words", at)
        self.assertIsNotNone(accounts.sign_in(self.pool.transaction, "ann", "three other words", Came("here"), at))

    def test_nobody_of_that_name_is_one_line(self):
        done = self._run("link", "--sign-in", "nobody")
        self.assertNotEqual(done.exit_code, 0)
        self.assertIn("no account 'nobody'", done.output + str(done.exception))
