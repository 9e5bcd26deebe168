"""axe-core on a page: what breaks WCAG 2.2 A and AA or its best practices, as words."""

from __future__ import annotations

import json
from pathlib import Path

from playwright.sync_api import Page

SCRIPT = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
SHAPES = {"tablet": (1024, 768), "phone": (390, 844), "desk": (1280, 800)}
LAID_OUT = ["target-size", "scrollable-region-focusable", "color-contrast", "aria-hidden-focus", "nested-interactive"]
"""Of a tablet and a phone, which show what a desk does in another size."""


def violations(page: Page, rules: list[str] | None = None) -> list[str]:
    """One line for each rule that is broken: its name, how often, and the first place. `rules` None: all."""
    if not page.evaluate("typeof axe !== 'undefined'"):
        page.evaluate(SCRIPT.read_text())
    run = {"type": "rule", "values": rules} if rules else {"type": "tag", "values": TAGS}
    options = {"runOnly": run, "resultTypes": ["violations"]}
    found = json.loads(
        page.evaluate(f"axe.run(document, {json.dumps(options)}).then(r => JSON.stringify(r.violations))")
    )
    return [
        f"{v['id']} ({v['impact']}), {len(v['nodes'])} times, first {v['nodes'][0]['html'][:160]}: "
        f"{v['nodes'][0]['failureSummary'].splitlines()[-1].strip()[:160]}"
        for v in found
    ]


def in_every_shape(page: Page) -> dict[str, list[str]]:
    """What is broken by screen and colours; the page is left as a desk's, light. Empty if nothing is."""
    out: dict[str, list[str]] = {}
    for shape, (width, height) in SHAPES.items():
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(80)
        out[f"{shape}, light"] = violations(page, None if shape == "desk" else LAID_OUT)
    page.emulate_media(color_scheme="dark")
    page.wait_for_timeout(80)
    out["desk, dark"] = violations(page, ["color-contrast", "link-in-text-block"])
    page.emulate_media(color_scheme="light")
    return {k: v for k, v in out.items() if v}
