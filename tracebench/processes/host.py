"""Our own MariaDB on loopback: a private data folder, a free port, an account with a password.

Used by ./start and by the tests; never touches a server that it did not start.
"""

from __future__ import annotations

import hashlib
import json
import os
import secrets
import shutil
import signal
import socket
import subprocess
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pymysql

from tracebench.own_files import write_whole
from tracebench.processes.children import spawn

START_LIMIT_S = 60.0
OTHER_STOPS_S = 5.0


class HostError(Exception):
    """The database server cannot be set up or started; the message says what to do."""


@dataclass(frozen=True, slots=True)
class Database:
    """How to reach a running server."""

    port: int
    name: str
    user: str
    password: str
    process: subprocess.Popen[bytes]
    folder: Path

    def env(self) -> dict[str, str]:
        return {
            "TRACEBENCH_DB_HOST": "127.0.0.1",
            "TRACEBENCH_DB_PORT": str(self.port),
            "TRACEBENCH_DB_SOCKET": str(_socket_of(self.folder)),
            "TRACEBENCH_DB_NAME": self.name,
            "TRACEBENCH_DB_USER": self.user,
            "TRACEBENCH_DB_PASSWORD": self.password,
        }

    def stop(self) -> None:
        """Stop the server and wait until its data are on disk."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            try:
                self.process.wait(timeout=30)
            except subprocess.TimeoutExpired:
                self.process.kill()
        shutil.rmtree(_temporary_of(self.folder), ignore_errors=True)


def start_database(
    folder: Path, name: str = "tracebench", user: str = "tracebench", port: int | None = None
) -> Database:
    """Start MariaDB on `folder`, creating it the first time, on a port told or a free one. Raises HostError."""
    server = shutil.which("mariadbd") or shutil.which("mariadbd", path="/usr/sbin:/usr/local/sbin")
    if server is None:
        raise HostError("MariaDB is not installed; run: apt-get install mariadb-server")
    folder.mkdir(parents=True, exist_ok=True)
    data = folder / "data"
    # A server that starts removes what others left in its temporary folder, also what one beside it still uses.
    temporary = _temporary_of(folder)
    temporary.mkdir(exist_ok=True, mode=0o700)
    if not (data / "mysql").is_dir():
        _create(data, temporary)
    account = _account(folder / "account.json")
    told, port = port, port or _free_port()
    socket_path = _socket_of(folder)
    # One whose ./start was killed a moment ago is still writing its pages out.
    end = time.monotonic() + OTHER_STOPS_S
    while _answers(socket_path) and time.monotonic() < end:
        time.sleep(0.1)
    if _answers(socket_path):
        raise HostError(f"a database server already runs on {folder}; stop the other ./start or ./test first")
    log = folder / "server.log"

    def begun(at: int) -> subprocess.Popen[bytes]:
        return _spawned(server, data, temporary, socket_path, folder, at)

    process = begun(port)
    try:
        _wait(process, socket_path, log)
    except HostError:
        if told is not None or not _port_was_taken(log):
            raise
        # Another server began at the same moment, on the port that both had found free.
        port = _free_port(preferred=0)
        process = begun(port)
        _wait(process, socket_path, log)
    _prepare(socket_path, name, user, account)
    return Database(port, name, user, account, process, folder)


def _port_was_taken(log: Path) -> bool:
    return log.exists() and "Address already in use" in log.read_text(errors="replace")[-2000:]


def _spawned(
    server: str, data: Path, temporary: Path, socket_path: Path, folder: Path, port: int
) -> subprocess.Popen[bytes]:
    return spawn(
        [
            server,
            "--no-defaults",
            f"--datadir={data.resolve()}",
            f"--tmpdir={temporary.resolve()}",
            f"--socket={socket_path.resolve()}",
            f"--port={port}",
            "--bind-address=127.0.0.1",
            f"--pid-file={(folder / 'server.pid').resolve()}",
            f"--log-error={(folder / 'server.log').resolve()}",
            "--skip-name-resolve",
            "--character-set-server=utf8mb4",
            "--collation-server=utf8mb4_unicode_ci",
            "--sql-mode=STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO",
            "--max-allowed-packet=256M",
            # Lists come as one cell of JSON, which would be cut off at a megabyte: at two thousand cards.
            "--group-concat-max-len=256M",
            "--innodb-log-file-size=96M",
            "--innodb-buffer-pool-size=256M",
            *(["--user=root"] if os.geteuid() == 0 else []),
        ],
        silent=True,
    )


MOST_SOCKET_PATH = 100
"""Characters; the system's limit is 107."""


