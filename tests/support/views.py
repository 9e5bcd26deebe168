"""The demo's views at a browser: which there are for whom, and what axe-core says of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tests.support.axe import in_every_shape
from tests.support.browser import Person, Screen
from tests.support.client import NOW
from tests.support.demo import DemoTest
from tracebench.demo import cast
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts

VIEWS_OF_OFFICE = ("/", "/people", "/jobs", "/trail", "/installation", "/account")


class Views(Screen, DemoTest):
    """A test class with the demo served, and with an instructor and a learner who have nothing yet."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        with cls.pool.transaction() as conn:
            for name, role in (("new.instructor", "instructor"), ("new.learner", "learner")):
                accounts.add(conn, name, name, role, cast.PASSWORD, NOW)
            row = queries.people.by_sign_in(conn, sign_in=cast.INSTRUCTOR[0])
            course = next(c for c in queries.courses.of_person(conn, person_id=row["id"]) if c["title"] == cast.COURSE)
        cls.course = course["id"]

    def as_(self, who: str, **screen: Any) -> Person:
        return self.person(**screen).sign_in(who, cast.PASSWORD)

    def ids(self, person: Person, path: str, key: Callable[[Any], str] = lambda row: row["state"]) -> dict[str, int]:
        """The first id of a list for each kind of row."""
        rows = person.page.request.get(self.served.url + path).json()
        rows = rows["items"] if isinstance(rows, dict) else rows
        return {key(row): row["id"] for row in reversed(rows)}

    def settled(self, person: Person) -> None:
        """Wait until a view is there: streams never end, so no more than for what it asked for first."""
        person.page.locator("h1").first.wait_for()
        person.page.wait_for_timeout(300)

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
            *("/cards", "/cards/new", "/cards/1", "/suspects", "/toolbox", "/marking", "/marking/now", "/marking/anew"),
            *(f"/marking/{desk[state]}" for state in ("handed_in", "released")),
            *("/skill", f"/skill/{self.course}/{learner}", "/courses", "/jobs", "/trail", "/account"),
        ]

    def views_of_learner(self, person: Person) -> list[str]:
        sittings = self.ids(person, "/api/sittings")
        begun = [f"/sittings/{sittings[state]}" for state in ("open", "handed_in", "released")]
        return ["/", "/cards", "/toolbox", "/skill", "/begin/1", *begun, "/account"]
