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
        "processes",
        "own_files",
    },
    "processes": {
        "core",
        "formats",
        "store",
        "bench",
        "usecases",
        "web",
        "demo",
        "processes",
        "settings",
        "processors",
        "own_files",
    },
}
ROOMS = PACKAGE / "circuits"
OF_A_CIRCUIT = {"source": {"core", "bench"}, "shelf": set()}
"""What a file of a circuit's folder may import goes by its name; any other imports the core, and its own folder."""

FOREIGN_TO_CORE = {"flask", "apiflask", "pymysql", "aiosql", "pathlib", "os", "io", "time", "datetime", "random"}


def imported(path: Path) -> list[tuple[str, int]]:
    """Every module that a file names to import it, by whatever form: a name from a package may be a module too."""
    return imports_in(path.read_text(), (PACKAGE.name, *path.relative_to(PACKAGE).parts[:-1]))


def imports_in(text: str, package: tuple[str, ...]) -> list[tuple[str, int]]:
    out = []
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Import):
            out += [(alias.name, node.lineno) for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            above = package[: len(package) - node.level + 1] if node.level else ()
            base = ".".join((*above, *((node.module,) if node.module else ())))
            out += [(f"{base}.{alias.name}", node.lineno) for alias in node.names]
        elif isinstance(node, ast.Call) and getattr(node.func, "attr", getattr(node.func, "id", "")) in BY_NAME:
            # What is put together at run time is nobody's but the catalogue's.
            told = node.args[0] if node.args else None
            name = (
                told.value if isinstance(told, ast.Constant) and isinstance(told.value, str) else "tracebench.unknown"
            )
            out.append((name, node.lineno))
    return out


BY_NAME = ("import_module", "__import__", "find_spec")
PUTS_TOGETHER = {Path("core/circuits/catalogue.py"), Path("cli.py"), Path("formats/apart/server.py")}
"""Files that import what they know by name only: circuits' folders, commands, and libraries that read files."""


def layer_of(name: str) -> str:
    """The layer of a module of ours; a circuit's file counts as the layer that its name says."""
    parts = name.split(".")
    if len(parts) < 2:
        return ""
    if parts[1] != "circuits":
        return parts[1]
    file = parts[3] if len(parts) > 3 else ""
    return {"source": "bench", "shelf": "demo"}.get(file, "core")


def ours(path: Path) -> list[tuple[str, int]]:
    if path.relative_to(PACKAGE) in PUTS_TOGETHER:
        return []
    return [(name, line) for name, line in imported(path) if name == "tracebench" or name.startswith("tracebench.")]


class Layers(unittest.TestCase):
    def test_each_layer_imports_only_what_it_may(self):
        for layer, allowed in ALLOWED.items():
            for path in (PACKAGE / layer).rglob("*.py"):
                for name, line in ours(path):
                    self.assertIn(layer_of(name), allowed, f"{path.relative_to(PACKAGE)}:{line} imports {name}")

    def test_a_circuits_file_imports_what_its_name_allows_and_no_other_circuit(self):
        files = [path for path in ROOMS.rglob("*.py") if path.parent != ROOMS]
        self.assertGreater(len(files), 100)
        for path in files:
            allowed = OF_A_CIRCUIT.get(path.stem, {"core"})
            for name, line in ours(path):
                where = f"{path.relative_to(PACKAGE)}:{line} imports {name}"
                if name.startswith("tracebench.circuits"):
                    self.assertEqual(name.split(".")[2], path.relative_to(ROOMS).parts[0], where)
                self.assertIn(layer_of(name), allowed, where)

    def test_every_form_of_an_import_is_seen(self):
        for text in (
            "import tracebench.usecases.desk",
            "import tracebench.usecases as far",
            "from tracebench import usecases",
            "from tracebench.usecases import desk",
            "from ..usecases import desk",
            "from .. import usecases",
            "import importlib\nimportlib.import_module('tracebench.usecases')",
            "__import__('tracebench.usecases')",
            "def late():\n    from tracebench import usecases",
        ):
            names = [name for name, _ in imports_in(text, ("tracebench", "core"))]
            self.assertTrue(any(layer_of(name) == "usecases" for name in names), (text, names))
        put_together = imports_in("import_module('trace' + name)", ("tracebench", "core"))
        self.assertNotIn(layer_of(put_together[0][0]), ALLOWED["core"])

    def test_the_core_knows_no_files_no_clock_no_server(self):
        for path in (PACKAGE / "core").rglob("*.py"):
            for name, line in imported(path):
                self.assertNotIn(name.split(".")[0], FOREIGN_TO_CORE, f"{path.relative_to(PACKAGE)}:{line}")

    def test_nothing_but_the_formats_reads_what_strangers_sent(self):
        readers = {f"tracebench.formats.{name}" for name in ("wav", "hdf5", "matlab", "mdf", "arrow", "delimited")}
        doors = {("archive", "opened"), ("bundle", "sheets"), ("bundle", "lanes"), ("zipfile", "ZipFile")}
        looked_at = 0
        for layer in ("usecases", "web", "demo"):
            for path in (PACKAGE / layer).rglob("*.py"):
                looked_at += 1
                names = [name for name, _ in imported(path)]
                names += [name.rpartition(".")[0] for name in names]
                for node in ast.walk(ast.parse(path.read_text())):
                    if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
                        self.assertNotIn(
                            (node.value.id, node.attr), doors, f"{path.relative_to(PACKAGE)}:{node.lineno}"
                        )
                self.assertFalse({*names} & {*readers, "tracebench.formats.reading"}, path.relative_to(PACKAGE))
        self.assertGreater(looked_at, 60)

    def test_public_use_cases_give_values_whose_fields_are_stated(self):
        looked_at = 0
        for path in sorted((PACKAGE / "usecases").rglob("*.py")):
            for node in ast.parse(path.read_text()).body:
                if not isinstance(node, ast.FunctionDef) or node.name.startswith("_") or node.name in OF_JSON:
                    continue
                looked_at += 1
                given = ast.unparse(node.returns) if node.returns is not None else ""
                where = f"{path.relative_to(PACKAGE)}:{node.lineno} {node.name} gives {given}"
                self.assertNotRegex(given, r"\b(Any|Row|object)\b", where)
        self.assertGreater(looked_at, 250)


OF_JSON = {"on_trainer", "on_trainer_anew"}
"""Give a part as a card states it, whose fields are those of its circuit's source."""
