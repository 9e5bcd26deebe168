"""Debian's Chromium on the built front end: a person at a browser, and a test class that has them."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from tests.support.client import NOW, PASSWORD, WebTest
from tests.support.database import DatabaseTest
from tests.support.server import Served

CHROMIUM = next(
    (path for path in ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium") if Path(path).exists()),
    "/usr/bin/chromium",
)
"""Debian's own, without its windows where that is there: it takes a third less of the processor."""

ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]

__all__ = ["CHROMIUM", "NOW", "Person", "Screen", "ScreenTest", "expect"]

# Two processors are shared with other checks: what is expected may take a while to come.
expect.set_options(timeout=15_000)


class Person:
    """One person at their own browser; steps are named as people would say them."""

    def __init__(self, context: BrowserContext, url: str, problems: list[str]) -> None:
        self.context = context
        self.page: Page = context.new_page()
        self.url = url
        self.page.on("pageerror", lambda e: problems.append(f"page error: {e}"))
        self.page.on("console", lambda m: problems.append(m.text) if "Content Security Policy" in m.text else None)

    def sign_in(self, name: str, password: str = PASSWORD) -> Person:
        self.page.goto(self.url)
        self.page.get_by_label("Sign-in name").fill(name)
        self.page.get_by_label("Password").fill(password)
        self.page.keyboard.press("Enter")
        self.page.get_by_role("button", name="Sign out", exact=True).wait_for()
        return self

    def overheard(self) -> list[str]:
        """The text of every API answer that reaches this browser from now on, but for tiles, which are samples, and
        streams, which say how far a job is and end later than the page."""
        heard: list[str] = []

        def pass_on(route: Any) -> None:
            if "/tiles/" in route.request.url or route.request.url.endswith("/events"):
                route.continue_()
                return
            # The server may close an idle kept connection just as it is used again; browsers retry then, so do we.
            answer = route.fetch(max_retries=2)
            heard.append(answer.text())
            route.fulfill(response=answer)

        self.page.route("**/api/**", pass_on)
        return heard

    def open(self, path: str) -> None:
        self.page.goto(self.url + path)

    def press(self, name: str, exact: bool = True) -> None:
        self.page.get_by_role("button", name=name, exact=exact).first.click()

    def tab(self, name: str) -> None:
        """Open a part of a reference's sheet."""
        self.page.get_by_role("tab", name=name, exact=True).click()

    def follow(self, name: str) -> None:
        self.page.get_by_role("link", name=name).first.click()
        # The page before stays until the next is there, and may hold a link
        # of the same words: wait until the navigation says where we are.
        main = self.page.get_by_role("navigation").first.get_by_role("link", name=name)
        if main.count() == 1:
            expect(main).to_have_attribute("aria-current", "page")

    def fill(self, label: str, text: str) -> None:
        self.page.get_by_label(label, exact=True).fill(text)

    def choose(self, label: str, option: str) -> None:
        self.page.get_by_role("button", name=re.compile(re.escape(label))).first.click()
        self.page.get_by_role("option", name=option).first.click()

    def upload(self, path: Path) -> None:
        with self.page.expect_file_chooser() as chooser:
            self.press("Choose a file")
        chooser.value.set_files(str(path))

    # --- the strip ---

    @property
    def strip(self) -> Any:
        return self.page.get_by_role("group", name="Trace")

    def peg(self, which: int, part: float) -> None:
        """Set a peg at a part (0-1) of the time shown, by a tap."""
        self.page.get_by_role("button", name=f"peg {which}").click()
        box = self.strip.bounding_box()
        left, right = box["x"] + 132, box["x"] + box["width"] - 14
        self.page.mouse.click(left + part * (right - left), box["y"] + 0.5 * box["height"])
        expect(self.page.get_by_role("slider", name=f"Peg {which}")).to_be_visible()

    def show(self, from_s: float, to_s: float) -> None:
        """Type the stretch to show."""
        # The end first: a range is never typed past the record.
        for label, value in (("Shown from, seconds", from_s), ("Shown to, seconds", to_s)):
            self.page.get_by_label(label).fill(f"{value}")
            self.page.get_by_label(label).press("Enter")

    @property
    def view(self) -> tuple[float, float]:
        values = [self.page.get_by_label(f"Shown {end}, seconds").input_value() for end in ("from", "to")]
        return float(values[0]), float(values[1])

    def saved(self) -> None:
        """Wait until the sitting says that everything is saved."""
        expect(self.page.get_by_role("status").first).to_have_text(re.compile(r"^saved \d"))


class Screen(DatabaseTest):
    """A served application and a browser; `self.person()` gives someone a window of their own."""

    served: Served
    browser: Browser

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.served = Served(cls.settings)
        cls._playwright = sync_playwright().start()
        cls.browser = cls._playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls._playwright.stop()
        cls.served.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        self.problems: list[str] = []
        self._contexts: list[BrowserContext] = []

    def tearDown(self) -> None:
        for context in self._contexts:
            context.close()
        self.assertEqual(self.problems, [])

    def person(self, width: int = 1280, height: int = 800, **options: Any) -> Person:
        # Requests that a service worker makes pass by what tests put in their way; one test is about it.
        options.setdefault("service_workers", "block")
        context = self.browser.new_context(viewport={"width": width, "height": height}, **options)
        context.set_default_timeout(15_000)
        self._contexts.append(context)
        return Person(context, self.served.url, self.problems)


class ScreenTest(Screen, WebTest):
    """The same, with the two courses and the people of every test of the web."""
