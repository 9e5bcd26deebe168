"""Working out, naming, spotting, connecting, setting up, recording and explaining: right, wrong and on the limit."""

from __future__ import annotations

import unittest

from tests.core.grading.built import CLIPPED, SPARK, THROTTLE, measured, rows, sparks
from tracebench.core.answer import Event, Finding, Phase, Reading
from tracebench.core.cards.answers import answers_from_json, unanswered
from tracebench.core.cards.documents import card_as_json, card_from_json
from tracebench.core.cards.learner_view import learner_view
from tracebench.core.errors import BadAnswer, BadOption
from tracebench.core.grading.grade import CRITERIA


def card(step, circuit=THROTTLE, more=(), **others):
    steps = [step, *more]
    document = {"circuit": circuit, "title": "A card", "source": {"kind": "upload"}, "steps": steps, **others}
    return card_from_json(document)


def marks(one, answer, found=None, criterion=None):
    """Of each criterion that the card's only step has: its score and slip; or of one."""
    got = rows(one, {one.steps[0].id: answer}, found or measured())
    return got[criterion] if criterion else next(iter(got.values()))


class WorkingOut(unittest.TestCase):
    CLAMP = {"kind": "work_out", "calculation": "clamp", "figures": {"volts": 0.45, "mv_per_a": 100}}
    # 450 mV at 100 mV/A is 4.5 A.

    def test_result_and_named_slips(self):
        figures = {"volts": 0.45, "mv_per_a": 100}
        for value, used, score, slip in (
            (4.5, figures, 1, None),
            (4.54, figures, 1, None),
            (4.56, figures, 0, None),
            (45.0, {"volts": 0.45, "mv_per_a": 10}, 0.5, "copied_wrong"),
            (0.0045, figures, 0.5, "factor"),
            (0.45, figures, 0.5, "factor"),
            (1 / 4.5, figures, 0, "inverted"),
            (7.0, {}, 0, None),
        ):
            said = marks(card(self.CLAMP), {"value": value, "figures": used})
            with self.subTest(value=value):
                self.assertEqual((said["score"], said["slip"]), (score, slip), said["reason"])
                self.assertIn("450 mV / 100 mV/A = 4.5 A", said["reason"])

    def test_right_for_ones_own_reading_of_the_trace(self):
        # The open level is 4.000 V; through 200 ohm that is 20 mA.
        step = {
            "kind": "work_out",
            "calculation": "resistance",
            "figures": {"amperes": 0.02},
            "readings": {"volts": "open_v"},
        }
        one = card(step)
        self.assertEqual(marks(one, {"value": 200, "figures": {"volts": 4.0, "amperes": 0.02}})["score"], 1)
        # The closed level, 0.700 V, taken for the open one is a figure of this trace; the card asks for the reading.
        mine = {"value": 35, "figures": {"volts": 0.7, "amperes": 0.02}}
        given = {"reading-open_v": {"value": 0.7, "pegs": [5.0]}, "work_out-resistance": mine}
        for rubric, share in (({}, 1), ({"follow_through": 0.25}, 0.25)):
            both = card({"kind": "reading", "reading": "open_v"}, rubric=rubric, more=[step])
            own = rows(both, given, measured())["work_out:resistance"]
            self.assertEqual((own["score"], own["slip"]), (share, "follow_through"))
        none = measured(readings=())
        self.assertEqual(marks(one, {}, none)["score"], 1)
        self.assertEqual(marks(one, {"value": 200, "figures": {}}, none)["score"], 0)

    def test_every_figure_must_have_its_source_once(self):
        for figures, readings in (({"volts": 1}, {}), ({"volts": 1, "amperes": 2}, {"volts": "open_v"}), ({}, {})):
            with self.assertRaisesRegex(BadOption, "say of each of amperes, volts"):
                card({"kind": "work_out", "calculation": "resistance", "figures": figures, "readings": readings})
        with self.assertRaisesRegex(BadOption, "calculation: one of clamp"):
            card({"kind": "work_out", "calculation": "magic"})

    def test_a_response_is_found_on_the_trace_and_held_to_what_the_capture_gives(self):
        # 10 to 90 % of the rise takes 84 ms, read by hand within 2 ms or 5 %.
        step = {"kind": "work_out", "calculation": "response", "comes_to": "rise_ms"}
        one = card(step, "manifold-pressure")
        rise = Reading("rise_ms", 84.0, "ms", 0.5, 3.0, 3.084, "signal")
        found = measured(readings=(rise,), limits=(), code="manifold-pressure", phases=())
        for first, second, value, score, slip in (
            (3.000, 3.084, 84.0, 1, None),
            (3.001, 3.087, 86.0, 1, None),
            (3.000, 3.084, 0.084, 0.5, "factor"),
            (2.980, 3.105, 125.0, 0, None),  # from end to end
            (2.980, 3.105, 12.5, 0.5, "factor"),  # of one's own figures
        ):
            said = marks(one, {"value": value, "figures": {"first_s": first, "second_s": second}}, found)
            with self.subTest(value=value):
                self.assertEqual((said["score"], said["slip"]), (score, slip), said["reason"])
                self.assertIn("The capture gives 84", said["reason"])
                self.assertEqual(said["stretches"], [{"from": 3.0, "to": 3.084, "lane": "signal"}])
        self.assertEqual(marks(one, {}, measured(readings=(), limits=(), code="manifold-pressure"))["score"], 1)
        self.assertEqual(card_from_json(card_as_json(one)), one)

    def test_a_result_is_held_to_a_reading_in_its_own_unit(self):
        for reading, said in (("idle_v", "idle_v is in V, the sum in ms"), ("magic", "no reading 'magic'")):
            with self.assertRaisesRegex(BadOption, said):
                card({"kind": "work_out", "calculation": "response", "comes_to": reading}, "manifold-pressure")

    def test_the_working_is_asked_for(self):
        one = card(self.CLAMP)
        given = answers_from_json(one, {"work_out-clamp": {"value": 4.5, "figures": {"volts": 0.45}}})
        self.assertIn("clamp factor", unanswered(one, given, True)[0]["what"])


