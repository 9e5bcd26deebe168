"""The tool against two markers, on sittings that were marked by the rules before the code was written."""

import unittest

from tests.marked.sittings import SITTINGS
from tests.support.agreement import weighted_kappa
from tracebench.core.cards.answers import answers_from_json
from tracebench.core.cards.documents import card_from_json
from tracebench.core.grading.attempt import Attempt, Taken, measured_under
from tracebench.core.grading.grade import grade

WORST, SLIPS_NAMED = 0.93, 0.95


def marked(sitting):
    """The tool's results of one sitting, by criterion."""
    card = card_from_json(sitting.document)
    answers = answers_from_json(card, sitting.answers)
    taken = {"first": Taken(measured_under(card, "first", sitting.capture()))}
    return {r["criterion"]: r for r in grade(Attempt(card, answers, taken))["results"]}


class AgainstTwoMarkers(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = [(s, marked(s)) for s in SITTINGS]

    def marks(self, marker):
        """Pairs of marks: a marker's and the tool's, with the sitting and the criterion."""
        for sitting, results in self.found:
            for criterion, mark in sitting.marks.items():
                theirs = mark[marker] if isinstance(mark, tuple) else mark
                yield sitting.name, criterion, theirs, results[criterion]

    def test_it_marks_as_either_of_them_would(self):
        kappas = {}
        for marker in (0, 1):
            rows = list(self.marks(marker))
            for name, criterion, theirs, ours in rows:
                if abs(theirs - ours["score"]) > 0.01 and marker == 0:
                    print(f"  {name} / {criterion}: marker {theirs:g}, tool {ours['score']:g}: {ours['reason']}")
            kappas[marker] = weighted_kappa([r[2] for r in rows], [r[3]["score"] for r in rows])
        both = [m for s in SITTINGS for m in s.marks.values()]
        pair = [m if isinstance(m, tuple) else (m, m) for m in both]
        kappas["markers"] = weighted_kappa([float(a) for a, _ in pair], [float(b) for _, b in pair])
        told = ", ".join(f"{k}: {v:.3f}" for k, v in kappas.items())
        print(f"\nagreement on {len(both)} marks of {len(SITTINGS)} sittings, kappa by marker: {told}")
        for marker in (0, 1):
            self.assertGreater(kappas[marker], WORST)

    def test_slips_are_named(self):
        wanted = [(s.name, c, slip, results[c]["slip"]) for s, results in self.found for c, slip in s.slips.items()]
        missed = [row for row in wanted if row[2] != row[3]]
        print(f"\n{len(wanted) - len(missed)} of {len(wanted)} slips named; not: {missed}")
        self.assertGreaterEqual(1 - len(missed) / len(wanted), SLIPS_NAMED)

    def test_no_slip_is_named_where_the_mark_is_full(self):
        for sitting, results in self.found:
            for criterion, mark in sitting.marks.items():
                if mark == 1 and criterion not in sitting.slips:
                    self.assertIsNone(results[criterion]["slip"], (sitting.name, criterion))

    def test_there_are_forty_sittings_of_twelve_circuits(self):
        self.assertGreaterEqual(len(SITTINGS), 40)
        self.assertGreaterEqual(len({s.circuit for s in SITTINGS}), 12)
