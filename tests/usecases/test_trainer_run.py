"""A run of the trainer under a learner's hands, by the server's clock: through the use cases, on a real database."""

from datetime import timedelta

import numpy as np

from tests.support.client import NOW
from tests.usecases.test_sittings import SETTINGS, UseCase
from tracebench.bench.trainer import Stretch
from tracebench.core.errors import BadOption
from tracebench.store import captures as stored
from tracebench.store.queries import queries
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.sitting import sittings, trainer_run

SCOPE = {k: SETTINGS[k] for k in ("range_v", "rate_hz", "ground")} | {"duration_s": 2.0, "trigger": None, "wires": None}


def after(seconds):
    return NOW + timedelta(seconds=seconds)


class Runs(UseCase):
    def setUp(self):
        self.sitting_id = self.do(sittings.start, "ann", self.card(), NOW)

    def begun(self, **scope):
        return trainer_run.begin(self.pool.transaction, self.who["ann"], self.sitting_id, SCOPE | scope, NOW)["run"]

    def moved(self, run, *moves, at, wait_s=0.0, who="ann"):
        return self.do(trainer_run.move, who, self.sitting_id, run, moves, wait_s, after(at))

    def shown(self, at):
        with self.pool.transaction() as conn:
            run = trainer_run.look(conn, self.who["ann"], self.sitting_id, after(at))
            return trainer_run.frame(run, trainer_run.moves_of(conn, run), after(at))

    def frozen(self, run, frame, at):
        stretch = Stretch(frame["begin_s"], frame["seconds"])
        job = trainer_run.freeze(self.pool.transaction, self.who["ann"], self.sitting_id, run, stretch, after(at))
        self.assertIsNone(job)
        with self.pool.transaction() as conn:
            return sittings.one(conn, self.who["ann"], self.sitting_id)

    def lane(self, frame, name="signal"):
        return next(x for x in frame["lanes"] if x["name"] == name)

    def test_what_is_frozen_is_what_was_shown(self):
        run = self.begun()
        self.moved(run, (0.5, "key", 1.0), (1.0, "travel", 0.0), (3.0, "travel", 1.0), at=3.1)
        frame = self.shown(4.2)
        self.assertTrue(frame["whole"])
        state = self.frozen(run, frame, 4.3)
        with self.pool.transaction() as conn:
            lane = stored.load(conn, state["capture_id"]).lanes["signal"]
        seen = self.lane(frame)
        starts = np.arange(0, lane.samples.size, -(-lane.samples.size // len(seen["low"])))
        np.testing.assert_allclose(np.minimum.reduceat(lane.samples, starts), seen["low"], rtol=1e-3, atol=1e-4)
        np.testing.assert_allclose(np.maximum.reduceat(lane.samples, starts), seen["high"], rtol=1e-3, atol=1e-4)
        # The run goes on: what comes next is looked at and kept in its place.
        self.assertEqual(self.shown(9.0)["run"], run)

    def test_the_scope_shows_no_sooner_than_it_can(self):
        self.begun(duration_s=0.5)
        self.assertEqual(self.shown(0.5)["lanes"], [])
        self.assertTrue(self.shown(0.7)["whole"])
        self.assertEqual(self.shown(0.7)["begin_s"], 0.0)
        # A record of the time now is there only when that has been recorded.
        self.assertLessEqual(self.shown(7.3)["begin_s"] + 0.5, 7.3 - trainer_run.LAG_S)
        run = self.begun(duration_s=2.0)
        rolling = self.shown(1.2)
        self.assertFalse(rolling["whole"])
        self.assertAlmostEqual(rolling["seconds"], 1.2 - trainer_run.LAG_S)
        with self.assertRaises(BadOption):
            self.frozen(run, {"begin_s": 1.0, "seconds": 2.0}, 1.3)

    def test_other_settings_begin_another_record_and_the_engine_runs_on(self):
        run = self.begun()
        self.moved(run, (0.2, "key", 1.0), at=0.3)
        trainer_run.set_scope(
            self.pool.transaction, self.who["ann"], self.sitting_id, run, SCOPE | {"duration_s": 1.0}, after(5.0)
        )
        self.assertEqual(self.shown(5.2)["lanes"], [])
        later = self.shown(6.5)
        self.assertGreaterEqual(later["begin_s"], 5.0)
        self.assertGreater(min(self.lane(later)["low"]), 0.4)

    def test_a_probe_on_another_wire_shows_that_wire(self):
        run = self.begun(wires={"signal": "reference"})
        self.moved(run, (0.1, "key", 1.0), at=0.3)
        frame = self.shown(3.0)
        self.assertEqual([x["name"] for x in frame["lanes"]], ["signal"])
        self.assertAlmostEqual(float(np.median(self.lane(frame)["high"])), 5.0, delta=0.1)
        with self.assertRaises(BadOption):
            self.begun(wires={"signal": "no such wire"})

    def test_a_trigger_that_has_not_come_is_waited_for(self):
        run = self.begun(duration_s=0.5, trigger={"lane": "signal", "level": 2.0, "edge": "rising", "pre": 0.5})
        self.moved(run, (0.1, "key", 1.0), at=0.2)
        waiting = self.shown(2.0)
        self.assertEqual(waiting["lanes"], [])
        self.assertIn("never fires", waiting["waits"])
        self.moved(run, (2.5, "travel", 1.0), at=2.6)
        frame = self.shown(3.5)
        self.assertEqual(frame["length_s"], 0.5)
        low = self.lane(frame)["low"]
        self.assertLess(low[len(low) // 2 - 30], 2.0)
        self.assertGreater(low[len(low) // 2 + 30], 2.0)

    def test_a_record_begins_with_the_key(self):
        run = self.begun()
        self.moved(run, (1.0, "key", 1.0), at=1.1)
        self.assertGreater(min(self.lane(self.shown(2.5))["low"]), 0.4)
        # From there on it starts and runs in one record.
        self.moved(run, (3.0, "key", 2.0), (3.9, "key", 1.0), at=4.0)
        self.assertEqual(self.shown(4.2)["seconds"], 2.0)

    def test_time_that_is_let_go_by_passes_at_once(self):
        run = self.begun()
        told = self.moved(run, (0.1, "key", 1.0), at=1.0, wait_s=30.0)
        self.assertAlmostEqual(told["elapsed_s"], 31.0, delta=0.01)
        self.assertGreaterEqual(self.shown(2.0)["begin_s"], 31.0)
        with self.assertRaises(BadOption):
            self.moved(run, at=2.0, wait_s=3600.0)

    def test_moves_come_in_order_and_never_from_the_future(self):
        run = self.begun()
        self.moved(run, (900.0, "key", 1.0), at=1.0)
        self.moved(run, (0.1, "travel", 1.0), at=1.5)
        with self.pool.transaction() as conn:
            times = [r["at_s"] for r in queries.sittings.moves(conn, sitting_id=self.sitting_id)]
        self.assertEqual(times, sorted(times))
        self.assertLessEqual(max(times), 1.0 + trainer_run.AHEAD_S)
        with self.assertRaises(BadOption):
            self.moved(run, (1.6, "wings", 1.0), at=1.7)

    def test_a_run_is_one_window_s_and_one_s_own(self):
        first = self.begun()
        self.assertEqual(self.begun(), first + 1)
        with self.assertRaisesRegex(Conflict, "another window"):
            self.moved(first, (0.1, "key", 1.0), at=0.2)
        with self.assertRaises(NotFound):
            self.moved(first + 1, (0.1, "key", 1.0), at=0.2, who="ben")

    def test_a_run_ends_with_its_sitting(self):
        run = self.begun()
        self.moved(run, (0.1, "key", 1.0), at=0.2)
        self.do(sittings.hand_in, "ann", self.sitting_id, True, NOW)
        with self.assertRaises(Conflict):
            self.shown(1.0)
        with self.pool.transaction() as conn:
            self.assertEqual(list(queries.sittings.moves(conn, sitting_id=self.sitting_id)), [])

    def test_nothing_that_a_run_tells_names_the_part(self):
        run = self.begun()
        self.moved(run, (0.1, "key", 1.0), at=0.2)
        told = str(self.shown(3.0)) + str(self.frozen(run, self.shown(3.0), 3.1))
        for word in ("worn", "'fault'", "severity"):
            self.assertFalse(word in told, word)
