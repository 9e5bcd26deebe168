"""References out to a bundle and into another school: the same to the last bit, nothing written over."""

import csv
import json
import shutil
import tempfile
import unittest
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import frictionless
import jsonschema
import numpy as np
import pyarrow.parquet as pq

from tests.support.client import CIRCUIT, NOW, PASSWORD
from tests.support.database import DatabaseTest, fresh_settings
from tests.support.files import zip_of
from tests.support.waves import Sweep
from tracebench.core.errors import BadFile
from tracebench.formats import apart, bundle
from tracebench.store import captures as store
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.people import accounts
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, exchange, listing, preparing, references

DOCUMENT = {
    "phases": [{"name": "closed", "from": 0.0, "to": 0.9}],
    "options": {"sweep": "slow"},
    "limits": [
        {"reading": "closed_v", "low": 0.45, "high": 0.75, "basis": "maker", "marginal": 0.013, "source": "p. 4"}
    ],
    "tags": [{"from": 1.0, "to": 2.5, "lane": "signal", "text": "opens <evenly> & slowly"}],
    "provenance": {"vehicle": "Linnet 1.6", "conditions": "key on, 21 °C"},
    "notes": "From the board.\nTwo sweeps.",
}


class TwoSchools(DatabaseTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        other = fresh_settings(cls.uploads)
        cls.other = Pool(other)
        cls.addClassCleanup(cls.other.close)
        cls.ann = cls.person(cls.pool, "ann")
        cls.cor = cls.person(cls.pool, "cor")
        cls.bo = cls.person(cls.other, "bo")

    @staticmethod
    def person(pool, name):
        with pool.transaction() as conn:
            return Person(
                accounts.add(conn, name, name.title(), "instructor", PASSWORD, NOW), name, name.title(), "instructor", 1
            )

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)

    def reference(self, title="Sound", **sweep):
        """A published reference of ann's."""
        capture = Sweep(rate_hz=200, noise_v=0.003, **sweep).capture()
        with self.pool.transaction() as conn:
            made = captures.Made(CIRCUIT, "sweep.csv", "file", capture, {"filename": "sweep.csv"})
            capture_id = captures.keep(conn, self.ann, made, NOW)
        reference_id = references.create(self.pool.transaction, self.ann, capture_id, title, DOCUMENT, NOW)
        references.publish(self.pool.transaction, self.ann, reference_id, NOW)
        return reference_id

    def out(self, *ids, samples="parquet", name="out.zip"):
        path = self.folder / name
        exchange.export(self.pool.transaction, self.ann, ids, path, samples, NOW)
        return path

    def take(self, path, pool=None, person=None, uids=None):
        return exchange.take((pool or self.other).transaction, person or self.bo, path, uids, NOW)

    def plan(self, path, pool=None, person=None):
        with (pool or self.other).transaction() as conn:
            return [(c["what"], c["versions"]) for c in exchange.plan(conn, person or self.bo, apart.bundle_of(path))]

    def sheets(self, path):
        return {s["uid"]: s for s in bundle.sheets(path)}

    def change(self, reference_id, title, publish=True):
        sheet = references.one(self.pool.transaction, self.ann, reference_id)
        references.save(self.pool.transaction, self.ann, reference_id, sheet["revision"], title, sheet["document"], NOW)
        if publish:
            references.publish(self.pool.transaction, self.ann, reference_id, NOW)


