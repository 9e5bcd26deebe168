"""Who may import whom. A rule that is only written down gets broken."""

import ast
import unittest
from pathlib import Path

import tracebench

PACKAGE = Path(tracebench.__file__).parent

ALLOWED = {
    "core": {"core"},
    "formats": {"core", "formats", "processors"},
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
        "own_files",
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

    def test_nothing_but_the_formats_reads_what_strangers_sent(self):
        readers = {f"tracebench.formats.{name}" for name in ("wav", "hdf5", "matlab", "mdf", "arrow", "delimited")}
        doors = {("archive", "opened"), ("bundle", "sheets"), ("bundle", "lanes"), ("zipfile", "ZipFile")}
        looked_at = 0
        for layer in ("usecases", "web", "demo"):
            for path in (PACKAGE / layer).rglob("*.py"):
                looked_at += 1
                names = [name for name, _ in imports_of(path)]
                for node in ast.walk(ast.parse(path.read_text())):
                    if isinstance(node, ast.ImportFrom) and node.module:
                        names += [f"{node.module}.{alias.name}" for alias in node.names]
                    if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
                        self.assertNotIn(
                            (node.value.id, node.attr), doors, f"{path.relative_to(PACKAGE)}:{node.lineno}"
                        )
                self.assertFalse({*names} & {*readers, "tracebench.formats.reading"}, path.relative_to(PACKAGE))
        self.assertGreater(looked_at, 60)
