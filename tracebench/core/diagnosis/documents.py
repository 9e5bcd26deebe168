"""A case from its JSON document: every key, id and place is known, or one line says which is not."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.diagnosis import vehicle as of
from tracebench.core.diagnosis.case import CONDITIONS, WHENS, Case, Code
from tracebench.core.diagnosis.causes import vehicle_causes
from tracebench.core.diagnosis.evidence import Answered, Seen, Token, numbers_in, of_answer, of_rows
from tracebench.core.diagnosis.kinds import KINDS
from tracebench.core.diagnosis.offers import CONDITION_MIN, PLACES, RECORD_CODES, RECORD_MIN, SWAPPED, Place
from tracebench.core.diagnosis.symptoms import CODE_GROUPS, SYMPTOMS
from tracebench.core.diagnosis.vehicle import Vehicle
from tracebench.core.errors import BadCase, BadOption
from tracebench.core.json_fields import Fields, fields, listed, number_within, one_of, whole
from tracebench.core.records.judging import checked
from tracebench.core.records.kinds import Rows

_KEYS = ("vehicle", "complaint", "renewed", "codes", "costs", "evidence")
_VEHICLE = (
    "fuel",
    "cylinders",
    "firing_order",
    "ignition",
    "injection",
    "throttle",
    "load_sensor",
    "oxygen",
    "charging",
    "feeds",
)
_EVIDENCE = ("test", "conditions", "at", "answer", "rows")
_PARTS = (
    *dict.fromkeys(k.part for k in KINDS.values() if k.part),
    "throttle",
    "pedal",
    "module",
    "relay",
    "fuse",
    "battery",
    "belt",
    "wiring",
)
_WHATS = ("low", "high", "implausible", "intermittent")
MOST_EVIDENCE = Count(100, "pieces", "Nobody measures more on one vehicle; keeps a case answered at once")
MOST_MINUTES = Threshold(10_000.0, "min", "More than a week of work is no cost of a test")


def case_from(document: object) -> Case:
    """The case of a document. Raises BadCase that names the field."""
    top = _known(fields(document, "case", BadCase), _KEYS, "case")
    if "vehicle" not in top:
        raise BadCase("case: vehicle is missing")
    vehicle = vehicle_from(top["vehicle"])
    complaint = _known(fields(top.get("complaint", {}), "complaint", BadCase), ("symptoms", "when"), "complaint")
    return Case(
        vehicle,
        _words(complaint.get("symptoms"), SYMPTOMS, "complaint.symptoms"),
        _words(complaint.get("when"), WHENS, "complaint.when"),
        tuple(_renewed(r, k, vehicle) for k, r in enumerate(listed(top.get("renewed"), "renewed", BadCase))),
        tuple(_code(c, k, vehicle) for k, c in enumerate(listed(top.get("codes"), "codes", BadCase))),
        _costs(top.get("costs", {})),
        tuple(_seen(e, k, vehicle) for k, e in enumerate(_pieces(top.get("evidence")))),
    )


def _pieces(value: object) -> Sequence[object]:
    pieces = listed(value, "evidence", BadCase)
    if len(pieces) > MOST_EVIDENCE:
        raise BadCase(f"evidence: {len(pieces)} pieces, and {MOST_EVIDENCE} are the most")
    return pieces


def _known(given: Fields, keys: Sequence[str], where: str) -> Fields:
    for key in given:
        if key not in keys:
            raise BadCase(f"{where}: unknown key {key!r}; known: {', '.join(keys)}")
    return given


def _words(value: object, known: Sequence[str], where: str) -> tuple[str, ...]:
    return tuple(one_of(w, known, f"{where}[{k}]", BadCase) for k, w in enumerate(listed(value, where, BadCase)))


def vehicle_from(document: object) -> Vehicle:
    """The vehicle of a document; what is not told is the plainest. Raises BadCase."""
    given = _known(fields(document, "vehicle", BadCase), _VEHICLE, "vehicle")
    for key in ("fuel", "cylinders", "ignition", "injection"):
        if key not in given:
            raise BadCase(f"vehicle: {key} is missing")

    def word(key: str, known: Sequence[str]) -> str:
        return one_of(given.get(key, known[0]), known, f"vehicle.{key}", BadCase)

    return Vehicle(
        word("fuel", of.FUELS),
        whole(given["cylinders"], of.CYLINDERS[0], of.CYLINDERS[-1], "vehicle.cylinders", BadCase),
        word("ignition", of.IGNITIONS),
        word("injection", of.INJECTIONS),
        _order(given.get("firing_order")),
        word("throttle", of.THROTTLES),
        _words(given.get("load_sensor"), of.LOAD_SENSORS, "vehicle.load_sensor"),
        one_of(given.get("oxygen", "none"), of.OXYGENS, "vehicle.oxygen", BadCase),
        word("charging", of.CHARGINGS),
        tuple(_feeds(given.get("feeds", {}))),
    )


def _order(value: object) -> tuple[int, ...]:
    if value is None:
        return ()
    parts = (
        value.split("-") if isinstance(value, str) else [str(v) for v in listed(value, "vehicle.firing_order", BadCase)]
    )
    if not all(p.strip().isdigit() for p in parts):
        raise BadCase(f"vehicle.firing_order: expected cylinders as 1-3-4-2, not {value!r}")
    return tuple(int(p) for p in parts)


def _feeds(value: object) -> Iterable[tuple[str, tuple[str, ...]]]:
    for name, on in fields(value, "vehicle.feeds", BadCase).items():
        if name.startswith("fuse"):
            continue
        if name != of.GROUND and not (len(name) == 1 and name.isascii() and name.isupper()):
            raise BadCase(f"vehicle.feeds: {name!r} is no feed; known: a capital letter, {of.GROUND}, fuse…")
        yield name, _words(on, of.ON_A_FEED, f"vehicle.feeds.{name}")


def _cylinders(text: str, where: str, vehicle: Vehicle) -> tuple[int, ...]:
    found = numbers_in(text)
    if not found or any(n not in vehicle.numbers for n in found):
        raise BadCase(f"{where}: {text!r} is no cylinder of {vehicle.cylinders}")
    return found


def _renewed(value: object, place: int, vehicle: Vehicle) -> str:
    where = f"renewed[{place}]"
    if not isinstance(value, str):
        raise BadCase(f"{where}: expected a part with its place, as plug@1")
    name, apart, at = value.partition("@")
    if name not in _PARTS:
        raise BadCase(f"{where}: unknown part {name!r}; known: {', '.join(dict.fromkeys(_PARTS))}")
    if apart and at not in ("track1", "track2"):
        _cylinders(at, where, vehicle)
    return value


def _code(value: object, place: int, vehicle: Vehicle) -> Code:
    where = f"codes[{place}]"
    what = ""
    if isinstance(value, Mapping):
        given = _known(value, ("code", "what"), where)
        value = given.get("code")
        what = one_of(given["what"], _WHATS, f"{where}.what", BadCase) if "what" in given else ""
    if not isinstance(value, str):
        raise BadCase(f"{where}: expected a code as misfire@1 or throttle-position:low")
    name, colon, told = value.partition(":")
    if colon:
        what = one_of(told, _WHATS, where, BadCase)
    name, apart, at = name.partition("@")
    if name != "misfire" and name not in CODE_GROUPS and name not in CIRCUITS:
        raise BadCase(f"{where}: unknown code {name!r}; known: misfire, misfire@n, circuits, {', '.join(CODE_GROUPS)}")
    return Code(name, _cylinders(at, where, vehicle)[0] if apart else None, what)


def _costs(value: object) -> dict[str, float]:
    known = (*CIRCUITS, *RECORD_MIN, *CONDITION_MIN)
    out = {}
    for key, minutes in fields(value, "costs", BadCase).items():
        one_of(key, known, "costs", BadCase)
        out[key] = number_within(minutes, 0, MOST_MINUTES, f"costs.{key}", BadCase)
    return out


def _seen(value: object, place: int, vehicle: Vehicle) -> Seen:
    where = f"evidence[{place}]"
    given = _known(fields(value, where, BadCase), _EVIDENCE, where)
    test = given.get("test")
    if not isinstance(test, str) or (test not in CIRCUITS and test not in RECORD_CODES):
        known = ", ".join((*CIRCUITS, *RECORD_CODES))
        raise BadCase(f"{where}.test: unknown test {test!r}; known: {known}")
    at = place_from(given.get("at"), f"{where}.at", vehicle)
    conditions = frozenset(_words(given.get("conditions"), CONDITIONS, f"{where}.conditions"))
    if test in CIRCUITS:
        if "answer" not in given or "rows" in given:
            raise BadCase(f"{where}: a capture has an answer, and no rows")
        answer, shown = _answer(given["answer"], test, f"{where}.answer", vehicle)
        return of_answer(test, at, conditions | shown, answer)
    if "rows" not in given or "answer" in given:
        raise BadCase(f"{where}: a record has rows, and no answer")
    return of_rows(test, at, conditions, _rows(test, given["rows"], f"{where}.rows", vehicle))


def place_from(value: object, where: str, vehicle: Vehicle) -> Place:
    """The place that `at` names. Raises BadCase."""
    if value is None:
        return Place()
    text = str(value) if isinstance(value, int) and not isinstance(value, bool) else value
    if not isinstance(text, str):
        raise BadCase(f"{where}: expected a place as 2, coil@2, throttle or A")
    name, apart, at = text.partition("@")
    if not apart and name[:1].isdigit():
        return Place("", _cylinders(name, where, vehicle))
    if name in ("track1", "track2") and not apart:
        return Place("pedal")
    if name not in (*PLACES, *vehicle.feeds, of.GROUND):
        known = ", ".join(dict.fromkeys((*PLACES, *vehicle.feeds, of.GROUND)))
        raise BadCase(f"{where}: unknown place {name!r}; known: a cylinder, {known}")
    if at in ("track1", "track2") and name == "pedal":
        return Place(name)
    return Place(name, _cylinders(at, where, vehicle) if apart else ())


def _answer(value: object, test: str, where: str, vehicle: Vehicle) -> tuple[Answered, frozenset[str]]:
    given = fields(value, where, BadCase)
    call = one_of(given.get("call"), ("sound", "faulty", "inconclusive"), f"{where}.call", BadCase)
    known = {f.code for f in (*CIRCUITS[test].findings, *SETUP_FINDINGS)}
    tokens, lanes = [], {lane.name for lane in CIRCUITS[test].lanes}
    for k, finding in enumerate(listed(given.get("findings"), f"{where}.findings", BadCase)):
        one = fields(finding, f"{where}.findings[{k}]", BadCase)
        code = one.get("code")
        if not isinstance(code, str) or code not in known:
            raise BadCase(f"{where}.findings[{k}]: {test} has no finding {code!r}")
        spec = CIRCUITS[test].finding(code)
        if one.get("kind", spec.kind if spec else "set-up") != "fault":
            continue
        cylinder = one.get("cylinder")
        if cylinder is not None:
            cylinder = whole(cylinder, 1, vehicle.cylinders, f"{where}.findings[{k}].cylinder", BadCase)
        lane = one.get("lane")
        tokens.append(Token(code, cylinder, lane if isinstance(lane, str) and lane in lanes else ""))
    readings: dict[str, float] = {}
    cylinders: set[int] = set()
    for k, reading in enumerate(listed(given.get("readings"), f"{where}.readings", BadCase)):
        one = fields(reading, f"{where}.readings[{k}]", BadCase)
        value_of, number = one.get("value"), one.get("cylinder")
        if isinstance(value_of, int | float) and isinstance(one.get("id"), str):
            readings.setdefault(str(one["id"]), float(value_of))
        if isinstance(number, int) and number in vehicle.numbers:
            cylinders.add(number)
    outside = set()
    for limit in listed(given.get("limits"), f"{where}.limits", BadCase):
        one = fields(limit, f"{where}.limits", BadCase)
        if one.get("state") == "outside":
            outside.add(str(one.get("reading")))
    shown = frozenset(w for w in listed(given.get("shown"), f"{where}.shown", BadCase) if w in CONDITIONS)
    told = tuple(sorted(cylinders)) if len(cylinders) > 1 else ()
    return Answered(call, tuple(tokens), readings, frozenset(outside), told), frozenset(map(str, shown))


def _rows(kind: str, value: object, where: str, vehicle: Vehicle) -> Rows:
    try:
        rows = checked(kind, value)
    except BadOption as problem:
        raise BadCase(f"{where}: {problem}") from None
    for k, row in enumerate(rows):
        _check_row(kind, row, f"{where}[{k}]", vehicle)
    return rows


def _check_row(kind: str, row: Mapping[str, str], where: str, vehicle: Vehicle) -> None:
    if kind == "cylinder-drop":
        text = row["cylinder"]
        _cylinders(str(int(float(text))) if float(text) == int(float(text)) else text, f"{where}.cylinder", vehicle)
    elif kind == "swap":
        one_of(row["part"].lower(), SWAPPED, f"{where}.part", BadCase)
        for key in ("from_place", "to_place"):
            if row["part"].lower() in ("coil", "plug", "injector") and numbers_in(row[key]):
                _cylinders(row[key], f"{where}.{key}", vehicle)
    elif kind == "unplug-one-by-one":
        one_of(row["unplugged"], tuple(CIRCUITS), f"{where}.unplugged", BadCase)
    elif kind == "road-test":
        one_of(row["symptom"], SYMPTOMS, f"{where}.symptom", BadCase)
    elif kind == "repair":
        known = tuple(c.id for c in vehicle_causes(vehicle))
        if row["cause"] not in known:
            raise BadCase(f"{where}.cause: this vehicle has no cause {row['cause']!r}")
