"""How many numbers that decide a behaviour test holds: python -m benchmarks.mutated_thresholds [count] [seed] [at once]

Each of `count` thresholds, drawn at random, is made 30 % larger or smaller (a whole number by one at least) in a copy
of the project, and the tests of what it may touch are run until one fails: those of its own circuit first. Pages of
numbers are no behaviour and are left out; tests that go over all circuits go over the one alone that a number is of.
Aim: 90 % caught of 60.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

from tests.support.coverage import CASES
from tracebench.core.circuits.catalogue import Rooms

ROOT = Path(__file__).resolve().parent.parent
ROOMS = ("tracebench/circuits", "tracebench/core/circuits", "tracebench/core/measure")
DECIDES = {"Threshold": 1, "Count": 1, "reach": 2}
"""Which calls declare numbers that decide, and how many each."""

BY = 0.3
ALONE = "--alone"
LONGEST_S = 1200.0
OTHER = ("test_proposal", "test_schemas", "test_layers", "test_skill", "test_cards")
PAGES = {"tests.core.circuits.test_numbers"}
OF_SEVERAL = (
    "test_refusals_say_what_is_known",
    "test_an_unknown_circuit_lists_the_known_ones",
    "test_past_a_limit_is_its_finding_and_the_finding_is_the_reason",
    "test_every_circuit_is_drawn",
    "test_as_near_on_the_inside_is_marginal_too_and_a_time_is_the_clocks",
    "test_what_hangs_on_one_code_of_eight_bits_is_known_no_better",
    "test_they_do_as_well_through_recorders_that_are_worse",
)
"""Tests that say something of all circuits together: of one alone it does not hold."""

LATE = ("test_uncertainty", "test_variations", "test_noise_condemns_nothing", "test_covered", "test_ignition")
"""Take a minute or more each, so that they come last."""


@dataclass(frozen=True, slots=True)
class Number:
    """A number's place in a file, and what it is called there."""

    path: str
    name: str
    line: int
    begin: int
    end: int
    text: str
    whole: bool

    @property
    def circuit(self) -> str:
        return self.path.split("/")[2] if self.path.startswith(ROOMS[0]) else ""

    def changed(self, up: bool) -> str:
        if self.whole:
            value = ast.literal_eval(self.text)
            return str(value + max(1, round(BY * value)) * (1 if up else -1))
        return f"({self.text}) * {1 + BY if up else 1 - BY:g}"


def numbers() -> Iterator[Number]:
    """Every number that decides, in the order of the files."""
    for room in ROOMS:
        for path in sorted((ROOT / room).rglob("*.py")):
            text = path.read_text(encoding="utf-8")
            for statement in ast.walk(ast.parse(text)):
                if isinstance(statement, ast.Assign):
                    yield from _in(statement, path, text)


def _in(statement: ast.Assign, path: Path, text: str) -> Iterator[Number]:
    name = ast.unparse(statement.targets[0])
    for call in ast.walk(statement.value):
        if isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id in DECIDES:
            for part in call.args[: DECIDES[call.func.id]]:
                said = ast.get_source_segment(text, part) or ""
                whole = call.func.id == "Count"
                # A threshold made of others moves with them; nothing is 30 % of nothing.
                if part.lineno == part.end_lineno and said.strip("-0.") and not any(c.isupper() for c in said):
                    place = (part.lineno, part.col_offset, part.end_col_offset or 0)
                    yield Number(str(path.relative_to(ROOT)), name, *place, said, whole)


def modules() -> list[str]:
    """Tests of measuring, the quick ones first."""
    found = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for folder in ("tests/circuits", "tests/core")
        for path in sorted((ROOT / folder).rglob("test_*.py"))
    ]
    kept = [name for name in found if name not in PAGES and ".grading." not in name and not name.endswith(OTHER)]
    return sorted(kept, key=lambda name: name.endswith(LATE))


def ordered(number: Number, known: Sequence[str]) -> list[str]:
    """Those that name the number's circuit come first."""
    told = number.circuit.replace("_", "-")

    def near(name: str) -> int:
        path = ROOT / (name.replace(".", "/") + ".py")
        if not told or name.endswith(LATE):
            return 2
        return 0 if number.circuit in name else 1 if told in path.read_text(encoding="utf-8") else 2

    return sorted(known, key=near)


