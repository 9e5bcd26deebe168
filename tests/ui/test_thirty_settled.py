"""Thirty sittings settled at the desk, every press and every word counted."""

import re

from tests.support.browser import ScreenTest, expect
from tests.support.client import work

THIRTY = 30
CALLED_FAULTY = {
    "verdict": "faulty",
    "cause": "worn-track",
    "evidence": [[0.1, 0.2]],
    "next_test": "compare-part",
    "confidence": 99,
}
WRONG = {k: {"value": 2.9, "call": CALLED_FAULTY} for k in (3, 11, 17, 22)}
"""Sittings with a wrong reading and a wrong call: unusual against the class."""


class Thirty(ScreenTest):
    def act(self, step):
        self.actions += 1
        step()

    def test_thirty_are_settled_with_few_actions(self):
        version = self.published_reference()["version_id"]
        card_id = self.published_card(version_id=version, attempts=20)
        ids = [self.own_sitting(("ann", "ben")[k % 2], card_id, k, **WRONG.get(k, {})) for k in range(THIRTY)]
        work(self.app)
        teacher = self.person().sign_in("teacher")
        page, self.actions = teacher.page, 0
        waiting = self.caller("teacher").get(f"/api/courses/{self.course_id}/desk").json
        clear = [row for row in waiting if row["clear"]]
        looked_at = [(ids.index(row["id"]), row["points"], row["reasons"]) for row in waiting if not row["clear"]]
        self.assertEqual((len(waiting), len(clear)), (THIRTY, THIRTY - len(WRONG)), looked_at)
        # Those that are clear: a sample is opened, then all of them go with one press.
        self.act(lambda: teacher.follow("Marking desk"))
        release = page.get_by_role("button", name=re.compile("^Release all"))
        for row in (r for r in clear if r["sample"]):
            name = re.compile(rf"{row['learner']}, .*\({round(row['earned'], 1):g} ")
            self.act(page.get_by_role("link", name=name).filter(has_not_text="✓").first.click)
            expect(teacher.strip).to_be_visible()
            self.act(lambda: teacher.follow("Marking desk"))
        self.act(release.click)
        expect(release).to_have_count(0)
        for_clear = self.actions
        self.assertLessEqual(for_clear, 3 * len(clear))
        # The others one after the other: what stands is looked at, and one of them is changed with a reason.
        self.act(lambda: teacher.press("Settle the first"))
        for place in range(len(WRONG)):
            expect(teacher.strip).to_be_visible()
            shown = int(page.url.rsplit("/", 1)[1])
            if place == 0:
                self.act(page.get_by_role("button", name=re.compile("^Closed level")).first.click)
                self.act(lambda: page.get_by_label(re.compile("^Points")).fill("1"))
                self.act(lambda: page.get_by_label("Reason, for the learner").fill("The peg stands right."))
                self.act(page.get_by_role("button", name=re.compile("^Change")).click)
                expect(page.get_by_text("Changed by Teacher", exact=False)).to_be_visible()
            self.act(page.get_by_role("button", name="Release", exact=True).click)
            expect(page).not_to_have_url(re.compile(f"/marking/{shown}$"), timeout=15_000)
        states = {self.caller("teacher").get(f"/api/marking/{k}").json["state"] for k in ids}
        self.assertEqual(states, {"released"})
        # Twenty minutes are 40 s a sitting: at five seconds an action, eight actions.
        self.assertLessEqual(self.actions, 2 * THIRTY)
