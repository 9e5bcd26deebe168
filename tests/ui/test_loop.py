"""The whole job in the browser, both roles, on a file that is uploaded."""

import json
import re
import tempfile
from pathlib import Path

from tests.support.browser import ScreenTest, expect
from tests.support.client import csv_of
from tests.support.waves import Sweep

KEY_WORDS = ("findings", "because", "certainty", '"fault"', "reference_version_id", "marginal_", '"earned":1')


def german(sweep: Sweep) -> bytes:
    """The same sweep as another make of scope would export it."""
    times, volts = sweep.samples()
    rows = [f"{t * 1000:.1f};{v:.4f}".replace(".", ",") for t, v in zip(times, volts, strict=True)]
    return ("# bay 2\r\nZeit;Kanal 1\r\n(ms);(V)\r\n" + "\r\n".join(rows) + "\r\n").encode("utf-8-sig")


class Loop(ScreenTest):
    def setUp(self):
        super().setUp()
        self.folder = Path(tempfile.mkdtemp())
        self.known_good = self.folder / "known good.csv"
        self.known_good.write_bytes(csv_of(Sweep(rate_hz=500, noise_v=0.004)))
        plain = Sweep(rate_hz=1000)
        places = [plain.instant_of_travel(0.14, s, c) for s in (0, 1) for c in (False, True)]
        self.worn = Sweep(rate_hz=1000, noise_v=0.004, dips=tuple((p, 0.012, 0.9) for p in places))
        self.own_file = self.folder / "test2 (3).csv"
        self.own_file.write_bytes(german(self.worn))

    def make_reference(self, teacher):
        teacher.follow("Shelf")
        teacher.press("New reference")
        teacher.upload(self.known_good)
        expect(teacher.page.get_by_text("decimal “.”")).to_be_visible()
        teacher.press("Import")
        expect(teacher.strip).to_be_visible()
        teacher.fill("Title on the shelf", "Known good, bay 1")
        teacher.press("Keep as draft")
        expect(teacher.page.get_by_text("Nothing is outside its limit.")).to_be_visible()
        teacher.peg(1, 0.05)
        teacher.tab("Tags")
        teacher.page.get_by_role("textbox", name="New tag").fill("Rest against the closed stop")
        teacher.press("Add tag")
        expect(
            teacher.page.get_by_role("button", name=re.compile("Rest against the closed stop")).first
        ).to_be_visible()
        teacher.press("Publish version 1")
        expect(teacher.page.get_by_text("published, version 1")).to_be_visible()

    def make_card(self, teacher):
        teacher.press("Make a job card")
        teacher.fill("Title", "Hesitates pulling away")
        teacher.page.get_by_label(re.compile("^Brief")).fill("Stumbles just off idle. Is the sensor to blame?")
        teacher.press("Publish")
        expect(teacher.page.get_by_text("published, version 1")).to_be_visible()

    def sit(self, learner):
        learner.press("Begin")
        for box in learner.page.get_by_role("checkbox").all():
            box.check()
        learner.saved()
        learner.press("Next step")
        learner.upload(self.own_file)
        expect(learner.page.get_by_text("decimal “,”")).to_be_visible()
        learner.press("Import")
        expect(learner.strip).to_be_visible()
        learner.press("Next step")
        # Closed level: two pegs inside the first rest.
        learner.peg(1, 0.005)
        learner.peg(2, 0.025)
        learner.press("Take from pegs", exact=False)
        learner.saved()
        learner.press("Next step")
        learner.page.get_by_label("Open level in V").fill("4.2")
        learner.press("Next step")
        learner.page.get_by_label("Slowest opening in s").fill("4.4")
        learner.press("Next step")
        learner.page.get_by_label("Deepest dropout in V").fill("0.9")
        learner.press("Next step")
        learner.press("Inside the limit")
        learner.press("Next step")
        learner.press("Inside the limit")
        learner.press("Next step")
        learner.press("Faulty")
        learner.page.get_by_label("How sure, in percent").fill("90")
        learner.choose("Cause", "Worn or dirty track in the sensor")
        learner.choose("What you would do next", "Check signal wire and plug")
        first = self.worn.dips[0][0]
        learner.show(first - 0.3, first + 0.3)
        learner.peg(1, 0.45)
        learner.peg(2, 0.55)
        learner.press("Add from pegs")
        learner.saved()

    def test_from_a_scope_file_to_a_skill_map_that_moved(self):
        teacher = self.person().sign_in("teacher")
        self.make_reference(teacher)
        self.make_card(teacher)

        learner = self.person(1024, 768)
        seen = learner.overheard()
        learner.sign_in("ann")
        self.sit(learner)
        learner.press("Hand in")
        learner.page.get_by_role("dialog").get_by_role("button", name="Hand in").click()
        expect(learner.page.get_by_text("Handed in", exact=False).first).to_be_visible()
        self.no_key_in(seen)
        learner.page.unroute("**/api/**")

        teacher.follow("Skill map")
        before = teacher.page.get_by_role("row", name=re.compile("Ann")).inner_text()
        teacher.follow("Marking desk")
        teacher.page.get_by_role("button", name="Settle the first").wait_for()
        teacher.follow("Ann")
        expect(teacher.page.get_by_text("Right: faulty", exact=False)).to_be_visible()
        expect(teacher.page.get_by_text("Right place: falls 0.9", exact=False)).to_be_visible()
        row = teacher.page.get_by_role("button", name=re.compile("^Confidence"))
        row.click()
        teacher.page.get_by_label(re.compile("^Points, 0 to")).fill("0.5")
        teacher.fill("Reason, for the learner", "Well judged.")
        teacher.press("Change")
        expect(teacher.page.get_by_text("Well judged.", exact=False).first).to_be_visible()
        teacher.press("Release")
        teacher.follow("Skill map")
        expect(teacher.page.get_by_role("row", name=re.compile("Ann.*1 marked", re.DOTALL))).to_be_visible()
        self.assertNotEqual(teacher.page.get_by_role("row", name=re.compile("Ann")).inner_text(), before)

        learner.open("/")
        learner.page.get_by_role("link", name=re.compile("points: see why")).click()
        expect(learner.page.get_by_text("Well judged.", exact=False).first).to_be_visible()
        expect(learner.page.get_by_text(re.compile("hatched: stated tolerances"))).to_be_visible()

    def no_key_in(self, bodies):
        """Nothing that the tool measured, judged or expects has reached this browser."""
        self.assertTrue(bodies)
        for body in bodies:
            document = json.loads(body) if body else {}
            if isinstance(document, dict) and "circuits" in document:
                continue  # what circuits declare is the same for everybody, whatever the card
            for word in KEY_WORDS:
                self.assertNotIn(word, body)
            if isinstance(document, dict):
                self.assertIsNone(document.get("feedback"))
