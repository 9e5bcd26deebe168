"""A strip as a picture of its own (SVG 1.1): lanes on one time axis, phases above, tags below the trace."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any
from xml.sax.saxutils import escape

import numpy as np

from tracebench.core.capture import Capture, Lane
from tracebench.core.envelope import envelope
from tracebench.core.samples import Samples

WIDTH, LANE_HEIGHT, GAP = 1200, 220, 14
LEFT, RIGHT, TOP, FOOT, TAG_LINE = 70, 20, 40, 34, 16
COLOURS = {"V": "#0b6470", "A": "#a6460b", "mA": "#a6460b", "kV": "#0b6470", "%": "#6a6a14"}


def strip_svg(
    capture: Capture, phases: Sequence[Mapping[str, Any]], tags: Sequence[Mapping[str, Any]], title: str
) -> str:
    """The whole record; `phases` and `tags` have from and to in seconds as references keep them."""
    lanes = list(capture.lanes.values())
    foot = TOP + len(lanes) * (LANE_HEIGHT + GAP)
    height = foot + FOOT + TAG_LINE * len(tags)
    span = max(capture.duration_s, 1e-12)

    def x(t: float) -> float:
        return LEFT + (t - capture.start_s) / span * (WIDTH - LEFT - RIGHT)

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {height}"',
        ' font-family="sans-serif" font-size="12">',
        f"<title>{escape(title)}</title>",
        f'<rect width="{WIDTH}" height="{height}" fill="#ffffff"/>',
    ]
    for k, phase in enumerate(phases):
        left, right = x(phase["from"]), x(phase["to"])
        shade = "#dfe7ea" if k % 2 else "#eef2f4"
        parts.append(f'<rect x="{left:.1f}" y="10" width="{max(right - left, 1):.1f}" height="20" fill="{shade}"/>')
        if right - left > 60:
            parts.append(f'<text x="{left + 4:.1f}" y="24">{escape(str(phase["name"]))}</text>')
    for k, lane in enumerate(lanes):
        parts += _lane(lane, TOP + k * (LANE_HEIGHT + GAP), capture)
    for t in np.linspace(0, span, 9):
        at = x(capture.start_s + t)
        parts.append(f'<path d="M{at:.1f} {foot - GAP}v6" stroke="#5c6b75"/>')
        label = f"{capture.start_s + t:.4g} s"
        parts.append(f'<text x="{at:.1f}" y="{foot + 8}" text-anchor="middle" fill="#5c6b75">{label}</text>')
    for k, tag in enumerate(tags):
        left, right = x(tag["from"]), x(tag["to"])
        ends = "".join(f"M{at:.1f} {TOP}V{foot - GAP}" for at in (left, right))
        parts.append(f'<path d="{ends}" stroke="#7d5100" stroke-dasharray="3 4"/>')
        parts.append(f'<text x="{left + 3:.1f}" y="{TOP + 12}" fill="#7d5100" font-weight="bold">{k + 1}</text>')
        line = f"{k + 1}  {tag['from']:.4g} to {tag['to']:.4g} s, {tag['lane']}: {tag['text']}"
        parts.append(f'<text x="{LEFT}" y="{foot + FOOT + TAG_LINE * k:.1f}">{escape(line)}</text>')
    return "\n".join([*parts, "</svg>\n"])


def lane_scale(least: float, most: float) -> tuple[float, float]:
    """Ends of a lane's scale: one that hardly moves far from zero in its own surroundings, a moving one with zero."""
    swing = max(most - least, 1e-3)
    if abs(least) > 4.0 * swing:
        pad = max(0.06 * (most - least), 0.04 * abs(most))
    else:
        least, most = min(0.0, least), max(0.0, most)
        pad = max(0.06 * (most - least), 1e-3)
    return least - 0.6 * pad, most + pad


def trace_points(samples: Samples, columns: int) -> tuple[Samples, Samples]:
    """Least and most of each of at most `columns` parts of a record: no extreme is missed."""
    return envelope(samples, samples, max(1, -(-samples.size // columns)))


def _lane(lane: Lane, top: float, capture: Capture) -> list[str]:
    low, high = trace_points(lane.samples, WIDTH - LEFT - RIGHT)
    least, most = lane_scale(float(low.min()), float(high.max()))
    span = most - least
    width = (WIDTH - LEFT - RIGHT) / low.size
    colour = COLOURS.get(lane.unit, "#22447a")

    def y(v: float) -> float:
        return float(top + LANE_HEIGHT - 6 - (v - least) / span * (LANE_HEIGHT - 12))

    points = []
    for k in range(low.size):
        at = LEFT + (k + 0.5) * width
        # Entered at the nearer end, as the eye follows it.
        ends = (
            (low[k], high[k]) if k == 0 or abs(low[k] - low[k - 1]) <= abs(high[k] - low[k - 1]) else (high[k], low[k])
        )
        points += [f"{at:.1f},{y(v):.1f}" for v in (ends if low[k] != high[k] else ends[:1])]
    zero = f'<path d="M{LEFT} {y(0):.1f}H{WIDTH - RIGHT}" stroke="#c8d0d4"/>' if least <= 0 <= most else ""
    return [
        f'<rect x="{LEFT}" y="{top}" width="{WIDTH - LEFT - RIGHT}" height="{LANE_HEIGHT}"',
        ' fill="#f7f9fa" stroke="#c8d0d4"/>',
        zero,
        f'<text x="4" y="{top + 14}">{escape(lane.name)}</text>',
        f'<text x="4" y="{top + 32}" fill="#5c6b75">{most:.4g} {escape(lane.unit)}</text>',
        f'<text x="4" y="{top + LANE_HEIGHT - 6}" fill="#5c6b75">{least:.4g} {escape(lane.unit)}</text>',
        f'<polyline points="{" ".join(points)}" fill="none" stroke="{colour}" stroke-width="1.2"/>',
    ]
