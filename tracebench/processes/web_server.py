"""A web process: serves the application on a listening socket that it is handed. ./start runs some of them.

Waitress reads requests and sends answers in one event loop and keeps a request from the threads until all of it is
there, large bodies on disk: slow senders hold a connection and no thread, and not for ever.
"""

from __future__ import annotations

import gc
import json
import logging
import os
import socket
import sys
import threading
import time
from collections.abc import Hashable, Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, cast

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

from tracebench.formats import apart
from tracebench.processes.beats import keep_beating
from tracebench.processors import stay_on_one
from tracebench.settings import MOST_STREAMS, Settings
from tracebench.web.shares import asks

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment

WORKING = 12
"""Requests that are worked on at once: more would wait for each other's locks, connections and interpreter, and all of
them longer (hand-in p99 2 s with 40 and half a second with 12, measured)."""

OF_ONE, WAITING = 6, 26
"""Requests of one person that are worked on at once, and how many more wait for that; browsers ask for six at once."""

THREADS = WORKING + MOST_STREAMS + 3 * WAITING
"""Streams hold a thread and rest most of the time, and so do those who wait their turn."""

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


BUSY = json.dumps(
    {
        "type": "about:blank",
        "title": "Too soon",
        "status": 429,
        "detail": "too much was asked for from here at once; it is tried again in a moment",
    }
).encode()


class Gate:
    """Lets so many requests be worked on at once, and so many of one person; whoever asks for far more is refused.

    One that answers by a stream is past it once that begins.
    """

    def __init__(self, app: WSGIApplication, most: int, of_one: int = OF_ONE, waiting: int = WAITING) -> None:
        self._app, self._free = app, threading.BoundedSemaphore(most)
        self._of_one, self._most_of_one = of_one, of_one + waiting
        self._lock, self._here = threading.Lock(), dict[Hashable, _Here]()

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        who = asks(environ.get("HTTP_COOKIE", ""))
        if who is None:
            with self._free:
                return self._app(environ, start_response)
        with self._lock:
            here = self._here.setdefault(who, _Here(threading.BoundedSemaphore(self._of_one)))
            comes_in = here.count < self._most_of_one
            here.count += comes_in
        if not comes_in:
            head = [("Content-Type", "application/problem+json"), ("Retry-After", "1")]
            start_response("429 Too Many Requests", head)
            return [BUSY]
        try:
            with here.turn, self._free:
                return self._app(environ, start_response)
        finally:
            with self._lock:
                here.count -= 1
                if not here.count:
                    del self._here[who]


@dataclass(slots=True)
class _Here:
    """What one person asks for at the moment."""

    turn: threading.BoundedSemaphore
    count: int = 0


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
    settings = Settings.from_env(os.environ)
    stay_on_one(int(settings.process))
    from tracebench.processes.wsgi import app  # noqa: PLC0415 - reads the environment when it is imported

    keep_beating()
    # The first file that somebody sends is read as quickly as the others.
    apart.READERS.warm()
    # A short queue is what the threads are for, and no news.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    # What is loaded stays: looking through all of it for garbage held requests up again and again.
    gc.collect()
    gc.freeze()
    listening = socket.socket(fileno=int(sys.argv[1]))
    server_of(Gate(app, WORKING), listening, settings.most_upload_bytes).run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
