"""Calls that a broken client or somebody with bad intent sends: bodies by the API's own description, filled oddly."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from typing import Any

from tests.support.client import CIRCUIT, EMPTY_DOCUMENT, Caller

TEXTS = (
    "",
    "x" * 70_000,
    "\ud800",
    "a\x00b",
    "٣",
    "-1e400",
    "../../etc/passwd",
    "' OR 1=1 --",
    "<b>",
    "\u202e",
    " " * 5000,
)
NUMBERS = (0, -1, 1e308, -1e308, 1e-320, 10**40, float("nan"), float("inf"), 2**63, 0.1, 3)
OTHERS = (None, [], {}, [[]], True, [1e308] * 50, {"a": {"b": []}})


class OddCalls:
    """Draws calls from an OpenAPI description; `ids` are real ones, used for half of the path's numbers."""

    def __init__(self, spec: dict[str, Any], ids: list[int], seed: int, oddness: float = 0.05) -> None:
        self.spec, self.ids, self.random, self.oddness = spec, ids, random.Random(seed), oddness

    def calls(self, count: int) -> Iterator[tuple[str, str, bytes | None]]:
        """Method, path with query, and body."""
        operations = [
            (method.upper(), path, told)
            for path, methods in self.spec["paths"].items()
            for method, told in methods.items()
            if method in ("get", "post", "put", "patch", "delete")
        ]
        for _ in range(count):
            method, path, told = self.random.choice(operations)
            yield method, self._path(path, told), self._body(told)

    def _path(self, path: str, told: dict[str, Any]) -> str:
        parts = []
        for part in path.split("/"):
            if not part.startswith("{"):
                parts.append(part)
            elif "id" in part or self.random.random() < 0.5:
                parts.append(str(self.random.choice([*self.ids, 0, 99_999_999_999])))
            else:
                parts.append(self.random.choice(("throttle-position", "signal", "%00", "x" * 300, "..%2f", "9")))
        query = [p for p in told.get("parameters", []) if p.get("in") == "query"]
        odd = "&".join(
            f"{p['name']}={self.random.choice(('', '1e308', 'nan', '%ff', 'x' * 400, '-1', '0'))}" for p in query
        )
        return "/".join(parts) + (f"?{odd}" if odd else "")

    def _body(self, told: dict[str, Any]) -> bytes | None:
        content = told.get("requestBody", {}).get("content", {})
        if "application/json" not in content:
            return None
        if self.random.random() < 0.05:
            return b"[" * 4000 + b"]" * 4000
        if self.random.random() < 0.03:
            return self.random.choice((b"", b"{", b"\xff\xfe", b'{"a":', b"1", b"null", b'"x"'))
        # Lone surrogates and NaN go out as any careless client's JSON would have them.
        return json.dumps(self._value(content["application/json"]["schema"], 0)).encode()

    def _value(self, schema: dict[str, Any], depth: int) -> Any:
        if self.random.random() < self.oddness:
            return self.random.choice((*TEXTS, *NUMBERS, *OTHERS))
        if "$ref" in schema:
            schema = self.spec["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
        for key in ("allOf", "anyOf", "oneOf"):
            if key in schema:
                return self._value(self.random.choice(schema[key]), depth)
        if "enum" in schema:
            return self.random.choice(schema["enum"])
        kind = schema.get("type")
        if isinstance(kind, list):
            kind = self.random.choice(kind)
        if kind == "object" and depth < 6:
            return {k: self._value(v, depth + 1) for k, v in schema.get("properties", {}).items()}
        if kind == "array" and depth < 6:
            return [self._value(schema.get("items", {}), depth + 1) for _ in range(self.random.randrange(4))]
        if kind in ("integer", "number"):
            return self.random.choice((*self.ids, *NUMBERS))
        if kind == "boolean":
            return self.random.random() < 0.5
        return self.random.choice(("closed_v", "throttle-position", "2026-03-01", "maker", "call", *TEXTS))


def sent(who: Caller, method: str, path: str, body: bytes | None) -> int | None:
    """The status of a call, None for one that would only sign the caller out or close accounts."""
    if (path.startswith("/api/session") and method != "GET") or (path.startswith("/api/people") and method == "PATCH"):
        return None
    headers = {"X-CSRFToken": who.csrf, "Content-Type": "application/json"}
    return who.client.open(path, method=method, data=body, headers=headers).status_code


def brought_in(who: Caller, content: bytes) -> list[int]:
    """The statuses of sending a file, importing it, and making a reference of it, as far as that goes."""
    got = who.upload(content)
    statuses = [got.status_code]
    if got.status_code == 201:
        body = {
            "upload_id": got.json["upload_id"],
            "circuit": CIRCUIT,
            "mapping": got.json["mapping"],
            "interval_s": None if got.json["layout"]["time_known"] else 0.001,
        }
        kept = who.post("/api/captures", body)
        statuses.append(kept.status_code)
        if kept.status_code == 201:
            document = {"capture_id": kept.json["capture"]["id"], "title": "Odd", "document": EMPTY_DOCUMENT}
            made = who.post("/api/references", document)
            statuses += [made.status_code, who.get(f"/api/references/{made.json.get('id', 0)}").status_code]
    return statuses


def odd_files(seed: int) -> Iterator[tuple[str, bytes]]:
    """Files that are nearly captures, by what is odd about them."""
    drawn = random.Random(seed)
    rows = "".join(f"{k / 1000:.3f},{1 + k % 7 / 10:.2f}\n" for k in range(400))
    yield "a long cell", b"time (s),A (V)\n" + b"9" * 200_000 + b",1\n" + rows.encode()
    yield "a long quoted cell", b'time (s),"' + b"a" * 200_000 + b'"\n' + rows.encode()
    yield "blanks in the header", b"time" + b" " * 60_000 + b"(s),A (V)\n" + rows.encode()
    yield "brackets in the header", b"(" * 30_000 + b",A (V)\n" + rows.encode()
    yield "digits without end", b"time (s),A (V)\n0," + b"1" * 60_000 + b"x\n" + rows.encode()
    yield "digits and points", b"time (s),A (V)\n0," + b"1." * 30_000 + b"\n" + rows.encode()
    yield "exponents", b"time (s),A (V)\n" + b"".join(b"%d,1e308\n" % k for k in range(200))
    yield "tiny steps", b"time (s),A (V)\n" + b"".join(b"%de-320,1\n" % k for k in range(200))
    yield "times apart", b"time (s),A (V)\n" + b"".join(b"%de300,1\n" % k for k in range(200))
    yield "an interval of nothing", b"Sample interval;" + b"0" * 50_000 + b";us\nA;B\n" + b"1;2\n" * 300
    yield "an interval beyond", b"Sample interval;1e308;s\nA;B\n" + b"1;2\n" * 300
    yield "columns by the thousand", b",".join(b"c%d" % k for k in range(5000)) + b"\n" + b"1,2\n" * 50
    yield "a lone quote", b'time (s),A (V)\n0,"1\n' + rows.encode()
    yield "odd bytes", bytes(drawn.randrange(256) for _ in range(5000))
    yield "wide text", "Zeit (s);Kanal (V)\n0;1\n".encode("utf-16") + rows.encode("utf-16")
    yield "nothing but ends", b"\r\n" * 5000
    yield "one row", b"time (s),A (V)\n0,1\n"
    yield "not a number", b"time (s),A (V)\n" + b"".join(b"%d,nan\n" % k for k in range(200))
    base = bytearray(b"time (s),A (V)\n" + rows.encode())
    for k in range(60):
        mutated = bytearray(base)
        for _ in range(drawn.randrange(1, 30)):
            at = drawn.randrange(len(mutated))
            if drawn.random() < 0.5:
                mutated[at] = drawn.randrange(256)
            else:
                mutated[at:at] = drawn.choice((b"\x00", b'"', b",,", b";", b"e", b"\xff", b"\n\n", b"-" * 200))
        yield f"mutated {k}", bytes(mutated)
