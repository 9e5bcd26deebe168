"""Settings: one frozen value, read from an environment mapping that is passed in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

MOST_STREAMS = 16
"""Running trainers that a web process shows at once; each holds a thread, which rests most of the time."""


class MissingSetting(Exception):
    """A setting without a default was not given; the message names it."""


@dataclass(frozen=True, slots=True)
class Settings:
    """Everything the application is told from outside. The README has the table of variables."""

    db_host: str
    db_port: int
    db_name: str
    db_user: str
    db_password: str
    secret_key: str
    uploads: Path
    frontend: Path
    https: bool = False
    most_upload_bytes: int = 2_000_000_000
    first_run: str = ""
    """What the link to the first page holds, while nobody has an account; empty for no such page."""
    logs: Path | None = None
    """Where requests are written down; nowhere without it."""
    dask: str = ""
    """Address of a Dask scheduler that does the jobs; this machine's worker does them itself without it."""
    scope_ports: tuple[int, ...] = (5025,)
    """Where this machine's scopes are: the only ports that a learner's request may open."""
    db_socket: str = ""
    """Where the database listens on this machine, which is asked instead of host and port where it is there."""
    process: str = "1"
    """Which of several web processes this is."""

    @property
    def db_is_here(self) -> bool:
        """True for a database on this machine: nothing goes over a wire, and what encrypts costs 70 ms a connection."""
        return self.db_host in ("127.0.0.1", "localhost", "::1")

    @classmethod
    def from_env(cls, env: Mapping[str, str]) -> Settings:
        """Read TRACEBENCH_* variables; raises MissingSetting that names the one that is not there."""
        root = Path(__file__).resolve().parent.parent
        return cls(
            db_host=env.get("TRACEBENCH_DB_HOST", "127.0.0.1"),
            db_port=int(env.get("TRACEBENCH_DB_PORT", "3306")),
            db_name=env.get("TRACEBENCH_DB_NAME", "tracebench"),
            db_user=env.get("TRACEBENCH_DB_USER", "tracebench"),
            db_password=_needed(env, "TRACEBENCH_DB_PASSWORD"),
            secret_key=_needed(env, "TRACEBENCH_SECRET_KEY"),
            uploads=Path(env.get("TRACEBENCH_UPLOADS", str(root / "var" / "uploads"))),
            frontend=Path(env.get("TRACEBENCH_FRONTEND", str(root / "frontend" / "dist"))),
            first_run=env.get("TRACEBENCH_FIRST_RUN", ""),
            logs=Path(env["TRACEBENCH_LOGS"]) if env.get("TRACEBENCH_LOGS") else None,
            dask=env.get("TRACEBENCH_DASK", ""),
            scope_ports=tuple(int(p) for p in env.get("TRACEBENCH_SCOPE_PORTS", "5025").replace(",", " ").split()),
            db_socket=env.get("TRACEBENCH_DB_SOCKET", ""),
            process=env.get("TRACEBENCH_PROCESS", "1"),
            https=env.get("TRACEBENCH_HTTPS", "") in ("1", "yes", "true"),
        )


def _needed(env: Mapping[str, str], name: str) -> str:
    value = env.get(name, "")
    if not value:
        raise MissingSetting(f"set {name}: ./start does so, or see the table in README.md")
    return value
