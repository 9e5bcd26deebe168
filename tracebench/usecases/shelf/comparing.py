"""Up to four references of one circuit on one strip, and what parts them."""

from __future__ import annotations

from collections.abc import Sequence

from tracebench.core.answer import JudgedLimit, Limit, Reading
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.comparison import compared
from tracebench.core.errors import BadOption
from tracebench.store.pool import Begin
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references
from tracebench.usecases.shelf.values import Comparison

MOST = 4


def compare(begin: Begin, person: Person, ids: Sequence[int]) -> Comparison:
    """References beside the first: captures and phases to lay over it, and readings in the order of what parts them.

    One of another design shows its shape only: no level limit of the first holds for it. Raises NotFound, BadOption.
    """
    person.must_be("instructor")
    wanted = list(dict.fromkeys(ids))
    if not 2 <= len(wanted) <= MOST:
        raise BadOption(f"choose two to {MOST} references to compare")
    sheets = [references.one(begin, person, reference_id) for reference_id in wanted]
    circuits = {sheet["circuit"] for sheet in sheets}
    if len(circuits) > 1:
        raise BadOption("references of one circuit can be compared; these are of " + " and ".join(sorted(circuits)))
    circuit = circuit_of(sheets[0]["circuit"])
    part = sheets[0]["document"]["provenance"]["part"].strip()
    readings = [[Reading.from_json(r) for r in sheet["answer"]["readings"]] for sheet in sheets]
    of_first = [
        JudgedLimit(
            Limit(row["reading"], row["low"], row["high"], row["basis"], row["marginal"]), row["state"], row["decides"]
        )
        for row in sheets[0]["answer"]["limits"]
    ]
    rows = compared(circuit, readings, of_first)
    return {
        "circuit": circuit.code,
        "references": [
            {
                "id": sheet["id"],
                "title": sheet["title"],
                "capture_id": sheet["capture_id"],
                "call": sheet["answer"]["call"],
                "phases": sheet["answer"]["phases"],
                "shape_only": sheet["document"]["provenance"]["part"].strip() != part,
            }
            for sheet in sheets
        ],
        "rows": [{"reading": row.reading, "values": list(row.values), "matters": row.matters} for row in rows],
    }
