"""The printed job sheet, read back by other libraries, and cards as files."""

import io
import json
import unittest
from pathlib import Path

import pypdfium2
import zxingcpp
from jsonschema import Draft202012Validator
from pypdf import PdfReader

from tests.support.client import WebTest
from tracebench.demo.cast import LOOM_STEPS

SCHEMA = Path(__file__).parents[2] / "docs" / "card.schema.json"


class JobSheet(WebTest):
    def setUp(self):
        self.teacher = self.caller("teacher")
        version = self.published_reference()["version_id"]
        steps = [dict(step) for step in LOOM_STEPS]
        self.card_id = self.published_card(version_id=version, steps=steps, brief="A loom without a diagram.")

    def printed(self, query=""):
        answer = self.teacher.get(f"/api/cards/{self.card_id}/job-sheet{query}")
        self.assertEqual(answer.status_code, 200, answer.data[:200])
        return answer.data

    def text(self, data):
        return " ".join("".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages).split())

    def test_has_brief_cautions_table_and_nothing_of_the_key(self):
        text = self.text(self.printed())
        for wanted in (
            "A loom without a diagram.",
            "Key on, engine off.",
            "Closed level in V",
            "Open level against its limit",
            "What you found",
        ):
            self.assertIn(wanted, text)
        for secret in ("no gap in either sweep", "both levels inside", "reference_version"):
            self.assertNotIn(secret, text)

    def test_its_code_opens_the_sitting(self):
        picture = pypdfium2.PdfDocument(self.printed())[0].render(scale=3).to_pil()
        found = zxingcpp.read_barcodes(picture)
        self.assertEqual([code.text for code in found], [f"http://localhost/begin/{self.card_id}"])

    def test_the_reference_is_on_it_only_when_asked_for(self):
        self.assertNotIn("For comparison", self.text(self.printed()))
        self.assertIn("For comparison: Sound", self.text(self.printed("?reference=true")))

    def test_a_card_goes_out_as_a_file_and_comes_in_again(self):
        told = self.teacher.get(f"/api/cards/{self.card_id}/file")
        document = json.loads(told.data)
        Draft202012Validator(json.loads(SCHEMA.read_text())).validate(document)
        self.assertIsNone(document["reference_version_id"])
        made = self.teacher.post("/api/cards", {"course_id": self.course_id, "document": document})
        self.assertEqual(made.status_code, 201, made.data)
        again = json.loads(self.teacher.get(f"/api/cards/{made.json['id']}/file").data)
        self.assertEqual(again, document)


if __name__ == "__main__":
    unittest.main()
