"""A card with every kind of step: made in the maker, sat on a tablet, its free text marked with phrases at the desk."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.client import csv_of, work
from tests.support.waves import Sweep
from tracebench.demo.cast import LOOM_STEPS


class EveryKindOfStep(ScreenTest):
    def test_is_answered_kept_and_marked(self):
        version = self.published_reference()["version_id"]
        steps = [dict(s) for s in LOOM_STEPS] + [{"kind": "spot", "among": "cylinder", "prompt": "Any odd one?"}]
        card_id = self.published_card(version_id=version, steps=steps)
        ann = self.caller("ann")
        sitting_id = ann.post(f"/api/cards/{card_id}/sittings").json["id"]
        capture_id = ann.import_csv(csv_of(Sweep(rate_hz=200)))
        ann.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id})
        tablet = self.person(1024, 768, has_touch=True).sign_in("ann")
        tablet.open(f"/sittings/{sitting_id}")
        expect(tablet.strip).to_be_visible()
        shell = tablet.page.locator("main > div > section").first
        steps_there = tablet.page.get_by_role("navigation", name="Steps").get_by_role("button")
        for k in range(steps_there.count() - 1):
            # The trace keeps more than half of the height in every step.
            steps_there.nth(k).click()
            self.assertGreaterEqual(shell.bounding_box()["height"], 0.55 * 768 - 1, k)
        tablet.press("Connect", exact=False)
        for wire, lane in (("Brown", "Reference"), ("Grey", "Signal"), ("White", "Ground")):
            tablet.choose(f"{wire}:", lane)
        tablet.choose("Ground lead on", "sensor ground")
        tablet.choose("Before the input", "Test lead")
        tablet.press("Set up", exact=False)
        for label, value in (("Range from zero to", 10), ("Length of the record", 20), ("Samples a second", 1000)):
            tablet.page.get_by_label(re.compile(label)).fill(str(value))
        tablet.press("Name the parts", exact=False)
        tablet.peg(1, 0.01)
        tablet.press("closed")
        expect(tablet.page.get_by_role("button", name=re.compile("closed at "))).to_be_visible()
        tablet.press("Work out", exact=False)
        for label, value in (
            ("First point", 0.6),
            ("First stands for", 0),
            ("Second point", 4.2),
            ("Second stands for", 100),
            ("Voltage read", 4.2),
            ("It comes to", 100),
        ):
            tablet.page.get_by_label(re.compile(f"^{label}")).fill(str(value))
        tablet.press("Record, voltage", exact=False)
        tablet.page.get_by_label("Volts, V").fill("5.01")
        # A row is kept as soon as it is whole, whatever is pressed next.
        expect(tablet.page.get_by_text("1 kept, 2 wanted", exact=False)).to_be_visible()
        tablet.press("Record, meter sweep", exact=False)
        expect(tablet.page.get_by_role("button", name="Take what the meter showed")).to_have_count(0)
        tablet.page.get_by_label("Second of the capture, s").fill("0.5")
        tablet.page.get_by_label("Meter shows, V").fill("0,7")
        expect(tablet.page.get_by_text("1 kept, 5 wanted", exact=False)).to_be_visible()
        # A row that is half typed is there again after a look at another step.
        tablet.press("Add a row")
        tablet.page.get_by_label("Second of the capture, s").nth(1).fill("0.9")
        tablet.press("Compare: closed level beside the reference", exact=False)
        tablet.press("Record, meter sweep", exact=False)
        expect(tablet.page.get_by_label("Second of the capture, s").nth(1)).to_have_value("0.9")
        expect(tablet.page.get_by_label("Meter shows, V").first).to_have_value("0,7")
        tablet.press("Compare: closed level beside the reference", exact=False)
        expect(tablet.page.get_by_text("The reference has 0.700 V, and lies pale beneath your trace.")).to_be_visible()
        expect(tablet.page.get_by_text("pale: the reference", exact=False)).to_be_visible()
        tablet.press("Alike")
        tablet.press("Find the odd one, lane", exact=False)
        tablet.press("Ground")
        tablet.press("Find the odd one, cylinder", exact=False)
        tablet.press("None of them is odd")
        tablet.press("Your call", exact=False)
        tablet.choose("And if that does not cure it?", "Check stops, linkage and full mechanical travel")
        tablet.choose("Cause to rule out", "Worn or dirty track in the sensor")
        tablet.press("Rule it out")
        expect(
            tablet.page.get_by_role("button", name="Rule Worn or dirty track in the sensor out no more")
        ).to_be_visible()
        tablet.press("Explain", exact=False)
        tablet.page.get_by_label("Your explanation").fill("No gap in either sweep; the levels are fine.")
        tablet.saved()
        answers = ann.get(f"/api/sittings/{sitting_id}").json["answers"]
        self.assertEqual(answers["connect"]["wires"]["Brown"], "reference")
        self.assertEqual(answers["set_up"], {"range_v": 10, "duration_s": 20, "rate_hz": 1000})
        self.assertEqual(answers["work_out-transfer"]["figures"]["volts"], 4.2)
        self.assertEqual(answers["spot-cylinder"], {"absent": True})
        self.assertEqual(answers["spot-lane"], {"lane": "ground"})
        self.assertEqual(answers["compare-closed_v-reference"], {"state": "alike"})
        self.assertEqual(answers["record-meter-sweep"]["rows"], [{"at_s": "0.5", "volts": "0.7"}])
        self.assertEqual(answers["call"]["otherwise"], "mechanical")
        (ruled,) = answers["call"]["ruled_out"]
        self.assertEqual(ruled["cause"], "worn-track")
        self.assertEqual(len(ruled["by"]), 1)
        self.assertNotIn("no gap in either sweep", str(ann.get(f"/api/sittings/{sitting_id}").json["card"]))
        ann.post(f"/api/sittings/{sitting_id}/hand-in", {"incomplete_ok": True})
        work(self.app)
        desk = self.person().sign_in("teacher")
        desk.open(f"/marking/{sitting_id}")
        expect(desk.page.get_by_text("No gap in either sweep; the levels are fine.").first).to_be_visible()
        desk.page.get_by_role("button", name=re.compile("^Explanation")).first.click()
        desk.page.get_by_label("no gap in either sweep").check()
        desk.page.get_by_label("both levels inside the limits").check()
        desk.press("Change")
        expect(desk.page.get_by_text("said: no gap in either sweep", exact=False).first).to_be_visible()
        results = {
            r["criterion"]: r for r in self.caller("teacher").get(f"/api/marking/{sitting_id}").json["grade"]["results"]
        }
        self.assertAlmostEqual(results["explain"]["settled"], 1.33)
        self.assertEqual((results["connect"]["earned"], results["spot:cylinder"]["earned"]), (2, 2))
        self.assertEqual((results["compare:closed_v-reference"]["earned"], results["spot"]["earned"]), (0.5, 0))
        self.assertEqual(results["record:voltage"]["earned"], 0.5)

    def test_the_maker_adds_each_and_tells_what_it_needs(self):
        teacher = self.person().sign_in("teacher")
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version)
        teacher.open(f"/cards/{card_id}")

        def add(step):
            teacher.choose("Step to add", step)
            teacher.press("Add")

        add("Connect")
        teacher.page.get_by_label("where the ground lead goes").check()
        add("Set up")
        teacher.page.get_by_label("A record must last, s").fill("20")
        teacher.page.get_by_role("navigation", name="The card").get_by_role("button", name="Your call").click()
        teacher.page.get_by_label("what is ruled out", exact=False).check()
        add("Explain")
        teacher.page.get_by_label("What you look for", exact=False).fill("ground\nload")
        add("Name the parts")
        teacher.press("opening")
        add("Compare: open level, beside before the repair")
        teacher.choose("The capture before the repair", "Sound, version 1")
        teacher.page.get_by_label("Alike within, %").fill("4")
        add("Work out: current from a clamp")
        # A step is moved and edited where it stands, its prompt whole, beside the trace once the draft is kept.
        teacher.page.get_by_role("button", name=re.compile("^Move Work out.* up$")).click()
        teacher.page.get_by_label("Prompt of Work out").fill("What current is that?")
        with teacher.page.expect_response(lambda answer: answer.request.method == "PUT"):
            teacher.press("Keep draft")
        expect(teacher.page.get_by_role("button", name="Keep draft")).to_be_disabled()
        steps = {s["kind"]: s for s in self.caller("teacher").get(f"/api/cards/{card_id}").json["document"]["steps"]}
        self.assertEqual(steps["set_up"]["lasts_s"], 20)
        self.assertEqual(steps["call"]["asks"], ["ruled_out"])
        self.assertEqual(steps["explain"]["phrases"], ["ground", "load"])
        self.assertNotIn("opening", steps["name"]["names"])
        self.assertEqual(len(steps["connect"]["wires"]), 3)
        self.assertEqual(steps["connect"]["asks"], ["ground"])
        self.assertEqual(set(steps["work_out"]["figures"]), {"volts", "mv_per_a"})
        kinds = [s["kind"] for s in self.caller("teacher").get(f"/api/cards/{card_id}").json["document"]["steps"]]
        self.assertEqual(kinds[-3:], ["name", "work_out", "compare"])
        self.assertEqual((steps["compare"]["against"], steps["compare"]["within_pct"]), ("before", 4))
        self.assertAlmostEqual(steps["compare"]["other"]["value"], 4.2, places=2)
        self.assertEqual(steps["work_out"]["prompt"], "What current is that?")
        teacher.page.get_by_role("navigation", name="The card").get_by_role("button", name="Read: closed level").click()
        expect(teacher.page.get_by_text("You read 0.7", exact=False)).to_be_visible()

    def test_a_later_step_waits_and_a_hint_says_that_it_costs(self):
        steps = [
            {"kind": "capture", "prompt": ""},
            {"kind": "reading", "reading": "closed_v", "prompt": "", "hint": "Before the first movement."},
            {"kind": "call", "prompt": "", "after": "reading-closed_v"},
        ]
        card_id = self.published_card(version_id=self.published_reference()["version_id"], steps=steps)
        ben = self.caller("ben")
        sitting_id = ben.post(f"/api/cards/{card_id}/sittings").json["id"]
        capture_id = ben.import_csv(csv_of(Sweep(rate_hz=200)))
        ben.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id})
        tablet = self.person(1024, 768).sign_in("ben")
        tablet.open(f"/sittings/{sitting_id}")
        tablet.press("Your call", exact=False)
        expect(tablet.page.get_by_text("This step opens once an earlier one is answered.")).to_be_visible()
        tablet.press("Read: closed level", exact=False)
        tablet.press("Take a hint", exact=False)
        expect(tablet.page.get_by_text("Hint: Before the first movement.")).to_be_visible()
        tablet.page.get_by_label("Closed level in V").fill("0.7")
        tablet.saved()
        tablet.press("Your call", exact=False)
        expect(tablet.page.get_by_text("This step opens")).to_have_count(0)
