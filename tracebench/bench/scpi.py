"""The trainer's scope as a real instrument is reached: SCPI over TCP on loopback, IEEE 488.2 common commands.

*IDN?                          who it is
TRAiner:CIRCuit <code>         what hangs on it; TRAiner:FAULt, TRAiner:MANoeuvre, TRAiner:SEED likewise
CHANnel:LIST?                  lanes, in order
CHANnel:RANGe <volts>          range of the signal lanes
TIMebase:LENGth <seconds>      record length; ACQuire:RATE, ACQuire:BITS, ACQuire:PEAK <ON|OFF>
TRIGger:MODE <AUTO|SINGle>     with TRIGger:SOURce, :LEVel, :SLOPe <POSitive|NEGative>, :PRE <0-1>
RUN / SINGle                   take a record; *OPC? answers 1 when it is there
WAVeform:SOURce <lane>         then WAVeform:INTerval?, :STARt?, :UNIT?, :DATA? (float32, little-endian,
                               IEEE 488.2 definite-length block)
SYSTem:ERRor?                  oldest error, 0,"No error" when there is none
"""

from __future__ import annotations

import re
import socketserver
import threading
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from tracebench.bench.scope import ScopeSettings, Trigger
from tracebench.bench.sources import source
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture
from tracebench.core.errors import TraceBenchError

IDENTITY = "Trace Bench,Trainer scope,0,1.0"
LOOPBACK = "127.0.0.1"
MOST_ERRORS = 20


def block(data: bytes) -> bytes:
    """A definite-length arbitrary block: '#', number of digits, length, bytes (IEEE 488.2-1992, 8.7.9)."""
    length = str(len(data))
    return b"#" + str(len(length)).encode() + length.encode() + data


@dataclass
class Instrument:
    """The state behind one socket server; commands come in one at a time."""

    code: str = "throttle-position"
    fault: str = "none"
    manoeuvre: str = ""
    seed: int = 1
    scope: ScopeSettings = field(default_factory=ScopeSettings)
    trigger: Trigger | None = None
    single: bool = False
    capture: Capture | None = None
    lane: str = ""
    errors: deque[str] = field(default_factory=lambda: deque(maxlen=MOST_ERRORS))

    def answer(self, line: str) -> bytes | None:
        """Carry one program message out; the answer of a query, None otherwise. Errors go into the queue."""
        replies = [self._one(part.strip()) for part in _parts(line) if part.strip()]
        given = [r for r in replies if r is not None]
        return b";".join(given) if given else None

    def _one(self, command: str) -> bytes | None:
        head, _, rest = command.partition(" ")
        query, name = head.endswith("?"), head.rstrip("?").lstrip(":").upper()
        action = next((a for pattern, a in _COMMANDS if pattern.fullmatch(name)), None)
        if action is None:
            self.errors.append(f'-113,"Undefined header; {name}"')
            return None
        try:
            reply = action(self, rest.strip().strip('"'), query)
        except (TraceBenchError, ValueError, KeyError) as problem:
            self.errors.append(f'-222,"Data out of range; {str(problem)[:160]}"'.replace("\n", " "))
            return b"" if query else None
        return reply.encode() if isinstance(reply, str) else reply

    def run(self) -> None:
        """Take a record with everything as it is set."""
        scope = replace(self.scope, trigger=self.trigger if self.single else None)
        self.capture = record(self.code, scope, self.seed, self.fault, manoeuvre=self.manoeuvre)
        self.lane = self.lane if self.lane in self.capture.lanes else next(iter(self.capture.lanes))
        self.seed += 1

    def taken(self) -> Capture:
        if self.capture is None:
            raise ValueError("no record yet; send RUN or SINGLE first")
        return self.capture


Action = Callable[[Instrument, str, bool], "str | bytes | None"]


def _parts(line: str) -> list[str]:
    return line.split(";")


def _reset(i: Instrument, _: str, __: bool) -> None:
    i.__init__()  # type: ignore[misc]


def _error(i: Instrument, _: str, __: bool) -> str:
    return i.errors.popleft() if i.errors else '0,"No error"'


def _clear(i: Instrument, _: str, __: bool) -> None:
    i.errors.clear()


def _circuit(i: Instrument, text: str, query: bool) -> str | None:
    if query:
        return i.code
    made_by = source(text.lower())
    i.code, i.fault, i.manoeuvre, i.capture = made_by.code, "none", "", None
    i.scope = replace(
        i.scope, range_v=made_by.range_v, rate_hz=made_by.rate_hz, duration_s=made_by.manoeuvres[0].duration_s
    )
    return None


def _fault(i: Instrument, text: str, query: bool) -> str | None:
    if query:
        return i.fault
    source(i.code).check_fault(text)
    i.fault = text
    return None


def _manoeuvre(i: Instrument, text: str, query: bool) -> str | None:
    if query:
        return i.manoeuvre or source(i.code).manoeuvres[0].key
    i.manoeuvre = source(i.code).manoeuvre(text).key
    return None


def _setting(name: str, kind: Callable[[str], float | int | str | bool]) -> Action:
    """A command that sets one of the scope's settings, or answers it."""

    def act(i: Instrument, text: str, query: bool) -> str | None:
        if query:
            return _figure(getattr(i.scope, name))
        change: dict[str, Any] = {name: kind(text)}
        i.scope = replace(i.scope, **change).checked()
        return None

    return act


def _figure(value: float | int | str | bool) -> str:
    return str(int(value)) if isinstance(value, bool) else str(value)


