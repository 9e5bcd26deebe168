"""A comment pinned to the trace, and a second marker who sees nothing of the first: on the screens."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.client import work


class SecondMarker(ScreenTest):
    def test_a_comment_is_pinned_and_a_colleague_marks_unseen(self):
        join = {"person_id": self.ids["stranger"], "member": True}
        self.caller("admin").post(f"/api/courses/{self.course_id}/members", join)
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        sitting_id = self.own_sitting("ann", card_id, 7)
        work(self.app)
        desk = self.person().sign_in("teacher")
        desk.open(f"/marking/{sitting_id}")
        desk.peg(1, 0.4)
        desk.fill("Comment at the peg", "Here the plateau begins.")
        desk.press("Pin it")
        expect(desk.page.get_by_role("button", name=re.compile("^Take the comment at"))).to_be_visible()
        desk.choose("Second marker", "Stranger")
        desk.press("Ask", exact=True)
        expect(desk.page.get_by_text("has not done so yet", exact=False)).to_be_visible()

        other = self.person().sign_in("stranger")
        other.follow("Marking desk")
        expect(other.page.get_by_text("To mark a second time, unseen: 1")).to_be_visible()
        other.page.get_by_role("link", name=re.compile("asked by Teacher")).click()
        expect(other.strip).to_be_visible()
        expect(other.page.get_by_text("Ann", exact=False)).to_have_count(0)
        points = other.page.get_by_label("Your points for Closed level", exact=True)
        points.fill("99")
        expect(other.page.get_by_text("Closed level: points from 0 to", exact=False)).to_be_visible()
        points.fill("1")
        other.press("Give these marks")
        expect(other.page.get_by_text("To mark a second time", exact=False)).to_have_count(0)

        desk.page.reload()
        expect(desk.page.get_by_text("gives other points for 1 of", exact=False)).to_be_visible()
        desk.press("Release", exact=True)
        learner = self.person(1024, 768).sign_in("ann")
        learner.open(f"/sittings/{sitting_id}")
        expect(learner.page.get_by_role("button", name=re.compile("Here the plateau begins")).first).to_be_visible()
        desk.open("/marking")
        expect(desk.page.get_by_text("1 sitting marked twice", exact=False)).to_be_visible()
