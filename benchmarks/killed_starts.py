"""Kills at random moments of the very first start and of an upgrade: does the next ./start go on?

    .venv/bin/python -m benchmarks.killed_starts [kills] [commit of the version before]

Each time a start is killed (SIGKILL) at a random moment, alone or with all that runs beneath it as a power cut would,
and started again until it answers. Of the first start the demo class must be there, once; of an upgrade from the state
that the version before left, every row of it. At the end the state before an upgrade is brought back by its command.
"""

from __future__ import annotations

import json
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections import Counter
from pathlib import Path

import pymysql

ROOT = Path(__file__).resolve().parents[1]
PORT = 8790
PATIENCE_S = 240.0


class Start:
    """./start of a version on a folder, its messages in a file."""

    def __init__(self, checkout: Path, data: Path, *more: str) -> None:
        self.said = data.with_name(f"{data.name}.said")
        with self.said.open("ab") as out:
            self.from_here = out.tell()
            command = [sys.executable, "-m", "tracebench.processes.serve", "--data", str(data), "--port", str(PORT)]
            env = {**os.environ, "PYTHONPATH": str(checkout), "PYTHONUNBUFFERED": "1"}
            self.process = subprocess.Popen(
                [*command, "--no-backups", *more], cwd=checkout, env=env, stdout=out, stderr=out, start_new_session=True
            )

    def words(self) -> str:
        return self.said.read_text(errors="replace")[self.from_here :]

    def until(self, pattern: str, patience_s: float = PATIENCE_S) -> bool:
        end = time.monotonic() + patience_s
        while time.monotonic() < end:
            if re.search(pattern, self.words()):
                return True
            if self.process.poll() is not None:
                return False
            time.sleep(0.02)
        return False

    def answers(self) -> str:
        """The address once it serves, or nothing."""
        if not self.until("Trace Bench is at"):
            return ""
        found = re.search(r"Trace Bench is at (\S+)/", self.words())
        return found.group(1) if found else ""

    def kill(self, whole: bool) -> None:
        beneath = _beneath(self.process.pid) if whole else []
        for pid in [self.process.pid, *beneath]:
            try:
                os.kill(pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
        self.process.wait()

    def stop(self) -> None:
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(PATIENCE_S)


def _beneath(pid: int) -> list[int]:
    told = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False)
    children = [int(p) for p in told.stdout.split()]
    return children + [p for child in children for p in _beneath(child)]


def rows(data: Path) -> dict[str, int]:
    """How many rows each table has, of a running installation."""
    told = json.loads((data / "installation.json").read_text())
    place = {"host": "127.0.0.1", "port": int(told["TRACEBENCH_DB_PORT"]), "database": told["TRACEBENCH_DB_NAME"]}
    user = {"user": told["TRACEBENCH_DB_USER"], "password": told["TRACEBENCH_DB_PASSWORD"]}
    with pymysql.connect(**place, **user) as connection, connection.cursor() as cursor:
        cursor.execute("SHOW TABLES")
        names = [name for (name,) in cursor.fetchall() if "yoyo" not in name and name != "migration_progress"]
        out = {}
        for name in names:
            cursor.execute(f"SELECT COUNT(*) FROM `{name}`")
            out[name] = int(cursor.fetchone()[0])
    return out


def came_up(start: Start, data: Path) -> dict[str, int] | None:
    address = start.answers()
    if not address:
        return None
    with urllib.request.urlopen(f"{address}/readyz", timeout=20) as answer:
        assert answer.status == 200
    return rows(data)


COUNTED = ("person", "course", "card", "sitting")


