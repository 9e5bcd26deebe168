"""The shelf in the browser: found by words, selected, compared; and what an empty one offers."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.waves import Sweep
from tracebench.core.circuits import CIRCUITS


class Shelf(ScreenTest):
    def test_words_find_and_those_selected_are_compared_and_retired(self):
        for closed_v in (0.6, 0.65):
            self.published_reference(Sweep(rate_hz=500, closed_v=closed_v))
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf")
        tiles = teacher.page.get_by_role("link", name=re.compile("^Sound"))
        expect(tiles).to_have_count(2)
        teacher.page.get_by_label("Find by words").fill("throttle nonesuch")
        expect(teacher.page.get_by_text("Nothing on the shelf fits", exact=False)).to_be_visible()
        teacher.page.get_by_label("Find by words").fill("thrott")
        expect(tiles).to_have_count(2)
        teacher.press("Rows")
        teacher.press("Select")
        boxes = teacher.page.get_by_role("checkbox")
        expect(teacher.page.get_by_role("button", name="Compare")).to_be_disabled()
        # By touch or mouse, and by key.
        boxes.first.click()
        boxes.last.focus()
        teacher.page.keyboard.press("Space")
        expect(teacher.page.get_by_text("2 selected")).to_be_visible()
        teacher.press("Compare")
        expect(teacher.strip).to_be_visible()
        first = teacher.page.get_by_role("row").nth(1)
        expect(first).to_contain_text("Closed level")
        expect(first).to_contain_text("0.650")
        teacher.choose("Aligned by", "By opening")
        expect(teacher.strip).to_be_visible()
        teacher.open("/shelf")
        teacher.press("Select")
        teacher.press("All that are shown")
        teacher.press("Retire 2")
        expect(teacher.page.get_by_text("stand here", exact=False)).to_be_visible()


class Shape(ScreenTest):
    def test_shape_tells_the_corridor_and_pairs_and_finds_what_looks_alike(self):
        for closed_v in (0.7, 0.75):
            self.published_reference(Sweep(rate_hz=500, closed_v=closed_v))
        teacher = self.person().sign_in("teacher")
        teacher.open("/shelf")
        teacher.page.get_by_role("link", name=re.compile("^Sound")).first.click()
        expect(teacher.strip).to_be_visible()
        teacher.page.get_by_role("tab", name="Shape").click()
        expect(teacher.page.get_by_text("Stated tolerances round a single capture", exact=False)).to_be_visible()
        expect(teacher.page.get_by_text("hatched: stated tolerances", exact=False)).to_be_visible()
        teacher.choose("The other half of the pair", "Sound")
        teacher.press("Pair")
        expect(teacher.page.get_by_text("the dashed line", exact=False)).to_be_visible()
        find = teacher.page.get_by_role("button", name="Find what looks like it")
        expect(find).to_be_disabled()
        box = teacher.strip.bounding_box()
        for peg, part in (("▸ peg 1", 0.25), ("◂ peg 2", 0.4)):
            teacher.press(peg)
            teacher.page.mouse.click(box["x"] + part * box["width"], box["y"] + box["height"] / 2)
        find.click()
        expect(teacher.page.get_by_text("published references, nearest first", exact=False)).to_be_visible()


class Empty(ScreenTest):
    def test_an_empty_shelf_takes_the_starter_shelf_by_one_press(self):
        stranger = self.person().sign_in("stranger")
        stranger.open("/shelf")
        stranger.press("The starter shelf")
        expect(stranger.page.get_by_text(f"{2 * len(CIRCUITS)} references")).to_be_visible(timeout=180_000)
        # More come as one scrolls.
        last = stranger.page.get_by_role("link", name=re.compile("Throttle position, sound"))
        for _ in range(40):
            if last.count():
                break
            stranger.page.mouse.wheel(0, 900)
            stranger.page.wait_for_timeout(150)
        expect(last).to_be_visible()
