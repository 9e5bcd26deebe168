"""The command line gives exactly the application's marks: one sitting, handed in and graded from its documents."""

import io
import json
import tempfile
from pathlib import Path

from click.testing import CliRunner

from tests.support.client import CIRCUIT, NOW
from tests.support.waves import Sweep, steady
from tests.usecases.test_sittings import UseCase
from tracebench import cli
from tracebench.usecases.marking import grading
from tracebench.usecases.shelf import uploads
from tracebench.usecases.sitting import sittings

SWEEP = Sweep(rate_hz=500, noise_v=0.004, dips=tuple((t, 0.02, 1.2) for t in (1.77, 12.23, 14.77, 25.23)))
VOLTAGES = [
    {"point": point, "volts": volts, "loaded": "yes", "state": "key on"}
    for point, volts in (("reference", "5.0"), ("ground", "0.02"))
]
LOG = [{"at_s": "4", "action": "heat", "where": "sensor"}]
ANSWERS = {
    "cautions": {"read": ["engine-off"]},
    "capture": {"ground": "battery negative"},
    "reading-closed_v": {"value": 0.702, "pegs": [0.5]},
    "reading-open_v": {"value": 4200.0, "pegs": [7.0]},
    "compare-open_v": {"state": "outside"},
    "call": {
        "verdict": "faulty",
        "cause": "worn-track",
        "evidence": [[1.6, 1.9], [9.0, 9.4]],
        "next_test": "compare-part",
        "confidence": 85,
    },
}


class SameMarks(UseCase):
    STEPS = [
        {"kind": "cautions"},
        {"kind": "capture"},
        {"kind": "reading", "reading": "closed_v"},
        {"kind": "reading", "reading": "open_v"},
        {"kind": "compare", "reading": "open_v", "hint": "Hold it against the data sheet."},
        {"kind": "call", "hint": "Prove the wires first."},
    ]

    def test_criterion_by_criterion_with_records(self):
        times, volts = SWEEP.samples()
        reference = steady(SWEEP, 5.0)
        rows = [f"{t:.4f},{v:.4f},{r:.4f}" for t, v, r in zip(times, volts, reference, strict=True)]
        text = "\n".join(["Time (s),CH1 (V),CH2 (V)", *rows]) + "\n"
        card_id = self.card(source={"kind": "upload"}, steps=self.STEPS, complaint="hot", schools={"ground": "sensor"})
        received = self.do_in_folder("receive", "test2 (3).csv", io.BytesIO(text.encode()), CIRCUIT, NOW)
        mapping = [
            {"position": 2, "lane": "signal", "factor": 1.0},
            {"position": 3, "lane": "reference", "factor": 1.0},
        ]
        capture_id = self.do_in_folder("import_upload", received["upload_id"], CIRCUIT, mapping, None, NOW)
        sitting_id = self.do(sittings.start, "ann", card_id, NOW)
        state = self.do(sittings.use_capture, "ann", sitting_id, capture_id, NOW)
        for step, answer in ANSWERS.items():
            state = self.do(sittings.save_answer, "ann", sitting_id, step, answer, state["revision"], NOW)
        for kind, record in (("voltage", VOLTAGES), ("log", LOG)):
            self.do(sittings.add_record, "ann", sitting_id, kind, record, NOW)
        self.do(sittings.take_hint, "ann", sitting_id, "call", NOW)
        self.do(sittings.hand_in, "ann", sitting_id, True, NOW)
        sheet = self.do(grading.sheet, "teacher", sitting_id)
        with tempfile.TemporaryDirectory() as folder:
            printed = self.printed(Path(folder), text, sheet)
        ours = [{k: r[k] for k in printed["results"][0]} for r in sheet["grade"]["results"]]
        self.assertEqual(printed["results"], ours)
        self.assertEqual(printed["trace"], sheet["grade"]["trace"])
        self.assertEqual(printed["measured"]["because"], sheet["measured"]["because"])
        # Voltages show the wires good, so that renewing the part is right.
        next_test = next(r for r in ours if r["criterion"] == "next_test")
        self.assertIn("A fitting next step", next_test["reason"])
        # The hint at the call costs a quarter of what the call earns.
        self.assertEqual(next_test["score"], 0.75)

    def do_in_folder(self, step, *arguments):
        if step == "import_upload":
            return uploads.import_upload(self.pool.transaction, self.uploads, self.who["ann"], *arguments)
        return uploads.receive(self.pool.transaction, self.uploads, self.who["ann"], *arguments)

    def printed(self, folder, text, sheet):
        records = {"records": [{"kind": "voltage", "rows": VOLTAGES}, {"kind": "log", "rows": LOG}]}
        documents = {"capture.csv": text, "card.json": sheet["card"], "answers.json": sheet["answers"]}
        for name, document in {**documents, "records.json": records}.items():
            (folder / name).write_text(document if isinstance(document, str) else json.dumps(document))
        names = {
            "exercise": "card.json",
            "answers": "answers.json",
            "capture": "capture.csv",
            "records": "records.json",
        }
        arguments = [x for option, name in names.items() for x in (f"--{option}", str(folder / name))]
        mapping = ["--map", "CH1=signal:1", "--map", "CH2=reference:1"]
        done = CliRunner().invoke(cli.main, ["grade", *arguments, *mapping, "--hint", "call"])
        self.assertEqual(done.exit_code, 0, done.stderr)
        wrong = CliRunner().invoke(cli.main, ["grade", *arguments, *mapping, "--hint", "capture"])
        self.assertNotEqual(wrong.exit_code, 0)
        self.assertIn("it has: compare-open_v, call", wrong.stderr)
        return json.loads(done.stdout)
