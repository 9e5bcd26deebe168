"""A reference sheet to print: the strip with its tags, readings with limits, provenance and cautions, on A4.

Drawn by fpdf2; the strip as lines and not as a picture, so that it prints as finely as the printer can.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from fpdf import FPDF
from fpdf.enums import XPos, YPos

from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.strip_picture import lane_scale, trace_points

MARGIN = 14.0
LEFT = 20.0
"""Millimetres: of the page, and of a lane's scale beside it."""

MAIN_LANE, OTHER_LANE, GAP = 46.0, 20.0, 3.0
COLUMNS = 900
"""Parts of a record that are drawn: finer than the eye parts on paper."""

PLAIN = str.maketrans(
    {"’": "'", "‘": "'", "“": '"', "”": '"', "–": "-", "—": "-", "−": "-", "…": "...", "≤": "<=", "≥": ">="}
)
BASIS = {"maker": "maker", "own-fleet": "own fleet", "common-practice": "common practice"}
CALLS = {"sound": "Sound", "faulty": "Faulty", "inconclusive": "Cannot tell yet"}


@dataclass(frozen=True, slots=True)
class Sheet:
    """What is printed: `document` and `answer` as a reference keeps them."""

    title: str
    stage: str
    author: str
    document: Mapping[str, Any]
    answer: Mapping[str, Any]


def sheet_pdf(sheet: Sheet, circuit: Circuit, capture: Capture) -> bytes:
    """The sheet as PDF."""
    page = paper(sheet.title)
    _head(page, sheet, circuit)
    strip(page, sheet, circuit, capture)
    _tags(page, sheet)
    _readings(page, sheet, circuit)
    _told(page, sheet, circuit)
    return bytes(page.output())


def paper(title: str) -> FPDF:
    """An A4 page to write on."""
    page = FPDF(format="A4")
    page.set_margins(MARGIN, MARGIN)
    page.set_auto_page_break(True, MARGIN)
    page.set_title(plain(title))
    page.set_creator("Trace Bench")
    page.add_page()
    return page


def plain(text: str) -> str:
    """As the fonts that every reader has can print it."""
    return str(text).translate(PLAIN).encode("latin-1", "replace").decode("latin-1")


def line(page: FPDF, text: str, size: float = 9.0, style: str = "") -> None:
    """A paragraph from margin to margin."""
    page.set_font("helvetica", style, size)
    page.multi_cell(0, size * 0.48, plain(text), new_x=XPos.LMARGIN, new_y=YPos.NEXT)


def _head(page: FPDF, sheet: Sheet, circuit: Circuit) -> None:
    line(page, sheet.title, 16, "B")
    said = CALLS[sheet.answer["call"]]
    titles = [spec.title.lower() for code in sheet.answer["because"] if (spec := circuit.finding(code)) is not None]
    line(page, f"{circuit.title}. {said}" + (f": {', '.join(titles)}" if titles else "") + f". {sheet.stage}.", 10)
    page.ln(2)


def strip(page: FPDF, sheet: Sheet, circuit: Circuit, capture: Capture) -> None:
    """The whole record, lane under lane, with its phases and the numbers of its tags."""
    main = circuit.main_lane(capture.lanes)
    width = page.epw - LEFT
    first = page.get_y() + 5
    place = {"x": MARGIN + LEFT, "width": width, "start": capture.start_s, "span": max(capture.duration_s, 1e-12)}

    def x(t: float) -> float:
        return float(place["x"] + (t - place["start"]) / place["span"] * width)

    page.set_font("helvetica", "", 7)
    for k, phase in enumerate(sheet.answer["phases"]):
        left, right = max(x(phase["from"]), MARGIN + LEFT), min(x(phase["to"]), MARGIN + page.epw)
        page.set_fill_color(*((223, 231, 234) if k % 2 else (238, 242, 244)))
        page.rect(left, first - 5, max(right - left, 0.3), 4, style="F")
        name = plain(phase["name"].replace("_", " "))
        if page.get_string_width(name) < right - left - 1:
            page.text(left + 0.7, first - 2, name)
    top = first
    for lane in capture.lanes.values():
        height = MAIN_LANE if lane.name == main else OTHER_LANE
        if top + height > page.h - MARGIN - 8:
            page.add_page()
            top = MARGIN
        _lane(page, lane, circuit.lane(lane.name).title, top, height, width)
        top += height + GAP
    page.set_text_color(90, 100, 110)
    for k in range(9):
        at = place["start"] + place["span"] * k / 8
        text = f"{at:.4g} s"
        page.text(x(at) - page.get_string_width(text) / 2, top + 1, text)
    page.set_text_color(0, 0, 0)
    page.set_draw_color(125, 81, 0)
    page.set_line_width(0.2)
    for number, tag in enumerate(sheet.document["tags"], 1):
        for at in {tag["from"], tag["to"]}:
            page.line(x(at), first, x(at), top - GAP)
        page.text(x(tag["from"]) + 0.6, first + 3, str(number))
    page.set_draw_color(0, 0, 0)
    page.set_y(top + 4)


