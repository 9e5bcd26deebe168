"""The table of threats names tests that are there, in modules that are run."""

import importlib
import re
import unittest
from pathlib import Path

from scripts.rights import table

PAGE = Path(__file__).resolve().parents[2] / "docs" / "security.md"


class Rights(unittest.TestCase):
    def test_the_page_shows_the_rights_that_are_asked(self):
        self.assertIn(table(), PAGE.read_text(encoding="utf-8"), "run python -m scripts.rights")


class Threats(unittest.TestCase):
    def test_each_row_names_a_module_with_tests(self):
        rows = [line for line in PAGE.read_text(encoding="utf-8").splitlines() if re.match(r"\| \d", line)]
        self.assertGreater(len(rows), 30)
        for row in rows:
            names = re.findall(r"`(tests\.[\w.]+)`", row)
            self.assertTrue(names, row)
            for name in names:
                suite = unittest.defaultTestLoader.loadTestsFromModule(importlib.import_module(name))
                self.assertGreater(suite.countTestCases(), 0, name)
