"""The application served as ./start does, with a worker beside it, for tests that need a real address."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from tracebench.settings import Settings


class Served:
    """A running server on loopback; `stop` ends it."""

    def __init__(self, settings: Settings, web_processes: int = 1) -> None:
        self.listening = socket.socket()
        self.listening.bind(("127.0.0.1", 0))
        self.listening.listen(64)
        self.url = f"http://127.0.0.1:{self.listening.getsockname()[1]}"
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
        here = Path(__file__).parents[2]
        web = [sys.executable, "-m", "tracebench.web_server", str(self.listening.fileno())]
        self.processes = [
            *(
                subprocess.Popen(web, env=env, cwd=here, pass_fds=[self.listening.fileno()])
                for _ in range(web_processes)
            ),
            subprocess.Popen([sys.executable, "-m", "tracebench.worker"], env=env, cwd=here),
        ]
        for _ in range(300):
            try:
                with urllib.request.urlopen(f"{self.url}/api/session", timeout=10):
                    return
            except OSError:
                time.sleep(0.1)
        self.stop()
        raise RuntimeError("the server under test did not come up")

    def stop(self) -> None:
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            process.wait(timeout=20)
        self.listening.close()
