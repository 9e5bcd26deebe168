"""A circuit is all there: what a new one still lacks is named, with the place where it belongs."""

import unittest
from pathlib import Path

from tests.core.circuits.test_setup_of_every_circuit import TABLE
from tests.support.variations import EXPECTED
from tracebench.bench.circuits import SOURCES
from tracebench.core.circuits import CIRCUITS
from tracebench.demo.cast import REFERENCES
from tracebench.demo.event_cast import EVENT_REFERENCES
from tracebench.demo.shelf_cast import SENSOR_REFERENCES

HERE = Path(__file__).parent
SHELF = [(r.circuit, r.part["fault"]) for r in (*REFERENCES, *EVENT_REFERENCES, *SENSOR_REFERENCES)]
"""Circuit and fault of every reference of the demo."""


def tested(code: str) -> bool:
    """True if a test of the circuits, other than those that go over all of them, measures captures of its own."""
    return any(f'CODE = "{code}"' in p.read_text() or f'"{code}"' in p.read_text() for p in HERE.glob("test_*.py"))


def lacking(code: str) -> list[str]:
    kind = CIRCUITS[code]
    source = SOURCES.get(code)
    faults = {f.key for f in source.faults} - {"none"} if source is not None else set()
    proof = kind.proof
    return [
        what
        for what, there in (
            ("a source for the trainer in tracebench/bench/circuits, listed in SOURCES there", source is not None),
            (
                "references of the demo in tracebench/demo/shelf_cast.py or event_cast.py: one sound, two with a fault",
                (code, "none") in SHELF and sum(c == code and f != "none" for c, f in SHELF) >= 2,
            ),
            ("a test of its own in tests/core/circuits", tested(code)),
            ("its rows of set-up findings in TABLE of test_setup_of_every_circuit.py", code in TABLE),
            (
                "what its trainer faults must be called in EXPECTED of tests/support/variations.py: "
                + ", ".join(sorted(faults - set(EXPECTED.get(code, {})))),
                not faults or code in EXPECTED,
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
