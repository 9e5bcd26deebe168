"""How often a sign-in is looked at: guessing is slowed for each name, and no neighbour who guesses keeps anybody out.

A device is known by a signed cookie that it is given before anybody signs in on it; one without is its address. What
is not looked at counts for nothing. A device that signed in under a name before has tries of its own under that name.
All others share ten a minute a name, of which those who were wrong before may take six: whoever comes for the first
time finds four free. An address is counted only over names that never signed in from it.
"""

from __future__ import annotations

import math
import zlib
from dataclasses import dataclass
from datetime import datetime, timedelta

from tracebench.store.pool import Begin, Connection, Row
from tracebench.store.queries import queries
from tracebench.usecases.errors import TooSoon

WINDOW, MINUTE = timedelta(minutes=15), timedelta(minutes=1)

A_MINUTE, OF_THEM_AGAIN = 10, 6
"""Tries of a name that are looked at in a minute, and how many of them from devices that were wrong before."""

OF_ADDRESS, OF_ADDRESS_AGAIN = 120, 20
"""The same from an address over names that never signed in from it: two classes that come in together."""

FREE, LONGEST_S = 5, 300.0
"""A device that is not known may be wrong so often with a name; then it pauses for 1, 2, 4 … up to so many seconds."""

WRONG_ELSEWHERE = 3
"""A device that was wrong so often, with whatever names, comes again with any."""

PLACES = 1024


@dataclass(frozen=True, slots=True)
class Came:
    """Where a try comes from: an address, and the device by its cookie, empty without one."""

    address: str
    device: str = ""

    @property
    def key(self) -> str:
        return f"d:{self.device}" if self.device else f"a:{self.address}"[:80]


def let_in(begin: Begin, name: str, came: Came, at: datetime) -> None:
    """Count a try that is going to be looked at. Raises TooSoon where it is not to be."""
    with begin() as conn:
        queries.people.take_turn(conn, place=zlib.crc32(name.encode()) % PLACES)
        knows = queries.people.knows(conn, sign_in=name, device=came.device, address=came.address)
        known, strange = bool(knows and knows["device"]), not (knows and knows["address"])
        of_name = queries.people.tries_of_name(
            conn, sign_in=name, came_from=came.key, minute=at - MINUTE, since=at - WINDOW
        )
        assert of_name is not None
        again = of_name["by_pair"] > 0 or (
            queries.people.tries_of_device(conn, came_from=came.key, since=at - WINDOW) >= WRONG_ELSEWHERE
        )
        seconds = _known_waits(of_name, at) if known else _waits(conn, of_name, came, again, strange, at)
        if seconds <= 0:
            queries.people.try_begins(
                conn,
                sign_in=name,
                address=came.address,
                came_from=came.key,
                known=known,
                again=again,
                strange=strange and not known,
                at=at,
            )
            return
    raise TooSoon(f"too many failed sign-ins; wait {seconds} seconds and try again", seconds)


def was_right(conn: Connection, person_id: int, name: str, came: Came, at: datetime) -> None:
    """A try was right: its device is known under that name from now on."""
    queries.people.was_right(conn, sign_in=name, came_from=came.key)
    queries.people.forget_tries(conn, before=at - timedelta(days=1))
    if came.device:
        queries.people.know_device(conn, person_id=person_id, device=came.device, at=at)


def _known_waits(of_name: Row, at: datetime) -> int:
    return _full(int(of_name["by_pair_minute"]), A_MINUTE, of_name["first_by_pair"], at)


def _waits(conn: Connection, of_name: Row, came: Came, again: bool, strange: bool, at: datetime) -> int:
    """Whole seconds until a device that is not known is looked at, 0 for at once."""
    seconds = [_full(int(of_name["by_others"]), A_MINUTE, of_name["first_by_others"], at)]
    if again:
        seconds.append(_full(int(of_name["by_again"]), OF_THEM_AGAIN, of_name["first_by_again"], at))
    if of_name["by_pair"] >= FREE:
        pause = min(2.0 ** min(int(of_name["by_pair"]) - FREE, 30), LONGEST_S)
        seconds.append(math.ceil(pause - (at - of_name["last_by_pair"]).total_seconds()))
    if strange:
        of_address = queries.people.tries_of_address(conn, address=came.address, minute=at - MINUTE)
        assert of_address is not None
        seconds.append(_full(int(of_address["by_others"]), OF_ADDRESS, of_address["first_by_others"], at))
        if again:
            seconds.append(_full(int(of_address["by_again"]), OF_ADDRESS_AGAIN, of_address["first_by_again"], at))
    return max(seconds)


def _full(count: int, most: int, first: datetime | None, at: datetime) -> int:
    """Seconds until the first of a minute that is full is a minute old."""
    if count < most or first is None:
        return 0
    return max(1, math.ceil((MINUTE - (at - first)).total_seconds()))
