"""Runs the checks of the parts named, or all, and closes with 'N passed, N failed'.

Three workers take the modules one after the other, the longest first, each with a database of its own where one is
asked for, and no more than two of them have a browser while there is other work; `--quick` leaves out what takes long
and is not needed for daily work.
"""

from __future__ import annotations

import io
import json
import multiprocessing
import os
import queue
import subprocess
import sys
import tempfile
import time
import traceback
import unittest
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from tests.support.database import stop_shared
from tests.support.demo import KEPT

ROOT = Path(__file__).resolve().parent.parent
UNIT_PARTS = ("core", "circuits", "formats", "bench", "store", "usecases", "web", "ui")
LINT, FRONT = "lint", "front"
NOT_UNITTEST = (LINT, FRONT)
"""Static checks, and what of the front end is tested without a browser."""

WORKERS, BROWSERS = 3, 2
"""On two cores: browsers wait for a third of their time, and three of them keep each other waiting."""

SECONDS = {
    "tests.usecases.test_demo": 400,
    "tests.ui.test_instructor": 244,
    "tests.ui.test_every_view": 150,
    "tests.ui.test_typing": 130,
    "tests.ui.test_views_of_others": 110,
    "tests.ui.test_twenty_minutes_away": 109,
    "tests.ui.test_shelf": 104,
    "tests.core.test_uncertainty": 103,
    "tests.usecases.test_sign_in": 94,
    "tests.core.circuits.test_variations": 94,
    "tests.core.circuits.test_ignition": 94,
    "tests.ui.test_circuits": 88,
    "tests.ui.test_strip": 80,
    "tests.formats.test_every_circuit": 79,
    "tests.ui.test_sitting": 75,
    "tests.usecases.test_start": 69,
    "tests.core.test_proposal": 62,
    "tests.store.test_migrations": 60,
    "tests.ui.test_practice": 57,
    "tests.ui.test_bring_in": 55,
    "tests.core.circuits.test_noise_condemns_nothing": 54,
    "tests.ui.test_further_steps": 52,
    "tests.usecases.test_dask": 51,
    "tests.core.circuits.test_setup_of_every_circuit": 50,
    "tests.ui.test_thirty_settled": 44,
    "tests.core.shape.test_elastic": 43,
    "tests.core.test_drawn": 42,
    "tests.store.test_backup": 40,
    "tests.ui.test_no_network": 39,
    "tests.ui.test_trainer_by_hand": 36,
    "tests.ui.test_loop": 35,
    "tests.ui.test_second_marker": 33,
    "tests.core.circuits.test_told": 30,
    "tests.ui.test_parade": 28,
    "tests.ui.test_toolbox": 27,
    "tests.core.test_outside": 27,
    "tests.core.circuits.test_injectors": 25,
    "tests.web.test_shelf": 24,
    "tests.web.test_parade": 23,
    "tests.usecases.test_exchange": 22,
    "tests.web.test_captures": 19,
    "tests.bench.test_engine_layouts": 19,
    "tests.web.test_compare_beside": 18,
    "tests.circuits.throttle_position.test_throttle_position": 18,
    "tests.web.test_reach": 17,
    "tests.formats.test_dialects": 17,
    "tests.core.grading.test_other_circuits": 17,
    "tests.web.test_odd_input": 16,
    "tests.web.test_loop": 16,
    "tests.usecases.test_sittings": 15,
    "tests.formats.test_sheet_pdf": 15,
}
"""What modules take that take long, so that the last to end are short ones. The demo begins: others wait for what it
makes."""

NOT_QUICK = ("tests.ui", *(name for name, seconds in SECONDS.items() if seconds >= 15))
"""What `--quick` leaves out: simulations, the demo, browsers."""


@dataclass(frozen=True, slots=True)
class Done:
    """One module's checks, or the static ones."""

    name: str
    passed: int
    failed: int
    seconds: float
    told: str


TSC = ("--noEmit", "--incremental", "--tsBuildInfoFile", "node_modules/.cache/tsc.tsbuildinfo")
"""As the set-up calls it before it builds: what did not change since is not looked at again."""


def _bin(name: str) -> str:
    return str(ROOT / ".venv" / "bin" / name)


def _node(name: str) -> str:
    return str(ROOT / "frontend" / "node_modules" / ".bin" / name)


def _lint_checks() -> list[tuple[str, list[str], Path]]:
    front = ROOT / "frontend"
    return [
        ("ruff check", [_bin("ruff"), "check", "."], ROOT),
        ("ruff format", [_bin("ruff"), "format", "--check", "."], ROOT),
        ("mypy", [_bin("mypy")], ROOT),
        ("eslint", [_node("eslint"), ".", "--max-warnings", "0"], front),
        ("prettier", [_node("prettier"), "--check", "--log-level", "warn", "."], front),
        ("tsc", [_node("tsc"), *TSC], front),
    ]


