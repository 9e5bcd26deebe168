"""Take the pictures in docs/screenshots from a fresh demo: .venv/bin/python -m scripts.screenshots [name ...]"""

from __future__ import annotations

import re
import shutil
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from playwright.sync_api import sync_playwright

from tests.support.browser import ARGS, CHROMIUM, Person
from tests.support.database import fresh_settings, stop_shared
from tests.support.files import hdf5_of, matlab_of, parquet_of, text_of
from tests.support.server import Served
from tests.support.variations import Variation
from tracebench.demo import cast, seed
from tracebench.store.pool import Pool

TARGET = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
DESK, TABLET = (1280, 800), (1024, 768)


def _worn_sheet(p: Person) -> None:
    p.open("/shelf")
    p.follow("Throttle position, worn near idle")
    p.strip.wait_for()
    p.page.get_by_role("button", name="Dropout", exact=False).first.click()


def _bring_in(p: Person) -> None:
    files = []
    for k, (code, write) in enumerate(
        (
            ("throttle-position", text_of),
            ("pedal-position", matlab_of),
            ("airflow-voltage", parquet_of),
            ("oxygen-switching", hdf5_of),
            ("coil-primary-current", matlab_of),
            ("temperature", parquet_of),
        )
    ):
        name = f"DATA{k:04}"
        files.append({"name": name, "mimeType": "", "buffer": write(Variation(code, 500 + k).capture())})
    files.append({"name": "DATA0006", "mimeType": "", "buffer": b"time;volts\n0;1\n\x00\x01"})
    p.open("/shelf/bring-in")
    with p.page.expect_file_chooser() as chooser:
        p.press("Choose files")
    chooser.value.set_files(files)
    p.page.get_by_text("6 to confirm").wait_for(timeout=60_000)


def _compare(p: Person) -> None:
    p.open("/shelf")
    p.press("Select")
    for title in ("closed level low", "sound, van", "worn near idle"):
        p.page.get_by_role("checkbox").filter(has_text=f"Throttle position, {title}").first.click()
    p.press("Compare")
    p.strip.wait_for()


def _parade(p: Person) -> None:
    p.open("/shelf")
    p.follow("Injector parade, cylinder 3 weak")
    p.strip.wait_for()
    p.press("Lay events over each other")
    p.page.get_by_role("group", name="Cylinders").wait_for()


def _marking(p: Person) -> None:
    p.open("/marking")
    p.page.get_by_role("button", name="Settle the first").click()
    p.strip.wait_for()


def _trainer(p: Person) -> None:
    p.page.get_by_role("article").filter(has_text=cast.EVENT_CARD.title).get_by_role("button").first.click()
    p.press("Capture", exact=False)
    p.press("With your own hands", exact=False)
    p.choose("Length", "0.2 s")
    p.press("Start the trainer")
    p.page.get_by_role("group", name="Key").get_by_role("button", name="On", exact=True).click()
    p.page.get_by_role("button", name="Hold to start").focus()
    p.page.keyboard.down(" ")
    p.page.get_by_text(re.compile(r"engine speed [1-9]\d\d rpm")).wait_for()
    p.page.keyboard.up(" ")
    p.page.get_by_text(re.compile(r"engine speed 8\d\d rpm")).wait_for()


def _sitting(p: Person) -> None:
    p.page.get_by_role("button", name="Go on").first.click()
    p.strip.wait_for()
    p.show(0, 9)
    p.peg(1, 0.38)
    p.peg(2, 0.46)


def _feedback(p: Person) -> None:
    p.page.get_by_role("link", name="points: see why").last.click()
    p.strip.wait_for()


def _logbook(p: Person) -> None:
    p.open("/skill")
    p.follow("Corrin Vask")


def _card_maker(p: Person) -> None:
    p.open("/cards")
    p.follow(cast.CARDS[2].title)
    steps = p.page.get_by_role("navigation", name="The card")
    steps.get_by_role("button", name="Read: open level").click()
    p.page.get_by_text("where the answer lies", exact=False).wait_for()


def _people(p: Person) -> None:
    p.open("/people")
    p.fill("One person a line, or pasted from a table: name, sign-in name, role", "Mara Quell\nTomas Vire; tomas")
    p.press("Look it over")


def _suspects(p: Person) -> None:
    """A case drawn on the trainer, with the first tests that are proposed done on it."""
    p.page.add_init_script("Math.random = () => 0.6180339")
    p.open("/suspects")
    p.choose("Throttle", "electronic")
    p.press("Draw a case on the trainer")
    evidence = p.page.get_by_label("Evidence").get_by_role("listitem")
    for done in range(1, 8):
        best = p.page.get_by_label("Test next").get_by_role("button", name="Do it")
        p.page.wait_for_timeout(400)
        if best.count() == 0:
            break
        best.first.click()
        evidence.nth(done - 1).wait_for()
    p.page.evaluate("window.scrollTo(0, 0)")


VIEWS: dict[str, tuple[str | None, tuple[int, int], Callable[[Person], None] | str]] = {
    "today": (cast.INSTRUCTOR[0], DESK, "/"),
    "shelf": (cast.INSTRUCTOR[0], DESK, "/shelf"),
    "reference-sheet": (cast.INSTRUCTOR[0], DESK, _worn_sheet),
    "compare": (cast.INSTRUCTOR[0], DESK, _compare),
    "parade": (cast.INSTRUCTOR[0], DESK, _parade),
    "bring-in": (cast.INSTRUCTOR[0], DESK, _bring_in),
    "card-maker": (cast.INSTRUCTOR[0], DESK, _card_maker),
    "marking-desk": (cast.INSTRUCTOR[0], DESK, "/marking"),
    "settle": (cast.INSTRUCTOR[0], DESK, _marking),
    "suspects": (cast.INSTRUCTOR[0], DESK, _suspects),
    "skill-map": (cast.INSTRUCTOR[0], DESK, "/skill"),
    "logbook": (cast.INSTRUCTOR[0], DESK, _logbook),
    "people": (cast.ADMINISTRATOR[0], DESK, _people),
    "trail": (cast.ADMINISTRATOR[0], DESK, "/trail"),
    "installation": (cast.ADMINISTRATOR[0], DESK, "/installation"),
    "learner-today": ("learner", TABLET, "/"),
    "sitting": ("learner", TABLET, _sitting),
    "trainer": ("learner", TABLET, _trainer),
    "feedback": ("learner", TABLET, _feedback),
}


def main(wanted: list[str]) -> None:
    folder = Path(tempfile.mkdtemp())
    settings = fresh_settings(folder)
    pool = Pool(settings)
    seed.load(pool, settings.uploads, datetime.now(UTC).replace(tzinfo=None))
    served = Served(settings)
    TARGET.mkdir(parents=True, exist_ok=True)
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
            for name, (who, (width, height), view) in VIEWS.items():
                if wanted and name not in wanted:
                    continue
                context = browser.new_context(viewport={"width": width, "height": height}, service_workers="block")
                person = Person(context, served.url, [])
                if who:
                    person.sign_in(who, cast.PASSWORD)
                if isinstance(view, str):
                    person.open(view)
                else:
                    view(person)
                person.page.wait_for_load_state("networkidle")
                person.page.wait_for_timeout(400)
                person.page.screenshot(path=TARGET / f"{name}.png")
                context.close()
                print(name)
    finally:
        served.stop()
        pool.close()
        stop_shared()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main(sys.argv[1:])
