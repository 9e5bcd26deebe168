"""Records that are no traces: what they hold and what they say. CP: common practice, no published source."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.core.grading.built import DROPOUT, measured
from tracebench.core.answer import Finding
from tracebench.core.errors import BadOption
from tracebench.core.records.judging import checked, judged
from tracebench.core.records.kinds import KINDS

WORD = st.text(max_size=8)


def said(kind, rows, findings=()):
    return judged(kind, checked(kind, rows), measured(findings))


def codes(result):
    return [f[0] for f in result.findings]


def drops(*values):
    return [{"cylinder": k + 1, "before_rpm": 800, "disabled_rpm": 800 - v} for k, v in enumerate(values)]


def ohms(value, low="", high="", unit="kohm"):
    return [{"terminals": "pin to body", "value": value, "unit": unit, "low": low, "high": high}]


def volts(point, value, loaded="yes", state="key on"):
    return [{"point": point, "volts": value, "loaded": loaded, "state": state}]


class Checking(unittest.TestCase):
    def test_row_and_column_are_named(self):
        for kind, rows, words in (
            ("cylinder-drop", [{"cylinder": "1", "before_rpm": "fast", "disabled_rpm": "1"}], "row 1: Speed before"),
            ("cylinder-drop", [*drops(5), {"cylinder": "2"}], "row 2: Speed before is missing"),
            ("resistance", ohms("-3"), "a number or 'infinite'"),
            ("voltage", volts("roof", 5), "Point must be one of"),
            ("log", [], "1 to 200 rows"),
            ("log", ["x"], "row 1"),
            ("magic", drops(1), "unknown kind"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadOption, words):
                checked(kind, rows)

    def test_a_decimal_comma_is_a_decimal_point(self):
        self.assertEqual(checked("spark-gap", [{"tower": "1", "gap_mm": "9,5"}])[0]["gap_mm"], "9.5")

    @given(
        st.sampled_from(sorted(KINDS)), st.lists(st.dictionaries(st.text(max_size=8), st.text(max_size=8)), max_size=4)
    )
    def test_any_nonsense_is_refused_in_one_sentence_or_judged(self, kind, rows):
        try:
            self.assertEqual(len(said(kind, rows).rows), len(rows))
        except BadOption as error:
            self.assertNotIn("\n", str(error))

    def test_every_kind_has_its_cautions_and_advice(self):
        for kind in KINDS.values():
            self.assertTrue(any("licensed" in c.text for c in kind.cautions), kind.key)
            self.assertTrue(kind.advice)


class Judging(unittest.TestCase):
    def test_the_cylinder_that_changes_least_does_not_contribute(self):
        result = said("cylinder-drop", drops(150, 140, 20, 145))
        self.assertEqual(codes(result), ["no_contribution"])
        self.assertIn("cylinder 3", result.findings[0][2])
        self.assertEqual([r.state for r in result.rows], ["inside", "inside", "outside", "inside"])
        self.assertEqual(codes(said("cylinder-drop", drops(150, 140, 110, 145))), [])
        self.assertEqual(codes(said("cylinder-drop", drops(150))), [])

    def test_a_swap_tells_by_where_the_fault_went(self):
        row = {"part": "coil", "from_place": "3", "to_place": "1", "moved": "yes"}
        self.assertEqual(codes(said("swap", [row])), ["fault_moved"])
        self.assertEqual(codes(said("swap", [{**row, "moved": "no"}])), ["fault_stayed"])

    def test_companion_towers_are_compared(self):
        towers = [{"tower": str(k), "gap_mm": mm} for k, mm in enumerate((22, 21, 8, 22), start=1)]
        result = said("spark-gap", towers)
        self.assertEqual(codes(result), ["weak_gap"])
        self.assertIn("tower 3", result.findings[0][2])

    def test_resistances_of_common_practice(self):
        # CP for a piezo stack: pin to pin 150 to 200 kohm (175 seen good), each pin to the body infinite.
        self.assertEqual(codes(said("resistance", ohms("175", "150", "200"))), [])
        self.assertEqual(codes(said("resistance", ohms("90", "150", "200"))), ["resistance_off"])
        self.assertEqual(codes(said("resistance", ohms("infinite", "150", "200"))), ["resistance_off"])
        self.assertEqual(codes(said("resistance", ohms("infinite", "infinite"))), [])
        self.assertEqual(codes(said("resistance", ohms("900", "infinite", unit="Mohm"))), ["leak_to_body"])
        self.assertEqual(said("resistance", ohms("14.5")).rows[0].state, "told")

    def test_voltages_of_common_practice(self):
        for point, value, state, expected in (
            ("ground", "0.05", "key on", []),
            ("ground", "0.3", "running", ["ground_high"]),
            ("reference", "5.02", "key on", []),
            ("reference", "4.4", "key on", ["reference_off"]),
            ("supply", "14.1", "running", []),
            ("supply", "12.2", "running", ["supply_low"]),
            ("battery", "15.6", "running", ["supply_high"]),
            ("supply", "0", "key off", []),
        ):
            with self.subTest(point=point, volts=value):
                self.assertEqual(codes(said("voltage", volts(point, value, state=state))), expected)

    def test_an_unloaded_ground_proves_nothing(self):
        result = said("voltage", volts("ground", "0.3", loaded="no"))
        self.assertEqual((codes(result), result.rows[0].state), ([], "told"))

    def test_an_action_is_tied_to_the_fault_that_follows_within_two_seconds(self):
        fault = Finding("dropout", "fault", 12.4, 12.5, "falls")
        note = Finding("clamp_drift", "note", 3.1, 3.2, "drifts")
        rows = [{"at_s": at, "action": "wiggle", "where": "plug"} for at in ("3", "11.2", "12.9")]
        result = said("log", rows, [fault, note])
        self.assertEqual([r.state for r in result.rows], ["inside", "outside", "inside"])
        self.assertEqual(codes(result), ["follows_action"])
        self.assertIn("after 1.20 s", result.findings[0][2])

    def test_a_meter_shows_levels_and_misses_what_is_short(self):
        # Closed 0.700 V from 0 to 10 s, open 4.000 V from 20 to 30 s; a dropout of 0.2 s at 15 s. A meter may be off by
        # 0.5 % and 0.02 V: 0.0235 V of 0.700.
        figures = ((4, 0.71), (6, 0.73), (9.6, 0.69), (10.2, 0.75), (15.6, 2.4), (25, 4.03), (30.2, 4.0))
        rows = [{"at_s": str(at), "volts": str(v)} for at, v in figures]
        result = said("meter-sweep", rows, [DROPOUT])
        self.assertEqual(
            [r.state for r in result.rows], ["inside", "outside", "inside", "told", "told", "inside", "told"]
        )
        self.assertIn("closed level is 0.700 V on the scope", result.rows[0].text)
        self.assertEqual(codes(result), ["meter_off", "meter_too_slow"])
        self.assertIn("dropout, 200 ms at 15.00 s: shorter than the 0.6 s between two figures", result.findings[1][2])

    def test_a_meter_that_was_not_there_missed_nothing(self):
        early = [{"at_s": "1", "volts": "0.7"}, {"at_s": "2", "volts": "0.7"}]
        self.assertEqual(codes(said("meter-sweep", early, [DROPOUT])), [])
        self.assertEqual(judged("meter-sweep", checked("meter-sweep", early)).rows[0].state, "told")


if __name__ == "__main__":
    unittest.main()
