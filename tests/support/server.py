"""The application served by gunicorn as ./start does, for tests that need a real address."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
from pathlib import Path

from tracebench.settings import Settings


class Served:
    """A running server on loopback; `stop` ends it."""

    def __init__(self, settings: Settings) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{port}"
        env = {
            **os.environ,
            "TRACEBENCH_DB_HOST": settings.db_host,
            "TRACEBENCH_DB_PORT": str(settings.db_port),
            "TRACEBENCH_DB_NAME": settings.db_name,
            "TRACEBENCH_DB_USER": settings.db_user,
            "TRACEBENCH_DB_PASSWORD": settings.db_password,
            "TRACEBENCH_SECRET_KEY": settings.secret_key,
            "TRACEBENCH_UPLOADS": str(settings.uploads),
        }
        command = ["-m", "gunicorn", "--workers=1", "--threads=4", f"--bind=127.0.0.1:{port}", "--log-level=warning"]
        self.process = subprocess.Popen(
            [sys.executable, *command, "tracebench.wsgi:app"], env=env, cwd=Path(__file__).parents[2]
        )
        for _ in range(300):
            try:
                socket.create_connection(("127.0.0.1", port), timeout=1).close()
                return
            except OSError:
                time.sleep(0.1)
        self.stop()
        raise RuntimeError("the server under test did not come up")

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=20)
