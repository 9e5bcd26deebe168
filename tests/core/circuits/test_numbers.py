"""Every number by which a circuit decides says its unit and its reason, and the page of them is fresh."""

import ast
import unittest
from pathlib import Path

from scripts import circuit_pages, thresholds
from tracebench.core.circuits.threshold import Threshold, reach

NO_DECISION = {"_FALL", "FACTORS", "IDLE, SNAP, OVERRUN, CRANK", "_APART", "OF_A_SINE", "EDGE_OF_JITTER", "PLACE"}
"""Places in lists, shapes for pictures, powers of ten, names by number, and what mathematics gives."""


def _is_number(node: ast.expr) -> bool:
    if isinstance(node, ast.Constant):
        return isinstance(node.value, int | float) and not isinstance(node.value, bool)
    if isinstance(node, ast.UnaryOp):
        return _is_number(node.operand)
    if isinstance(node, ast.BinOp):
        return _is_number(node.left) or _is_number(node.right)
    return isinstance(node, ast.Tuple) and bool(node.elts) and all(map(_is_number, node.elts))


class Numbers(unittest.TestCase):
    def test_no_circuit_decides_by_a_bare_number_of_its_module(self):
        for module in thresholds.modules():
            for node in ast.parse(Path(str(module.__file__)).read_text(encoding="utf-8")).body:
                if isinstance(node, ast.Assign) and _is_number(node.value):
                    name = ast.unparse(node.targets[0]).strip("()")
                    self.assertIn(name, NO_DECISION, f"{module.__name__}: give {name} its unit and reason")

    def test_each_has_a_reason_that_can_be_read(self):
        count = 0
        for module in thresholds.modules():
            for name, _, _, why in thresholds.rows_of(module):
                count += 1
                self.assertGreater(len(why.split()), 3, f"{module.__name__}.{name}: {why!r} is no reason")
        self.assertGreater(count, 150)

    def test_the_page_is_fresh(self):
        self.assertEqual(
            thresholds.TARGET.read_text(encoding="utf-8"), thresholds.text(), "run python -m scripts.thresholds"
        )

    def test_the_page_of_circuits_is_fresh(self):
        self.assertEqual(
            circuit_pages.TARGET.read_text(encoding="utf-8"),
            circuit_pages.text(),
            "run python -m scripts.circuit_pages",
        )

    def test_it_counts_as_the_number_it_is(self):
        least, most = reach(1.5, 2.5, "V", "for this test")
        self.assertEqual((least + most, f"{most:g}", most.unit), (4.0, "2.5", "V"))
        self.assertIsInstance(Threshold(1, "V", "for this test") * 2, float)


if __name__ == "__main__":
    unittest.main()