class Spotting(unittest.TestCase):
    def test_cylinder_that_a_fault_names(self):
        one = card({"kind": "spot", "among": "cylinder"}, SPARK)
        for answer, found, score in (
            ({"value": 3}, sparks(), 1),
            ({"value": 2}, sparks(), 0),
            ({"absent": True}, sparks(), 0),
            ({"absent": True}, sparks(()), 1),
            ({"value": 3}, sparks(()), 0),
            ({}, sparks(), 0),
        ):
            with self.subTest(answer=answer, faults=len(found.findings)):
                self.assertEqual(marks(one, answer, found)["score"], score)

    def test_event_that_a_fault_lies_in(self):
        one = card({"kind": "spot", "among": "event"}, SPARK)
        fault = Finding("short_burn", "fault", 0.4, 0.4015, "event 5 burns short", "secondary", 1)
        found = sparks((fault,))
        self.assertEqual([marks(one, {"value": n}, found)["score"] for n in (4, 5, 6)], [0, 1, 0])

    def test_lane_that_shows_the_fault(self):
        one = card({"kind": "spot", "among": "lane"})
        ground = Finding("ground_high", "fault", 0.0, 100.0, "ground 0.3 V", "ground")
        for answer, faults, score in (
            ({"lane": "ground"}, (ground,), 1),
            ({"lane": "signal"}, (ground,), 0),
            ({"absent": True}, (ground,), 0),
            ({"absent": True}, (), 1),
            ({}, (), 0),
        ):
            with self.subTest(answer=answer):
                self.assertEqual(marks(one, answer, measured(faults))["score"], score)
        self.assertIn("the trace shows lane ground", marks(one, {"lane": "signal"}, measured((ground,)))["reason"])
        self.assertEqual(
            answers_from_json(one, {"spot-lane": {"lane": "ground"}})["spot-lane"].as_json(), {"lane": "ground"}
        )
        with self.assertRaisesRegex(BadAnswer, "lane must be one of signal"):
            answers_from_json(one, {"spot-lane": {"lane": "boot"}})

    def test_what_set_up_hides_is_left_to_the_instructor(self):
        self.assertEqual(marks(card({"kind": "spot"}), {"absent": True}, measured((CLIPPED,)))["certainty"], 0.5)


class Naming(unittest.TestCase):
    def test_each_name_on_its_part(self):
        one = card({"kind": "name", "names": ["opening", "open"]})
        got = rows(one, {"name": {"marks": {"opening": [52.0], "open": [12.0, 14.0]}}}, measured())
        self.assertEqual((got["name:opening"]["score"], got["name:open"]["score"]), (1, 0))
        self.assertIn("you named the opening", got["name:open"]["reason"])
        self.assertEqual(got["name:opening"]["points"] + got["name:open"]["points"], 3)
        # A tenth of the part's length beside it counts; opening is 10 to 20 s.
        for at, score in ((9.1, 1), (8.9, 0), (20.9, 1), (21.1, 0)):
            self.assertEqual(marks(one, {"marks": {"opening": [at]}}, criterion="name:opening")["score"], score, at)

    def test_in_any_event_of_a_row(self):
        # The burn of the first of three firings 0.1 s apart is 0.2 to 1.6 ms after its start.
        events = tuple(Event(k + 1, 0.1 * k, 0.1 * k + 0.002, None, 0.0, "") for k in range(3))
        found = measured((), (), (), SPARK, (Phase("burn", 0.0002, 0.0016),), duration_s=0.3, events=events)
        one = card({"kind": "name", "names": ["burn"]}, SPARK)
        for at, score in ((0.001, 1), (0.1010, 1), (0.2010, 1), (0.15, 0)):
            self.assertEqual(marks(one, {"marks": {"burn": [at]}}, found)["score"], score, at)

    def test_a_part_that_is_not_there_is_rightly_left(self):
        found = measured(phases=(Phase("closed", 0.0, 100.0, 1),))
        one = card({"kind": "name", "names": ["open"]})
        self.assertEqual([marks(one, a, found)["score"] for a in ({}, {"marks": {"open": [3]}})], [1, 0])

    def test_only_names_of_the_circuit(self):
        with self.assertRaisesRegex(BadOption, "closed, opening, open, closing"):
            card({"kind": "name", "names": ["burn"]})
        with self.assertRaises(BadAnswer):
            answers_from_json(card({"kind": "name", "names": ["open"]}), {"name": {"marks": {"closing": [1]}}})


