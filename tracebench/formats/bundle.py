"""A bundle: references as files that any tool can open, in a zip that is a Frictionless Data Package.

`datapackage.json` tells what is in it, with a table schema for each table. `captures/<name>.parquet` (or .csv) holds
the samples of a capture, `references/<uid>.json` a sheet (schema in docs/bundle.schema.json), `references/<uid>.svg`
its strip, and `readings.csv` the readings of all sheets. Written and read by the standard library and pyarrow; the
package as the Data Package standard 1.0 of Open Knowledge has it.
"""

from __future__ import annotations

import csv
import io
import json
import re
import tempfile
import zipfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tracebench.core.capture import Capture
from tracebench.core.errors import BadFile
from tracebench.core.samples import Samples
from tracebench.formats import archive, arrow, delimited
from tracebench.formats.cells import harmless

PROFILE = "trace-bench-bundle"
SCHEMA = 1
"""Of the sheets: a later one that adds fields keeps this number, one that changes their sense does not."""

PACKAGE, READINGS = "datapackage.json", "readings.csv"
MOST_JSON = 20_000_000
MOST_VERSIONS = 100_000
NAME = re.compile(r"[0-9a-f]{32}")

READING_FIELDS = (
    ("reference", "string"),
    ("version", "integer"),
    ("reading", "string"),
    ("value", "number"),
    ("unit", "string"),
    ("uncertainty", "number"),
    ("from_s", "number"),
    ("to_s", "number"),
    ("lane", "string"),
    ("cylinder", "integer"),
    ("cycle", "integer"),
)

Sheet = Mapping[str, Any]
SAMPLES = {"parquet": (arrow.write, "application/vnd.apache.parquet"), "csv": (delimited.write, "text/csv")}


@dataclass
class Writer:
    """Writes a bundle, sheet by sheet; what is not closed is no bundle."""

    archive: zipfile.ZipFile
    samples: str = "parquet"
    _resources: list[dict[str, Any]] = field(default_factory=list)
    _kept: set[str] = field(default_factory=set)
    _readings: list[list[Any]] = field(default_factory=list)

    def capture(self, name: str, capture: Capture) -> None:
        """Samples of a capture, once however many sheets show it."""
        if name in self._kept:
            return
        self._kept.add(name)
        path = f"captures/{name}.{self.samples}"
        write, kind = SAMPLES[self.samples]
        with tempfile.TemporaryDirectory() as folder:
            own = Path(folder) / "samples"
            write(own, capture)
            # Parquet is packed already.
            self.archive.write(own, path, zipfile.ZIP_STORED if self.samples == "parquet" else zipfile.ZIP_DEFLATED)
        names = ["time (s)", *(f"{x.name} ({x.unit})" for x in capture.lanes.values())]
        if self.samples == "parquet":
            names = ["time", *capture.lanes]
        fields = [{"name": n, "type": "number"} for n in names]
        told = {"name": f"capture-{name}", "path": path, "format": self.samples, "mediatype": kind}
        self._resources.append({**told, "schema": {"fields": fields}})

    def sheet(self, sheet: Sheet, picture: str) -> None:
        """A reference with its strip as a picture."""
        uid = sheet["uid"]
        text = json.dumps(sheet, ensure_ascii=False, allow_nan=False, indent=1, sort_keys=True)
        self.archive.writestr(f"references/{uid}.json", text, zipfile.ZIP_DEFLATED)
        self.archive.writestr(f"references/{uid}.svg", picture, zipfile.ZIP_DEFLATED)
        for ending, kind in (("json", "application/json"), ("svg", "image/svg+xml")):
            path = f"references/{uid}.{ending}"
            told = {"name": f"reference-{uid}-{ending}", "path": path, "format": ending, "mediatype": kind}
            self._resources.append({**told, "title": sheet["title"]})
        for version in sheet["versions"]:
            for r in version["answer"]["readings"]:
                placed = [r[key] for key in ("id", "value", "unit", "uncertainty", "from", "to", "lane", "cylinder")]
                self._readings.append([uid, version["version"], *placed, r["cycle"]])

    def close(self, title: str, made_at: str) -> None:
        """The table of readings and the package's own description."""
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\n")
        rows.writerow([name for name, _ in READING_FIELDS])
        rows.writerows([harmless(cell) for cell in row] for row in self._readings)
        self.archive.writestr(READINGS, out.getvalue(), zipfile.ZIP_DEFLATED)
        fields = [{"name": name, "type": kind} for name, kind in READING_FIELDS]
        table = {"name": "readings", "path": READINGS, "format": "csv", "mediatype": "text/csv"}
        package = {
            "name": PROFILE,
            "title": title,
            "created": made_at,
            "bundle": {"profile": PROFILE, "schema": SCHEMA},
            "resources": [*self._resources, {**table, "schema": {"fields": fields, "missingValues": [""]}}],
        }
        text = json.dumps(package, ensure_ascii=False, indent=1)
        self.archive.writestr(PACKAGE, text, zipfile.ZIP_DEFLATED)


