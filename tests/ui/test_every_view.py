"""Every view of an instructor under axe-core, and on a phone: nobody is shut out of one."""

import re

from tests.support.browser import expect
from tests.support.views import Views
from tracebench.demo import cast


class EveryView(Views):
    def test_nobody_is_shut_out_of_the_instructors_views(self):
        person = self.as_(cast.INSTRUCTOR[0])
        self.looked(person, self.views_of_instructor(person))

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
        rows = person.page.request.get(f"{self.served.url}/api/courses/{self.course}/desk").json()
        sheets = (person.page.request.get(f"{self.served.url}/api/marking/{row['id']}").json() for row in rows)
        # Where there are too few sound ones for a corridor, which would lie there instead.
        none = {"status": 404, "json": {"message": "too few sound ones"}}
        person.page.route("**/api/marking/*/corridor", lambda route: route.fulfill(**none))
        person.open(f"/marking/{next(s['id'] for s in sheets if s['reference_capture_id'] and s['reference_phases'])}")
        lies = person.page.get_by_label("The pale trace lies")
        expect(lies).to_have_value("first phase")
        for text in ("By the begin of the records", "By the first phase they share"):
            expect(lies.get_by_role("option", name=text, exact=True)).to_be_attached()
        lies.select_option(label="By the begin of the records")
        expect(lies).to_have_value("begin")
