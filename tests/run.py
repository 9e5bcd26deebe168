"""Runs the checks of the parts named, or all, and closes with 'N passed, N failed'.

All of them run in two processes: what only computes beside what needs the database and the browser.
"""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Sequence
from pathlib import Path

from tests.support.database import stop_shared

ROOT = Path(__file__).resolve().parent.parent
COMPUTING = ("core", "formats", "bench")
UNIT_PARTS = (*COMPUTING, "store", "usecases", "web", "ui")


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
        ("tsc", [_node("tsc"), "--noEmit"], front),
    ]


def lint() -> tuple[int, int]:
    """Static checks, each counting as one."""
    passed = failed = 0
    for name, command, folder in _lint_checks():
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
        print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'}", flush=True)
        if done.returncode:
            print(done.stdout[-4000:], done.stderr[-2000:])
        passed, failed = passed + (done.returncode == 0), failed + (done.returncode != 0)
    same = _api_files_are_fresh()
    print(f"openapi.json and schema.d.ts: {'ok' if same else 'FAILED: run tracebench export-openapi and npm run api'}")
    return passed + same, failed + (not same)


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


def unit(part: str) -> tuple[int, int]:
    """One folder of unittest suites."""
    suite = unittest.defaultTestLoader.discover(str(ROOT / "tests" / part), top_level_dir=str(ROOT))
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return result.testsRun - failed - len(result.skipped), failed


def _run(parts: Sequence[str]) -> tuple[int, int]:
    passed = failed = 0
    try:
        for part in parts:
            print(f"--- {part}", flush=True)
            begun = time.monotonic()
            ok, bad = lint() if part == "lint" else unit(part)
            print(f"--- {part}: {ok} passed, {bad} failed in {time.monotonic() - begun:.0f} s", flush=True)
            passed, failed = passed + ok, failed + bad
    finally:
        stop_shared()
    return passed, failed


def _run_in_two() -> tuple[int, int]:
    """Everything: the parts that only compute in a process of their own, whose output follows when both are done."""
    with tempfile.TemporaryFile("w+") as told:
        beside = subprocess.Popen([sys.executable, "-m", "tests.run", *COMPUTING], cwd=ROOT, stdout=told, stderr=told)
        try:
            passed, failed = _run(("lint", *(p for p in UNIT_PARTS if p not in COMPUTING)))
            beside.wait()
        finally:
            beside.kill()
        told.seek(0)
        *lines, last = told.read().splitlines() or [""]
    print("\n".join(lines))
    counted = re.fullmatch(r"(\d+) passed, (\d+) failed", last)
    if counted is None:
        print(last)
        print(f"the parts {', '.join(COMPUTING)} did not come to their end")
        return passed, failed + 1
    return passed + int(counted[1]), failed + int(counted[2])


def main(wanted: list[str]) -> int:
    unknown = [p for p in wanted if p not in ("lint", *UNIT_PARTS)]
    if unknown:
        print(f"test: no part {', '.join(unknown)}; there are: lint, {', '.join(UNIT_PARTS)}", file=sys.stderr)
        return 2
    passed, failed = _run(wanted) if wanted else _run_in_two()
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
