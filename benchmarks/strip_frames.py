"""Frame times of the strip at 10 million samples in headless Chromium: python -m benchmarks.strip_frames

Wheel and drag events are sent one a frame; the time from one animation frame to the next is written down.
Headless Chromium without a graphics card paces frames at 60 a second, so 16.7 ms is the floor.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
from datetime import datetime
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.support.browser import ARGS, CHROMIUM
from tests.support.client import EMPTY_DOCUMENT
from tests.support.database import fresh_settings, stop_shared
from tests.support.server import Served
from tests.support.waves import Sweep, steady
from tracebench.store import captures
from tracebench.store.pool import Pool
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references

NOW = datetime(2026, 1, 1)  # noqa: DTZ001
FRAMES = """async ({moves}) => {
  const area = document.querySelector('[role=group][aria-label=Trace]')
  const box = area.getBoundingClientRect()
  const still = {clientY: box.top + 150, bubbles: true, cancelable: true, pointerId: 7, button: 0, buttons: 1}
  const at = (x) => ({...still, clientX: x})
  const gaps = []
  let last = await new Promise(requestAnimationFrame)
  if (moves === 'pan') area.dispatchEvent(new PointerEvent('pointerdown', at(box.left + 700)))
  for (let k = 0; k < 120; k++) {
    if (moves === 'zoom')
      area.dispatchEvent(new WheelEvent('wheel', {...at(box.left + 420), deltaY: k < 60 ? -60 : 60}))
    else area.dispatchEvent(new PointerEvent('pointermove', at(box.left + 700 - 4 * (k % 60))))
    const now = await new Promise(requestAnimationFrame)
    gaps.push(now - last)
    last = now
  }
  if (moves === 'pan') area.dispatchEvent(new PointerEvent('pointerup', at(box.left + 500)))
  return gaps
}"""


def frames(page: Page, moves: str) -> str:
    gaps = sorted(page.evaluate(FRAMES, {"moves": moves}))
    late = sum(g > 34 for g in gaps)
    middle, high = statistics.median(gaps), gaps[int(0.95 * len(gaps))]
    return f"{moves}: median {middle:.1f} ms, 95 % {high:.1f} ms, over 34 ms: {late} of {len(gaps)}"


def main() -> None:
    folder = Path(tempfile.mkdtemp())
    settings = fresh_settings(folder)
    pool = Pool(settings)
    sweep = Sweep(rate_hz=10e6 / 27, noise_v=0.005, bits=12)
    with pool.transaction() as conn:
        person_id = accounts.add(conn, "teacher", "Teacher", "instructor", "long enough", NOW)
        person = Person(person_id, "teacher", "Teacher", "instructor", 1)
        capture = sweep.capture(reference=steady(sweep, 5.0), ground=steady(sweep, 0.02))
        capture_id = captures.add(conn, person_id, "throttle-position", "long", "file", capture, {}, NOW)
    reference_id = references.create(pool.transaction, person, capture_id, "Ten million", EMPTY_DOCUMENT, NOW)
    served = Served(settings)
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(served.url)
            page.get_by_label("Sign-in name").fill("teacher")
            page.get_by_label("Password").fill("long enough")
            page.keyboard.press("Enter")
            page.get_by_role("button", name="Sign out", exact=True).wait_for()
            page.goto(f"{served.url}/shelf/{reference_id}")
            page.get_by_role("group", name="Trace").wait_for(timeout=120_000)
            page.wait_for_load_state("networkidle")
            print(f"{capture.samples:,} samples in {len(capture.lanes)} lanes, 1280 x 800")
            for moves in ("zoom", "pan", "zoom", "pan"):
                print(frames(page, moves))
                page.wait_for_load_state("networkidle")
            browser.close()
    finally:
        served.stop()
        pool.close()
        stop_shared()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
