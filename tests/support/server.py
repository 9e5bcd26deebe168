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

HERE = Path(__file__).parents[2]


class Served:
    """A running server on loopback; `stop` ends it, and `come_back` brings its web processes back."""

    def __init__(self, settings: Settings, web_processes: int = 1) -> None:
        self._count = web_processes
        self._env = {
            **os.environ,
            "TRACEBENCH_DB_HOST": settings.db_host,
            "TRACEBENCH_DB_PORT": str(settings.db_port),
            "TRACEBENCH_DB_NAME": settings.db_name,
            "TRACEBENCH_DB_USER": settings.db_user,
            "TRACEBENCH_DB_PASSWORD": settings.db_password,
            "TRACEBENCH_DB_SOCKET": settings.db_socket,
            "TRACEBENCH_SECRET_KEY": settings.secret_key,
            "TRACEBENCH_UPLOADS": str(settings.uploads),
        }
        self.port = 0
        self.come_back()
        self.processes.append(
            subprocess.Popen([sys.executable, "-m", "tracebench.processes.worker"], env=self._env, cwd=HERE)
        )

    def come_back(self) -> None:
        """Listen and answer, at the address of before if there was one."""
        self.listening = socket.socket()
        self.listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        self.listening.bind(("127.0.0.1", self.port))
        self.listening.listen(64)
        self.port = self.listening.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        web = [sys.executable, "-m", "tracebench.processes.web_server", str(self.listening.fileno())]
        handed = [self.listening.fileno()]
        self.processes = [subprocess.Popen(web, env=self._env, cwd=HERE, pass_fds=handed) for _ in range(self._count)]
        for _ in range(300):
            try:
                with urllib.request.urlopen(f"{self.url}/api/session", timeout=10):
                    return
            except OSError:
                time.sleep(0.1)
        self.stop()
        raise RuntimeError("the server under test did not come up")

    def stop(self) -> None:
        """Gone, as a network is: whoever asks is refused."""
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            process.wait(timeout=20)
        self.listening.close()
