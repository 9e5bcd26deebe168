"""The trainer under a learner's own hands: probes on wires, key and throttle, a live trace, and what is kept of it."""

import re

from tests.support.browser import ScreenTest, expect

FIRST_PICTURE_MS = 40_000
"""The first run after an install compiles the engine's steps: 4 s of processor, more beside three other workers."""


class ByHand(ScreenTest):
    def at_the_trainer(self, **screen):
        card_id = self.published_card(
            version_id=self.published_reference()["version_id"], source={"kind": "trainer", "fault": "none"}, attempts=9
        )
        tablet = self.person(1024, 768, **screen).sign_in("ann")
        tablet.open(f"/begin/{card_id}")
        tablet.page.get_by_role("navigation", name="Steps").get_by_role("button", name="Capture").click()
        tablet.press("With your own hands", exact=False)
        return tablet

    def wire(self, tablet, name):
        tablet.page.get_by_role("button", name=re.compile(f"^Wire .*, {name}:")).click()

    def live(self, tablet):
        return tablet.page.get_by_label("What the scope shows now")

    def test_probes_are_put_on_wires_and_what_was_frozen_becomes_the_trace(self):
        tablet = self.at_the_trainer(has_touch=True)
        expect(tablet.page.get_by_role("button", name="Start the trainer")).to_be_disabled()
        for name in ("Signal", "Reference", "Ground"):
            self.wire(tablet, name)
        tablet.choose("Length", "20 s")
        tablet.press("Start the trainer")
        expect(self.live(tablet)).to_be_visible()
        tablet.page.get_by_role("group", name="Key").get_by_role("button", name="On", exact=True).tap()
        throttle = tablet.page.get_by_role("slider", name="Throttle")
        throttle.fill("0.5")
        expect(self.live(tablet).get_by_text("engine speed 0 rpm")).to_be_visible()
        throttle.fill("0")
        tablet.press("Freeze and keep")
        expect(tablet.strip).to_be_visible()
        expect(self.live(tablet)).to_have_count(0)
        # The trainer runs on, in this window as in the next.
        tablet.page.reload()
        tablet.page.get_by_role("navigation", name="Steps").get_by_role("button", name="Capture").click()
        tablet.press("Run")
        expect(self.live(tablet)).to_be_visible()
        on = tablet.page.get_by_role("group", name="Key").get_by_role("button", name="On", exact=True)
        expect(on).to_have_attribute("aria-pressed", "true")
        # The scope stands as it was set.
        expect(tablet.page.get_by_role("button", name=re.compile("Scope: 10 V, 20 s, 1,000 a second"))).to_be_visible()

    def test_every_control_is_in_sight_on_a_tablet_while_it_runs(self):
        tablet = self.at_the_trainer(has_touch=True)
        self.wire(tablet, "Signal")
        tablet.press("Start the trainer")
        expect(self.live(tablet)).to_be_visible()
        actions = tablet.page.get_by_role("button", name="Freeze and keep").bounding_box()
        for name in ("Key", "Throttle"):
            box = tablet.page.get_by_text(name, exact=True).first.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], actions["y"] + 1, name)
        for button in tablet.page.locator("footer").get_by_role("button").all():
            box = button.bounding_box()
            self.assertLessEqual(box["y"] + box["height"], 768, button.inner_text())
        fold = tablet.page.get_by_role("button", name=re.compile("Scope: ")).bounding_box()
        self.assertLessEqual(fold["y"] + fold["height"], actions["y"] + 1)

    def test_a_probe_on_the_wrong_wire_shows_that_wire_and_single_keeps_one_record(self):
        tablet = self.at_the_trainer()
        # The probe of the signal, on the wire of the reference; the others hang free.
        self.wire(tablet, "Reference")
        tablet.choose("Length", "0.5 s")
        tablet.press("Start the trainer")
        key = tablet.page.get_by_role("group", name="Key")
        key.get_by_role("button", name="On", exact=True).focus()
        tablet.page.keyboard.press("Enter")
        tablet.page.get_by_role("button", name="Hold to start").focus()
        tablet.page.keyboard.down(" ")
        turns = self.live(tablet).get_by_text(re.compile(r"engine speed [1-9]\d\d rpm"))
        expect(turns).to_be_visible(timeout=FIRST_PICTURE_MS)
        tablet.page.keyboard.up(" ")
        tablet.press("Single")
        expect(tablet.strip).to_be_visible(timeout=15_000)
        told = tablet.page.get_by_role("button", name=re.compile("signal on the wire of the reference"))
        expect(told).to_be_visible()
        expect(tablet.strip.get_by_text("Reference", exact=True)).to_have_count(0)
