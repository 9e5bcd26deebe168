"""So much at once for each person: whoever asks for more waits their turn or is told to, and holds nobody else up.

Counted in each web process, as threads and processors are what is shared.
"""

from __future__ import annotations

import threading
from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from http.cookies import CookieError, SimpleCookie

from tracebench.settings import MOST_STREAMS
from tracebench.usecases.errors import TooSoon


class Shares:
    """Something of which each may have `each` at once, and all together `most`."""

    def __init__(self, each: int, most: int, says: str, seconds: int) -> None:
        self._each, self._most, self._says, self._seconds = each, most, says, seconds
        self._lock, self._held = threading.Lock(), Counter[Hashable]()

    def take(self, who: Hashable) -> Callable[[], None]:
        """Have one more; what gives it back, which may be called again. Raises TooSoon."""
        with self._lock:
            if self._held[who] >= self._each or self._held.total() >= self._most:
                raise TooSoon(self._says, self._seconds)
            self._held[who] += 1
        given = threading.Event()

        def give_back() -> None:
            with self._lock:
                if not given.is_set():
                    given.set()
                    self._held[who] -= 1
                    if not self._held[who]:
                        del self._held[who]

        return give_back

    @contextmanager
    def held(self, who: Hashable) -> Iterator[None]:
        """Have one more for a while. Raises TooSoon."""
        give_back = self.take(who)
        try:
            yield
        finally:
            give_back()


EXPORTS = Shares(1, 3, "a file is being made for you, or too many for others; take this one when that is done", 3)
STREAMS = Shares(4, MOST_STREAMS, "too many windows look at what is running; close some, or try again", 30)
FILES = Shares(3, 8, "your other files are still being taken in; send this one when they are", 3)

SESSION_COOKIE = "tracebench"
MOST_KNOWN = 4096
_owners: OrderedDict[str, int] = OrderedDict()
_owners_lock = threading.Lock()


def belongs(cookie: str, person_id: int) -> None:
    """A session's cookie is this person's: what is asked by it counts as theirs before anybody looks it up."""
    with _owners_lock:
        _owners[cookie] = person_id
        _owners.move_to_end(cookie)
        while len(_owners) > MOST_KNOWN:
            _owners.popitem(last=False)


def asks(cookies: str) -> Hashable | None:
    """Who asks, as far as cookies tell: a person, else a session, else nobody."""
    try:
        found = SimpleCookie(cookies).get(SESSION_COOKIE)
    except CookieError:
        return None
    if found is None:
        return None
    with _owners_lock:
        return _owners.get(found.value, found.value)