class Exchange(TwoSchools):
    def test_out_and_in_again_every_field_and_sample_is_the_same(self):
        for samples in ("parquet", "csv"):
            with self.subTest(samples):
                path = self.out(self.reference(f"As {samples}", open_v=4.1 + len(samples) / 100), samples=samples)
                self.assertEqual(self.plan(path), [("new", [1])])
                self.assertEqual(self.take(path)["new"], 1)
                (sent,) = self.sheets(path).values()
                with self.other.transaction() as conn:
                    row = queries.shelf.by_uid(conn, uid=sent["uid"], person_id=self.bo.id)
                    back, held = exchange._sheet(conn, self.bo, row["id"])
                    theirs = store.load(conn, next(iter(held.values())))
                ours = apart.bundle_of(path).capture(sent["capture"], sent["captures"][sent["capture"]])
                # Whoever took it in stands as its author there, at the time that it came.
                for of_school in ("author", "changed_at"):
                    back.pop(of_school), sent.pop(of_school)
                for version in (*back["versions"], *sent["versions"]):
                    version.pop("author")
                self.assertEqual(back, sent)
                self.assertEqual(ours.interval_s, theirs.interval_s)
                for name, lane in ours.lanes.items():
                    self.assertEqual(lane.samples.tobytes(), theirs.lanes[name].samples.tobytes())
                self.assertEqual(self.plan(path), [("same", [])])
                self.assertEqual(self.take(path), {"new": 0, "same": 1, "versions": 0, "copy": 0})

    def test_other_tools_read_it(self):
        path = self.out(self.reference("For others"), self.reference("And one more", open_v=4.0), samples="csv")
        folder = self.folder / "open"
        with zipfile.ZipFile(path) as archive:
            archive.extractall(folder)
        report = frictionless.validate(str(folder / "datapackage.json"))
        self.assertTrue(report.valid, report.flatten(["message"]))
        schema = json.loads((Path(__file__).parents[2] / "docs" / "bundle.schema.json").read_text())
        for uid, sheet in self.sheets(path).items():
            jsonschema.validate(sheet, schema)
            picture = ElementTree.parse(folder / "references" / f"{uid}.svg").getroot()
            self.assertTrue(picture.tag.endswith("svg"))
            self.assertIn("opens <evenly> & slowly", "".join(picture.itertext()))
        with (folder / "readings.csv").open() as table:
            rows = [r for r in csv.DictReader(table) if r["reading"] == "closed_v" and not r["cycle"]]
        self.assertEqual([round(float(r["value"]), 1) for r in rows], [0.7, 0.7])
        parquet = self.out(self.reference("As parquet"))
        with zipfile.ZipFile(parquet) as archive:
            (name,) = [n for n in archive.namelist() if n.endswith(".parquet")]
            archive.extract(name, folder)
        self.assertEqual(pq.read_table(folder / name).column_names, ["time", "signal"])

    def test_a_new_version_is_added_and_ours_is_never_written_over(self):
        reference_id = self.reference("First")
        first = self.out(reference_id, name="first.zip")
        self.take(first)
        self.change(reference_id, "Second")
        second = self.out(reference_id, name="second.zip")
        self.assertEqual(self.plan(second), [("versions", [2])])
        self.assertEqual(self.take(second)["versions"], 1)
        # The older bundle tells nothing new.
        self.assertEqual(self.plan(first), [("same", [])])
        (uid,) = self.sheets(second)
        with self.other.transaction() as conn:
            row = queries.shelf.by_uid(conn, uid=uid, person_id=self.bo.id)
        self.assertEqual((row["title"], row["state"]), ("Second", "published"))
        # Bo works on it; ann publishes a third: both stay.
        sheet = references.one(self.other.transaction, self.bo, row["id"])
        references.save(self.other.transaction, self.bo, row["id"], sheet["revision"], "Bo's", sheet["document"], NOW)
        self.change(reference_id, "Third")
        third = self.out(reference_id, name="third.zip")
        self.assertEqual(self.plan(third), [("copy", [1, 2, 3])])
        self.take(third)
        with self.other.transaction() as conn:
            listed = {i["title"] for i in listing.listed(conn, self.bo)["items"]}
            self.assertEqual(queries.shelf.by_uid(conn, uid=uid, person_id=self.bo.id)["title"], "Bo's")
        self.assertLessEqual({"Bo's", "Third"}, listed)
        self.assertEqual(self.plan(third), [("same", [])])

    def test_another_s_reference_comes_in_as_a_copy_and_in_part_where_asked(self):
        own, other = self.reference("Mine"), self.reference("Also mine", open_v=4.0)
        path = self.out(own, other)
        # Cor sees what is published to the school, has no say in it, and takes the same: nothing to do.
        self.change(own, "Mine again")
        later = self.out(own, name="later.zip")
        with self.pool.transaction() as conn:
            references.set_reach(conn, self.ann, own, "school", None, NOW)
            references.set_reach(conn, self.ann, other, "own", None, NOW)
        whats = sorted(what for what, _ in self.plan(path, self.pool, self.cor))
        self.assertEqual(whats, ["copy", "same"])
        self.assertEqual(self.plan(later, self.pool, self.cor), [("same", [])])
        uid = next(uid for uid, s in self.sheets(path).items() if s["title"] == "Also mine")
        self.assertEqual(self.take(path, self.pool, self.cor, [uid])["copy"], 1)
        self.assertEqual(self.take(path, self.pool, self.cor, [uid])["same"], 1)

    def test_steps_go_along_with_the_raw_samples_and_can_be_taken_back_there(self):
        reference_id = self.reference("Cropped")
        steps = [{"kind": "crop", "from": 1.0, "to": 20.0}, {"kind": "low_pass", "lane": "signal", "hz": 20.0}]
        sheet = references.one(self.pool.transaction, self.ann, reference_id)
        with self.pool.transaction() as conn:
            raw = store.load(conn, sheet["capture_id"])
        preparing.set_steps(self.pool.transaction, self.ann, reference_id, sheet["revision"], steps, NOW)
        path = self.out(reference_id)
        self.take(path)
        self.assertEqual(self.plan(path), [("same", [])])
        (sent,) = self.sheets(path).values()
        with self.other.transaction() as conn:
            row = queries.shelf.by_uid(conn, uid=sent["uid"], person_id=self.bo.id)
        theirs = references.one(self.other.transaction, self.bo, row["id"])
        self.assertEqual([s["kind"] for s in theirs["steps"]], ["crop", "low_pass"])
        back = preparing.set_steps(self.other.transaction, self.bo, row["id"], theirs["revision"], [], NOW)
        with self.other.transaction() as conn:
            again = store.load(conn, back["capture_id"])
        self.assertEqual(again.lanes["signal"].samples.tobytes(), raw.lanes["signal"].samples.tobytes())

    def test_only_what_one_sees_goes_out(self):
        with self.pool.transaction() as conn:
            references.set_reach(conn, self.ann, hidden := self.reference("Hidden"), "own", None, NOW)
        path = self.folder / "x.zip"
        with self.assertRaisesRegex(Exception, "no such reference"):
            exchange.export(self.pool.transaction, self.cor, [hidden], path, "parquet", NOW)
        self.assertFalse(path.exists())


