"""What an instructor and an administrator do besides: editing a reference, marking by key, accounts and courses."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.waves import Sweep


class Editing(ScreenTest):
    def setUp(self):
        super().setUp()
        self.reference = self.published_reference(Sweep(rate_hz=500))
        self.teacher = self.person().sign_in("teacher")
        self.teacher.open(f"/shelf/{self.reference['id']}")
        expect(self.teacher.strip).to_be_visible()
        self.page = self.teacher.page

    def test_a_limit_that_outranks_common_practice_changes_the_call(self):
        expect(self.page.get_by_text("Nothing is outside its limit.")).to_be_visible()
        self.teacher.tab("Limits")
        self.teacher.choose("Closed level V", "Open level V")
        self.teacher.fill("Least", "4,6")
        self.teacher.press("Set limit")
        expect(self.page.get_by_text("Because of: open level low.")).to_be_visible()
        # The published version is untouched; the change is a draft of the next one.
        expect(self.page.get_by_role("button", name="Publish version 2")).to_be_visible()
        self.teacher.press("Take the limit on Open level away")
        expect(self.page.get_by_text("Because of: open level low.")).to_be_hidden()

    def test_a_phase_set_from_the_pegs_replaces_the_one_found(self):
        self.teacher.tab("Phases")
        self.teacher.show(0.0, 1.0)
        self.teacher.peg(1, 0.2)
        self.teacher.peg(2, 0.6)
        self.teacher.press("Set from pegs")
        expect(self.page.get_by_role("button", name="Take the phase closed away")).to_be_visible()
        summary = self.page.locator("p.hidden-text").first
        expect(summary).to_contain_text("closed")

    def test_a_border_of_a_phase_is_dragged_and_the_readings_follow(self):
        # In a view of the whole record it has no room for two handles a finger finds.
        border = self.page.get_by_role("slider", name="End of closed").first
        expect(border).to_be_hidden()
        self.teacher.show(0.0, 4.0)
        box = border.bounding_box()
        middle = box["y"] + box["height"] / 2
        self.page.mouse.move(box["x"] + box["width"] - 2, middle)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + box["width"] - 14, middle, steps=4)
        self.page.mouse.up()
        self.teacher.tab("Phases")
        told = self.page.get_by_role("button", name="Take the phase closed away")
        expect(told.first).to_be_visible()
        # By keyboard as well: ten samples at a press.
        before = float(border.get_attribute("aria-valuenow"))
        border.focus()
        self.page.keyboard.press("Shift+ArrowLeft")
        expect(border).not_to_have_attribute("aria-valuenow", str(before))
        self.assertAlmostEqual(float(border.get_attribute("aria-valuenow")), before - 10 / 500, places=6)

    def test_a_limit_is_dragged_on_its_lane(self):
        self.teacher.tab("Limits")
        self.teacher.fill("Most", "0.75")
        line = self.page.get_by_role("slider", name=re.compile("Closed level, most"))
        box = line.bounding_box()
        self.page.mouse.move(box["x"] + 200, box["y"])
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 200, box["y"] + 12, steps=4)
        self.page.mouse.up()
        self.assertLess(float(self.page.get_by_label("Most", exact=True).input_value()), 0.7)
        self.teacher.press("Set limit")
        expect(self.page.get_by_text("Because of: closed level high.")).to_be_visible()

    def test_steps_are_done_and_taken_back_beside_the_trace(self):
        whole = self.teacher.view
        self.teacher.peg(1, 0.2)
        self.teacher.peg(2, 0.7)
        self.teacher.tab("Steps")
        self.teacher.press("Do it")
        expect(self.page.get_by_text(re.compile("^1. cropped to"))).to_be_visible()
        expect(self.page.get_by_text(re.compile("measured cropped to"))).to_be_visible()
        first, last = self.teacher.view
        self.assertGreater(first, whole[0] + 1)
        self.assertLess(last, whole[1] - 1)
        self.page.get_by_role("button", name=re.compile("^Take back: cropped")).click()
        expect(self.page.get_by_text("The samples are as they came.", exact=False)).to_be_visible()
        expect(self.page.get_by_label("Shown to, seconds")).to_have_value(f"{whole[1]:.2f}")

    def test_provenance_is_kept_and_stands_in_the_head(self):
        self.teacher.tab("Origin")
        self.teacher.fill("Conditions", "hot, after a long drive")
        self.teacher.press("Keep")
        expect(self.page.get_by_text("hot, after a long drive").first).to_be_visible()
        self.page.reload()
        self.teacher.tab("Origin")
        expect(self.page.get_by_label("Conditions")).to_have_value("hot, after a long drive")

    def test_what_is_empty_is_filled_from_the_last_sheet_and_versions_say_what_changed(self):
        self.teacher.tab("Origin")
        self.teacher.fill("Ground point", "engine block")
        self.teacher.fill("Conditions", "hot")
        self.teacher.press("Keep")
        self.teacher.press("What each version changed", exact=False)
        expect(self.page.get_by_text("provenance.ground")).to_be_visible()
        other = self.published_reference(Sweep(rate_hz=500, open_v=4.1))
        self.teacher.open(f"/shelf/{other['id']}")
        self.teacher.tab("Origin")
        self.teacher.fill("Conditions", "cold")
        self.teacher.press("Fill what is empty as on the last sheet")
        expect(self.page.get_by_label("Ground point")).to_have_value("engine block")
        expect(self.page.get_by_label("Conditions")).to_have_value("cold")

    def test_a_tag_is_a_link_both_ways(self):
        self.teacher.peg(1, 0.5)
        # By its key, where the peg stands.
        self.teacher.strip.focus()
        self.page.keyboard.press("t")
        expect(self.page.get_by_role("textbox", name="New tag")).to_be_focused()
        self.page.keyboard.type("Look here")
        self.teacher.press("Add tag")
        in_list = self.page.get_by_role("button", name=re.compile(r"s Look here$"))
        in_list.click()
        expect(self.page.get_by_role("group", name="Trace").get_by_role("button", name="Look here")).to_have_attribute(
            "aria-pressed", "true"
        )
        self.teacher.press("Clear")  # the peg stands on its tag
        self.teacher.strip.get_by_role("button", name="Look here").click()
        expect(in_list).to_have_attribute("aria-pressed", "false")

    def test_lanes_move_and_resize_by_keyboard(self):
        self.assertEqual(self.page.get_by_role("separator").count(), 0)  # one lane only
        self.teacher.open("/shelf/new")
        self.teacher.press("Record two sweeps")
        expect(self.teacher.strip).to_be_visible()
        names = self.page.locator("[role=group] strong")
        expect(names.first).to_have_text("Signal")
        self.teacher.press("Move Reference up")
        expect(names.first).to_have_text("Reference")
        divider = self.page.get_by_role("separator", name="Height of Reference")
        before = divider.bounding_box()["y"]
        divider.focus()
        for _ in range(4):
            self.page.keyboard.press("ArrowDown")
        self.assertGreater(divider.bounding_box()["y"], before + 8)

    def test_a_sheet_opened_from_far_down_begins_at_its_top(self):
        # A low window, so that one row of the shelf is more than it holds.
        self.page.set_viewport_size({"width": 1280, "height": 200})
        self.teacher.open("/shelf")
        tile = self.page.get_by_role("link", name=re.compile(self.reference["title"])).first
        expect(tile).to_be_visible()
        self.page.mouse.wheel(0, 5000)
        self.page.wait_for_timeout(300)
        self.assertGreater(self.page.evaluate("window.scrollY"), 20)
        tile.click()
        expect(self.teacher.strip).to_be_visible()
        self.assertEqual(self.page.evaluate("window.scrollY"), 0)

    def test_the_dark_theme_is_kept_over_a_reload(self):
        self.teacher.press("Dark")
        dark = self.page.evaluate("getComputedStyle(document.body).backgroundColor")
        self.page.reload()
        expect(self.page.get_by_role("button", name="Light")).to_be_visible()
        self.assertEqual(self.page.evaluate("getComputedStyle(document.body).backgroundColor"), dark)


class Marking(ScreenTest):
    def test_by_key_from_one_sitting_to_the_next(self):
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, attempts=9)
        first = self.handed_in("ann", card_id, Sweep(rate_hz=200))
        second = self.handed_in("ben", card_id, Sweep(rate_hz=200, closed_v=0.9))
        teacher = self.person().sign_in("teacher")
        teacher.open("/marking")
        teacher.press("Settle the first")
        expect(teacher.strip).to_be_visible()
        shown = int(teacher.page.url.rsplit("/", 1)[1])
        title = teacher.page.get_by_role("heading", level=1).inner_text()
        # A stray letter does nothing: keys act in the list of criteria alone.
        teacher.page.keyboard.press("n")
        teacher.page.keyboard.press("r")
        expect(teacher.page).to_have_url(re.compile(f"/marking/{shown}$"))
        criteria = teacher.page.get_by_role("region", name="Criteria").get_by_role("button").first
        criteria.focus()
        teacher.page.keyboard.press("n")
        expect(teacher.page).not_to_have_url(re.compile(f"/marking/{shown}$"))
        expect(teacher.page.get_by_role("heading", level=1)).not_to_have_text(title)
        # Nobody releases what is not on the screen yet; releasing measures again, which a busy machine takes long for.
        expect(teacher.strip).to_be_visible()
        teacher.page.wait_for_load_state("networkidle", timeout=90_000)
        criteria.focus()
        teacher.page.keyboard.press("r")
        expect(teacher.page.get_by_text("press r once more to release")).to_be_visible()
        teacher.page.keyboard.press("r")
        expect(teacher.page).to_have_url(re.compile(f"/marking/{shown}$"), timeout=15_000)
        state = {s: self.caller("teacher").get(f"/api/marking/{s}").json["state"] for s in (first, second)}
        self.assertEqual(sorted(state.values()), ["handed_in", "released"])
        self.assertEqual(state[shown], "handed_in")

    def test_clear_ones_go_together_after_a_sample_and_come_back_until_seen(self):
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, attempts=9)
        ids = [self.own_sitting(name, card_id, seed) for name, seed in (("ann", 11), ("ben", 12))]
        rows = {r["id"]: r for r in self.caller("teacher").get(f"/api/courses/{self.course_id}/desk").json}
        self.assertEqual([rows[i]["reasons"] for i in ids], [[], []])
        teacher = self.person().sign_in("teacher")
        teacher.open("/marking")
        clear = teacher.page.get_by_role("button", name=re.compile("^Release "))
        expect(clear).to_be_disabled()
        # Two of the sample opened and one press: fewer than three actions a sitting.
        for place in range(2):
            teacher.page.get_by_role("link", name=re.compile(r"\(\d")).nth(place).click()
            expect(teacher.strip).to_be_visible()
            teacher.open("/marking")
        clear.click()
        expect(clear).to_have_count(0)
        self.assertEqual({self.caller("teacher").get(f"/api/marking/{i}").json["state"] for i in ids}, {"released"})
        teacher.open(f"/marking/{ids[0]}")
        teacher.press("Take it back")
        expect(teacher.page.get_by_role("button", name="Release", exact=True)).to_be_visible()

    def test_typing_a_reason_is_not_a_key(self):
        version = self.published_reference()["version_id"]
        sitting_id = self.handed_in("ann", self.published_card(version_id=version), Sweep(rate_hz=200))
        teacher = self.person().sign_in("teacher")
        teacher.open(f"/marking/{sitting_id}")
        teacher.page.get_by_role("button", name=re.compile("^Confidence")).click()
        teacher.page.get_by_label("Reason, for the learner").type("never rash")
        self.assertEqual(self.caller("teacher").get(f"/api/marking/{sitting_id}").json["state"], "handed_in")
        expect(teacher.page).to_have_url(re.compile(f"/marking/{sitting_id}$"))

    def test_an_empty_desk_says_what_goes_there(self):
        stranger = self.person().sign_in("stranger")
        stranger.open("/marking")
        expect(stranger.page.get_by_role("button", name="Settle the first")).to_have_count(0)
        expect(stranger.page.get_by_text("Sittings come here when learners hand in", exact=False)).to_be_visible()


class Office(ScreenTest):
    def test_people_are_pasted_join_by_their_link_and_are_closed(self):
        admin = self.person().sign_in("admin")
        admin.open("/people")
        table = "One person a line, or pasted from a table: name, sign-in name, role"
        admin.fill(table, "Mira Dell\nTo Po;a b")
        admin.press("Look it over")
        expect(admin.page.get_by_text("2 to 64 characters without blanks", exact=False)).to_be_visible()
        admin.fill(table, "Mira Dell\nOrin Sable;orin;instructor")
        admin.choose("Into the course", "One")
        admin.press("Look it over")
        admin.press("Bring these 2 in")
        link = admin.page.locator("code").first.inner_text()
        admin.press("Done")
        expect(admin.page.get_by_role("button", name="Take Mira Dell out of the course")).to_be_visible()
        learner = self.person(1024, 768)
        learner.open(link[link.index("/join") :])
        expect(learner.page.get_by_text("Hello Mira Dell", exact=False)).to_be_visible()
        learner.fill("Password: three or four words", "three quiet words")
        learner.press("Begin")
        expect(learner.page.get_by_text("Today, Mira Dell")).to_be_visible()
        again = self.person(1024, 768)
        again.open(link[link.index("/join") :])
        expect(again.page.get_by_text("used already", exact=False)).to_be_visible()
        row = admin.page.get_by_role("row", name=re.compile("Mira Dell"))
        row.get_by_role("button", name="Close").click()
        expect(row.get_by_role("button", name="Open again")).to_be_visible()
        learner.page.reload()
        expect(learner.page.get_by_label("Sign-in name")).to_be_visible()

    def test_the_trail_tells_who_did_what_and_all_of_one_thing(self):
        admin = self.person().sign_in("admin")
        admin.open("/people")
        admin.fill("Title of the course", "Saturday group")
        admin.press("Open it")
        admin.open("/trail")
        expect(admin.page.get_by_role("row", name=re.compile("Admin opened the course Saturday group"))).to_be_visible()
        admin.page.get_by_role("button", name="Saturday group").click()
        expect(admin.page.get_by_text("all that was done with Saturday group")).to_be_visible()
        admin.open("/installation")
        expect(admin.page.get_by_text("Free on the disk")).to_be_visible()

    def test_an_instructor_opens_a_course_and_brings_learners_in(self):
        teacher = self.person().sign_in("teacher")
        teacher.open("/courses")
        teacher.fill("Title of the course", "Night class")
        teacher.press("Open it")
        teacher.choose("Into the course", "Night class")
        teacher.fill("One learner a line, or pasted from a table: name, sign-in name", "Vera Loom")
        teacher.press("Look it over")
        teacher.press("Bring this one in")
        expect(teacher.page.get_by_text("signs in as vera.loom")).to_be_visible()
        teacher.press("Done")
        expect(teacher.page.get_by_role("button", name="Take Vera Loom out of the course")).to_be_visible()

    def test_a_wrong_password_is_said_and_nothing_typed_is_lost(self):
        nobody = self.person()
        nobody.open("/")
        nobody.fill("Sign-in name", "teacher")
        nobody.fill("Password", "not this one")
        nobody.press("Sign in")
        expect(nobody.page.get_by_text("do not fit", exact=False).or_(nobody.page.get_by_role("alert"))).to_be_visible()
        expect(nobody.page.get_by_label("Sign-in name")).to_have_value("teacher")


class CardMaker(ScreenTest):
    def test_conditions_schools_and_shares_reach_the_learner_and_the_blind_floor_is_told(self):
        version = self.published_reference()["version_id"]
        teacher = self.person().sign_in("teacher")
        teacher.open(f"/cards/new?reference={version}")
        teacher.fill("Title", "Stalls when hot")
        teacher.choose("The complaint shows", "Hot")
        teacher.press("Rules and schools")
        teacher.choose("Low-pass filter", "Clean first")
        teacher.fill("Share: A right number without a peg where it was read", "0.25")
        teacher.press("Publish")
        expect(teacher.page.get_by_text("published, version 1")).to_be_visible()
        # What the tool comes to on it, what a mistake costs, and what is earned without looking.
        teacher.press("Before publishing")
        expect(teacher.page.get_by_text("Always cannot tell")).to_be_visible(timeout=20_000)
        expect(teacher.page.get_by_role("heading", name=re.compile("^The tool’s own score: "))).to_be_visible()
        expect(teacher.page.get_by_role("row", name=re.compile("^The wrong call, and sure of it"))).to_be_visible()
        card_id = int(teacher.page.url.rsplit("/", 1)[1])
        kept = self.caller("teacher").get(f"/api/cards/{card_id}").json["document"]
        self.assertEqual(
            (kept["complaint"], kept["schools"], kept["rubric"]), ("hot", {"filter": "view"}, {"no_peg": 0.25})
        )
        learner = self.person(1024, 768).sign_in("ann")
        learner.page.get_by_role("article").filter(has_text="Stalls when hot").get_by_role("button").first.click()
        expect(learner.page.get_by_text("When the complaint shows: hot.")).to_be_visible()
        expect(learner.page.get_by_text("A filter for the view is fine")).to_be_visible()
        learner.press("Compare: closed level", exact=False)
        expect(learner.page.get_by_text("marginal beyond it")).to_be_visible()


class Copies(ScreenTest):
    def test_both_strips_of_a_capture_that_came_in_twice(self):
        card_id = self.published_card(version_id=self.published_reference()["version_id"])
        same = Sweep(rate_hz=200, noise_v=0.004)
        first = self.handed_in("ann", card_id, same)
        self.handed_in("ben", card_id, same)
        teacher = self.person().sign_in("teacher")
        teacher.open("/marking")
        expect(teacher.page.get_by_text("like another sitting").first).to_be_visible()
        teacher.open(f"/marking/{first}")
        expect(teacher.page.get_by_text("the same samples, one for one")).to_be_visible()
        teacher.press("Both strips")
        expect(teacher.strip).to_have_count(3)
        teacher.press("Hide the strips")
        expect(teacher.strip).to_have_count(1)
