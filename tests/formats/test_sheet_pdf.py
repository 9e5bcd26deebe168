"""A sheet as PDF, its text read back by an independent reader."""

import io
import unittest

from pypdf import PdfReader

from tests.outside import workshop
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.formats.sheet_pdf import Sheet, sheet_pdf


def sheet(circuit, capture, **document):
    answer = measure(capture, circuit).as_json()
    told = {"tags": [], "provenance": {}, "notes": "", "phases": [], **document}
    return sheet_pdf(Sheet("Title – with “signs”", "Version 2", "Ann", told, answer), CIRCUITS[circuit], capture)


def text_of(pdf):
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages)


class Printed(unittest.TestCase):
    def test_what_stands_on_it_is_read_back(self):
        capture = workshop.sweep()
        tags = [{"from": 1.0, "to": 2.0, "lane": "signal", "text": "Rests at 20 °C"}]
        pdf = sheet(
            "throttle-position",
            capture,
            tags=tags,
            provenance={"vehicle": "Linnet 1.6", "taken_by": ""},
            notes="From the board.",
        )
        text = text_of(pdf)
        for wanted in (
            'Title - with "signs"',
            "Throttle position. Sound. Version 2.",
            "1 to 2 s: Rests at 20 °C",
            "Closed level",
            "0.62",
            "common practice",
            "inside",
            "vehicle: Linnet 1.6",
            "From the board.",
            "Kept by Ann",
        ):
            self.assertIn(wanted, text)
        self.assertNotIn("taken by", text)
        for caution in CIRCUITS["throttle-position"].cautions:
            self.assertIn(caution.text[:30], text)
        self.assertEqual(PdfReader(io.BytesIO(pdf)).metadata.title, 'Title - with "signs"')

    def test_a_sheet_of_every_outsider_s_circuit_is_printed(self):
        for one in {o.circuit: o for o in workshop.WORKSHOP}.values():
            with self.subTest(one.circuit):
                capture = one.capture()
                reader = PdfReader(io.BytesIO(sheet(one.circuit, capture)))
                self.assertIn(CIRCUITS[one.circuit].title, reader.pages[0].extract_text())
                self.assertLessEqual(len(reader.pages), 4)


if __name__ == "__main__":
    unittest.main()
