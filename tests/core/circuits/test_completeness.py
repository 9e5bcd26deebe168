"""A circuit is all there: what a new one still lacks is named, with the place where it belongs."""

import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

from tests.support.rooms import fact
from tracebench import circuits
from tracebench.bench.sources import SOURCES
from tracebench.core.circuits import CIRCUITS
from tracebench.demo.shelf import ready, references

TESTS = Path(__file__).parents[2]
ROOMS = Path(circuits.__file__).parent
FILES = {
    "circuit": "CIRCUIT, what is declared of it",
    "measuring": "measure, what is peculiar to measuring it",
    "look": "LOOKS, how a file of it looks",
    "source": "SOURCE, what the trainer makes of it",
    "shelf": "REFERENCES for the demo's shelf and READY for its ready cards",
}


def tested(code: str) -> bool:
    """True if a test, other than those that go over all circuits, measures captures of its own of this one."""
    own = any((TESTS / "circuits" / code.replace("-", "_")).glob("test_*.py"))
    return own or any(f'"{code}"' in p.read_text() for p in (TESTS / "core" / "circuits").glob("test_*.py"))


def of_circuit(code: str) -> list[tuple[str, bool]]:
    kind, proof = CIRCUITS[code], CIRCUITS[code].proof
    return [
        ("its folder's name as the code of its CIRCUIT", kind.code == code),
        (
            "what shows it sound: proof in its CIRCUIT",
            bool(proof.phases or proof.events or proof.turns or proof.steady_s),
        ),
        ("cautions in its CIRCUIT", bool(kind.cautions)),
        ("advice for setting up in its CIRCUIT", bool(kind.setup_advice)),
        ("causes of its own beside those of every circuit", len(kind.causes) > 3),
    ]


def of_shelf(code: str) -> list[tuple[str, bool]]:
    shown = [r.part["fault"] for r in references(code)]
    enough = "none" in shown and sum(fault != "none" for fault in shown) >= 2
    return [("references in its shelf.py: one sound, two with a fault", enough)]


def of_source(code: str) -> list[tuple[str, bool]]:
    faults = {f.key for f in SOURCES[code].faults} - {"none"}
    played = {ready(code).plain[0], ready(code).hard[0]}
    called = set(fact(code, "EXPECTED", ()))
    return [
        ("its folder's name as the code of its SOURCE", SOURCES[code].code == code),
        ("scenarios with faults of its source in READY", played <= faults),
        ("EXPECTED in its facts.py: what each fault of its source must be called", called == faults),
    ]


ASKED = (({"circuit", "measuring"}, of_circuit), ({"shelf"}, of_shelf), ({"source", "shelf"}, of_source))
"""What is asked of a folder, and the files that it takes to ask."""


def lacking(code: str, rooms: Path = ROOMS) -> list[str]:
    """All that a circuit lacks: files, and what is not in those that are there."""
    room = rooms / code.replace("-", "_")
    there = {file for file in FILES if (room / f"{file}.py").exists()}
    facts = (TESTS / "circuits" / room.name / "facts.py").exists()
    return [
        *(f"{room.name}/{file}.py: {what}" for file, what in FILES.items() if file not in there),
        *(what for needed, ask in ASKED if needed <= there and facts for what, right in ask(code) if not right),
        *([] if tested(code) else ["a test of its own in tests/circuits or tests/core/circuits"]),
        *([] if facts else [f"tests/circuits/{room.name}/facts.py: EXPECTED, SETUP, EXCUSED"]),
        *(["SETUP in its facts.py: how each set-up finding is provoked"] if facts and not fact(code, "SETUP") else []),
    ]


class Complete(unittest.TestCase):
    def test_nothing_is_lacking(self):
        missing = [f"{code} lacks {what}" for code in CIRCUITS for what in lacking(code)]
        self.assertFalse(missing, "\n".join(missing))

    def test_all_that_is_lacking_is_named_at_once(self):
        with TemporaryDirectory() as empty:
            (Path(empty) / "odd_one").mkdir()
            (Path(empty) / "odd_one" / "look.py").touch()
            # Put together, as a test that quotes a code counts as one of it.
            told = lacking("-".join(("odd", "one")), Path(empty))
        self.assertEqual([what.split(":")[0] for what in told[:4]], [f"odd_one/{f}.py" for f in FILES if f != "look"])
        self.assertEqual(len(told), 6)