def _linted() -> tuple[int, int, str]:
    """Static checks, each counting as one."""
    passed = failed = 0
    told = []
    for name, command, folder in _lint_checks():
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
        told.append(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'}")
        if done.returncode:
            told += [done.stdout[-4000:], done.stderr[-2000:]]
        passed, failed = passed + (done.returncode == 0), failed + (done.returncode != 0)
    same = _api_files_are_fresh()
    told.append(
        f"openapi.json and schema.d.ts: {'ok' if same else 'FAILED: run tracebench export-openapi and npm run api'}"
    )
    return passed + same, failed + (not same), "\n".join(told)


def _api_files_are_fresh() -> bool:
    front = ROOT / "frontend"
    with tempfile.TemporaryDirectory() as folder:
        spec, types = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        subprocess.run([_bin("tracebench"), "export-openapi", str(spec)], check=True, capture_output=True)
        if spec.read_text() != (front / "openapi.json").read_text():
            return False
        subprocess.run([_node("openapi-typescript"), str(spec), "-o", str(types)], check=True, capture_output=True)
        config = ["--config", str(front / ".prettierrc.json"), "--write", "--log-level", "error", str(types)]
        subprocess.run([_node("prettier"), *config], check=True, capture_output=True)
        return types.read_text() == (front / "src" / "api" / "schema.d.ts").read_text()


def _front_tested() -> tuple[int, int, str]:
    """What Vitest says of frontend/tests."""
    with tempfile.TemporaryDirectory() as folder:
        told = Path(folder) / "told.json"
        command = [_node("vitest"), "run", "--reporter=default", "--reporter=json", f"--outputFile.json={told}"]
        done = subprocess.run(command, cwd=ROOT / "frontend", capture_output=True, text=True, check=False)
        if not told.exists():
            return 0, 1, done.stdout + done.stderr
        counts = json.loads(told.read_text(encoding="utf-8"))
    failed = counts["numFailedTests"] or int(not counts["success"])
    return counts["numPassedTests"], failed, done.stdout if failed else ""


def _tested(module: str) -> tuple[int, int, str]:
    told = io.StringIO()
    suite = unittest.defaultTestLoader.loadTestsFromName(module)
    result = unittest.TextTestRunner(stream=told, verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return max(0, result.testsRun - failed - len(result.skipped)), failed, told.getvalue()


def done(name: str) -> Done:
    """One task, run here."""
    begun = time.monotonic()
    passed, failed, told = {LINT: _linted, FRONT: _front_tested}.get(name, lambda: _tested(name))()
    return Done(name, passed, failed, time.monotonic() - begun, told)


def _work(
    first: multiprocessing.Queue[str], then: multiprocessing.Queue[str], results: multiprocessing.Queue[Done]
) -> None:
    """Take tasks until there are none; a database that was started is stopped at the end."""
    for tasks in (first, then):
        try:
            while True:
                name = tasks.get(timeout=1)
                try:
                    results.put(done(name))
                except BaseException:
                    results.put(Done(name, 0, 1, 0.0, traceback.format_exc()))
        except queue.Empty:
            continue
    stop_shared()


def modules_of(part: str) -> list[str]:
    """The test modules of a part, as they are imported."""
    found = sorted((ROOT / "tests" / part).rglob("test_*.py"))
    return [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in found]


def run(names: Sequence[str]) -> tuple[int, int]:
    """All tasks in the workers, told as they end; what failed is told whole."""
    spawn = multiprocessing.get_context("spawn")
    browsers, others, results = spawn.Queue(), spawn.Queue(), spawn.Queue()
    for name in sorted(names, key=lambda n: -SECONDS.get(n, 60 if n == LINT else 0)):
        (browsers if name.startswith("tests.ui") else others).put(name)
    orders = [(browsers, others) if k < BROWSERS else (others, browsers) for k in range(min(WORKERS, len(names)))]
    workers = [spawn.Process(target=_work, args=(*order, results)) for order in orders]
    for worker in workers:
        worker.start()
    passed = failed = 0
    left = set(names)
    while left:
        try:
            one = results.get(timeout=5)
        except queue.Empty:
            if any(w.is_alive() for w in workers):
                continue
            print(f"the workers ended before {', '.join(sorted(left))}")
            return passed, failed + len(left)
        left.discard(one.name)
        passed, failed = passed + one.passed, failed + one.failed
        print(f"{one.name}: {one.passed} passed, {one.failed} failed in {one.seconds:.0f} s", flush=True)
        if one.failed or one.name in (LINT, "tests.core.grading.test_marked_sittings"):
            print(one.told, flush=True)
    for worker in workers:
        worker.join()
    return passed, failed


def main(wanted: list[str]) -> int:
    quick = "--quick" in wanted
    parts = [w for w in wanted if w != "--quick"] or [*NOT_UNITTEST, *UNIT_PARTS]
    unknown = [p for p in parts if p not in (*NOT_UNITTEST, *UNIT_PARTS)]
    if unknown:
        known = ", ".join((*NOT_UNITTEST, *UNIT_PARTS))
        print(f"test: no part {', '.join(unknown)}; there are: {known}, and --quick", file=sys.stderr)
        return 2
    names = [n for part in parts for n in ([part] if part in NOT_UNITTEST else modules_of(part))]
    if quick:
        names = [n for n in names if not n.startswith(NOT_QUICK)]
    with tempfile.TemporaryDirectory(prefix="tracebench-kept-") as kept:
        os.environ[KEPT] = kept
        passed, failed = run(names)
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
