"""A job card to take to the bay: brief, cautions, a table to fill in, and a code that opens the sitting on a tablet."""

from __future__ import annotations

from collections.abc import Sequence

import segno
from fpdf import FPDF

from tracebench.core.capture import Capture
from tracebench.core.cards.card import AnyStep, Card
from tracebench.core.steps.compare.limit import span
from tracebench.core.steps.compare.step import CompareStep
from tracebench.core.steps.reading.step import ReadingStep
from tracebench.formats.sheet_pdf import MARGIN, Sheet, line, paper, plain, strip

CODE_MM = 30.0
KINDS = {
    "connect": "Tell the wires apart",
    "set_up": "Set the scope up",
    "work_out": "Work it out",
    "name": "Name the parts",
    "spot": "Find the odd one",
    "record": "Write the record down",
    "call": "Your call, and what shows it",
    "explain": "Explain",
}


def job_pdf(card: Card, address: str, reference: tuple[Sheet, Capture] | None = None) -> bytes:
    """The sheet as PDF. Nothing of the card's key is on it; `reference` is printed only where it is given."""
    circuit = card.first.circuit
    page = paper(card.title)
    _code(page, address)
    page.set_right_margin(MARGIN + CODE_MM + 4)
    line(page, card.title, 16, "B")
    line(page, circuit.title + (f". Due {card.due}." if card.due else "."), 10)
    line(page, "Name: ______________________________     Date: ______________     Vehicle: ______________", 9)
    page.ln(3)
    page.set_right_margin(MARGIN)
    page.set_y(max(page.get_y(), MARGIN + CODE_MM + 8))
    for part in card.brief.split("\n"):
        line(page, part, 10)
    page.ln(2)
    line(page, "Cautions: the maker, the workshop's rules, local law and licensed practice come first", 9, "B")
    for caution in card.cautions_of(card.first.key):
        line(page, f"- {caution.text}")
    page.ln(2)
    line(page, "Setting up", 9, "B")
    for way in card.ways(card.first.key):
        line(page, f"- {way.says}")
    page.ln(2)
    _table(page, card)
    if reference is not None:
        sheet, capture = reference
        page.ln(2)
        line(page, f"For comparison: {sheet.title}", 9, "B")
        page.ln(4)
        strip(page, sheet, circuit, capture)
    return bytes(page.output())


def _code(page: FPDF, address: str) -> None:
    """The address as a QR code (ISO/IEC 18004), drawn module by module, and in letters below."""
    code = segno.make(address, error="m", micro=False)
    rows = [[bool(cell) for cell in row] for row in code.matrix]
    size = CODE_MM / len(rows)
    left, top = page.w - MARGIN - CODE_MM, MARGIN
    page.set_fill_color(0, 0, 0)
    for y, row in enumerate(rows):
        for x, dark in enumerate(row):
            if dark:
                page.rect(left + x * size, top + y * size, size, size, style="F")
    page.set_font("helvetica", "", 6)
    page.text(left, top + CODE_MM + 3, plain(address))


def _table(page: FPDF, card: Card) -> None:
    rows: list[Sequence[str]] = [("Step", "What", "Limit", "What you found")]
    rows += [(str(k), _what(step), _limit(card, step), "") for k, step in enumerate(_asked(card), start=1)]
    page.set_font("helvetica", "", 9)
    with page.table(rows=[[plain(c) for c in row] for row in rows], col_widths=(8, 42, 22, 38), line_height=8):
        pass


def _asked(card: Card) -> list[AnyStep]:
    return [step for step in card.steps if step.kind not in ("cautions", "capture")]


def _what(step: AnyStep) -> str:
    if isinstance(step, CompareStep):
        return step.title
    if isinstance(step, ReadingStep):
        whose = f", cylinder {step.cylinder}" if step.cylinder is not None else ""
        ask = f"in {step.spec.unit}" if step.spec.unit else ""
        return f"{step.spec.title}{whose} {ask}".strip()
    return step.prompt or KINDS.get(step.kind, step.kind)


def _limit(card: Card, step: AnyStep) -> str:
    if not isinstance(step, CompareStep):
        return ""
    if step.against != "limit":
        return f"{step.other.value:.{step.spec.decimals}f} {step.spec.unit}".strip() if step.other is not None else ""
    limit = next((x for x in card.limits_in_force(step.capture) if x.reading == step.reading), None)
    return span(limit) if limit is not None else ""
