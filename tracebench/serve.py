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
from datetime import UTC, datetime
from pathlib import Path

from tracebench.demo import cast, seed
from tracebench.host import HostError, start_database
from tracebench.settings import Settings
from tracebench.store.migrate import migrate
from tracebench.store.pool import Pool

THREADS = 4


def main() -> int:
    """Serve until interrupted; returns the exit status."""
    arguments = _arguments()
    folder = Path(arguments.data).resolve()
    try:
        database = start_database(folder / "mariadb")
    except HostError as problem:
        print(f"start: {problem}", file=sys.stderr)
        return 1
    try:
        env = {
            **os.environ,
            **database.env(),
            "TRACEBENCH_SECRET_KEY": os.environ.get("TRACEBENCH_SECRET_KEY") or _secret(folder / "secret"),
            "TRACEBENCH_UPLOADS": str(folder / "uploads"),
        }
        settings = Settings.from_env(env)
        applied = migrate(settings)
        if applied:
            print(f"start: {applied} schema migrations applied")
        pool = Pool(settings)
        if not arguments.no_demo and seed.load(pool, settings.uploads, datetime.now(UTC).replace(tzinfo=None)):
            print("start: demo class loaded")
        pool.close()
        return _serve(arguments, env)
    finally:
        database.stop()


def _arguments() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="./start", description="Set Trace Bench up and serve it on this machine.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (default: this machine only)")
    parser.add_argument("--port", type=int, default=8000, help="port; the next free one is taken if it is in use")
    parser.add_argument("--data", default="var", help="folder for database, uploads and secret")
    parser.add_argument("--no-demo", action="store_true", help="do not load the demo class")
    return parser.parse_args()


def _secret(path: Path) -> str:
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_hex(32))
    return path.read_text().strip()


def _free(host: str, port: int) -> int:
    for wanted in range(port, port + 50):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, wanted))
            except OSError:
                continue
            return wanted
    raise SystemExit(f"start: no free port from {port} to {port + 49}")


def _serve(arguments: argparse.Namespace, env: dict[str, str]) -> int:
    port = _free(arguments.host, arguments.port)
    server = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "gunicorn",
            "--workers=2",
            f"--threads={THREADS}",
            "--timeout=180",
            f"--bind={arguments.host}:{port}",
            "--log-level=warning",
            "tracebench.wsgi:app",
        ],
        env=env,
        start_new_session=True,
    )
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt))
    try:
        if not _answers(arguments.host, port, server):
            print("start: the web server did not come up; its messages are above", file=sys.stderr)
            return 1
        _greet(arguments.host, port, arguments.no_demo)
        return server.wait()
    except KeyboardInterrupt:
        print("\nstart: stopping")
        return 0
    finally:
        server.terminate()
        try:
            server.wait(timeout=10)
        except subprocess.TimeoutExpired:
            server.kill()


def _answers(host: str, port: int, server: subprocess.Popen[bytes]) -> bool:
    for _ in range(300):
        if server.poll() is not None:
            return False
        try:
            socket.create_connection((host, port), timeout=1).close()
        except OSError:
            time.sleep(0.1)
        else:
            return True
    return False


def _greet(host: str, port: int, no_demo: bool) -> None:
    print(f"\nTrace Bench is at http://{host}:{port}/  (Ctrl-C stops it)")
    if not no_demo:
        print(f"  sign in as {cast.INSTRUCTOR[0]}, learner or {cast.ADMINISTRATOR[0]}; password: {cast.PASSWORD}")
    sys.stdout.flush()


if __name__ == "__main__":
    sys.exit(main())