def copied(folder: Path) -> Path:
    for part in ("tracebench", "tests", "scripts", "benchmarks", "docs"):
        shutil.copytree(ROOT / part, folder / part)
    shutil.copy2(ROOT / "pyproject.toml", folder)
    return folder


def tried(number: Number, up: bool, folder: Path, known: Sequence[str]) -> tuple[str, float]:
    """The first test that failed, or '' for none, and how long it took."""
    path = folder / number.path
    before = path.read_text(encoding="utf-8")
    lines = before.split("\n")
    line = lines[number.line - 1].encode()
    lines[number.line - 1] = (line[: number.begin] + number.changed(up).encode() + line[number.end :]).decode()
    path.write_text("\n".join(lines), encoding="utf-8")
    begun = time.monotonic()
    command = [sys.executable, "-m", __spec__.name, ALONE, number.circuit.replace("_", "-"), *ordered(number, known)]
    env = {**os.environ, "PYTHONPATH": str(folder)}
    try:
        done = subprocess.run(
            command, cwd=folder, env=env, capture_output=True, text=True, check=False, timeout=LONGEST_S
        )
        told = [line for line in done.stderr.splitlines() if line.startswith(("FAIL:", "ERROR:"))]
        first = told[0] if told else "" if done.returncode == 0 else "broke before any test"
    except subprocess.TimeoutExpired:
        first = "took too long"
    finally:
        path.write_text(before, encoding="utf-8")
    return first, time.monotonic() - begun


def alone(circuit: str, names: Sequence[str]) -> None:
    """Run tests until one fails; those that go over all circuits go over this one, where one is named."""
    if circuit:
        every_code = Rooms.__iter__
        Rooms.__iter__ = lambda self: iter([code for code in every_code(self) if code == circuit])  # type: ignore[method-assign]
        for key in [key for key, case in CASES.items() if case.code != circuit]:
            del CASES[key]
    every = unittest.defaultTestLoader.loadTestsFromNames(names)
    chosen = unittest.TestSuite(test for test in _flat(every) if not (circuit and test.id().endswith(OF_SEVERAL)))
    done = unittest.TextTestRunner(failfast=True).run(chosen)
    sys.exit(not done.wasSuccessful())


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for part in suite:
        if isinstance(part, unittest.TestSuite):
            yield from _flat(part)
        elif isinstance(part, unittest.TestCase):
            yield part


def main(count: int, seed: int, at_once: int) -> None:
    every = list(numbers())
    rng = random.Random(seed)
    drawn = [(number, rng.random() < 0.5) for number in rng.sample(every, min(count, len(every)))]
    known = modules()
    print(
        f"{len(every)} numbers that decide; {len(drawn)} of them, seed {seed}, {len(known)} modules of tests",
        flush=True,
    )
    caught = 0
    with tempfile.TemporaryDirectory() as place, ThreadPoolExecutor(at_once) as pool:
        free: SimpleQueue[Path] = SimpleQueue()
        for k in range(at_once):
            free.put(copied(Path(place) / str(k)))

        def one(number: Number, up: bool) -> tuple[str, float]:
            folder = free.get()
            try:
                return tried(number, up, folder, known)
            finally:
                free.put(folder)

        waiting = [(number, up, pool.submit(one, number, up)) for number, up in drawn]
        for number, up, result in waiting:
            first, seconds = result.result()
            caught += bool(first)
            mark = first or "SURVIVED"
            where = f"{number.path}:{number.line} {number.name} {number.text} -> {number.changed(up)}"
            print(f"{where}: {mark} ({seconds:.0f} s)", flush=True)
    print(f"{caught} of {len(drawn)} caught ({100 * caught / len(drawn):.0f} %)", flush=True)


if __name__ == "__main__":
    if sys.argv[1:2] == [ALONE]:
        alone(sys.argv[2], sys.argv[3:])
    else:
        told = [int(text) for text in sys.argv[1:4]]
        main(*(told + [60, 1, 2][len(told) :]))
