"""Names of files that are sent: on one line and told as RFC 6266 and RFC 5987 have it, whatever they hold."""

import re
import unittest
from urllib.parse import unquote

from hypothesis import given
from hypothesis import strategies as st

from tests.support.client import WebTest
from tracebench.formats.cells import harmless
from tracebench.web.context import g
from tracebench.web.files import handed_out, plain

QUOTED, BARE, OTHER = r'"(?:[^"\\]|\\.)*"', r"[!#$&+.^_`|~0-9A-Za-z-]+", r"(?:; filename\*=UTF-8''(?P<other>\S+))?"
TOKEN = re.compile(rf"attachment; filename=(?P<plain>{QUOTED}|{BARE}){OTHER}")
"""A disposition with a quoted or plain name, and one of another alphabet beside it."""


class Names(WebTest):
    def told(self, name):
        with self.app.test_request_context():
            g.person = type("Somebody", (), {"id": 1})()
            answer = handed_out(lambda path: path.write_bytes(b"x"), name)
            said = answer.headers["Content-Disposition"]
            answer.close()
        found = TOKEN.fullmatch(said)
        self.assertIsNotNone(found, said)
        return unquote(found["other"]) if found["other"] else found["plain"].strip('"').replace("\\", "")

    def test_of_quotes_line_ends_and_other_alphabets(self):
        for name, told in (
            ("reference-3.zip", "reference-3.zip"),
            ('Ruckeln "kalt".csv', "Ruckeln -kalt-.csv"),
            ("a\r\nSet-Cookie: x=1.csv", "a Set-Cookie- x=1.csv"),
            ("дроссель 2.csv", "дроссель 2.csv"),
            ("スロットル.csv", "スロットル.csv"),
            ("../../etc/passwd", "-..-etc-passwd"),
            ("'; filename=other.exe", "'; filename=other.exe"),
            ("", "file"),
            ("\u202egpj.exe", "gpj.exe"),
        ):
            with self.subTest(name):
                self.assertEqual(self.told(name), told)

    @given(st.text(max_size=300))
    def test_any_name_is_one_line_and_no_path(self, name):
        kept = plain(name)
        self.assertTrue(kept and kept.isprintable() and len(kept) <= 141)
        self.assertFalse(set(kept) & set('/\\"\r\n'))
        self.assertEqual(plain(kept), kept)


class Cells(unittest.TestCase):
    @given(st.text(max_size=30))
    def test_no_text_begins_as_a_formula_does(self, text):
        kept = harmless(text)
        self.assertNotIn(kept[:1], ("=", "+", "-", "@", "\t", "\r"))
        self.assertEqual(kept.removeprefix("'") if kept != text else kept, text)

    def test_numbers_stay_numbers(self):
        self.assertEqual([harmless(v) for v in (-1.5, 3, None)], [-1.5, 3, None])


if __name__ == "__main__":
    unittest.main()
