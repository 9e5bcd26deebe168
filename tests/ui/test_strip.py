"""The strip: zoom and pan by every means, pegs that read the samples, links both ways, text for screen readers."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.waves import Sweep


class Strip(ScreenTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        plain = Sweep(rate_hz=2000)
        places = [plain.instant_of_travel(0.14, s, c) for s in (0, 1) for c in (False, True)]
        cls.sweep = Sweep(rate_hz=2000, dips=tuple((p, 0.012, 0.9) for p in places))
        cls.reference = cls.published_reference(cls.sweep)

    def setUp(self):
        super().setUp()
        self.teacher = self.person().sign_in("teacher")
        self.teacher.open(f"/shelf/{self.reference['id']}")
        expect(self.teacher.strip).to_be_visible()
        self.page = self.teacher.page

    def test_zoom_by_wheel_keyboard_button_and_typing_and_back(self):
        whole = self.teacher.view
        box = self.teacher.strip.bounding_box()
        self.page.mouse.move(box["x"] + 500, box["y"] + 150)
        steps = (
            lambda: self.page.mouse.wheel(0, -300),
            lambda: (self.teacher.strip.focus(), self.page.keyboard.press("ArrowUp")),
            lambda: self.teacher.press("Zoom in"),
        )
        for step in steps:
            before = self.teacher.view
            step()
            self.page.wait_for_timeout(150)
            after = self.teacher.view
            self.assertLess(after[1] - after[0], before[1] - before[0])
        self.teacher.show(2.0, 3.0)
        self.assertEqual(self.teacher.view, (2.0, 3.0))
        self.teacher.press("All")
        self.assertEqual(self.teacher.view, whole)

    def test_drag_pans_and_never_leaves_the_record(self):
        self.teacher.show(2.0, 4.0)
        box = self.teacher.strip.bounding_box()
        x, y = box["x"] + 400, box["y"] + 150
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x - 200, y, steps=4)
        self.page.mouse.up()
        start, stop = self.teacher.view
        self.assertGreater(start, 2.2)
        self.assertAlmostEqual(stop - start, 2.0, places=2)
        self.teacher.strip.focus()
        for _ in range(200):
            self.page.keyboard.press("ArrowRight")
        self.assertLessEqual(self.teacher.view[1], self.sweep.duration_s + 0.01)

    def test_pegs_read_the_samples_and_the_span_between(self):
        self.teacher.show(0.2, 0.6)
        self.teacher.peg(1, 0.25)
        self.teacher.peg(2, 0.75)
        span = self.page.get_by_text(re.compile(r"^span "))
        expect(span).to_contain_text("Hz")
        first = self.page.get_by_role("slider", name="Peg 1")
        expect(first).to_have_attribute("aria-valuetext", re.compile("signal 0.700 V"))

    def test_envelope_and_dots_are_said(self):
        expect(self.page.get_by_text("envelope: least and most of each column")).to_be_visible()
        self.teacher.show(1.0, 1.02)
        expect(self.page.get_by_text("each dot is a sample")).to_be_visible()

    def test_choosing_a_finding_takes_the_strip_there_and_back(self):
        finding = self.page.get_by_role("button", name=re.compile("^Dropout .*falls")).nth(2)
        finding.click()
        expect(finding).to_have_attribute("aria-pressed", "true")
        start, stop = self.teacher.view
        place = self.sweep.dips[2][0]
        self.assertTrue(start <= place <= stop, (start, place, stop))
        flag = self.page.get_by_role("group", name="Trace").locator("button[aria-pressed='true']")
        expect(flag).to_have_count(1)
        # And from the trace to the list.
        self.teacher.press("All")
        flags = self.page.get_by_role("group", name="Trace").locator("button[data-kind='fault']")
        flags.nth(0).click(force=True)
        expect(self.page.get_by_role("button", name=re.compile("^Dropout .*falls")).first).to_have_attribute(
            "aria-pressed", "true"
        )

    def test_a_summary_is_there_for_screen_readers(self):
        text = self.page.locator("p.hidden-text").first.inner_text()
        self.assertIn("opening", text)
        self.assertIn("Dropout", text)

    def test_question_mark_opens_the_sheet_of_keys(self):
        self.page.keyboard.press("?")
        expect(self.page.get_by_role("dialog")).to_contain_text("the whole record")
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_role("dialog")).to_be_hidden()
