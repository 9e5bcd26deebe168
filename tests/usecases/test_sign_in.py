"""Guessing is slowed, a class is not: sign-ins with failures before them, and passwords that are guessed first."""

import threading
import unittest
from collections import Counter
from datetime import timedelta

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tracebench.core.errors import BadOption
from tracebench.store.queries import queries
from tracebench.usecases.errors import TooSoon
from tracebench.usecases.people import accounts
from tracebench.usecases.people.guessing import Came

RIGHT = "long enough"


class SignIn(DatabaseTest):
    """A device is known by its cookie; here by a word."""

    def setUp(self):
        self.at = NOW
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            for table in ("sign_in_try", "known_device", "sign_in_session", "person"):
                cursor.execute(f"DELETE FROM {table}")
            for name in ("ann", "ben"):
                accounts.add(conn, name, name, "learner", RIGHT, NOW)

    def sign_in(self, name="ann", password=RIGHT, address="10.0.0.7", device=""):
        return accounts.sign_in(self.pool.transaction, name, password, Came(address, device), self.at)

    def waits(self, **who):
        """Seconds until a right sign-in is looked at; 0 if it was."""
        try:
            self.assertIsNotNone(self.sign_in(**who))
        except TooSoon as soon:
            return soon.seconds
        return 0

    def guess(self, times, name="ann", **where):
        """So many wrong passwords, each as soon as it is looked at."""
        for k in range(times):
            while True:
                try:
                    self.assertIsNone(self.sign_in(name.format(k), "wrong one", **where))
                    break
                except TooSoon as soon:
                    self.at += timedelta(seconds=soon.seconds)

    def storm(self, names, devices, seconds, **where):
        """Guesses from many devices at many names, several a second; how many of each name were looked at."""
        looked_at = Counter()
        for tick in range(4 * seconds):
            self.at += timedelta(milliseconds=250)
            for k, device in enumerate(devices):
                name = names[(tick * len(devices) + k) % len(names)]
                try:
                    self.assertIsNone(self.sign_in(name, "wrong one", device=device, **where))
                    looked_at[name] += 1
                except TooSoon:
                    pass
        return looked_at

    def test_five_slips_cost_nothing_and_the_pause_doubles_after_them(self):
        self.guess(5)
        pauses = []
        for _ in range(6):
            with self.assertRaises(TooSoon) as caught:
                self.sign_in()
            pauses.append(caught.exception.seconds)
            self.at += timedelta(seconds=caught.exception.seconds)
            self.assertIsNone(self.sign_in(password="wrong one"))
        # Six in a minute are looked at: the seventh waits until the first is a minute old.
        self.assertEqual((pauses[0], pauses[-1]), (1, 32))
        self.assertTrue(all(later >= 2**k for k, later in enumerate(pauses)), pauses)

    def test_who_waits_the_pause_gets_in_and_the_count_is_cleared(self):
        self.guess(8)
        self.at += timedelta(seconds=self.waits())
        self.assertEqual(self.sign_in().name, "ann")
        self.assertIsNone(self.sign_in(password="wrong one"))
        self.assertEqual(self.sign_in().name, "ann")

    def test_asking_while_one_has_to_wait_makes_the_wait_no_longer(self):
        self.guess(6)
        first = self.waits()
        for _ in range(30):
            self.assertLessEqual(self.waits(), first)

    def test_ten_a_minute_of_a_name_are_looked_at_wherever_they_come_from(self):
        looked_at = 0
        for k in range(200):
            self.at += timedelta(milliseconds=250)
            try:
                self.assertIsNone(self.sign_in(password="wrong one", address=f"10.1.{k}.1", device=f"new {k}"))
                looked_at += 1
            except TooSoon:
                pass
        self.assertEqual(looked_at, 10)

    def test_a_known_device_gets_its_turn_whoever_guesses(self):
        self.assertEqual(self.waits(device="ann's tablet"), 0)
        for k in range(40):
            try:
                self.sign_in(password="wrong one", device=f"rude {k}")
            except TooSoon:
                continue
        self.assertGreater(self.waits(device="rude one more"), 0)
        self.assertEqual(self.waits(device="ann's tablet"), 0)

    def test_a_known_device_that_is_wrong_itself_is_looked_at_ten_times_a_minute(self):
        self.assertEqual(self.waits(device="ann's tablet"), 0)
        for _ in range(10):
            self.assertIsNone(self.sign_in(password="wrong one", device="ann's tablet"))
        self.assertLessEqual(self.waits(device="ann's tablet"), 60)
        self.assertGreater(self.waits(device="ann's tablet"), 0)
        # It is not known under another name.
        self.assertEqual(self.waits(name="ben", device="ann's tablet"), 0)

    def test_a_class_that_comes_in_for_the_first_time_beside_eight_who_guess_its_names(self):
        names = [f"learner{k}" for k in range(60)]
        with self.pool.transaction() as conn:
            for name in names:
                queries.people.add(
                    conn,
                    sign_in=name,
                    name=name,
                    role="learner",
                    password_hash=accounts.hashed(RIGHT),
                    added_by=None,
                    at=NOW,
                )
        rude = [f"rude {k}" for k in range(8)]
        self.storm(names, rude, 3)
        longest, looked_at = 0, Counter()
        for k, name in enumerate(names):
            looked_at += self.storm(names, rude, 1)
            longest = max(longest, self.waits(name=name, device=f"own {k}"))
        self.assertEqual(longest, 0)
        self.assertLessEqual(max(looked_at.values()), 10)

    def test_one_name_that_all_guess_at_is_still_looked_at_for_who_comes_first(self):
        self.storm(["ann"], [f"rude {k}" for k in range(8)], 120)
        self.assertLessEqual(self.waits(device="own"), 10)

    def test_names_that_an_address_signed_in_with_are_not_counted_against_it(self):
        self.assertEqual(self.waits(name="ben"), 0)
        with self.pool.transaction() as conn:
            ben = queries.people.by_sign_in(conn, sign_in="ben")
            accounts.begin_session(conn, accounts._person(ben), "10.0.0.7", "desk", NOW)
        for k in range(150):
            try:
                self.sign_in(f"nobody{k}", "wrong one", device=f"rude {k}")
            except TooSoon:
                continue
        self.assertGreater(self.waits(device="new"), 0)
        self.assertEqual(self.waits(name="ben", device="new too"), 0)
        self.assertEqual(self.waits(address="10.0.0.8", device="new"), 0)

    def test_many_guesses_at_once_pass_no_more_than_one_after_the_other(self):
        looked_at, waited = [], []

        def guess():
            try:
                self.sign_in(password="wrong one")
                looked_at.append(1)
            except TooSoon:
                waited.append(1)

        threads = [threading.Thread(target=guess) for _ in range(14)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(looked_at), 5)
        self.assertEqual(len(looked_at) + len(waited), 14)

    def test_the_password_form_is_no_way_round_it(self):
        ann = self.sign_in()
        begin, new, came = self.pool.transaction, "three more words", Came("10.0.0.7")
        for k in range(5):
            with self.assertRaises(BadOption):
                accounts.change_password(begin, ann, f"wrong {k}", new, came, self.at)
        with self.assertRaises(TooSoon):
            accounts.change_password(begin, ann, RIGHT, new, came, self.at)

    def test_passwords_that_are_guessed_first_are_refused_in_words(self):
        for poor in ("password1", "12345678", "qwertyui", "iloveyou1", "short"):
            with self.subTest(poor=poor), self.assertRaisesRegex(BadOption, "password"):
                accounts.hashed(poor)
        self.assertTrue(accounts.hashed("harbour-light").startswith("$argon2id$"))


