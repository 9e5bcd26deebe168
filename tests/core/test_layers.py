"""Who may import whom. A rule that is only written down gets broken."""

import ast
import unittest
from pathlib import Path

import tracebench

PACKAGE = Path(tracebench.__file__).parent

ALLOWED = {
    "core": {"core"},
    "formats": {"core", "formats"},
    "bench": {"core", "formats", "bench"},
    "store": {"core", "store", "settings"},
    "usecases": {"core", "formats", "store", "bench", "usecases"},
    "web": {"core", "formats", "store", "bench", "usecases", "web", "settings"},
    "demo": {"core", "formats", "store", "bench", "usecases", "demo"},
    "commands": {
        "core",
        "formats",
        "store",
        "bench",
        "usecases",
        "web",
        "demo",
        "commands",
        "settings",
        "host",
        "installation",
    },
}
FOREIGN_TO_CORE = {"flask", "apiflask", "pymysql", "aiosql", "pathlib", "os", "io", "time", "datetime", "random"}


def imports_of(path: Path) -> list[tuple[str, int]]:
    out = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            out += [(alias.name, node.lineno) for alias in node.names]
        elif isinstance(node, ast.ImportFrom) and node.module:
            out.append((node.module, node.lineno))
    return out


class Layers(unittest.TestCase):
    def test_each_layer_imports_only_what_it_may(self):
        for layer, allowed in ALLOWED.items():
            for path in (PACKAGE / layer).rglob("*.py"):
                for name, line in imports_of(path):
                    if name.startswith("tracebench."):
                        self.assertIn(name.split(".")[1], allowed, f"{path.relative_to(PACKAGE)}:{line} imports {name}")

    def test_the_core_knows_no_files_no_clock_no_server(self):
        for path in (PACKAGE / "core").rglob("*.py"):
            for name, line in imports_of(path):
                self.assertNotIn(name.split(".")[0], FOREIGN_TO_CORE, f"{path.relative_to(PACKAGE)}:{line}")