@contextmanager
def writing(path: Path, samples: str, title: str, made_at: str) -> Iterator[Writer]:
    """A bundle that is whole when the block ends, and not there when it breaks off."""
    try:
        with zipfile.ZipFile(path, "w") as out:
            writer = Writer(out, samples)
            yield writer
            writer.close(title, made_at)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def is_bundle(names: Iterable[str]) -> bool:
    return PACKAGE in names


def sheets(path: Path) -> list[Sheet]:
    """The sheets of a bundle. Raises BadFile that says what is wrong with it."""
    with archive.opened(path) as found:
        told = _json(found, PACKAGE).get("bundle")
        if not isinstance(told, dict) or told.get("profile") != PROFILE:
            raise BadFile("this data package is no bundle of references; bring its files in one by one", 1)
        if told.get("schema") != SCHEMA:
            raise BadFile(f"this bundle is of schema {told.get('schema')!r}; this version reads {SCHEMA}", 1)
        names = [n for n in found.namelist() if re.fullmatch(r"references/[0-9a-f]{32}\.json", n)]
        return [_sheet(found, name) for name in names]


def lanes(path: Path, name: str, wanted: Sequence[str]) -> list[Samples]:
    """The samples of a capture of a bundle, lane by lane. Raises BadFile."""
    with archive.opened(path) as found, tempfile.TemporaryDirectory() as folder:
        member = next((m for m in (f"captures/{name}.{e}" for e in SAMPLES) if m in found.namelist()), None)
        if member is None or not NAME.fullmatch(name):
            raise BadFile(f"the bundle lacks the samples of capture {name[:40]}", 1)
        own = Path(folder) / "samples"
        with own.open("wb") as out:
            archive.Budget().copy(found, found.getinfo(member), out, lambda: None)
        kind = arrow if member.endswith("parquet") else delimited
        layout = kind.understand(own)
        positions = {c.name: c.position for c in layout.value_columns}
        lacking = [lane for lane in wanted if lane not in positions]
        if lacking:
            raise BadFile(f"the bundle tells wrongly of capture {name}: it has no lane {lacking[0]!r}", 1)
        table = kind.read(own, layout, [positions[lane] for lane in wanted])
        return [table.values[positions[lane]] for lane in wanted]


TEXTS = ("uid", "circuit", "title", "state", "capture", "author", "created_at", "changed_at")


def _sheet(found: zipfile.ZipFile, name: str) -> Sheet:
    sheet = _json(found, name)
    wrong = [key for key in TEXTS if not isinstance(sheet.get(key), str)]
    wrong += [
        key
        for key, kind in (("document", dict), ("captures", dict), ("versions", list))
        if not isinstance(sheet.get(key), kind)
    ]
    if not wrong and name != f"references/{sheet['uid']}.json":
        wrong = ["uid"]
    versions = sheet["versions"] if isinstance(sheet.get("versions"), list) else []
    if not all(isinstance(v, dict) and isinstance(v.get("document"), dict) for v in versions):
        wrong.append("versions")
    elif not _numbered([v.get("version") for v in versions]):
        raise BadFile(f"{name}: versions are numbered from 1 to {MOST_VERSIONS:,}, each number once", 1)
    if wrong:
        raise BadFile(f"{name}: not as a sheet is written: {', '.join(dict.fromkeys(wrong))}", 1)
    return sheet


def _numbered(numbers: list[Any]) -> bool:
    whole = all(type(n) is int and 1 <= n <= MOST_VERSIONS for n in numbers)
    return whole and len(set(numbers)) == len(numbers)


def _json(found: zipfile.ZipFile, name: str) -> dict[str, Any]:
    try:
        entry = found.getinfo(name)
        if entry.file_size > MOST_JSON:
            raise BadFile(f"{name} is larger than such a file can be", 1)
        with found.open(entry) as stream:
            value = json.loads(stream.read(MOST_JSON + 1))
    except KeyError:
        raise BadFile(f"the bundle lacks {name}", 1) from None
    except (ValueError, RecursionError):
        raise BadFile(f"{name} is not JSON", 1) from None
    if not isinstance(value, dict):
        raise BadFile(f"{name}: expected an object", 1)
    return value
