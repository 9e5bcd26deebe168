"""Toolbox and records in the browser."""

from tests.support.browser import ScreenTest, expect


class Toolbox(ScreenTest):
    def test_a_learner_works_out_a_clamp_and_is_told_what_is_wrong(self):
        learner = self.person(1024, 768).sign_in("ben")
        learner.follow("Toolbox")
        learner.fill("Voltage shown, V", "1,28")
        learner.fill("Clamp factor, mV/A", "100")
        expect(learner.page.get_by_text("12.8 A", exact=True)).to_be_visible()
        expect(learner.page.get_by_text("1280 mV / 100 mV/A = 12.8 A")).to_be_visible()
        learner.fill("Clamp factor, mV/A", "0")
        expect(learner.page.get_by_text("Clamp factor must be over 0", exact=False)).to_be_visible()

    def test_a_resistance_is_kept_beside_a_reference_and_taken_away(self):
        reference = self.published_reference()
        teacher = self.person().sign_in("teacher")
        teacher.open(f"/shelf/{reference['id']}")
        expect(teacher.strip).to_be_visible()
        teacher.tab("Records")
        teacher.choose("Add a record", "Resistance")
        expect(teacher.page.get_by_text("Over-range is a value", exact=False)).to_be_visible()
        teacher.fill("Between", "signal to ground")
        teacher.fill("Value, or infinite", "infinite")
        teacher.fill("Expected to", "5")
        teacher.press("Keep the record")
        expect(teacher.page.get_by_text("signal to ground: infinite, expected", exact=False)).to_be_visible()
        teacher.page.reload()
        teacher.tab("Records")
        expect(teacher.page.get_by_text("signal to ground: infinite, expected", exact=False)).to_be_visible()
        teacher.press("Take the record away: Resistance")
        expect(teacher.page.get_by_text("signal to ground: infinite, expected", exact=False)).to_have_count(0)
