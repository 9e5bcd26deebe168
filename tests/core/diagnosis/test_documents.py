"""A case's document: what is unknown is named in one line, whatever it is."""

import copy
import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.diagnosis.cases import FOUR, RAIL, capture, drop, moved
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.errors import BadCase

CASE = {
    "vehicle": FOUR,
    "complaint": {"symptoms": ["misfire"], "when": ["load"]},
    "renewed": ["plug@1"],
    "codes": ["misfire@1", {"code": "throttle-position", "what": "low"}, "manifold-pressure:implausible"],
    "costs": {"secondary-voltage": 8},
    "evidence": [drop(1), capture("coil-primary-current", [("turn_on_abnormal", 1)]), moved("coil", "1", "2")],
}

WRONG = {
    "a key": (lambda c: c.update(vehicel={}), "vehicel"),
    "a vehicle's key": (lambda c: c["vehicle"].update(colour="red"), "colour"),
    "no vehicle": (lambda c: c.pop("vehicle"), "vehicle"),
    "no fuel": (lambda c: c["vehicle"].pop("fuel"), "fuel"),
    "a fuel": (lambda c: c["vehicle"].update(fuel="gas"), "vehicle.fuel"),
    "two cylinders": (lambda c: c["vehicle"].update(cylinders=2), "vehicle.cylinders"),
    "an order": (lambda c: c["vehicle"].update(firing_order="1-3-3-2"), "firing_order"),
    "paired five": (lambda c: c["vehicle"].update(cylinders=5, firing_order="1-2-4-5-3", ignition="paired-coils"), "5"),
    "a feed": (lambda c: c["vehicle"].update(feeds={"a": []}), "feeds"),
    "what hangs on it": (lambda c: c["vehicle"].update(feeds={"A": ["lamp"]}), "feeds.A"),
    "a symptom": (lambda c: c["complaint"].update(symptoms=["ugly"]), "complaint.symptoms[0]"),
    "a when": (lambda c: c["complaint"].update(when=["monday"]), "complaint.when[0]"),
    "a part": (lambda c: c.update(renewed=["plugg@1"]), "plugg"),
    "a part's cylinder": (lambda c: c.update(renewed=["plug@9"]), "plug@9"[5:]),
    "a code": (lambda c: c.update(codes=["knock"]), "knock"),
    "a code's what": (lambda c: c.update(codes=["throttle-position:funny"]), "codes[0]"),
    "a cost": (lambda c: c.update(costs={"tea": 5}), "costs"),
    "a cost below nought": (lambda c: c.update(costs={"swap": -1}), "costs.swap"),
    "a test": (lambda c: c["evidence"].append({"test": "sniff", "rows": []}), "evidence[3].test"),
    "a condition": (lambda c: c["evidence"][0].update(conditions=["blue"]), "evidence[0].conditions[0]"),
    "a place": (lambda c: c["evidence"][1].update(at="boot"), "evidence[1].at"),
    "a place's cylinder": (lambda c: c["evidence"][1].update(at="coil@7"), "evidence[1].at"),
    "rows of a capture": (lambda c: c["evidence"][1].update(rows=[]), "evidence[1]"),
    "no rows": (lambda c: c["evidence"][0].pop("rows"), "evidence[0]"),
    "a column": (lambda c: c["evidence"][0]["rows"][0].pop("before_rpm"), "row 1"),
    "a finding": (lambda c: c["evidence"][1]["answer"]["findings"][0].update(code="lazy"), "lazy"),
    "a finding's cylinder": (lambda c: c["evidence"][1]["answer"]["findings"][0].update(cylinder=8), "cylinder"),
    "a call": (lambda c: c["evidence"][1]["answer"].update(call="fine"), "evidence[1].answer.call"),
    "a swapped part": (lambda c: c["evidence"][2]["rows"][0].update(part="radio"), "evidence[2].rows[0].part"),
    "a cause": (
        lambda c: c["evidence"].append({"test": "repair", "rows": [{"cause": "piezo-to-body@1", "cured": "yes"}]}),
        "piezo-to-body@1",
    ),
    "more than anybody measures": (lambda c: c.update(evidence=[drop(1)] * 101), "evidence"),
    "not a list": (lambda c: c.update(evidence={}), "evidence"),
}


class Documents(unittest.TestCase):
    def test_each_mistake_is_named(self):
        case_from(CASE)
        for name, (spoil, named) in WRONG.items():
            spoilt = copy.deepcopy(CASE)
            spoil(spoilt)
            with self.subTest(name), self.assertRaises(BadCase) as caught:
                case_from(spoilt)
            self.assertIn(named, str(caught.exception), name)
            self.assertNotIn("\n", str(caught.exception))

    def test_numbers_of_rows_may_be_numbers(self):
        volts = {"point": "ground", "volts": 0, "loaded": "yes", "state": "running"}
        case = case_from({"vehicle": FOUR, "evidence": [{"test": "voltage", "at": "coil@1", "rows": [volts]}]})
        self.assertEqual(case.evidence[0].proven, {"ground"})

    def test_conditions_that_the_answer_showed_count(self):
        answer = {"call": "sound", "findings": [], "shown": ["hot", "idle"]}
        case = case_from({"vehicle": FOUR, "evidence": [{"test": "crank-position", "answer": answer}]})
        self.assertEqual(case.evidence[0].conditions, {"hot", "idle"})

    @settings(max_examples=200, deadline=None)
    @given(st.data())
    def test_anything_put_anywhere_is_one_line_or_a_case(self, data):
        """Some value of the document replaced by something else: BadCase or a case, never another error."""
        document = copy.deepcopy(CASE)
        at, keys = document, []
        while isinstance(at, dict | list) and at and (not keys or data.draw(st.booleans())):
            keys.append((at, data.draw(st.sampled_from(sorted(at) if isinstance(at, dict) else range(len(at))))))
            at = at[keys[-1][1]]
        holder, key = keys[-1]
        leaf = st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5)
        holder[key] = data.draw(
            leaf | st.lists(leaf, max_size=2) | st.dictionaries(st.text(max_size=3), leaf, max_size=2)
        )
        try:
            case_from(document)
        except BadCase as problem:
            self.assertNotIn("\n", str(problem))


class CommandLine(unittest.TestCase):
    def said(self, text):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "case.json"
            path.write_text(text, encoding="utf-8")
            command = [sys.executable, "-m", "tracebench.cli", "suspects", str(path)]
            return subprocess.run(command, capture_output=True, text=True, check=False)

    def test_it_prints_the_suspects(self):
        done = self.said(json.dumps(CASE))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        answer = json.loads(done.stdout)
        self.assertEqual(set(answer), {"suspects", "pairs", "next", "unproven", "supported", "why_not"})
        self.assertEqual(set(answer["suspects"][0]), {"cause", "probability", "ruled_out", "for", "against"})
        self.assertEqual(answer["suspects"][0]["cause"], "coil-secondary-open@1")
        self.assertEqual(answer["suspects"][0]["for"], [0, 1, 2])
        self.assertEqual(
            (answer["next"][0]["test"], answer["next"][0]["at"], answer["next"][0]["conditions"]),
            ("secondary-voltage", "1", ["load"]),
        )
        self.assertFalse(answer["supported"])

    def test_bad_input_is_one_line_and_status_2(self):
        for text in ("{", json.dumps({**CASE, "vehicle": {**RAIL, "cylinders": 99}}), "[]"):
            done = self.said(text)
            self.assertEqual(done.returncode, 2)
            self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)


if __name__ == "__main__":
    unittest.main()
