"""Two-track electronic pedal with its references and ground. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.pedal_position.measuring import LONG_S, REFERENCE_LEAST_V, measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.threshold import Threshold

RESIDUAL_MV = Threshold(100.0, "mV", "Tracks part from their ratio by less while both are sound (from memory)")


def _reading(track: str, number: str, phase: str) -> ReadingSpec:
    title = f"Track {number} {phase}"
    return ReadingSpec(f"{track}_{phase}_v", title, "V", f"level of the {phase} phases", 3, phase, lane=track)


CIRCUIT = Circuit(
    code="pedal-position",
    title="Pedal position",
    lanes=(
        LaneSpec(
            "track1",
            "Track 1",
            "signal",
            "V",
            True,
            (0.0, 5.2),
            Exam(
                upright=True,
                size=(1.2, 5.1),
                feature=("a 150 ms dropout", LONG_S),
                clip_s=0.02,
                code=0.06,
                noise=0.4,
                hum=(0.025, 0.25),
            ),
        ),
        LaneSpec(
            "track2",
            "Track 2",
            "signal",
            "V",
            True,
            (0.0, 5.2),
            Exam(
                upright=True,
                size=(1.2, 5.1),
                clip_s=0.02,
                code=0.06,
                noise=0.4,
                hum=(0.025, 0.25),
            ),
        ),
        LaneSpec("reference1", "Reference 1", "supply", "V", False, (0.0, 5.5)),
        LaneSpec("reference2", "Reference 2", "supply", "V", False, (0.0, 5.5)),
        LaneSpec("ground", "Ground", "ground", "V", False, (-0.1, 1.0)),
    ),
    phases=(
        PhaseSpec("released", True, "press the pedal fully and release it"),
        PhaseSpec("pressing", False),
        PhaseSpec("full", True, "press the pedal fully and release it"),
        PhaseSpec("releasing", False),
    ),
    readings=(
        _reading("track1", "1", "released"),
        _reading("track1", "1", "full"),
        _reading("track2", "2", "released"),
        _reading("track2", "2", "full"),
        ReadingSpec(
            "ratio", "Ratio", "", "slope of track 1 on track 2 over the travel", 3, how="number", seen_in="full"
        ),
        ReadingSpec(
            "ratio_residual_mv",
            "Off the ratio",
            "mV",
            "largest departure from the line",
            0,
            how="number",
            seen_in="full",
        ),
        ReadingSpec("reference1_min_v", "Reference 1, least", "V", "smallest 5 ms median", 2, lane="reference1"),
        ReadingSpec("reference2_min_v", "Reference 2, least", "V", "smallest 5 ms median", 2, lane="reference2"),
        ReadingSpec("track1_dropouts_count", "Dropouts, track 1", "", "short falls off the trend", 0, how="number"),
        ReadingSpec("track2_dropouts_count", "Dropouts, track 2", "", "short falls off the trend", 0, how="number"),
        ReadingSpec("ground_max_v", "Ground, most", "V", "largest 10 ms median", 3, lane="ground"),
    ),
    limits=(
        Limit("ratio_residual_mv", None, RESIDUAL_MV),
        Limit("reference1_min_v", REFERENCE_LEAST_V, None),
        Limit("reference2_min_v", REFERENCE_LEAST_V, None),
        Limit("track1_dropouts_count", None, 0.0),
        Limit("track2_dropouts_count", None, 0.0),
        Limit("ground_max_v", None, 0.1),
    ),
    findings=(
        FindingSpec(
            "track_lost", "Track lost", "fault", "pedal", ("wiring", "compare-part", "supply-ground"), also=("wiring",)
        ),
        FindingSpec("reference_lost", "Reference lost", "fault", "supply", ("controller-feeds", *common.WIRES)),
        FindingSpec(
            "tracks_disagree",
            "Tracks disagree",
            "fault",
            "pedal",
            common.PART,
            faked_by=("clipped", "low_range_use", "noisy"),
            shows=(
                "pressing",
                "releasing",
            ),
        ),
        FindingSpec("ground_lifted", "Ground lifted", "fault", "ground-drop", common.WIRES),
        FindingSpec("dropout", "Dropout", "fault", "pedal", common.PART, also=("wiring",)),
    ),
    limit_findings=(
        LimitFinding("ratio_residual_mv", "high", "tracks_disagree", "the tracks part by {value} mV, over {limit} mV"),
        LimitFinding("reference1_min_v", "low", "reference_lost", "reference 1 falls to {value} V, under {limit} V"),
        LimitFinding("reference2_min_v", "low", "reference_lost", "reference 2 falls to {value} V, under {limit} V"),
        LimitFinding(
            "track1_dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
        LimitFinding(
            "track2_dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
        LimitFinding("ground_max_v", "high", "ground_lifted", "the ground lifts to {value} V, over {limit} V"),
    ),
    options=(),
    cautions=(
        Choice("engine-off", "Key on, engine off for the sweep; with the engine running only small movements."),
        common.BACK_PROBE,
        common.SECURE,
    ),
    causes=common.causes(Choice("pedal", "Pedal: a worn or broken track, or its signal wire"), *common.SUPPLY_CAUSES),
    next_tests=common.next_tests(
        Choice(
            "controller-feeds", "Prove the controller's own grounds and feeds, then its reference outputs", wires=True
        ),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Both tracks, both references and the ground in one record",
        "Released, half, full, released; then engine running and warming; wiggle",
        "5 V inside a 10 V range, 1,000 samples a second or more",
    ),
    proof=Proof(phases=("pressing", "releasing")),
    measure=measure,
    shortest_s=0.5,
)
