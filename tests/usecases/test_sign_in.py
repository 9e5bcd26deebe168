"""Guessing is slowed, a class is not: sign-ins with failures before them, and passwords that are guessed first."""

import threading
import unittest
from datetime import timedelta

from tests.support.client import NOW
from tests.support.database import DatabaseTest
from tracebench.core.errors import BadOption
from tracebench.usecases import people
from tracebench.usecases.errors import TooSoon

RIGHT = "long enough"


class SignIn(DatabaseTest):
    def setUp(self):
        self.at = NOW
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            cursor.execute("DELETE FROM sign_in_failure")
            cursor.execute("DELETE FROM person")
            for name in ("ann", "ben"):
                people.add(conn, name, name, "learner", RIGHT, NOW)

    def sign_in(self, name="ann", password=RIGHT, address="10.0.0.7"):
        return people.sign_in(self.pool.transaction, name, password, address, self.at)

    def guess(self, times, name="ann", address="10.0.0.7"):
        """So many wrong passwords, each as soon as it is looked at."""
        for k in range(times):
            while True:
                try:
                    self.assertIsNone(self.sign_in(name.format(k), "wrong one", address))
                    break
                except TooSoon as soon:
                    self.at += timedelta(seconds=soon.seconds)

    def test_five_slips_cost_nothing_and_the_pause_doubles_after_them(self):
        self.guess(5)
        pauses = []
        for _ in range(6):
            with self.assertRaises(TooSoon) as caught:
                self.sign_in()
            pauses.append(caught.exception.seconds)
            self.at += timedelta(seconds=caught.exception.seconds)
            self.assertIsNone(self.sign_in(password="wrong one"))
        self.assertEqual(pauses, [1, 2, 4, 8, 16, 32])

    def test_who_waits_the_pause_gets_in_and_the_count_is_cleared(self):
        self.guess(8)
        with self.assertRaises(TooSoon) as caught:
            self.sign_in()
        self.at += timedelta(seconds=caught.exception.seconds)
        self.assertEqual(self.sign_in().name, "ann")
        self.assertIsNone(self.sign_in(password="wrong one"))
        self.assertEqual(self.sign_in().name, "ann")

    def test_asking_while_one_has_to_wait_makes_the_wait_no_longer(self):
        self.guess(9)
        for _ in range(30):
            with self.assertRaises(TooSoon) as caught:
                self.sign_in()
        self.assertLessEqual(caught.exception.seconds, 16)

    def test_a_guesser_elsewhere_keeps_nobody_out_of_their_account(self):
        # After sixty guesses from another address the owner waits a minute at the most.
        self.guess(60, address="10.9.9.9")
        try:
            self.assertEqual(self.sign_in(address="10.0.0.7").name, "ann")
        except TooSoon as soon:
            self.assertLessEqual(soon.seconds, 60)

    def test_a_class_behind_one_address_is_not_shut_out_by_one_of_them(self):
        self.guess(40, "nobody{}")
        self.assertEqual(self.sign_in("ben").name, "ben")
        self.guess(140, "other{}")
        try:
            self.assertEqual(self.sign_in("ben").name, "ben")
        except TooSoon as soon:
            self.assertLessEqual(soon.seconds, 8)

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
        self.assertLessEqual(len(looked_at), 5)
        self.assertEqual(len(looked_at) + len(waited), 14)

    def test_the_password_form_is_no_way_round_it(self):
        ann = self.sign_in()
        begin, new, address = self.pool.transaction, "three more words", "10.0.0.7"
        for k in range(5):
            with self.assertRaises(BadOption):
                people.change_password(begin, ann, f"wrong {k}", new, address, self.at)
        with self.assertRaises(TooSoon):
            people.change_password(begin, ann, RIGHT, new, address, self.at)

    def test_passwords_that_are_guessed_first_are_refused_in_words(self):
        for poor in ("password1", "12345678", "qwertyui", "iloveyou1", "short"):
            with self.subTest(poor=poor), self.assertRaisesRegex(BadOption, "password"):
                people.hashed(poor)
        self.assertTrue(people.hashed("harbour-light").startswith("$argon2id$"))


class Sessions(DatabaseTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        with cls.pool.transaction() as conn:
            people.add(conn, "ann", "Ann", "learner", RIGHT, NOW)

    def begin(self, device="tablet"):
        ann = people.sign_in(self.pool.transaction, "ann", RIGHT, "10.0.0.7", NOW)
        with self.pool.transaction() as conn:
            return people.begin_session(conn, ann, "10.0.0.7", device, NOW)

    def of(self, token, at=NOW):
        with self.pool.transaction() as conn:
            return people.of_session(conn, token, at)

    def test_a_session_that_was_signed_out_of_is_worth_nothing_and_others_go_on(self):
        one, other = self.begin("tablet"), self.begin("desk")
        person = self.of(one)
        with self.pool.transaction() as conn:
            listed = people.sessions(conn, person, NOW)
            self.assertEqual({s["device"] for s in listed if s["this"]}, {"tablet"})
            people.end_session(conn, person, person.session_id, NOW)
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