def _switch(text: str) -> bool:
    if text.upper() not in ("ON", "OFF", "1", "0"):
        raise ValueError(f"{text!r}: ON or OFF")
    return text.upper() in ("ON", "1")


def _trigger(name: str, kind: Callable[[str], float | str]) -> Action:
    def act(i: Instrument, text: str, query: bool) -> str | None:
        now = i.trigger or Trigger("signal", 2.5)
        if query:
            return str(getattr(now, name))
        change: dict[str, Any] = {name: kind(text)}
        i.trigger = replace(now, **change)
        return None

    return act


def _slope(text: str) -> str:
    return "falling" if text.upper().startswith("NEG") else "rising"


def _mode(i: Instrument, text: str, query: bool) -> str | None:
    if query:
        return "SINGLE" if i.single else "AUTO"
    i.single = text.upper().startswith("SING")
    return None


def _run(i: Instrument, _: str, __: bool) -> None:
    i.run()


def _single(i: Instrument, _: str, __: bool) -> None:
    i.single = True
    i.trigger = i.trigger or Trigger("signal", 2.5)
    i.run()


def _lane(i: Instrument, text: str, query: bool) -> str | None:
    if query:
        return i.lane
    if text not in i.taken().lanes:
        raise ValueError(f"lane {text!r}: choose one of {', '.join(i.taken().lanes)}")
    i.lane = text
    return None


def _data(i: Instrument, _: str, __: bool) -> bytes:
    return block(i.taken().lanes[i.lane].samples.astype("<f4").tobytes())


_TABLE: tuple[tuple[str, Action], ...] = (
    (r"\*IDN", lambda i, t, q: IDENTITY),
    (r"\*RST", _reset),
    (r"\*CLS", _clear),
    (r"\*OPC", lambda i, t, q: "1" if q else None),
    (r"\*WAI", lambda i, t, q: None),
    (r"\*TST", lambda i, t, q: "0"),
    (r"\*ESR", lambda i, t, q: "16" if i.errors else "0"),
    (r"\*STB", lambda i, t, q: "4" if i.errors else "0"),
    (r"SYST(EM)?:ERR(OR)?(:NEXT)?", _error),
    (r"TRA(INER)?:CIRC(UIT)?", _circuit),
    (r"TRA(INER)?:FAUL(T)?", _fault),
    (r"TRA(INER)?:MAN(OEUVRE)?", _manoeuvre),
    (r"TRA(INER)?:SEED", lambda i, t, q: str(i.seed) if q else setattr(i, "seed", int(t))),
    (r"CHAN(NEL)?:LIST", lambda i, t, q: ",".join(i.taken().lanes)),
    (r"CHAN(NEL)?:RANG(E)?", _setting("range_v", float)),
    (r"CHAN(NEL)?:GRO(UND)?", _setting("ground", str)),
    (r"TIM(EBASE)?:LENG(TH)?", _setting("duration_s", float)),
    (r"ACQ(UIRE)?:RATE", _setting("rate_hz", float)),
    (r"ACQ(UIRE)?:BITS", _setting("bits", int)),
    (r"ACQ(UIRE)?:PEAK", _setting("peak_capture", _switch)),
    (r"TRIG(GER)?:SOUR(CE)?", _trigger("lane", str)),
    (r"TRIG(GER)?:LEV(EL)?", _trigger("level", float)),
    (r"TRIG(GER)?:SLOP(E)?", _trigger("edge", _slope)),
    (r"TRIG(GER)?:PRE", _trigger("pre", float)),
    (r"TRIG(GER)?:MODE", _mode),
    (r"RUN", _run),
    (r"SING(LE)?", _single),
    (r"WAV(EFORM)?:SOUR(CE)?", _lane),
    (r"WAV(EFORM)?:INT(ERVAL)?", lambda i, t, q: repr(i.taken().interval_s)),
    (r"WAV(EFORM)?:STAR(T)?", lambda i, t, q: repr(i.taken().start_s)),
    (r"WAV(EFORM)?:UNIT", lambda i, t, q: i.taken().lanes[i.lane].unit),
    (r"WAV(EFORM)?:DATA", _data),
)
_COMMANDS = tuple((re.compile(pattern), action) for pattern, action in _TABLE)


class _Session(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        server: ScopeServer = self.server  # type: ignore[assignment]
        for raw in self.rfile:
            with server.lock:
                reply = server.instrument.answer(raw.decode("ascii", errors="replace").strip())
            if reply is not None:
                self.wfile.write(reply + b"\n")


class ScopeServer(socketserver.ThreadingTCPServer):
    """The instrument on a loopback port; `port` 0 takes a free one."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int = 0, instrument: Instrument | None = None) -> None:
        super().__init__((LOOPBACK, port), _Session)
        self.instrument = instrument or Instrument()
        self.lock = threading.Lock()

    @property
    def port(self) -> int:
        return int(self.server_address[1])


def lanes_as_floats(data: bytes) -> np.ndarray:
    """Samples of a definite-length block of little-endian float32. Raises ValueError when it is none."""
    if data[:1] != b"#" or not data[1:2].isdigit():
        raise ValueError("the instrument did not answer with a definite-length block")
    digits = int(data[1:2])
    length = int(data[2 : 2 + digits])
    body = data[2 + digits : 2 + digits + length]
    if len(body) != length or length % 4:
        raise ValueError(f"the block is {len(body)} bytes long where {length} were said")
    return np.frombuffer(body, dtype="<f4").astype(np.float64)
