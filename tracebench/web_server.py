"""A web process: serves the application on a listening socket that it is handed. ./start runs some of them.

Waitress reads requests and sends answers in one event loop and keeps a request from the threads until all of it is
there, large bodies on disk: slow senders hold a connection and no thread, and not for ever.
"""

from __future__ import annotations

import gc
import logging
import os
import socket
import sys
import threading
import time
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any, cast

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

from tracebench.beats import keep_beating
from tracebench.formats import apart
from tracebench.settings import MOST_STREAMS, Settings

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment

WORKING = 12
"""Requests that are worked on at once: more would wait for each other's locks, connections and interpreter, and all of
them longer (hand-in p99 2 s with 40 and half a second with 12, measured)."""

THREADS = WORKING + MOST_STREAMS
"""Streams hold a thread and rest most of the time."""

MOST_CONNECTIONS = 2000
SILENT_S = 30
"""A connection without a byte for so long is closed."""

HEADERS_S = 20.0
"""A request's headers are there within this, however they dribble in."""

BODY_S, SLOWEST_BYTES_S = 60.0, 50_000.0
"""A body is there within a minute, and the time that it takes at 50 kB a second."""

MOST_HEADER_BYTES = 32_768
RECEIVED_AT_ONCE = 1 << 18
"""Bytes: a long upload in many small pieces keeps the interpreter from those who answer pages meanwhile."""

LOOK_S = 5


class Channel(HTTPChannel):
    """A connection that knows since when its request is coming in."""

    begun = 0.0

    def received(self, data: bytes) -> Any:
        if self.request is None:
            self.begun = time.time()
        return super().received(data)

    def is_late(self, now: float) -> bool:
        """Whether the request should have been there by now."""
        request = self.request
        if request is None:
            return False
        allowed = HEADERS_S
        if request.headers_finished:
            allowed += BODY_S + request.content_length / SLOWEST_BYTES_S
        return now - self.begun > allowed


class Server(TcpWSGIServer):
    """Closes connections whose request takes too long, beside those that are silent."""

    channel_class = Channel

    def maintenance(self, now: int) -> None:
        super().maintenance(now)
        channels: dict[int, Channel] = cast(Any, self.active_channels)
        for channel in channels.values():
            if channel.is_late(now):
                channel.will_close = True


class Gate:
    """Lets so many requests be worked on at once; one that answers by a stream is past it once that begins."""

    def __init__(self, app: WSGIApplication, most: int) -> None:
        self._app, self._free = app, threading.BoundedSemaphore(most)

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        with self._free:
            return self._app(environ, start_response)


def server_of(app: Any, listening: socket.socket, most_body_bytes: int, look_s: int = LOOK_S) -> Server:
    """A server on a socket that listens already; `run` serves until the process is told to stop."""
    adjustments = Adjustments(
        threads=THREADS,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=SILENT_S,
        cleanup_interval=look_s,
        max_request_header_size=MOST_HEADER_BYTES,
        max_request_body_size=most_body_bytes,
        asyncore_use_poll=True,
        recv_bytes=RECEIVED_AT_ONCE,
        clear_untrusted_proxy_headers=True,
        ident=None,
    )
    dispatcher = ThreadedTaskDispatcher()
    dispatcher.set_thread_count(THREADS)
    told = (listening.family, listening.type, listening.proto, listening.getsockname())
    return Server(app, {}, True, listening, dispatcher=dispatcher, adj=adjustments, bind_socket=False, sockinfo=told)


def main() -> int:
    from tracebench.wsgi import app  # noqa: PLC0415 - reads the environment when it is imported

    keep_beating()
    # The first file that somebody sends is read as quickly as the others.
    apart.READERS.warm()
    # A short queue is what the threads are for, and no news.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    # What is loaded stays: looking through all of it for garbage held requests up again and again.
    gc.collect()
    gc.freeze()
    listening = socket.socket(fileno=int(sys.argv[1]))
    server_of(Gate(app, WORKING), listening, Settings.from_env(os.environ).most_upload_bytes).run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