def _lane(page: FPDF, lane: Lane, title: str, top: float, height: float, width: float) -> None:
    low, high = trace_points(lane.samples, COLUMNS)
    least, most = lane_scale(float(low.min()), float(high.max()))
    span = most - least
    page.set_draw_color(200, 208, 212)
    page.set_line_width(0.1)
    page.rect(MARGIN + LEFT, top, width, height)
    page.set_font("helvetica", "B", 7)
    page.text(MARGIN, top + 3, plain(title))
    page.set_font("helvetica", "", 7)
    page.text(MARGIN, top + 6.5, plain(f"{most:.4g} {lane.unit}"))
    page.text(MARGIN, top + height - 0.5, plain(f"{least:.4g} {lane.unit}"))
    points: list[tuple[float, float]] = []
    for k, (a, b) in enumerate(zip(low, high, strict=True)):
        at = MARGIN + LEFT + (k + 0.5) / low.size * width
        points += [(at, top + height - (float(v) - least) / span * height) for v in ((a, b) if a != b else (a,))]
    page.set_draw_color(11, 100, 112)
    page.set_line_width(0.22)
    page.polyline(points)
    page.set_draw_color(0, 0, 0)


def _tags(page: FPDF, sheet: Sheet) -> None:
    for number, tag in enumerate(sheet.document["tags"], 1):
        line(page, f"{number}  {tag['from']:.4g} to {tag['to']:.4g} s: {tag['text']}", 8.5)
    page.ln(2)


def _readings(page: FPDF, sheet: Sheet, circuit: Circuit) -> None:
    limits = {row["reading"]: row for row in sheet.answer["limits"] if row["decides"]}
    rows: list[Sequence[str]] = [("Reading", "Value", "Limit", "Rests on", "State")]
    for r in sheet.answer["readings"]:
        spec = circuit.reading(r["id"])
        if spec is None or r["cycle"] is not None or r["cylinder"] is not None:
            continue
        limit = limits.get(r["id"])
        told = ("", "", "") if limit is None else (_span(limit), _rests(limit), limit["state"])
        rows.append((spec.title, f"{r['value']:.{spec.decimals}f} {r['unit']}".strip(), *told))
    page.set_font("helvetica", "", 8)
    with page.table(rows=[[plain(c) for c in row] for row in rows], col_widths=(30, 16, 22, 30, 12), line_height=4.4):
        pass
    page.ln(2)


def _span(limit: Mapping[str, Any]) -> str:
    low, high = limit["low"], limit["high"]
    if low is None:
        return f"at most {high:g}"
    return f"at least {low:g}" if high is None else f"{low:g} to {high:g}"


def _rests(limit: Mapping[str, Any]) -> str:
    return BASIS[limit["basis"]] + (f": {limit['source']}" if limit["source"] else "")


def _told(page: FPDF, sheet: Sheet, circuit: Circuit) -> None:
    where = [f"{key.replace('_', ' ')}: {value}" for key, value in sheet.document["provenance"].items() if value]
    if where:
        line(page, "Where it comes from", 9, "B")
        line(page, "; ".join(where))
    if sheet.document["notes"]:
        line(page, sheet.document["notes"])
    page.ln(1)
    line(page, "Cautions", 9, "B")
    for caution in circuit.cautions:
        line(page, f"- {caution.text}")
    page.ln(1)
    line(page, f"Kept by {sheet.author}; measured with engine {sheet.answer['engine']}.", 7.5)
