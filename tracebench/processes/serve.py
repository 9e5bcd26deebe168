"""What ./start runs: database, schema, demo and web server together; Ctrl-C stops them all."""

from __future__ import annotations

import argparse
import os
import secrets
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial
from pathlib import Path

import pymysql

from tracebench.demo import cast, seed
from tracebench.own_files import write_whole
from tracebench.processes import beats
from tracebench.processes.children import spawn
from tracebench.processes.clock_watch import ClockWatch
from tracebench.processes.daily import Daily
from tracebench.processes.every_work import every_work
from tracebench.processes.host import Database, HostError, start_database
from tracebench.processes.installation import leave_note
from tracebench.processes.supervisor import Child, Supervisor
from tracebench.settings import Settings
from tracebench.store import backup
from tracebench.store.migrate import MigrationFailed, applied, migrate, pending, under_way
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.jobs import queue
from tracebench.usecases.jobs.kinds import DEMO
from tracebench.usecases.school import clock

WEB_PROCESSES = 2
BACKLOG = 256


def main() -> int:
    """Serve until interrupted; returns the exit status."""
    arguments = _arguments()
    for told in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(told, _interrupt)
    folder = Path(arguments.data).resolve()
    try:
        database = start_database(folder / "mariadb")
    except HostError as problem:
        print(f"start: {problem}", file=sys.stderr)
        return 1
    try:
        env = {
            # A hundred threads would otherwise each keep freed memory in an arena of their own (glibc, malloc(3)).
            "MALLOC_ARENA_MAX": "2",
            **os.environ,
            **database.env(),
            "TRACEBENCH_SECRET_KEY": os.environ.get("TRACEBENCH_SECRET_KEY") or _secret(folder / "secret"),
            "TRACEBENCH_UPLOADS": str(folder / "uploads"),
            "TRACEBENCH_LOGS": os.environ.get("TRACEBENCH_LOGS") or str(folder / "logs"),
        }
        settings = Settings.from_env(env)
        leave_note(folder, env)
        _before_upgrade(settings, folder / "backups")
        count = migrate(settings)
        if count:
            print(f"start: {count} schema migrations applied")
        pool = Pool(settings)
        if not arguments.no_demo:
            _make_demo(pool, settings.uploads)
        with pool.transaction() as conn:
            if not any(True for _ in queries.people.everyone(conn)):
                env["TRACEBENCH_FIRST_RUN"] = secrets.token_urlsafe(24)
        pool.close()
        return _serve(arguments, env, database, settings)
    except KeyboardInterrupt:
        print("\nstart: stopping")
        return 0
    except MigrationFailed as problem:
        print(f"start: the upgrade was taken back: {problem}", file=sys.stderr)
        print("start: all data are as they were; check out the version before and start that", file=sys.stderr)
        return 1
    finally:
        database.stop()


def _before_upgrade(settings: Settings, folder: Path) -> None:
    """A backup of what is there before migrations change it; of an upgrade that was killed, the one it began with."""
    if not (pending(settings) and applied(settings)):
        return
    if under_way(settings) and backup.before_upgrade(folder) is not None:
        print("start: an upgrade was interrupted; going on with it")
        return
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = backup.new_before_upgrade(folder, _now())
    backup.write(settings, path, _now())
    print(f"start: the state before the upgrade is in {path}; tracebench restore --before-upgrade brings it back")


def _interrupt(*_: object) -> None:
    raise KeyboardInterrupt


def _arguments() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="./start", description="Set Trace Bench up and serve it on this machine.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (default: this machine only)")
    parser.add_argument("--port", type=int, default=8000, help="port; the next free one is taken if it is in use")
    parser.add_argument("--data", default="var", help="folder for database, uploads and secret")
    parser.add_argument("--workers", type=int, default=1, help="processes that work out marks and imports")
    parser.add_argument("--no-backups", action="store_true", help="keep no daily backups")
    parser.add_argument("--no-demo", action="store_true", help="do not load the demo class")
    return parser.parse_args()


def _secret(path: Path) -> str:
    if not path.exists() or not path.read_text().strip():
        write_whole(path, secrets.token_hex(32))
    return path.read_text().strip()


def _listening(host: str, port: int) -> socket.socket:
    """A socket on the first free port: it outlives the web processes, so that nobody is refused while one restarts."""
    for wanted in range(port, port + 50):
        listening = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind((host, wanted))
        except OSError:
            listening.close()
            continue
        listening.listen(BACKLOG)
        return listening
    raise SystemExit(f"start: no free port from {port} to {port + 49}")


