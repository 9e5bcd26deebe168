"""The JSON Schemas in docs: fresh, sound by their own dialect, and as strict and as open as the doors."""

import json
import unittest

from jsonschema import Draft202012Validator

from scripts import document_schemas
from tests.core.test_cards import DOCUMENT
from tests.marked.sittings import SITTINGS
from tracebench.core.cards.answers import answers_as_json, answers_from_json
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.errors import TraceBenchError


class Schemas(unittest.TestCase):
    CARD, ANSWERS = (Draft202012Validator(made()) for made in document_schemas.DOCUMENTS.values())

    def test_they_are_fresh(self):
        for name, made in document_schemas.DOCUMENTS.items():
            Draft202012Validator.check_schema(made())
            kept = json.loads((document_schemas.DOCS / name).read_text())
            self.assertEqual(kept, made(), "run python -m scripts.document_schemas")

    def test_documents_of_before_and_of_now_are_good(self):
        for document in (DOCUMENT, {**DOCUMENT, "school": "any"}, *(s.document for s in SITTINGS)):
            self.CARD.validate(document)
            card = card_from_json(document)
            self.CARD.validate(json.loads(json.dumps(card_as_json(card))))
        for sitting in SITTINGS:
            self.ANSWERS.validate(sitting.answers)
            given = answers_from_json(card_from_json(sitting.document), sitting.answers)
            self.ANSWERS.validate(json.loads(json.dumps(answers_as_json(given))))

    def test_what_a_door_refuses_its_schema_refuses(self):
        for changes in (
            {"title": ""},
            {"attempts": 0},
            {"circuit": "flux"},
            {"source": {"kind": "magic"}},
            {"school": "fast"},
            {"schools": {"sweep": "fast"}},
            {"rubric": {"close": 2}},
            {"complaint": "sometimes"},
            {"points": {"call": -1}},
            {"steps": []},
            {"steps": [{"kind": "dance"}]},
            {"limits": [{"reading": "open_v", "low": 1, "basis": "hearsay"}]},
            {"limits": [{"reading": "open_v", "low": 1, "marginal": -1}]},
        ):
            document = {**DOCUMENT, **changes}
            with self.subTest(changes=changes):
                self.assertFalse(self.CARD.is_valid(document))
                with self.assertRaises(TraceBenchError):
                    card_from_json(document)
