"""Numbers inside functions of circuits and measuring: each decides something, and should say its unit and why.

`bare_numbers.json` counts those that still stand bare, by file. A file that is not in it has none, and a count may only
go down: whoever moves a number into a threshold lowers it.
"""

import ast
import json
import unittest
from collections import Counter
from pathlib import Path

import tracebench

PACKAGE = Path(tracebench.__file__).parent
ROOMS = ("circuits", "core/circuits", "core/measure")
LIST = Path(__file__).with_name("bare_numbers.json")

PLAIN = {0, 1, 2, 0.5, 100}
EXACT = {1e3, 1e-3, 1e6, 1e-6, 60, 3600, 180, 360, 720}
"""Conversions of units, degrees of a turn and of a cycle."""


def bare_in(text: str) -> int:
    """How many numbers stand in functions of a module; a default value of a parameter is one, too."""
    places = set()
    for function in ast.walk(ast.parse(text)):
        if isinstance(function, ast.FunctionDef | ast.Lambda):
            for node in ast.walk(function):
                number = isinstance(node, ast.Constant) and type(node.value) in (int, float)
                if number and node.value not in PLAIN | EXACT:
                    places.add((node.lineno, node.col_offset))
    return len(places)


def counted() -> Counter[str]:
    found = Counter()
    for room in ROOMS:
        for path in sorted((PACKAGE / room).rglob("*.py")):
            if path.stem not in ("source", "shelf"):
                found[path.relative_to(PACKAGE).as_posix()] += bare_in(path.read_text(encoding="utf-8"))
    return +found


class BareNumbers(unittest.TestCase):
    def test_they_only_become_fewer(self):
        known, now = json.loads(LIST.read_text(encoding="utf-8")), counted()
        for path in sorted({*known, *now}):
            most = known.get(path, 0)
            self.assertLessEqual(now[path], most, f"{path}: give each new number its unit and reason in a threshold")
            self.assertGreaterEqual(now[path], most, f"{path}: fewer now; write {now[path]} in {LIST.name}")

    def test_a_number_is_seen_wherever_it_stands(self):
        self.assertEqual(bare_in("def f(x):\n    return 3 * x"), 1)
        self.assertEqual(bare_in("def f(x, k=0.3):\n    return [y for y in x if y > 7] or (lambda z: z**4)"), 3)
        self.assertEqual(bare_in("A = 3\ndef f(x):\n    return A * x + 1 - 0.5 * 1000 / True"), 0)


if __name__ == "__main__":
    unittest.main()