def first_starts(folder: Path, kills: int, rng: random.Random) -> None:
    """A third of them with the demo class, killed while that is made; the others where folders and tables are."""
    done = Counter[str]()
    whole: dict[bool, tuple[float, dict[str, int]]] = {}
    for demo in (True, False):
        data = folder / f"whole-{demo}"
        begun = time.monotonic()
        start = Start(ROOT, data, *([] if demo else ["--no-demo"]))
        held = came_up(start, data)
        assert held is not None, start.words()
        whole[demo] = time.monotonic() - begun, {t: held[t] for t in COUNTED}
        print(f"a first start takes {whole[demo][0]:.0f} s; {whole[demo][1]}", flush=True)
        start.stop()
        shutil.rmtree(data)
    for k in range(kills):
        data, demo = folder / f"first-{k}", k % 3 == 0
        more = [] if demo else ["--no-demo"]
        lasts, wanted = whole[demo]
        start = Start(ROOT, data, *more)
        time.sleep(rng.uniform(0, lasts))
        start.kill(whole=bool(rng.getrandbits(1)))
        again = Start(ROOT, data, *more)
        held = came_up(again, data)
        good = held is not None and {t: held[t] for t in wanted} == wanted
        done["went on" if good else "STAYED DOWN" if held is None else "DIFFERS"] += 1
        if not good:
            print(k, held and {t: held[t] for t in wanted}, again.words()[-600:], flush=True)
        if again.process.poll() is None:
            again.stop()
        shutil.rmtree(data, ignore_errors=True)
    print(f"first start, killed {kills} times: {dict(done)}", flush=True)


def upgrades(folder: Path, kills: int, before: str, rng: random.Random) -> None:
    checkout = folder / "before"
    subprocess.run(["git", "worktree", "add", "-q", "--detach", str(checkout), before], cwd=ROOT, check=True)
    try:
        shutil.copytree(ROOT / "frontend" / "dist", checkout / "frontend" / "dist")
        kept = folder / "kept"
        old = Start(checkout, kept)
        held = came_up(old, kept)
        assert held is not None, old.words()
        old.stop()
        done = Counter[str]()
        for k in range(kills):
            data = folder / f"upgrade-{k}"
            shutil.copytree(kept, data, ignore=shutil.ignore_patterns("*.sock", "*.pid"))
            start = Start(ROOT, data, "--no-demo")
            if k % 3 == 0:
                time.sleep(rng.uniform(0, 5))
            else:
                start.until(
                    "the state before the upgrade is in" if k % 3 == 1 else "no such line", 4 + rng.uniform(0, 4)
                )
                time.sleep(rng.uniform(0, 1.2))
            start.kill(whole=bool(rng.getrandbits(1)))
            again = Start(ROOT, data, "--no-demo")
            now = came_up(again, data)
            good = now is not None and all(now.get(table, count) == count for table, count in held.items())
            done["went on" if good else "STAYED DOWN" if now is None else "DIFFERS"] += 1
            if not good:
                print(k, again.words()[-800:], flush=True)
            if again.process.poll() is None:
                again.stop()
            if k == kills - 1:
                _taken_back(checkout, data, held)
            shutil.rmtree(data, ignore_errors=True)
        print(f"upgrade, killed {kills} times: {dict(done)}", flush=True)
    finally:
        subprocess.run(["git", "worktree", "remove", "--force", str(checkout)], cwd=ROOT, check=False)


def _taken_back(checkout: Path, data: Path, held: dict[str, int]) -> None:
    """The one command, and then the version before on what it brought back."""
    command = [sys.executable, "-m", "tracebench.cli", "restore", "--before-upgrade", "--data", str(data)]
    told = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    old = Start(checkout, data, "--no-demo")
    now = came_up(old, data)
    print(f"taken back: {told.stdout.strip()} {told.stderr.strip()}; as before: {now == held}", flush=True)
    if old.process.poll() is None:
        old.stop()


def main() -> None:
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 30
    before = sys.argv[2] if len(sys.argv) > 2 else "HEAD~1"
    rng = random.Random(kills)
    folder = Path(tempfile.mkdtemp(prefix="tracebench-killed-"))
    first_starts(folder, kills, rng)
    upgrades(folder, kills, before, rng)
    shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