def _serve(arguments: argparse.Namespace, env: dict[str, str], database: Database, settings: Settings) -> int:
    listening = _listening(arguments.host, arguments.port)
    port = listening.getsockname()[1]
    team = Supervisor(lambda text: print(f"start: {text}", flush=True))
    try:
        team.children.append(Child("database", lambda _: _database_again(database), 30.0, process=database.process))
        for k in range(WEB_PROCESSES):
            command = [sys.executable, "-m", "tracebench.processes.web_server", str(listening.fileno())]
            own = {**env, "TRACEBENCH_PROCESS": str(k + 1)}
            team.add(Child(f"web server {k + 1}", partial(_beating, command, own, [listening.fileno()]), beats=True))
        for k in range(arguments.workers):
            command = [sys.executable, "-m", "tracebench.processes.worker"]
            team.add(Child(f"worker {k + 1}", partial(_beating, command, env, []), 30.0, beats=True))
        if not _answers(arguments.host, port):
            print("start: the web server did not come up; its messages are above", file=sys.stderr)
            return 1
        _greet(arguments.host, port, arguments.no_demo, env.get("TRACEBENCH_FIRST_RUN", ""))
        daily = Daily(settings, Path(arguments.data).resolve() / "backups", team.say)
        team.run(_Clock(settings, team.say), *([] if arguments.no_backups else [daily]))
    except KeyboardInterrupt:
        print("\nstart: stopping")
    finally:
        team.stop()
        listening.close()
    return 0


class _Clock:
    """Called again and again: moves along what ends at an instant when the clock was set."""

    def __init__(self, settings: Settings, say: Callable[[str], None]) -> None:
        self._settings, self._say = settings, say
        self._watch, self._owed_s = ClockWatch(), 0.0

    def __call__(self) -> None:
        self._owed_s += self._watch.set_by_s()
        if not self._owed_s:
            return
        pool = Pool(self._settings)
        try:
            with pool.transaction() as conn:
                count = clock.was_set(conn, self._owed_s, _now())
        except pymysql.err.Error:
            # The database is away: it is done when that is back.
            return
        finally:
            pool.close()
        self._say(f"the clock was set by {self._owed_s:+.0f} s; {count} sittings with a time limit end as much later")
        self._owed_s = 0.0


def _beating(command: list[str], env: dict[str, str], keep: list[int], pipe: int) -> subprocess.Popen[bytes]:
    """A process of ours that gives signs of life into a pipe."""
    return spawn(command, {**env, beats.PIPE: str(pipe)}, [*keep, pipe])


def _database_again(database: Database) -> subprocess.Popen[bytes]:
    """The server anew on its folder and port; what it had acknowledged is in its log, and is there again."""
    return start_database(database.folder, port=database.port).process


def _answers(host: str, port: int) -> bool:
    here = "127.0.0.1" if host == "0.0.0.0" else f"[{host}]" if ":" in host else host  # noqa: S104 - what was asked
    for _ in range(300):
        try:
            with urllib.request.urlopen(f"http://{here}:{port}/api/session", timeout=5):
                return True
        except OSError:
            time.sleep(0.1)
    return False


def _make_demo(pool: Pool, uploads: Path) -> None:
    """Have the demo class made where there is no course, and be there until it is: nobody can sign in before."""
    with pool.transaction() as conn:
        if not seed.ask(conn, _now()):
            return
    print("start: making the demo class", flush=True)
    queue.do_all(pool.transaction, every_work(uploads), _now)
    with pool.transaction() as conn:
        job = queue.of(conn, DEMO)
    done = job is not None and job["state"] == "done"
    print("start: demo class loaded" if done else "start: the demo class is not there yet; a worker tries again")


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def _greet(host: str, port: int, no_demo: bool, first_run: str) -> None:
    print(f"\nTrace Bench is at http://{host}:{port}/  (Ctrl-C stops it)")
    if first_run:
        print(f"  nobody has an account yet; begin at http://{host}:{port}/first#{first_run}")
    elif not no_demo:
        print(f"  sign in as {cast.INSTRUCTOR[0]}, learner or {cast.ADMINISTRATOR[0]}; password: {cast.PASSWORD}")
    sys.stdout.flush()


if __name__ == "__main__":
    sys.exit(main())
