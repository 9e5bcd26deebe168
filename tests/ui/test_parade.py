"""The parade in the browser: from a recording to the odd cylinder, by keys and by touch."""

import re

from tests.support.browser import ScreenTest, expect


class Parade(ScreenTest):
    def test_a_parade_is_recorded_told_its_order_and_stepped_through(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.choose("Circuit", "Injector currents, all in order")
        teacher.choose("Part", "One circuit with high resistance")
        teacher.press("Record")
        expect(teacher.strip).to_be_visible()
        teacher.fill("Title on the shelf", "Row of four")
        teacher.press("Keep as draft")
        teacher.tab("Told")
        teacher.fill("Firing order, such as 1-3-4-2", "1-3-9-2")
        teacher.press("Keep and measure again")
        expect(teacher.page.get_by_text("must name each cylinder", exact=False)).to_be_visible()
        # What the trainer recorded is told already: put back, nothing is to be measured again.
        teacher.fill("Firing order, such as 1-3-4-2", "1-3-4-2")
        expect(teacher.page.get_by_role("button", name="Keep and measure again")).to_be_disabled()
        expect(teacher.page.get_by_text("Because of: current weak.")).to_be_visible()
        teacher.tab("Readings")
        expect(teacher.page.get_by_role("columnheader", name="3 ◆")).to_be_visible()

        teacher.press("Lay events over each other")
        plot = teacher.page.get_by_role("group", name=re.compile("^Events laid over each other"))
        told = teacher.page.locator("output")
        expect(told).to_have_text(re.compile("cylinder 3"))
        first = told.inner_text()
        plot.focus()
        plot.press("ArrowRight")
        expect(told).to_have_text(re.compile("cylinder 4"))
        plot.press("ArrowLeft")
        expect(told).to_have_text(re.compile(re.escape(first.split("\n")[0])))
        teacher.page.get_by_role("button", name="2", exact=True).click()
        expect(told).to_have_text(re.compile("cylinder 2"))
        plot.press("Enter")
        expect(teacher.strip).to_be_visible()

    def test_six_cylinders_with_the_fault_in_the_fifth_keep_their_order(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.choose("Circuit", "Injector currents, all in order")
        teacher.choose("Part", "One circuit with high resistance")
        teacher.choose("Cylinders", "6, in order 1-5-3-6-2-4")
        teacher.choose("Cylinder that has it", "5")
        teacher.press("Record")
        # Opened on its first cycles, not on two seconds of them.
        expect(teacher.strip).to_be_visible()
        expect(teacher.page.get_by_label("Shown to, seconds")).to_have_value("0.200")
        teacher.fill("Title on the shelf", "Row of six")
        teacher.press("Keep as draft")
        teacher.tab("Told")
        expect(teacher.page.get_by_label("Firing order, such as 1-3-4-2")).to_have_value("1-5-3-6-2-4")
        teacher.tab("Readings")
        expect(teacher.page.get_by_role("columnheader", name="5 ◆")).to_be_visible()
