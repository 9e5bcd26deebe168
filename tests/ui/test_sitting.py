"""A sitting loses nothing: reload, a lost network, a second window; and is done by keyboard and by touch."""

import re
import tempfile
from pathlib import Path

from tests.support.browser import ScreenTest, expect
from tests.support.client import csv_of
from tests.support.waves import Sweep


class Survival(ScreenTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.card_id = cls.published_card(version_id=cls.published_reference()["version_id"], attempts=9)

    def begun(self, name: str, **options):
        caller = self.caller(name)
        sitting_id = caller.post(f"/api/cards/{self.card_id}/sittings").json["id"]
        capture_id = caller.import_csv(csv_of(Sweep(rate_hz=200)))
        caller.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id})
        person = self.person(1024, 768, **options).sign_in(name)
        person.open(f"/sittings/{sitting_id}")
        person.press("Read: closed level", exact=False)
        return person, sitting_id

    def value(self, name, sitting_id):
        answers = self.caller(name).get(f"/api/sittings/{sitting_id}").json["answers"]
        return answers.get("reading-closed_v", {}).get("value")

    def test_a_reload_keeps_what_was_typed(self):
        ann, sitting_id = self.begun("ann")
        ann.page.get_by_label("Closed level in V").fill("0.71")
        ann.saved()
        ann.page.reload()
        ann.press("Read: closed level", exact=False)
        expect(ann.page.get_by_label("Closed level in V")).to_have_value("0.71")
        self.assertEqual(self.value("ann", sitting_id), 0.71)

    def test_a_lost_network_is_said_and_made_good(self):
        ben, sitting_id = self.begun("ben")
        ben.context.set_offline(True)
        ben.page.get_by_label("Closed level in V").fill("0.72")
        expect(ben.page.get_by_role("status")).to_contain_text("kept here until the network is back")
        self.assertIsNone(self.value("ben", sitting_id))
        ben.context.set_offline(False)
        ben.saved()
        self.assertEqual(self.value("ben", sitting_id), 0.72)

    def test_two_windows_lose_nothing(self):
        first, sitting_id = self.begun("ann")
        second = self.person(1024, 768).sign_in("ann")
        second.open(f"/sittings/{sitting_id}")
        second.press("Compare: closed level", exact=False)
        second.press("Marginal")
        second.saved()
        first.page.get_by_label("Closed level in V").fill("0.73")
        first.saved()
        self.assertEqual(self.value("ann", sitting_id), 0.73)
        answers = self.caller("ann").get(f"/api/sittings/{sitting_id}").json["answers"]
        self.assertEqual(answers["compare-closed_v"], {"state": "marginal"})

    def test_by_keyboard_alone(self):
        ben, sitting_id = self.begun("ben")
        ben.strip.focus()
        ben.page.keyboard.press("1")
        peg = ben.page.get_by_role("slider", name="Peg 1")
        expect(peg).to_be_visible()
        before = float(peg.get_attribute("aria-valuenow"))
        peg.focus()
        ben.page.keyboard.press("ArrowRight")
        ben.page.keyboard.press("Shift+ArrowRight")
        expect(peg).to_have_attribute("aria-valuenow", re.compile(r"\d"))
        self.assertAlmostEqual(float(peg.get_attribute("aria-valuenow")) - before, 11 / 200, places=6)
        take = ben.page.get_by_role("button", name=re.compile("Take from pegs: "))
        take.focus()
        ben.page.keyboard.press("Enter")
        ben.saved()
        self.assertIsNotNone(self.value("ben", sitting_id))

    def test_by_touch_with_targets_of_44_pixels(self):
        ann, _ = self.begun("ann", has_touch=True)
        box = ann.strip.bounding_box()
        ann.page.touchscreen.tap(box["x"] + 400, box["y"] + 150)
        expect(ann.page.get_by_role("slider", name="Peg 1")).to_be_visible()
        for button in ann.page.locator("footer button, nav button").all():
            self.assertGreaterEqual(round(button.bounding_box()["height"]), 44, button.inner_text())

    def test_hand_in_says_what_is_missing(self):
        ben, _ = self.begun("ben")
        ben.press("Hand in")
        dialog = ben.page.get_by_role("dialog")
        expect(dialog).to_contain_text("the cautions are not acknowledged")
        expect(dialog).to_contain_text("Your call")
        dialog.get_by_role("button", name="Go on working").click()
        expect(dialog).to_be_hidden()

    def test_what_was_typed_too_late_is_shown_and_not_lost(self):
        ann, sitting_id = self.begun("ann")
        ann.context.set_offline(True)
        ann.page.get_by_label("Closed level in V").fill("0.74")
        expect(ann.page.get_by_role("status")).to_contain_text("kept here until the network is back")
        self.caller("ann").post(f"/api/sittings/{sitting_id}/hand-in", {"incomplete_ok": True})
        ann.context.set_offline(False)
        ann.page.reload()
        kept = ann.page.get_by_text("typed after the sitting was handed in", exact=False)
        expect(kept).to_be_visible()
        expect(ann.page.get_by_text("0.74", exact=False).first).to_be_visible()
        ann.press("Put it away")
        expect(kept).to_be_hidden()

    def test_hand_in_waits_for_what_is_being_saved(self):
        ben, sitting_id = self.begun("ben")

        def slow(route):
            ben.page.wait_for_timeout(1500)
            route.continue_()

        ben.page.route("**/answer", slow)
        ben.press("Hand in")
        dialog = ben.page.get_by_role("dialog")
        dialog.get_by_role("button", name="Go on working").click()
        ben.page.get_by_label("Closed level in V").fill("0.75")
        ben.press("Hand in")
        dialog.get_by_role("button", name=re.compile("Hand in")).click()
        expect(ben.page.get_by_text("Handed in and safe", exact=False)).to_be_visible(timeout=15000)
        self.assertEqual(self.value("ben", sitting_id), 0.75)


class Bad(ScreenTest):
    def test_a_file_that_is_no_capture_is_refused_with_its_place(self):
        path = Path(tempfile.mkdtemp()) / "notes.csv"
        path.write_text("time (s),A (V)\n" + "".join(f"{k / 100},{'oops' if k == 60 else 1}\n" for k in range(400)))
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.upload(path)
        teacher.press("Import")
        expect(teacher.page.get_by_text("line 62, column 2", exact=False)).to_be_visible()
        # Nothing is lost: the mapping is still there to be changed.
        expect(teacher.page.get_by_role("button", name="Import", exact=True)).to_be_visible()

    def test_another_course_s_things_cannot_be_opened(self):
        card_id = self.published_card()
        stranger = self.person().sign_in("stranger")
        stranger.open(f"/cards/{card_id}")
        expect(stranger.page.get_by_text("no such job card", exact=False)).to_be_visible()