def _socket_of(folder: Path) -> Path:
    """Where the server on a folder listens: in it, unless its path is too long for a socket's."""
    path = folder.resolve() / "server.sock"
    if len(str(path)) > MOST_SOCKET_PATH:
        name = hashlib.sha256(str(path).encode()).hexdigest()[:16]
        return Path(f"/tmp/tracebench-{os.geteuid()}-{name}.sock")  # noqa: S108
    return path


IN_MEMORY, LEAST_BYTES = Path("/dev/shm"), 512 * 1024**2  # noqa: S108 - a folder of our own in it, of our own reach


def _temporary_of(folder: Path) -> Path:
    """Where the server on a folder puts what it sorts: in memory where there is enough, so that people go on reading
    while the disk is full; else beside its data."""
    try:
        if shutil.disk_usage(IN_MEMORY).free >= LEAST_BYTES:
            name = hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:16]
            return IN_MEMORY / f"tracebench-{os.geteuid()}-{name}"
    except OSError:
        pass
    return folder / "tmp"


def server_answers(folder: Path) -> bool:
    """Whether a server runs on a folder."""
    return _answers(_socket_of(folder))


def _create(data: Path, temporary: Path) -> None:
    tool = shutil.which("mariadb-install-db")
    if tool is None:
        raise HostError("mariadb-install-db is not installed; run: apt-get install mariadb-server")
    # Made beside its place and then put there: a folder that was killed half-way would be taken for done.
    making = data.with_name(f"{data.name}.making-{secrets.token_hex(4)}")
    for left in data.parent.glob(f"{data.name}.making-*"):
        shutil.rmtree(left, ignore_errors=True)
    command = [tool, "--no-defaults", f"--datadir={making.resolve()}", "--auth-root-authentication-method=socket"]
    command += ["--skip-test-db"] + (["--user=root"] if os.geteuid() == 0 else [])
    own = {**os.environ, "TMPDIR": str(temporary.resolve())}
    done = subprocess.run(command, capture_output=True, text=True, check=False, env=own)
    if done.returncode != 0:
        raise HostError(
            f"the database folder {data} cannot be made: {done.stderr.strip()[-400:] or done.stdout[-400:]}"
        )
    if data.is_dir():
        # Of a version that made it in its place, and was killed: without the server's own tables it holds nothing.
        data.rename(data.with_name(f"{data.name}.half-{secrets.token_hex(4)}"))
    making.rename(data)


def _account(path: Path) -> str:
    try:
        return str(json.loads(path.read_text())["password"])
    except (FileNotFoundError, ValueError):
        # The server is told the password at each start: another one is as good where this one broke off.
        password = secrets.token_urlsafe(24)
        write_whole(path, json.dumps({"password": password}))
        return password


def _free_port(preferred: int = 3306) -> int:
    for wanted in (preferred, 0):
        with socket.socket() as probe:
            try:
                probe.bind(("127.0.0.1", wanted))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise HostError("no free port on 127.0.0.1")


def _wait(process: subprocess.Popen[bytes], socket_path: Path, log: Path) -> None:
    end = time.monotonic() + START_LIMIT_S
    while time.monotonic() < end:
        if process.poll() is not None:
            tail = log.read_text(errors="replace")[-800:] if log.exists() else ""
            raise HostError(f"MariaDB stopped while starting; is another one using the folder? Its log ends:\n{tail}")
        if _answers(socket_path):
            return
        time.sleep(0.05)
    process.kill()
    raise HostError(f"MariaDB did not answer within {START_LIMIT_S:.0f} s; see {log}")


def _answers(socket_path: Path) -> bool:
    try:
        _as_superuser(socket_path, connect_timeout=2, read_timeout=2).close()
    except pymysql.Error:
        return False
    return True


def _as_superuser(socket_path: Path, **how: Any) -> Any:
    return pymysql.connect(unix_socket=str(socket_path), user=_superuser(), ssl_disabled=True, **how)


def _superuser() -> str:
    import pwd  # noqa: PLC0415 - not on every system; this function is

    return pwd.getpwuid(os.geteuid()).pw_name


def _prepare(socket_path: Path, name: str, user: str, password: str) -> None:
    with _as_superuser(socket_path, autocommit=True) as connection:
        cursor = connection.cursor()
        cursor.execute(f"CREATE DATABASE IF NOT EXISTS `{name}` CHARACTER SET utf8mb4")
        # By TCP on loopback, and by the socket.
        for place in ("127.0.0.1", "localhost"):
            cursor.execute(f"CREATE USER IF NOT EXISTS '{user}'@'{place}' IDENTIFIED BY %s", (password,))
            cursor.execute(f"ALTER USER '{user}'@'{place}' IDENTIFIED BY %s", (password,))
            # The prefix lets tests make throw-away schemas beside the real one.
            cursor.execute(f"GRANT ALL ON `{name}%`.* TO '{user}'@'{place}'")
