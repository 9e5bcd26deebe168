"""A web process: serves the application on a listening socket that it is handed. ./start runs some of them.

Waitress reads requests and sends answers in one event loop and keeps a request from the threads until all of it is
there, large bodies on disk: slow senders hold a connection and no thread.
"""

from __future__ import annotations

import logging
import os
import socket
import sys

from waitress.server import create_server

from tracebench.settings import Settings

THREADS = 12
MOST_CONNECTIONS = 2000
SILENT_S = 30
"""A connection without a byte for so long is closed."""

MOST_HEADER_BYTES = 32_768


def main() -> int:
    from tracebench.wsgi import app  # noqa: PLC0415 - reads the environment when it is imported

    # A short queue is what the threads are for, and no news.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    listening = socket.socket(fileno=int(sys.argv[1]))
    server = create_server(
        app,
        sockets=[listening],
        threads=THREADS,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=SILENT_S,
        cleanup_interval=5,
        max_request_header_size=MOST_HEADER_BYTES,
        max_request_body_size=Settings.from_env(os.environ).most_upload_bytes,
        asyncore_use_poll=True,
        clear_untrusted_proxy_headers=True,
        ident=None,
    )
    server.run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