class Sessions(DatabaseTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            accounts.add(conn, "ann", "Ann", "learner", RIGHT, NOW)

    def begin(self, device="tablet"):
        ann = accounts.sign_in(self.pool.transaction, "ann", RIGHT, Came("10.0.0.7"), NOW)
        with self.pool.transaction() as conn:
            return accounts.begin_session(conn, ann, "10.0.0.7", device, NOW)

    def of(self, token, at=NOW):
        with self.pool.transaction() as conn:
            return accounts.of_session(conn, token, at)

    def test_a_session_that_was_signed_out_of_is_worth_nothing_and_others_go_on(self):
        one, other = self.begin("tablet"), self.begin("desk")
        person = self.of(one)
        with self.pool.transaction() as conn:
            listed = accounts.sessions(conn, person, NOW)
            self.assertEqual({s["device"] for s in listed if s["this"]}, {"tablet"})
            accounts.end_session(conn, person, person.session_id, NOW)
        self.assertIsNone(self.of(one))
        self.assertIsNotNone(self.of(other))

    def test_unused_for_a_day_it_has_ended(self):
        token = self.begin()
        self.assertIsNotNone(self.of(token, NOW + timedelta(hours=13)))
        self.assertIsNone(self.of(token, NOW + timedelta(hours=28)))

    def test_only_a_hash_of_the_token_is_kept(self):
        token = self.begin()
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("SELECT token_hash FROM sign_in_session")
            self.assertNotIn(token, [r["token_hash"] for r in cursor.fetchall()])
        self.assertIsNone(self.of("nobody's"))


if __name__ == "__main__":
    unittest.main()
