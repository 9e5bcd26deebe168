"""Other circuits than the throttle in the browser: from the trainer to a card, a sitting and a call."""

import re

from tests.support.browser import ScreenTest, expect


class OtherCircuits(ScreenTest):
    def test_a_manifold_pressure_reference_from_the_trainer(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.choose("Circuit", "Manifold pressure")
        teacher.choose("Part", "Vacuum leak after the throttle")
        teacher.press("Record")
        expect(teacher.strip).to_be_visible()
        teacher.fill("Title on the shelf", "Leak")
        teacher.press("Keep as draft")
        expect(teacher.page.get_by_text("Because of: high idle pressure.")).to_be_visible()
        # Scan data stand beside the scope lanes as a lane of their own.
        expect(teacher.page.get_by_text("Engine speed", exact=True)).to_be_visible()
        expect(teacher.page.get_by_title("Oxygen, V")).to_be_visible()

    def test_a_card_of_another_circuit_is_made_sat_and_graded(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/cards/new")
        teacher.choose("Circuit", "Supply and ground")
        teacher.fill("Title", "Dim lamps")
        teacher.choose("Source", "The trainer")
        teacher.choose("Part (the learner never sees this)", "Drop in the ground")
        expect(teacher.page.get_by_text("School: speed of the sweep")).to_have_count(0)
        teacher.press("Publish")
        expect(teacher.page.get_by_text("published, version 1")).to_be_visible()

        learner = self.person(1024, 768).sign_in("ben")
        learner.page.get_by_role("article").filter(has_text="Dim lamps").get_by_role("button").click()
        learner.press("Capture", exact=False)
        learner.press("Record")
        expect(learner.strip).to_be_visible()
        learner.press("Your call", exact=False)
        learner.press("Faulty")
        learner.choose("Cause", "Voltage drop in the ground")
        learner.saved()
        learner.press("Hand in")
        learner.page.get_by_role("dialog").get_by_role("button", name="Hand in as it is").click()
        expect(learner.page.get_by_text("Handed in", exact=False).first).to_be_visible()

        teacher.follow("Marking desk")
        teacher.follow("Ben")
        expect(teacher.page.get_by_text("Right: faulty", exact=False)).to_be_visible()
        expect(teacher.page.get_by_text(re.compile("Right: Voltage drop in the ground"))).to_be_visible()

    def test_the_shelf_is_filtered_by_circuit(self):
        self.published_reference()
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf")
        expect(teacher.page.get_by_role("link", name=re.compile("Sound")).first).to_be_visible()
        teacher.choose("Circuit", "Charging")
        expect(teacher.page.get_by_text("Nothing on the shelf fits these filters.")).to_be_visible()