class Damaged(TwoSchools):
    """Bundles that say what is not so are refused in a sentence, and nothing of them is kept."""

    def remade(self, change):
        """A good bundle with one of its files changed."""
        with zipfile.ZipFile(self.out(self.reference("Good"))) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        change(files)
        path = self.folder / f"bad {len(list(self.folder.iterdir()))}.zip"
        path.write_bytes(zip_of(files))
        return path

    def edited(self, edit):
        def change(files):
            name = next(n for n in files if n.startswith("references/") and n.endswith(".json"))
            sheet = json.loads(files[name])
            edit(sheet)
            files[name] = json.dumps(sheet).encode()

        return self.remade(change)

    def refused(self, path, words):
        with self.other.transaction() as conn:
            before = listing.listed(conn, self.bo)["total"]
        with self.assertRaisesRegex(Exception, words) as caught:
            self.take(path)
        self.assertIn(type(caught.exception).__name__, ("BadFile", "BadOption", "BadCapture"))
        with self.other.transaction() as conn:
            self.assertEqual(listing.listed(conn, self.bo)["total"], before)

    def test_each_kind_of_lie(self):
        def samples(files):
            name = next(n for n in files if n.startswith("captures/"))
            files[name] = files[name][: len(files[name]) // 2]

        def nothing(files):
            for name in [n for n in files if n.startswith("captures/")]:
                del files[name]

        def package(files):
            files["datapackage.json"] = b'{"resources": []}'

        def deep(files):
            files["datapackage.json"] = b"[" * 100_000

        for name, path, words in (
            ("half of the samples", self.remade(samples), "damaged"),
            ("no samples", self.remade(nothing), "lacks the samples"),
            ("another package", self.remade(package), "no bundle of references"),
            ("not JSON", self.remade(deep), "not JSON"),
            ("unknown circuit", self.edited(lambda s: s.update(circuit="flux")), "does not know"),
            ("no title", self.edited(lambda s: s.pop("title")), "not as a sheet is written: title"),
            ("a limit on nothing", self.edited(lambda s: s["document"]["limits"][0].update(reading="x")), "x"),
            ("a date that is none", self.edited(lambda s: s["versions"][0].update(published_at="soon")), "no date"),
            (
                "a lane too many",
                self.edited(lambda s: next(iter(s["captures"].values()))["lanes"][0].update(lane="y")),
                "y",
            ),
            ("a version below one", self.edited(lambda s: s["versions"][0].update(version=-1)), "numbered from 1"),
            ("a version beyond all", self.edited(lambda s: s["versions"][0].update(version=10**12)), "numbered from 1"),
            ("a version that is none", self.edited(lambda s: s["versions"][0].update(version=True)), "numbered from 1"),
            ("one twice", self.edited(lambda s: s["versions"].append(dict(s["versions"][0]))), "each number once"),
            ("no interval", self.edited(lambda s: next(iter(s["captures"].values())).update(interval_s=0)), "interval"),
        ):
            with self.subTest(name):
                self.refused(path, words)

    def test_samples_of_another_capture_are_noticed(self):
        good, other = self.out(self.reference("A")), self.out(self.reference("B", open_v=3.9), name="b.zip")
        with zipfile.ZipFile(good) as archive, zipfile.ZipFile(other) as beside:
            files = {name: archive.read(name) for name in archive.namelist()}
            own = next(n for n in files if n.startswith("captures/"))
            files[own] = beside.read(next(n for n in beside.namelist() if n.startswith("captures/")))
        path = self.folder / "mixed.zip"
        path.write_bytes(zip_of(files))
        self.refused(path, "not those that the sheet was made of")

    def test_every_cut_is_refused(self):
        data = self.out(self.reference("Cut")).read_bytes()
        for part in np.linspace(0, len(data) - 1, 9).astype(int):
            path = self.folder / "cut.zip"
            path.write_bytes(data[:part])
            with self.subTest(part), self.assertRaises(BadFile):
                apart.bundle_of(path)


if __name__ == "__main__":
    unittest.main()
