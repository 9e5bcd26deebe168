"""Every view under axe-core and under ten fingers: nobody is shut out of one, and whatever is typed stands.

The views are those of the demo, of people who have nothing yet, and of a server that answers nothing.
"""

import re
import string
from datetime import UTC, datetime

from tests.support.axe import in_every_shape
from tests.support.browser import Person, Screen, expect
from tests.support.client import NOW
from tracebench.demo import cast, seed
from tracebench.store.queries import queries
from tracebench.usecases import people

TYPED = string.ascii_lowercase + "ATLPNR" + string.digits + string.punctuation + " ."
PRESSED = """(field, text) => {
  field.focus()
  for (const key of text) {
    const press = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })
    if (field.dispatchEvent(press)) document.execCommand('insertText', false, key)
  }
}"""
"""Keys as a field gets them, without the long way through the browser's own keyboard."""

FIELDS = ", ".join(
    f"{kind}:not([inputmode=decimal]):not([inputmode=numeric])"
    for kind in ("input:not([type])", "input[type=text]", "input[type=search]", "input[type=password]", "textarea")
)
"""What takes text. Numbers, files, ticks and sliders are other controls."""


class EveryView(Screen):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        seed.load(cls.pool, cls.settings.uploads, datetime.now(UTC).replace(tzinfo=None))
        with cls.pool.transaction() as conn:
            for name, role in (("new.instructor", "instructor"), ("new.learner", "learner")):
                people.add(conn, name, name, role, cast.PASSWORD, NOW)
            row = queries.people.by_sign_in(conn, sign_in=cast.INSTRUCTOR[0])
            course = next(c for c in queries.courses.of_person(conn, person_id=row["id"]) if c["title"] == cast.COURSE)
        cls.course = course["id"]

    def as_(self, who: str, **screen) -> Person:
        return self.person(**screen).sign_in(who, cast.PASSWORD)

    def ids(self, person: Person, path: str, key=lambda row: row["state"]) -> dict[str, int]:
        """The first id of a list for each kind of row."""
        rows = person.page.request.get(self.served.url + path).json()
        rows = rows["items"] if isinstance(rows, dict) else rows
        return {key(row): row["id"] for row in reversed(rows)}

    def settled(self, person: Person) -> None:
        """Wait until a view is there: streams never end, so no more than for what it asked for first."""
        person.page.locator("h1").first.wait_for()
        person.page.wait_for_timeout(500)

    def looked(self, person: Person, paths: list[str]) -> None:
        for path in paths:
            with self.subTest(path):
                person.open(path)
                self.settled(person)
                broken = in_every_shape(person.page)
                self.assertFalse(broken, "\n".join(f"{k}: {v}" for k, v in broken.items()))

    def views_of_instructor(self, person: Person) -> list[str]:
        desk = self.ids(person, f"/api/courses/{self.course}/desk")
        sheets = self.ids(person, "/api/references?size=200", lambda row: row["circuit"])
        learner = person.page.request.get(f"{self.served.url}/api/courses/{self.course}/members").json()[-1]["id"]
        chosen = [sheets[k] for k in ("throttle-position", "pedal-position", "secondary-voltage", "injector-voltage")]
        return [
            *("/", "/shelf", "/shelf/new", "/shelf/bring-in", f"/shelf/compare?ids={chosen[0]},{chosen[0] + 1}"),
            *(f"/shelf/{k}" for k in chosen),
            *("/cards", "/cards/new", "/cards/1", "/toolbox", "/marking", "/marking/now", "/marking/anew"),
            *(f"/marking/{desk[state]}" for state in ("handed_in", "released")),
            *("/skill", f"/skill/{self.course}/{learner}", "/courses", "/jobs", "/trail", "/account"),
        ]

    def views_of_learner(self, person: Person) -> list[str]:
        sittings = self.ids(person, "/api/sittings")
        begun = [f"/sittings/{sittings[state]}" for state in ("open", "handed_in", "released")]
        return ["/", "/cards", "/toolbox", "/skill", "/begin/1", *begun, "/account"]

    VIEWS_OF_OFFICE = ("/", "/people", "/jobs", "/trail", "/installation", "/account")

    def test_nobody_is_shut_out_of_the_instructors_views(self):
        person = self.as_(cast.INSTRUCTOR[0])
        self.looked(person, self.views_of_instructor(person))

    def test_nor_of_the_learners_and_the_offices(self):
        learner = self.as_(cast.LEARNERS[0].sign_in)
        self.looked(learner, self.views_of_learner(learner))
        self.looked(self.as_(cast.ADMINISTRATOR[0]), list(self.VIEWS_OF_OFFICE))

    def test_nor_of_what_is_empty_wrong_or_before_signing_in(self):
        self.looked(self.person(), ["/", "/join#nothing"])
        empty = ["/", "/shelf", "/cards", "/marking", "/marking/now", "/skill", "/courses", "/jobs", "/toolbox"]
        self.looked(self.as_("new.instructor"), [*empty, "/shelf/999999", "/marking/999999", "/nowhere"])
        self.looked(self.as_("new.learner"), ["/", "/cards", "/skill", "/sittings/999999"])
        broken = self.as_(cast.INSTRUCTOR[0])
        told = {"status": 500, "json": {"detail": "the database does not answer; try again in a minute"}}
        broken.page.route(re.compile(r"/api/(?!session|facts)"), lambda route: route.fulfill(**told))
        self.looked(broken, ["/shelf", "/shelf/1", "/cards", "/marking", "/courses"])

    def test_on_a_phone_the_views_are_behind_one_button_in_one_line(self):
        phone = self.as_(cast.INSTRUCTOR[0], width=390, height=844, has_touch=True)
        bar = phone.page.locator("header").first
        self.assertLessEqual(bar.bounding_box()["height"], 60)
        menu = phone.page.get_by_role("button", name=re.compile("Today"))
        self.assertGreaterEqual(menu.bounding_box()["height"], 44)
        toolbox = phone.page.get_by_role("link", name="Toolbox", exact=True)
        expect(toolbox).to_be_hidden()
        menu.tap()
        toolbox.tap()
        expect(phone.page.get_by_role("heading", level=1)).to_have_text("Toolbox")
        expect(toolbox).to_be_hidden()
        self.assertLessEqual(phone.page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_the_reference_beneath_a_sitting_lies_by_what_is_chosen(self):
        person = self.as_(cast.INSTRUCTOR[0])
        for sitting in person.page.request.get(f"{self.served.url}/api/courses/{self.course}/desk").json():
            person.open(f"/marking/{sitting['id']}")
            person.strip.wait_for()
            lies = person.page.get_by_label("The pale trace lies")
            if lies.count():
                break
        expect(lies).to_have_value("first phase")
        offered = lies.locator("option").all_inner_texts()
        self.assertIn("By the begin of the records", offered)
        self.assertIn("By the first phase they share", offered)
        lies.select_option(label="By the begin of the records")
        expect(lies).to_have_value("begin")

    def typed(self, person: Person, where: str) -> int:
        """Type every sign into each field in view, look whether it is there, and put back what was; how many."""
        fields = [f for f in person.page.locator(FIELDS).all() if f.is_visible() and f.is_editable()]
        for place, field in enumerate(fields):
            name = field.get_attribute("aria-label") or field.evaluate("e => e.labels?.[0]?.textContent ?? e.name")
            with self.subTest(where, field=name):
                before = field.input_value()
                field.fill("")
                field.focus()
                if place == 0:
                    person.page.keyboard.type(TYPED)
                else:
                    field.evaluate(PRESSED, TYPED)
                longest = int(field.get_attribute("maxlength") or len(TYPED))
                self.assertEqual(field.input_value(), TYPED[:longest])
                field.fill(before)
        return len(fields)

    def test_whatever_is_typed_stands(self):
        person, count = self.as_(cast.INSTRUCTOR[0]), 0
        views = self.views_of_instructor(person)
        sheets = [path for path in views if re.fullmatch(r"/shelf/\d+", path)]
        for path in [v for v in views if v not in sheets[1:]]:
            person.open(path)
            self.settled(person)
            count += self.typed(person, path)
            # What lies behind tabs and folds of the same view.
            for tab in person.page.get_by_role("tab").all():
                tab.click()
                count += self.typed(person, f"{path} {tab.inner_text()}")
        learner = self.as_(cast.LEARNERS[0].sign_in, width=1024, height=768)
        for path in self.views_of_learner(learner):
            learner.open(path)
            self.settled(learner)
            for step in learner.page.get_by_role("navigation", name="Steps").get_by_role("button").all():
                step.click()
                count += self.typed(learner, f"{path} {step.inner_text()}")
            count += self.typed(learner, path)
        office = self.as_(cast.ADMINISTRATOR[0])
        for path in self.VIEWS_OF_OFFICE:
            office.open(path)
            self.settled(office)
            count += self.typed(office, path)
        self.assertGreater(count, 30)
