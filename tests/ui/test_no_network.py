"""Ten minutes without network: a sitting goes on, through a reload too, says so, and all is sent when it is back."""

import numpy as np

from tests.support.browser import ScreenTest, expect
from tests.support.client import csv_of
from tests.support.waves import Sweep

KEPT = """async () => {
  const held = await caches.open('kept')
  return (await held.keys()).map((r) => new URL(r.url).pathname)
}"""


SAMPLES_KEPT = """async () => {
  const held = await caches.open('kept')
  return (await held.keys()).some((r) => r.url.endsWith('/lanes/signal/samples'))
}"""


class NoNetwork(ScreenTest):
    def kept(self, tablet):
        return set(tablet.page.evaluate(KEPT))

    def test_a_sitting_goes_on_through_a_reload_and_nothing_is_lost(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        ann = self.caller("ann")
        sitting_id = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
        path = f"/api/sittings/{sitting_id}"
        sweep = Sweep(rate_hz=200)
        capture_id = ann.import_csv(csv_of(sweep))
        ann.post(f"{path}/capture", {"capture_id": capture_id})
        tablet = self.person(1024, 768, service_workers="allow").sign_in("ann")
        tablet.open(f"/sittings/{sitting_id}")
        expect(tablet.strip).to_be_visible()
        expect(tablet.page.get_by_title("Kept on this device", exact=False)).to_be_visible(timeout=20_000)
        tablet.page.wait_for_function(SAMPLES_KEPT, timeout=20_000)
        self.assertLessEqual({path, f"/api/captures/{capture_id}", "/api/facts", "/api/session"}, self.kept(tablet))
        # What may be closed to a learner again is not kept: lists, and what was told of earlier sittings.
        self.assertFalse({"/api/today", "/api/sittings"} & self.kept(tablet))

        self.served.stop()
        # The device knows that it has no network, and what is asked of it must not wait for one.
        tablet.context.set_offline(True)
        tablet.press("Read: closed level", exact=False)
        tablet.page.get_by_label("Closed level in V").fill("0.74")
        expect(tablet.page.get_by_role("status").first).to_contain_text("kept here until the network is back")
        tablet.strip.focus()
        tablet.page.keyboard.press("1")
        expect(tablet.page.get_by_role("button", name="Take from pegs: ")).to_be_visible()
        tablet.page.reload()
        expect(tablet.strip).to_be_visible()
        tablet.press("Read: closed level", exact=False)
        expect(tablet.page.get_by_label("Closed level in V")).to_have_value("0.74")
        expect(tablet.page.get_by_role("status").first).to_contain_text("kept here until the network is back")
        # Pegs are read from the samples that the device has.
        tablet.strip.focus()
        tablet.page.keyboard.press("1")
        peg = tablet.page.get_by_role("slider", name="Peg 1")
        peg.focus()
        for _ in range(30):
            tablet.page.keyboard.press("Shift+ArrowRight")
        times, volts = sweep.samples()
        under = float(np.interp(float(peg.get_attribute("aria-valuenow")), times, volts))
        self.assertTrue(1.0 < under < 3.9, under)
        tablet.page.get_by_role("button", name=f"Take from pegs: {under:.3f}").click()
        expect(tablet.page.get_by_label("Closed level in V")).to_have_value(f"{round(under, 3):g}")

        self.served.come_back()
        tablet.context.set_offline(False)
        tablet.saved()
        self.assertEqual(ann.get(path).json["answers"]["reading-closed_v"]["value"], round(under, 3))

        tablet.press("Hand in")
        tablet.page.get_by_role("dialog").get_by_role("button", name="Hand in", exact=False).click()
        expect(tablet.page.get_by_text("Handed in", exact=False).first).to_be_visible()
        self.assertNotIn(path, self.kept(tablet))
        tablet.open("/")
        tablet.press("Sign out")
        expect(tablet.page.get_by_label("Password")).to_be_visible()
        self.assertFalse({p for p in self.kept(tablet) if "captures" in p or "sittings" in p})
