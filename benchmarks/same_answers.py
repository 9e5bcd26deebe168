"""Outside answers of this state, to be held against those of another: python -m benchmarks.same_answers KEPT.json

Measures every fault of every circuit that the trainer has, under several seeds; sits every ready card rightly, with
each typical mistake and blind; takes the description of the API and of every circuit. Where KEPT.json is there already,
what differs from it is told, one line each; else the answers are kept in it. Numbers are compared as they are written.
"""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Iterator
from dataclasses import asdict, fields, replace
from pathlib import Path
from typing import Any

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture
from tracebench.core.cards.documents import card_from_json
from tracebench.core.cards.rubric import Rubric
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.grading.attempt import Taken, measured_under
from tracebench.core.grading.blind import floor_of
from tracebench.core.grading.mistakes import own_score
from tracebench.core.proposal.propose import Column, propose
from tracebench.demo.ready_cards import ready_cards
from tracebench.settings import Settings
from tracebench.usecases.cards.before_publishing import around, capture_like
from tracebench.web import create_app

SEEDS = 4
FASTEST_HZ = 200_000.0


def told(answer: Any) -> str:
    """A short word of an answer, another for any other."""
    return hashlib.blake2b(json.dumps(answer, sort_keys=True, default=str).encode(), digest_size=12).hexdigest()


def measured() -> Iterator[tuple[str, Any]]:
    for code, source in SOURCES.items():
        settings = ScopeSettings(
            source.range_v, min(source.manoeuvres[0].duration_s, 12.0), min(source.rate_hz, FASTEST_HZ)
        )
        for fault in source.faults:
            for seed in range(SEEDS):
                capture = record(code, settings, seed, part={"fault": fault.key, "severity": 1.0 - 0.1 * seed})
                yield f"measure {code} {fault.key} {seed}", measure(capture, code).as_json()
                if seed == 0:
                    yield f"propose {code} {fault.key}", proposed(capture)


def proposed(capture: Capture) -> list[Any]:
    columns = [Column(f"column {k}", "", lane.samples) for k, lane in enumerate(capture.lanes.values())]
    return [asdict(p) for p in propose(columns, capture.interval_s)]


def graded() -> Iterator[tuple[str, Any]]:
    for _, _, document in ready_cards():
        card = replace(card_from_json(document), rubric=Rubric())
        capture = capture_like(card)
        taken = {"first": Taken(measured_under(card, "first", capture), card.ground_wanted("first"))}
        name = f"{card.first.circuit.code} {card.title}"
        own = own_score(card, taken)
        yield f"grade {name}", [own.right, [(m.key, m.cost, m.where) for m in own.mistakes]]
        yield f"blind {name}", floor_of(card, taken, around(card, capture))


def described() -> Iterator[tuple[str, Any]]:
    app = create_app(Settings("127.0.0.1", 0, "none", "none", "none", "none", Path(), Path()))
    with app.test_request_context():
        yield "API", app.spec
    for code, kind in CIRCUITS.items():
        yield f"circuit {code}", {f.name: repr(getattr(kind, f.name)) for f in fields(kind) if f.name != "measure"}


def main(kept: Path) -> int:
    answers = {}
    for part in (described, measured, graded):
        for name, answer in part():
            answers[name] = told(answer)
        print(f"{len(answers)} answers", flush=True)
    if not kept.exists():
        kept.write_text(json.dumps(answers, indent=0))
        return 0
    before = json.loads(kept.read_text())
    other = sorted(n for n in {*before, *answers} if before.get(n) != answers.get(n))
    for name in other:
        print("differs:", name)
    print(f"{len(other)} of {len(answers)} differ")
    return 1 if other else 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
