import ast
import unittest
from datetime import datetime
from pathlib import Path

import numpy as np
import pymysql
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from scripts import query_signatures
from tests.support.database import DatabaseTest
from tests.support.waves import Sweep, steady
from tracebench.core.capture import Lane, capture_from_stamps
from tracebench.core.circuits import measure
from tracebench.core.envelope import envelope
from tracebench.store import captures
from tracebench.store.migrate import MIGRATIONS, migrate
from tracebench.store.queries import SQL, queries
from tracebench.store.sample_coding import CHUNK, coded, decoded, pack, unpack

NOW = datetime(2026, 1, 1)  # noqa: DTZ001 - UTC without a mark


class Coding(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(hnp.arrays(np.float64, st.integers(1, 400), elements=st.floats(-1e6, 1e6, allow_nan=False)))
    def test_any_samples_come_back_bit_for_bit(self, samples):
        row = coded(samples)
        back = decoded(unpack(pack(row.codes), row.dtype), row.values)
        np.testing.assert_array_equal(back, samples)

    def test_long_rows_come_back_to_the_last_bit_whenever_a_value_is_first_met(self):
        at = np.arange(3 * CHUNK + 7)
        rng = np.random.default_rng(3)
        rows = {
            "nought, met late": np.where(at > 2 * CHUNK, 0.0, 0.61),
            "nought with either sign, and none": np.resize([0.0, -0.0, np.nan, np.inf, -np.inf, 5e-324], at.size),
            "every code of 16 bits, many to a slot": (at % 65_536) / 3276.8,
            "one value more than codes": (at % 65_537) / 3276.8,
            "a new value in each chunk": np.floor(at / 1000) / 7,
            "all one": np.full(at.size, 0.61),
            "codes of noise": np.round(rng.normal(0, 40, at.size)) * 0.00122,
            "every third of a row": np.round(rng.normal(0, 40, 3 * at.size))[::3],
        }
        for name, samples in rows.items():
            with self.subTest(name):
                row = coded(samples)
                self.assertEqual(row.values is not None, name != "one value more than codes")
                self.assertEqual(decoded(row.codes, row.values).tobytes(), np.ascontiguousarray(samples).tobytes())
                if row.values is not None:
                    # In order, so that the largest code of a stretch is its largest value.
                    np.testing.assert_array_equal(row.values, np.sort(row.values))

    def test_recorders_of_up_to_16_bits_are_kept_as_codes(self):
        step = 10 / 2**16
        samples = np.round(np.random.default_rng(0).uniform(0, 5, 30_000) / step) * step
        self.assertEqual(coded(samples).dtype, "uint16")

    def test_more_values_than_codes_are_kept_as_floats(self):
        fine = np.random.default_rng(0).normal(size=100_000)
        self.assertEqual(coded(fine).dtype, "float64")
        self.assertEqual(coded(fine.astype(np.float32).astype(np.float64)).dtype, "float32")


class Queries(unittest.TestCase):
    def test_every_statement_in_the_files_is_loaded(self):
        written = sum(path.read_text().count("-- name:") for path in SQL.rglob("*.sql"))
        loaded = [q for q in queries.available_queries if not q.endswith("_cursor")]
        self.assertEqual(len(loaded), written)

    def test_what_the_type_check_knows_of_them_is_fresh(self):
        wanted = query_signatures.text()
        kept = query_signatures.TARGET.read_text()
        same = ast.dump(ast.parse(kept)) == ast.dump(ast.parse(wanted))
        self.assertTrue(same, "run python -m scripts.query_signatures, then ruff format")
        self.assertEqual(
            wanted.count("    def "), sum(path.read_text().count("-- name:") for path in SQL.rglob("*.sql"))
        )

    def test_values_are_bound_never_written_into_a_statement(self):
        for path in SQL.rglob("*.sql"):
            self.assertNotIn("%", path.read_text(), path.name)

    def test_every_migration_has_its_undo(self):
        steps = {p.name for p in Path(MIGRATIONS).glob("*.sql") if not p.name.endswith(".rollback.sql")}
        for name in steps:
            self.assertTrue((MIGRATIONS / name.replace(".sql", ".rollback.sql")).exists(), name)


class Captures(DatabaseTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        sweep = Sweep(rate_hz=20_000, noise_v=0.004, bits=12, start_s=-1.5)
        cls.capture = sweep.capture(ground=steady(sweep, 0.02))
        with cls.pool.transaction() as conn:
            cls.owner = queries.people.add(
                conn, sign_in="o", name="O", role="learner", password_hash="", added_by=None, at=NOW
            )
            cls.id = captures.add(conn, cls.owner, "throttle-position", "t", "file", cls.capture, {}, NOW)

    def test_every_sample_comes_back(self):
        with self.pool.transaction() as conn:
            loaded = captures.load(conn, self.id)
        self.assertEqual((loaded.interval_s, loaded.start_s), (self.capture.interval_s, self.capture.start_s))
        for name, lane in self.capture.lanes.items():
            np.testing.assert_array_equal(loaded.lanes[name].samples, lane.samples)

    def test_what_the_recorder_left_in_doubt_comes_back_as_well(self):
        sweep = Sweep(rate_hz=500, noise_v=0.002, bits=8)
        times, volts = sweep.samples()
        rng = np.random.default_rng(8)
        stray = times + rng.uniform(-0.9, 0.9, times.size) / 500
        lanes = {"signal": Lane("signal", volts, "V")}
        holes = {"signal": Lane("signal", np.where(rng.random(volts.size) < 0.03, np.nan, volts), "V")}
        for name, capture in (
            ("stamps that repeat", capture_from_stamps(np.round(times, 2), lanes)),
            ("stamps astray", capture_from_stamps(np.sort(stray), lanes)),
            ("blank cells", capture_from_stamps(times, holes)),
        ):
            with self.subTest(name), self.pool.transaction() as conn:
                kept = captures.add(conn, self.owner, "throttle-position", "t", "file", capture, {}, NOW)
                loaded = captures.load(conn, kept)
                self.assertEqual((loaded.clock, loaded.edge_s), (capture.clock, capture.edge_s))
                self.assertEqual(loaded.lanes["signal"].step, capture.lanes["signal"].step)
                self.assertGreater(loaded.clock + loaded.edge_s, 0)
                told = [measure(one, "throttle-position").as_json() for one in (capture, loaded)]
                self.assertEqual(told[0], told[1])

    def test_samples_that_are_missing_are_told_and_never_made_up(self):
        with self.pool.transaction() as conn:
            lost = captures.add(conn, self.owner, "throttle-position", "t", "file", self.capture, {}, NOW)
            conn.cursor().execute(
                "DELETE FROM capture_chunk WHERE capture_id = %s AND lane = 'signal' AND chunk_no = 1", (lost,)
            )
            with self.assertRaisesRegex(ValueError, "lane signal: [0-9]+ samples are missing"):
                captures.load(conn, lost)

    def test_a_stretch_across_chunks(self):
        with self.pool.transaction() as conn:
            part = captures.samples_of(conn, self.id, "signal", 65_000, 132_000)
        np.testing.assert_array_equal(part, self.capture.lanes["signal"].samples[65_000:132_000])

    def test_tiles_agree_with_the_samples_at_every_level(self):
        samples = self.capture.lanes["signal"].samples
        for level in range(1, 13):
            with self.pool.transaction() as conn:
                tile = captures.tile(conn, self.id, "signal", level, 0)
            width = 1 << level
            stop = captures.TILE_BINS * width
            low, high = envelope(samples[:stop], samples[:stop], width)
            np.testing.assert_allclose(tile[0::2], low, rtol=1e-6)
            np.testing.assert_allclose(tile[1::2], high, rtol=1e-6)

    def test_tiles_further_on_begin_where_the_ones_before_end(self):
        samples = self.capture.lanes["signal"].samples
        for level, number in ((0, 1), (0, 33), (1, 1), (3, 7), (5, 2), (6, 1), (7, 1), (8, 1)):
            width = 1 << level
            begin = number * captures.TILE_BINS * width
            part = samples[begin : begin + captures.TILE_BINS * width]
            self.assertGreater(part.size, 0, (level, number))
            with self.pool.transaction() as conn:
                tile = captures.tile(conn, self.id, "signal", level, number)
            low, high = envelope(part, part, width)
            wanted = part if level == 0 else np.stack([low, high], axis=1).ravel()
            np.testing.assert_allclose(tile, wanted, rtol=1e-6, err_msg=f"level {level}, tile {number}")

    def test_beyond_the_end_is_empty_and_unknown_lanes_are_refused(self):
        with self.pool.transaction() as conn:
            self.assertEqual(captures.tile(conn, self.id, "signal", 0, 10_000).size, 0)
            with self.assertRaises(KeyError):
                captures.tile(conn, self.id, "nope", 0, 0)
            with self.assertRaises(KeyError):
                captures.load(conn, 9999)

    def test_twelve_bits_take_under_a_third_of_raw(self):
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute(
                "SELECT SUM(LENGTH(packed)) AS n FROM capture_chunk WHERE capture_id = %s AND lane = 'signal'",
                (self.id,),
            )
            kept = int(cursor.fetchone()["n"])
        self.assertLess(kept, 0.33 * 2 * self.capture.samples)


class Transactions(DatabaseTest):
    def test_an_error_leaves_nothing_behind(self):
        with self.assertRaises(ZeroDivisionError), self.pool.transaction() as conn:
            queries.courses.add(conn, title="gone", at=NOW)
            raise ZeroDivisionError
        with self.pool.transaction() as conn:
            self.assertEqual(list(queries.courses.all_courses(conn)), [])

    def test_the_server_refuses_what_does_not_fit(self):
        with self.assertRaises(pymysql.DataError), self.pool.transaction() as conn:
            queries.courses.add(conn, title="x" * 500, at=NOW)

    def test_migrating_again_does_nothing(self):
        self.assertEqual(migrate(self.settings), 0)

    def test_a_dropped_connection_is_replaced(self):
        with self.pool.transaction() as conn:
            cursor = conn.cursor()
            cursor.execute("SELECT CONNECTION_ID() AS id")
            victim = cursor.fetchone()["id"]
        # Who may end a connection is known by name and place: the pool comes by the socket.
        other = pymysql.connect(
            unix_socket=self.settings.db_socket,
            user=self.settings.db_user,
            password=self.settings.db_password,
        )
        other.cursor().execute(f"KILL {int(victim)}")
        # A single read finds its connection made anew as well, and a transaction after it.
        conn = self.pool.take()
        self.assertEqual(list(queries.courses.all_courses(conn)), [])
        conn.close()
        other.close()
        with self.pool.transaction() as conn:
            self.assertEqual(list(queries.courses.all_courses(conn)), [])
