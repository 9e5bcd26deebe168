"""Take a capture from a scope that speaks SCPI on a loopback port."""

from __future__ import annotations

import socket

from tracebench.bench.scpi import lanes_as_floats
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.errors import BadCapture, BadOption

LOOPBACK_HOSTS = ("127.0.0.1", "localhost", "::1")
TIMEOUT_S = 30.0
MOST_BYTES = 400_000_000


class _Line:
    """One conversation: queries out, answers in; a block answer is read by its own length."""

    def __init__(self, host: str, port: int) -> None:
        self._socket = socket.create_connection((host, port), timeout=TIMEOUT_S)
        self._stream = self._socket.makefile("rwb")

    def tell(self, command: str) -> None:
        self._stream.write(command.encode("ascii") + b"\n")
        self._stream.flush()

    def ask(self, query: str) -> str:
        self.tell(query)
        return self._stream.readline().decode("ascii", errors="replace").strip()

    def block(self, query: str) -> bytes:
        self.tell(query)
        head = self._stream.read(2)
        if head[:1] != b"#" or not head[1:2].isdigit():
            raise BadCapture("the instrument did not answer with a block of samples")
        digits = self._stream.read(int(head[1:2]))
        if int(digits) > MOST_BYTES:
            raise BadCapture(f"the instrument offers {int(digits):,} bytes; {MOST_BYTES:,} is the most")
        body = self._stream.read(int(digits))
        self._stream.readline()
        return head + digits + body

    def close(self) -> None:
        self._stream.close()
        self._socket.close()


def take(host: str, port: int, circuit: Circuit) -> Capture:
    """Run the scope at the address and read all its lanes. Raises BadOption for an address that is not loopback,
    BadCapture when nothing answers or what answers does not fit the circuit."""
    if host not in LOOPBACK_HOSTS:
        raise BadOption(f"address {host!r}: only instruments on this machine can be read ({', '.join(LOOPBACK_HOSTS)})")
    if not 1 <= port <= 65_535:
        raise BadOption(f"port {port}: 1 to 65535")
    try:
        line = _Line(host, port)
    except OSError as problem:
        raise BadCapture(f"no instrument answers at {host} port {port}: {problem.strerror or problem}") from None
    try:
        return _taken(line, circuit)
    except (OSError, ValueError) as problem:
        raise BadCapture(f"the instrument at {host} port {port} broke off: {problem}") from None
    finally:
        line.close()


def _taken(line: _Line, circuit: Circuit) -> Capture:
    line.tell("*CLS;RUN")
    if line.ask("*OPC?") != "1":
        raise BadCapture("the instrument did not finish its record")
    problem = line.ask("SYST:ERR?")
    if not problem.startswith("0,"):
        raise BadCapture(f"the instrument says: {problem}")
    known = {lane.name: lane for lane in circuit.lanes}
    lanes: dict[str, Lane] = {}
    for name in line.ask("CHAN:LIST?").split(","):
        if name not in known:
            continue
        line.tell(f"WAV:SOUR {name}")
        lanes[name] = Lane(name, lanes_as_floats(line.block("WAV:DATA?")), known[name].unit, f"instrument {name}")
    if not lanes:
        raise BadCapture(f"the instrument shows no lane of {circuit.title.lower()}; set it to that circuit")
    interval, start = float(line.ask("WAV:INT?")), float(line.ask("WAV:STAR?"))
    return Capture(lanes, interval, start, next(iter(lanes.values())).samples.size)
