"""Thirty answers without network, then back: all are there; handed in elsewhere meanwhile: none is lost to sight.

`AWAY_S` is how long the network is gone; the twenty minutes of a real lesson are `benchmarks.twenty_minutes_away`.
"""

import re
import time

from tests.support.browser import Person, ScreenTest, expect
from tests.support.client import csv_of
from tests.support.waves import Sweep
from tracebench.core.circuits import circuit

READINGS = [r.id for r in circuit("throttle-position").readings]
LIMITS = [{"reading": r, "low": 0.1, "high": 4.0, "basis": "maker"} for r in READINGS]
PAIRS = [(kind, r) for r in READINGS for kind in ("reading", "compare")]
STEPS = [{"kind": kind, "reading": r, "prompt": ""} for kind, r in (("capture", None), *PAIRS)]


class TwentyMinutes(ScreenTest):
    AWAY_S = 0.0

    def working(self, name: str) -> tuple[Person, int]:
        card_id = self.published_card(steps=STEPS, limits=LIMITS, attempts=9)
        caller = self.caller(name)
        sitting_id = caller.post(f"/api/cards/{card_id}/sittings").json["id"]
        capture_id = caller.import_csv(csv_of(Sweep(rate_hz=200)))
        caller.post(f"/api/sittings/{sitting_id}/capture", {"capture_id": capture_id})
        tablet = self.person(1024, 768, service_workers="allow").sign_in(name)
        tablet.open(f"/sittings/{sitting_id}")
        expect(tablet.page.get_by_title("Kept on this device", exact=False)).to_be_visible(timeout=20_000)
        return tablet, sitting_id

    def thirty_answers(self, tablet: Person) -> dict[str, dict[str, object]]:
        """Every step answered with something of its own; what was typed, by step."""
        steps = tablet.page.get_by_role("navigation", name="Steps").get_by_role("button")
        typed: dict[str, dict[str, object]] = {}
        for k, reading in enumerate(READINGS):
            steps.filter(has_text=re.compile("^.?Read:")).nth(k).click()
            value = round(0.31 + 0.07 * k, 2)
            tablet.page.locator("footer").get_by_role("textbox").first.fill(f"{value}")
            typed[f"reading-{reading}"] = {"value": value}
            time.sleep(self.AWAY_S / 30)
            steps.filter(has_text=re.compile("^.?Compare:")).nth(k).click()
            tablet.press("Marginal")
            typed[f"compare-{reading}"] = {"state": "marginal"}
            time.sleep(self.AWAY_S / 30)
        self.assertEqual(len(typed), 30)
        return typed

    def agree(self, answers: dict[str, dict[str, object]], typed: dict[str, dict[str, object]]) -> None:
        for step, answer in typed.items():
            self.assertEqual({k: answers[step].get(k) for k in answer}, answer, step)

    def test_all_that_was_typed_is_there_when_the_network_is_back(self):
        tablet, sitting_id = self.working("ann")
        tablet.context.set_offline(True)
        typed = self.thirty_answers(tablet)
        tablet.page.reload()
        expect(tablet.page.get_by_role("status").first).to_contain_text("kept here until the network is back")
        tablet.context.set_offline(False)
        tablet.saved()
        self.agree(self.caller("ann").get(f"/api/sittings/{sitting_id}").json["answers"], typed)

    def test_handed_in_on_another_device_meanwhile_shows_every_one_of_them(self):
        tablet, sitting_id = self.working("ben")
        tablet.context.set_offline(True)
        typed = self.thirty_answers(tablet)
        elsewhere = self.caller("ben")
        state = elsewhere.get(f"/api/sittings/{sitting_id}").json
        body = {"step": "reading-closed_v", "answer": {"value": 0.7, "pegs": [0.5]}, "revision": state["revision"]}
        elsewhere.put(f"/api/sittings/{sitting_id}/answer", body)
        elsewhere.post(f"/api/sittings/{sitting_id}/hand-in", {"incomplete_ok": True})
        tablet.context.set_offline(False)
        kept = tablet.page.get_by_text("typed after the sitting was handed in", exact=False)
        expect(kept).to_be_visible(timeout=30_000)
        self.assertEqual(kept.locator("..").get_by_role("listitem").count(), len(typed))
        for k in range(len(READINGS)):
            expect(kept.locator("..")).to_contain_text(f"{round(0.31 + 0.07 * k, 2)}")
        # What was handed in elsewhere stands as it was.
        self.assertEqual(elsewhere.get(f"/api/sittings/{sitting_id}").json["answers"]["reading-closed_v"]["value"], 0.7)


class TheSameStep(ScreenTest):
    """A step answered here without network and there with it: what is written over is said, and one press away."""

    def test_what_was_written_over_is_shown_and_can_be_taken_back(self):
        card_id = self.published_card(steps=STEPS, limits=LIMITS, attempts=9)
        caller = self.caller("ann")
        sitting_id = caller.post(f"/api/cards/{card_id}/sittings").json["id"]
        tablet = self.person(1024, 768).sign_in("ann")
        tablet.open(f"/sittings/{sitting_id}")
        steps = tablet.page.get_by_role("navigation", name="Steps").get_by_role("button")
        steps.filter(has_text=re.compile("^.?Read:")).first.click()
        tablet.context.set_offline(True)
        tablet.page.locator("footer").get_by_role("textbox").first.fill("0.71")
        expect(tablet.page.get_by_role("status").first).to_contain_text("kept here until the network is back")
        state = caller.get(f"/api/sittings/{sitting_id}").json
        body = {"step": "reading-closed_v", "answer": {"value": 0.66, "pegs": [0.5]}, "revision": state["revision"]}
        caller.put(f"/api/sittings/{sitting_id}/answer", body)
        tablet.context.set_offline(False)
        tablet.saved()
        note = tablet.page.get_by_role("alert").filter(has_text="0.66")
        expect(note).to_contain_text("0.71")
        note.get_by_role("button", name="Take the other").click()
        tablet.saved()
        expect(note).to_be_hidden()
        answers = caller.get(f"/api/sittings/{sitting_id}").json["answers"]
        self.assertEqual(answers["reading-closed_v"]["value"], 0.66)