class Connecting(unittest.TestCase):
    WIRES = (
        {"label": "Wire A", "seen": "5.0 V, stays", "lane": "reference"},
        {"label": "Wire B", "seen": "0.02 V, stays", "lane": "ground"},
        {"label": "Wire C", "seen": "0.7 V, rises with travel", "lane": "signal"},
    )

    def test_share_of_wires_told_apart_and_never_the_key_to_a_learner(self):
        one = card({"kind": "connect", "wires": list(self.WIRES)})
        right = {w["label"]: w["lane"] for w in self.WIRES}
        self.assertEqual(marks(one, {"wires": right})["score"], 1)
        swapped = marks(one, {"wires": {**right, "Wire A": "signal", "Wire C": "reference"}})
        self.assertAlmostEqual(swapped["score"], 1 / 3, places=3)
        self.assertIn("Wire A (5.0 V, stays) is the", swapped["reason"])
        self.assertNotIn("lane", str(learner_view(one)["steps"]))
        self.assertEqual(card_from_json(card_as_json(one)), one)

    def test_bad_wires_are_named(self):
        for wires, said in (([], "2 to 12"), ([*self.WIRES, self.WIRES[0]], "name of its own"), ([{}] * 2, "wire 1")):
            with self.assertRaisesRegex(BadOption, said):
                card({"kind": "connect", "wires": wires})

    def test_the_ground_point_of_the_school_and_what_holds_the_signal(self):
        # A throttle reaches some 5 V: a lead shows it, 20:1 only coarsely, and a clamp takes amperes.
        one = card({"kind": "connect", "wires": [], "asks": ["ground", "probe"]})
        for ground, probe, score, said in (
            ("sensor ground", "lead", 1, "takes"),
            ("engine metal", "lead", 0.5, "this card wants the sensor ground"),
            ("sensor ground", "attenuator", 0.75, "few steps"),
            ("sensor ground", "clamp-60", 0.5, "does not take V"),
            (None, None, 0, "No ground point"),
        ):
            got = marks(one, {"ground": ground, "probe": probe})
            with self.subTest(ground=ground, probe=probe):
                self.assertEqual(got["score"], score)
                self.assertIn(said, got["reason"])
        self.assertEqual(card_from_json(card_as_json(one)), one)
        # The kick of a coil's primary goes to hundreds of volts.
        kick = card({"kind": "connect", "wires": [], "asks": ["probe"]}, "coil-primary-voltage")
        found = measured(circuit="coil-primary-voltage")
        self.assertEqual([marks(kick, {"probe": p}, found)["score"] for p in ("lead", "attenuator")], [0, 1])

    def test_ground_and_probe_count_as_much_as_a_wire(self):
        one = card({"kind": "connect", "wires": list(self.WIRES), "asks": ["ground"]})
        right = {w["label"]: w["lane"] for w in self.WIRES}
        self.assertEqual(marks(one, {"wires": right, "ground": "battery negative"})["score"], 0.75)
        told = unanswered(one, answers_from_json(one, {"connect": {"wires": right}}), True)
        self.assertIn("no ground point chosen", str(told))
        with self.assertRaisesRegex(BadAnswer, "probe"):
            answers_from_json(one, {"connect": {"probe": "magic"}})
        with self.assertRaisesRegex(BadOption, "asks"):
            card({"kind": "connect", "wires": [], "asks": ["magic"]})


