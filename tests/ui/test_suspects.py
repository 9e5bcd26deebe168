"""Suspects in the browser: a case written down by hand, and one drawn on the trainer."""

from tests.support.browser import ScreenTest, expect


class Suspects(ScreenTest):
    def test_a_case_is_written_down_and_comes_back_after_a_reload(self):
        teacher = self.person().sign_in("teacher")
        teacher.follow("Suspects")
        page = teacher.page
        page.get_by_role("checkbox", name="misfire").check(force=True)
        first = page.get_by_label("Test next").get_by_role("row").nth(1)
        expect(first).to_contain_text("Cylinder drop test")
        first.get_by_role("button", name="Write down").click()
        for row, after in enumerate((680, 789, 690, 684)):
            if row:
                teacher.press("Add a row")
            for name, value in (("Cylinder", row + 1), ("Speed before, rpm", 790), ("Speed with it off, rpm", after)):
                page.get_by_label(name, exact=True).nth(row).fill(str(value))
        teacher.press("Add to the evidence")
        suspects = page.get_by_label("Suspects").get_by_role("listitem")
        expect(suspects.first).to_contain_text("cylinder 2")

        teacher.press("Write down a capture or record")
        teacher.choose("Capture or record", "Secondary voltage")
        teacher.choose("Where", "cylinder 2")
        page.get_by_label("Evidence").get_by_role("checkbox", name="Firing low").check(force=True)
        teacher.press("Add to the evidence")
        expect(suspects.first).to_contain_text("Plug fouled")
        page.reload()
        expect(suspects.first).to_contain_text("Plug fouled")
        with page.expect_download() as saved:
            teacher.press("Save it")
        self.assertIn("low_firing", saved.value.path().read_text())
        teacher.choose("Charging", "commanded")
        evidence = page.get_by_label("Evidence").get_by_role("listitem")
        expect(evidence).to_have_count(2)
        teacher.press("Take 2, Secondary voltage, away")
        expect(evidence).to_have_count(1)
        teacher.press("New case")
        teacher.press("Stay here")
        expect(evidence).to_have_count(1)
        teacher.press("New case")
        teacher.press("Leave it")
        expect(page.get_by_text("Nothing measured yet", exact=False)).to_be_visible()

    def test_a_drawn_case_is_walked_by_keyboard_and_its_traces_are_shown(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/suspects")
        page = teacher.page
        teacher.press("Draw a case on the trainer")
        expect(page.get_by_text("The trainer has a cause for", exact=False)).to_be_visible()
        evidence = page.get_by_label("Evidence").get_by_role("listitem")
        for done in range(1, 9):
            # Tests of before the last one stand still until their answer is there.
            best = page.get_by_label("Test next").get_by_role("button", name="Do it", disabled=False)
            ended = page.get_by_label("Test next").get_by_text("Nothing", exact=False)
            expect(best.or_(ended).first).to_be_visible()
            if best.count() == 0:
                break
            best.first.focus()
            page.keyboard.press("Enter")
            expect(evidence).to_have_count(done, timeout=20_000)
        if page.get_by_role("button", name="Show", exact=True).count():
            expect(page.locator("canvas").first).to_be_visible()
        teacher.press("Show the cause")
        expect(page.get_by_text("The trainer has:", exact=False)).to_be_visible()

    def test_a_file_that_is_no_case(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/suspects")
        with teacher.page.expect_file_chooser() as chooser:
            teacher.press("Open a case")
        chooser.value.set_files([{"name": "x.json", "mimeType": "application/json", "buffer": b"[1, 2]"}])
        expect(teacher.page.get_by_text("This file holds no case", exact=False)).to_be_visible()
        with teacher.page.expect_file_chooser() as chooser:
            teacher.press("Open a case")
        twelve = b'{"vehicle": {"fuel": "petrol", "cylinders": 12, "ignition": "distributor", "injection": "port"}}'
        chooser.value.set_files([{"name": "y.json", "mimeType": "application/json", "buffer": twelve}])
        expect(teacher.page.get_by_text("vehicle.cylinders", exact=False)).to_be_visible()
