"""A circuit is all there: what a new one still lacks is named, with the place where it belongs."""

import unittest
from pathlib import Path

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


def lacking(code: str) -> list[str]:
    room = ROOMS / code.replace("-", "_")
    absent = [f"{room.name}/{file}.py: {what}" for file, what in FILES.items() if not (room / f"{file}.py").exists()]
    if absent:
        return absent
    kind, source, proof = CIRCUITS[code], SOURCES[code], CIRCUITS[code].proof
    faults = {f.key for f in source.faults} - {"none"}
    shown = [r.part["fault"] for r in references(code)]
    return [
        what
        for what, there in (
            ("its own code in its CIRCUIT, its SOURCE and its folder's name", kind.code == source.code == code),
            (
                "references in its shelf.py: one sound, two with a fault",
                "none" in shown and sum(f != "none" for f in shown) >= 2,
            ),
            ("scenarios with faults of its source in READY", {ready(code).plain[0], ready(code).hard[0]} <= faults),
            ("a test of its own in tests/circuits or tests/core/circuits", tested(code)),
            ("SETUP and EXCUSED in its facts.py: how each set-up finding is provoked", bool(fact(code, "SETUP"))),
            (
                "EXPECTED in its facts.py: what each fault of its source must be called",
                set(fact(code, "EXPECTED", ())) == faults,
            ),
            (
                "what shows it sound: proof in its CIRCUIT",
                bool(proof.phases or proof.events or proof.turns or proof.steady_s),
            ),
            ("cautions in its CIRCUIT", bool(kind.cautions)),
            ("advice for setting up in its CIRCUIT", bool(kind.setup_advice)),
            ("causes of its own beside those of every circuit", len(kind.causes) > 3),
        )
        if not there
    ]


class Complete(unittest.TestCase):
    def test_nothing_is_lacking(self):
        for code in CIRCUITS:
            with self.subTest(circuit=code):
                missing = lacking(code)
                self.assertFalse(missing, f"{code} lacks " + "; ".join(missing))
