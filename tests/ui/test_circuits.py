"""Other circuits than the throttle in the browser: from the trainer to a card, a sitting and a call."""

import re

from tests.support.browser import ScreenTest, expect


class OtherCircuits(ScreenTest):
    def test_a_manifold_pressure_reference_from_the_trainer(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.choose("Circuit", "Manifold pressure")
        teacher.choose("Part", "Vacuum leak after the throttle")
        # So long a record is made by a worker; the page waits for it as for any other.
        teacher.choose("Samples a second", "100000")
        teacher.press("Record")
        expect(teacher.strip).to_be_visible(timeout=30_000)
        teacher.fill("Title on the shelf", "Leak")
        teacher.press("Keep as draft")
        expect(teacher.page.get_by_text("Because of: high idle pressure.")).to_be_visible()
        # Scan data stand beside the scope lanes as a lane of their own.
        expect(teacher.page.get_by_text("Engine speed", exact=True)).to_be_visible()
        expect(teacher.page.get_by_title("Oxygen, V")).to_be_visible()

    def test_a_throttle_on_the_running_engine(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf/new")
        teacher.choose("Circuit", "Throttle position")
        expect(teacher.page.get_by_role("button", name="Record two sweeps")).to_be_visible()
        teacher.choose("What is done", "Engine running: idle and two snaps")
        expect(teacher.page.get_by_text("Each way")).to_have_count(0)
        teacher.press("Record")
        expect(teacher.strip).to_be_visible()
        # The engine turns: the scan tool shows its speed.
        expect(teacher.page.get_by_text("Engine speed", exact=True)).to_be_visible()

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
        learner.choose("Samples a second", "100000")
        learner.press("Record")
        expect(learner.strip).to_be_visible(timeout=30_000)
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

    def test_a_learner_keeps_a_record_with_the_trace_and_reads_what_it_says_after_release(self):
        self.published_card(
            title="Lamps flare",
            circuit="charging",
            source={"kind": "trainer", "fault": "regulator", "severity": 1.0},
            steps=[{"kind": "capture", "reading": None, "prompt": "Long enough to see it"}],
        )
        learner = self.person(1024, 768).sign_in("ann")
        learner.page.get_by_role("article").filter(has_text="Lamps flare").get_by_role("button").click()
        learner.press("Records")
        expect(learner.page.get_by_text("Take the capture first", exact=False)).to_be_visible()
        learner.press("Capture", exact=False)
        learner.choose("Range", "20 V")
        learner.choose("Length", "20 s")
        learner.press("Record")
        expect(learner.strip).to_be_visible()
        learner.press("Records")
        learner.choose("Add a record", "Wiggle, heat and cool log")
        learner.fill("Second of the capture, s", "soon")
        learner.fill("Where", "regulator")
        learner.press("Keep the record")
        expect(learner.page.get_by_text("row 1", exact=False)).to_be_visible()
        learner.fill("Second of the capture, s", "8.6")
        learner.press("Keep the record")
        expect(learner.page.get_by_role("button", name="Records (1)")).to_be_visible()
        expect(learner.page.get_by_text("follows", exact=False)).to_have_count(0)
        learner.press("Hand in")
        learner.page.get_by_role("dialog").get_by_role("button", name=re.compile("^Hand in")).click()
        expect(learner.page.get_by_text("Handed in", exact=False).first).to_be_visible()

        teacher = self.person().sign_in("teacher")
        teacher.follow("Marking desk")
        teacher.page.get_by_role("link", name=re.compile("Lamps flare")).first.click()
        expect(teacher.page.get_by_text("overcharge follows", exact=False).first).to_be_visible(timeout=20_000)
        teacher.press("Release")
        # The desk goes on to what is next once the release is kept.
        expect(teacher.page.get_by_text("overcharge follows", exact=False)).to_have_count(0)
        learner.page.reload()
        expect(learner.page.get_by_text("overcharge follows", exact=False).first).to_be_visible()

    def test_the_shelf_is_filtered_by_circuit(self):
        self.published_reference()
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf")
        expect(teacher.page.get_by_role("link", name=re.compile("Sound")).first).to_be_visible()
        teacher.choose("Circuit", "Charging")
        expect(teacher.page.get_by_text("Nothing on the shelf fits these words and filters.")).to_be_visible()

    def card_of_a_winding(self, title):
        steps = [
            {"kind": "capture", "reading": None, "prompt": "Record the current"},
            {"kind": "reading", "reading": "expected_a", "prompt": "What should it draw?"},
        ]
        self.published_card(
            title=title,
            circuit="injector-current",
            source={"kind": "trainer", "fault": "none", "severity": 1.0},
            options={"resistance_ohm": "16"},
            steps=steps,
        )
        learner = self.person(1024, 768).sign_in("ann")
        learner.page.get_by_role("article").filter(has_text=title).get_by_role("button").click()
        return learner

    def test_a_trigger_that_never_fires_is_said_beside_the_button_and_put_right(self):
        learner = self.card_of_a_winding("Winding one")
        learner.press("Capture", exact=False)
        learner.choose("Samples a second", "100000")
        learner.press("Coupling, bandwidth, trigger and bits")
        learner.choose("Trigger", "rising through")
        learner.fill("Trigger level, A", "high")
        expect(learner.page.get_by_text("The trigger level is not a number", exact=False)).to_be_visible()
        expect(learner.page.get_by_role("button", name="Record", exact=True).last).to_be_disabled()
        learner.fill("Trigger level, A", "9")
        learner.page.get_by_role("button", name="Record", exact=True).last.click()
        said = learner.page.get_by_text("The trigger never fires", exact=False)
        expect(said).to_be_in_viewport()
        learner.fill("Trigger level, A", "0.3")
        learner.page.get_by_role("button", name="Record", exact=True).last.click()
        expect(learner.strip).to_be_visible()
        expect(said).to_have_count(0)

    def test_a_sum_is_worked_out_in_its_step_and_taken_as_the_answer(self):
        learner = self.card_of_a_winding("Winding two")
        learner.press("Read: full current", exact=False)
        learner.press("Work it out")
        learner.choose("Sum", "Full current")
        learner.fill("Supply, V", "14")
        learner.fill("Resistance, ohm", "16")
        expect(learner.page.get_by_text("0.875 A", exact=True)).to_be_visible()
        learner.press("Take this as the answer")
        expect(learner.page.get_by_label("Full current in A")).to_have_value("0.875")
        learner.saved()
