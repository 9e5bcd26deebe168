"""The rubric: what share of a criterion's points answers earn that are neither right nor wrong.

Common practice, no published source; an instructor may set others on a card.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields

from tracebench.core import json_fields
from tracebench.core.errors import BadOption


@dataclass(frozen=True, slots=True)
class Rubric:
    """Shares from 0 to 1 of a criterion's points."""

    close: float = 0.5
    wrong_place: float = 0.25
    wrong_sweep: float = 0.5
    no_peg: float = 0.5
    one_off: float = 0.5
    lower_basis: float = 0.5
    instant: float = 0.5
    overstated_place: float = 0.5
    held_back: float = 0.4
    levels_cause: float = 0.5
    further_test: float = 0.5
    renewed: float = 0.5
    follow_through: float = 1.0
    call_follows: float = 0.0
    unshown: float = 1.0
    setup_finding: float = 0.25
    setup_least: float = 0.25
    condition_unmade: float = 0.5
    hint: float = 0.25

    def as_json(self) -> dict[str, float]:
        """Only the shares that are not the usual ones."""
        usual = Rubric()
        return {k: v for k, v in asdict(self).items() if v != getattr(usual, k)}


TITLES: Mapping[str, str] = {
    "close": "A reading within twice the tolerance",
    "wrong_place": "A true figure taken in another place or way, named",
    "wrong_sweep": "Another sweep of the same movement",
    "no_peg": "A right number without a peg where it was read",
    "one_off": "A comparison one step off",
    "lower_basis": "A comparison by a basis that does not decide",
    "instant": "Soundness shown by an instant, not by a whole phase or event",
    "overstated_place": "The right place under a call that overstates it",
    "held_back": "Cannot tell, where the capture decides",
    "levels_cause": "A level's own cause where a supply or ground explains it",
    "further_test": "A next test further down the list",
    "renewed": "The part renewed at once, wires not shown good",
    "follow_through": "A comparison or a result that follows from one's own wrong reading of this trace",
    "call_follows": "A call, cause or next test that follows from one's own wrong reading, wrong for the trace",
    "unshown": "A right call, its cause and next test, with nothing shown for it on the trace",
    "setup_finding": "Off the capture for each set-up finding that hides nothing",
    "setup_least": "Left of the capture however many there are",
    "condition_unmade": "A clean capture in which the complaint's condition, the learner's to make, does not show",
    "hint": "Off for a hint that was taken",
}


def rubric_from_json(value: object) -> Rubric:
    """The rubric of a card's document; shares that it does not give are the usual ones. Raises BadOption."""
    given = json_fields.fields({} if value is None else value, "rubric", BadOption)
    known = [f.name for f in fields(Rubric)]
    for key in given:
        if key not in known:
            raise BadOption(f"rubric: unknown share {key!r}; known: {', '.join(known)}")
    return Rubric(**{k: json_fields.number_within(v, 0, 1, f"rubric {k}", BadOption) for k, v in given.items()})