class SettingUp(unittest.TestCase):
    def test_a_trigger_is_judged_by_whether_it_would_fire(self):
        one = card({"kind": "set_up", "highest": 5, "lasts_s": 20, "sees_s": 0.02, "asks": ["trigger"]})
        good = {"range_v": 10, "duration_s": 20, "rate_hz": 500}
        for level, score, said in (
            (2.5, 1, "fires as the signal passes it"),
            (0.2, 1, "fires"),
            (0.05, 0.75, "its very edge"),
            (5.5, 0.75, "lies outside"),
            (-1, 0.75, "lies outside"),
            (None, 0.75, "No trigger level"),
        ):
            got = marks(one, {**good, "trigger_level": level})
            with self.subTest(level=level):
                self.assertAlmostEqual(got["score"], score)
                self.assertIn(said, got["reason"])
        self.assertEqual(card_from_json(card_as_json(one)), one)
        self.assertIn("trigger", str(unanswered(one, answers_from_json(one, {"set_up": good}), True)))

    def test_by_what_the_settings_would_capture(self):
        # 5 V must be seen, 20 s long, the shortest thing 20 ms: 500 samples a second put ten across it.
        one = card({"kind": "set_up", "highest": 5, "lasts_s": 20, "sees_s": 0.02})
        good = {"range_v": 10, "duration_s": 20, "rate_hz": 500}
        for change, score, said in (
            ({}, 1, "shows it well"),
            ({"range_v": 4.9}, 2 / 3, "cut off"),
            ({"range_v": 25}, 1, "shows it well"),
            ({"range_v": 26}, 5 / 6, "a step of 8 bits is 0.1 V"),
            ({"rate_hz": 499}, 5 / 6, "500 a second"),
            ({"rate_hz": 100}, 2 / 3, "500 a second"),
            ({"duration_s": 19}, 5 / 6, "takes 20 s"),
            ({"duration_s": 9}, 2 / 3, "takes 20 s"),
        ):
            got = marks(one, {**good, **change})
            with self.subTest(change=change):
                self.assertAlmostEqual(got["score"], score, places=3)
                self.assertIn(said, got["reason"])
        self.assertEqual(marks(one, {})["score"], 0)
        self.assertNotIn("highest", str(learner_view(one)["steps"]))


class Recording(unittest.TestCase):
    def test_share_of_the_rows_and_what_they_say(self):
        one = card({"kind": "record", "of": "voltage", "least": 2})
        row = {"point": "ground", "volts": "0.4", "loaded": "yes", "state": "running"}
        half = marks(one, {"rows": [row]})
        self.assertEqual(half["score"], 0.5)
        self.assertIn("ground", half["reason"])
        self.assertEqual(marks(one, {"rows": [row, {**row, "volts": "0.02"}]})["score"], 1)
        with self.assertRaisesRegex(BadAnswer, "record-voltage"):
            answers_from_json(one, {"record-voltage": {"rows": [{**row, "volts": "much"}]}})
        with self.assertRaisesRegex(BadOption, "of: one of"):
            card({"kind": "record", "of": "diary"})


class Explaining(unittest.TestCase):
    def test_is_never_marked_by_the_tool(self):
        one = card({"kind": "explain", "phrases": ["ground", "under load"]})
        got = marks(one, {"words": "The ground has resistance under load."})
        self.assertEqual((got["earned"], got["certainty"]), (0, 0))
        self.assertIn("ground; under load", got["reason"])
        self.assertNotIn("under load", str(learner_view(one)["steps"]))
        self.assertEqual(marks(one, {})["certainty"], 1)


class Documents(unittest.TestCase):
    def test_every_kind_goes_out_and_comes_back_the_same(self):
        steps = [
            {"kind": "connect", "wires": list(Connecting.WIRES)},
            {"kind": "set_up", "lasts_s": 4},
            {"kind": "work_out", "calculation": "dwell", "figures": {"dwell_ms": 3}, "readings": {"rpm": "opening_s"}},
            {"kind": "name", "names": ["open"]},
            {"kind": "spot", "among": "event"},
            {"kind": "record", "of": "log", "least": 3},
            {"kind": "explain", "phrases": ["one"]},
        ]
        one = card_from_json({"circuit": THROTTLE, "title": "All", "source": {"kind": "upload"}, "steps": steps})
        self.assertEqual(card_from_json(card_as_json(one)), one)
        self.assertEqual({c.key for c in CRITERIA} & {s.kind for s in one.steps}, {s.kind for s in one.steps})
        self.assertEqual(len(unanswered(one, {}, False)), len(steps))

    def test_readings_of_another_cylinder_do_not_count_as_the_summary(self):
        readings = (Reading("open_v", 9.0, "V", 0.1, 0, 1, cycle=1),)
        step = {
            "kind": "work_out",
            "calculation": "resistance",
            "figures": {"amperes": 1},
            "readings": {"volts": "open_v"},
        }
        self.assertEqual(marks(card(step), {"value": 9, "figures": {}}, measured(readings=readings))["score"], 0)


if __name__ == "__main__":
    unittest.main()
