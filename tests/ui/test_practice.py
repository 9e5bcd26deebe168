"""Practice against the clock: what is left is told, at the end what was saved is handed in, feedback comes."""

from tests.support.browser import ScreenTest, expect
from tests.support.client import csv_of
from tests.support.waves import Sweep


class Practice(ScreenTest):
    def ends_in(self, sitting_id, seconds):
        """As if the sitting had been begun that much earlier."""
        with self.pool.transaction() as conn, conn.cursor() as cursor:
            moved = "UPDATE sitting SET ends_at = UTC_TIMESTAMP(3) + INTERVAL %s SECOND WHERE id = %s"
            cursor.execute(moved, (seconds, sitting_id))

    def test_time_runs_out_feedback_comes_and_a_second_try_closes_it(self):
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, mode="practice", minutes=20, attempts=2)
        ann = self.caller("ann")
        tablet = self.person(1024, 768, has_touch=True).sign_in("ann")
        tablet.open(f"/begin/{card_id}")
        tablet.press("Begin")
        expect(tablet.page.get_by_text("20 min left")).to_be_visible()
        sitting_id = int(tablet.page.url.rsplit("/", 1)[1])
        ann.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": ann.import_csv(csv_of(Sweep(rate_hz=200)))})
        self.ends_in(sitting_id, seconds=8)
        tablet.page.reload()
        expect(tablet.page.get_by_text("s left").first).to_be_visible()
        self.assertEqual(ann.get(f"/api/sittings/{sitting_id}").json["state"], "open")
        expect(tablet.page.get_by_text("count for nothing", exact=False)).to_be_visible(timeout=30_000)
        tablet.follow("Try again")
        tablet.press("Begin")
        expect(tablet.page.get_by_text("20 min left")).to_be_visible()
        tablet.open(f"/sittings/{sitting_id}")
        expect(tablet.page.get_by_text("closed while another attempt", exact=False)).to_be_visible()


class MoreTime(ScreenTest):
    def test_an_instructor_sees_who_sits_and_the_learners_clock_follows(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"], minutes=20)
        teacher = self.person().sign_in("teacher")
        teacher.open("/courses")
        teacher.choose("Learner who gets more time", "Ben")
        teacher.press("+25 %")
        expect(teacher.page.get_by_role("button", name="No more extra time for Ben")).to_be_visible()
        teacher.open("/marking/now")
        expect(teacher.page.get_by_text("Nobody sits a card at the moment.", exact=False)).to_be_visible()
        tablet = self.person(1024, 768, has_touch=True).sign_in("ben")
        tablet.open(f"/begin/{card_id}")
        expect(tablet.page.get_by_text("You have 25 minutes", exact=False)).to_be_visible()
        tablet.press("Begin")
        expect(tablet.page.get_by_text("25 min left")).to_be_visible()
        teacher.page.reload()
        teacher.press("More time for Ben")
        teacher.page.get_by_label("Why, for the trail").fill("His scope had to be changed.")
        teacher.press("+10 min")
        expect(teacher.page.get_by_text("35 min")).to_be_visible()
        # It asks by itself, and nothing is typed or pressed meanwhile.
        expect(tablet.page.get_by_text("35 min left")).to_be_visible(timeout=20_000)
