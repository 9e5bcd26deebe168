"""Throttle position: what a three-wire potentiometer shows. Limits: common practice, no published source."""

from __future__ import annotations

from tracebench.circuits.throttle_position.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits.circuit import (
    COMMON_CAUSES,
    COMMON_NEXT_TESTS,
    LEVELS_10_90,
    NO_CAUSE,
    NO_TEST,
    Choice,
    Circuit,
    Exam,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    OptionSpec,
    PhaseSpec,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.hands import Hand
from tracebench.core.circuits.threshold import Threshold

SLOW_SWEEP_S = Threshold(4.0, "s", "Slow school: seconds a way (common practice, no published source)")

_SWEEP = "sweep the throttle from closed to fully open and back"

_TRACK = ("wiring", "compare-part", "supply-ground")
_STOP = ("mechanical", "look-up", "supply-ground")
_WIRES = ("supply-ground", "wiring")

CIRCUIT = Circuit(
    code="throttle-position",
    title="Throttle position",
    lanes=(
        LaneSpec("signal", "Signal", "signal", "V", True, (0.0, 5.2), Exam(noise=0.2)),
        LaneSpec("reference", "Reference", "supply", "V", False, (4.0, 5.5)),
        LaneSpec("ground", "Ground", "ground", "V", False, (-0.1, 1.0)),
    ),
    phases=(
        PhaseSpec("closed", True, _SWEEP),
        PhaseSpec("opening", True, _SWEEP),
        PhaseSpec("open", True, _SWEEP),
        PhaseSpec("closing", False),
    ),
    readings=(
        ReadingSpec("closed_v", "Closed level", "V", "level of the closed phases", 3, "closed"),
        ReadingSpec("open_v", "Open level", "V", "level of the open phases, median of the sweeps", 3, "open"),
        ReadingSpec(
            "open_spread_v",
            "Open spread",
            "V",
            "largest minus smallest open level over the sweeps",
            3,
            "open",
            how="difference",
        ),
        ReadingSpec(
            "sweeps_count",
            "Complete sweeps",
            "",
            "complete closed-open-closed cycles",
            0,
            how="number",
            seen_in="opening",
        ),
        ReadingSpec(
            "opening_s",
            "Slowest opening",
            "s",
            "10 % to 90 % of the travel",
            2,
            "opening",
            school=True,
            how="span",
            farthest=True,
            mistaken=LEVELS_10_90,
        ),
        ReadingSpec(
            "closing_s",
            "Slowest closing",
            "s",
            "90 % to 10 % of the travel",
            2,
            "closing",
            school=True,
            how="span",
            farthest=True,
            mistaken=LEVELS_10_90,
        ),
        ReadingSpec(
            "dropouts_count",
            "Dropouts",
            "",
            "falls off the trend that return within 150 ms",
            0,
            how="number",
            seen_in="opening",
        ),
        ReadingSpec(
            "dropout_depth_v",
            "Deepest dropout",
            "V",
            "deepest dropout, measured from the trend",
            2,
            how="difference",
            farthest=True,
        ),
        ReadingSpec(
            "dropout_travel_pct",
            "Place of the dropout",
            "%",
            "travel at the deepest dropout",
            0,
            how="number",
            own_hand=Hand(3.0),
        ),
        ReadingSpec(
            "noise_mv",
            "Noise, closed",
            "mV",
            "1.4826 x MAD of the detrended closed phase",
            1,
            "closed",
            how="number",
            own_hand=Hand(3.0, 0.5),
        ),
        ReadingSpec(
            "reversal_v",
            "Largest reversal",
            "V",
            "largest step against the travel that stays",
            3,
            how="difference",
            seen_in="opening",
        ),
        ReadingSpec("reference_v", "Reference", "V", "level of the reference lane", 3, lane="reference"),
        ReadingSpec("ground_v", "Ground", "V", "level of the ground lane", 3, lane="ground"),
    ),
    limits=(
        Limit("closed_v", 0.5, 1.0),
        Limit("open_v", 3.8, None),
        Limit("open_spread_v", None, 0.1),
        Limit("opening_s", SLOW_SWEEP_S, None, condemns=False),
        Limit("closing_s", SLOW_SWEEP_S, None, condemns=False),
        Limit("dropouts_count", None, 0.0),
        Limit("noise_mv", None, 20.0, condemns=False),
        Limit("reversal_v", None, 0.05),
        Limit("reference_v", 4.9, 5.1),
        Limit("ground_v", None, 0.1),
    ),
    findings=(
        FindingSpec("dropout", "Dropout", "fault", "worn-track", _TRACK),
        FindingSpec("spike", "Upward spike", "fault", "worn-track", _TRACK),
        FindingSpec("low_closed", "Closed level low", "fault", "closed-stop", _STOP),
        FindingSpec("high_closed", "Closed level high", "fault", "closed-stop", _STOP),
        FindingSpec(
            "low_open", "Open level low", "fault", "short-travel", _STOP, faked_by=("clipped",), also=("supply",)
        ),
        FindingSpec("stuck_high", "Stuck near the reference", "fault", "open-ground", _WIRES, stills=True),
        FindingSpec("stuck_low", "Stuck near zero", "fault", "open-signal", _WIRES, stills=True),
        FindingSpec("reference_low", "Reference low", "fault", "supply", _WIRES),
        FindingSpec("reference_high", "Reference high", "fault", "supply", _WIRES),
        FindingSpec("ground_high", "Ground high", "fault", "ground-drop", _WIRES),
        FindingSpec("noise_high", "Noisy at rest", "note"),
        FindingSpec("outside_valid_range", "Outside the valid range", "note"),
    ),
    limit_findings=(
        LimitFinding(
            "dropouts_count", "high", "dropout", "falls off its course {value} times where {limit} is allowed"
        ),
        LimitFinding("closed_v", "low", "low_closed", "rests closed at {value} V where {limit} V is the least"),
        LimitFinding("closed_v", "high", "high_closed", "rests closed at {value} V where {limit} V is the most"),
        LimitFinding("open_v", "low", "low_open", "reaches only {value} V open where {limit} V is wanted"),
        LimitFinding("reference_v", "low", "reference_low", "reference {value} V, under {limit} V"),
        LimitFinding("reference_v", "high", "reference_high", "reference {value} V, over {limit} V"),
        LimitFinding("ground_v", "high", "ground_high", "ground lies at {value} V, over {limit} V"),
    ),
    options=(
        OptionSpec("sweep", "Speed of the sweep", "slow", ("slow", "any")),
        OptionSpec("reference_v", "Reference voltage", "5.0"),
    ),
    cautions=(
        Choice(
            "engine-off",
            "Key on, engine off. A wide-open sweep on a running engine over-revs it.",
        ),
        Choice(
            "back-probe",
            "Back-probe, do not pierce. Never bridge neighbouring pins and never put 12 V on the 5 V reference.",
        ),
        Choice(
            "moving-parts",
            "An electronic throttle plate moves by itself and with force: keep fingers and tools out of the bore.",
        ),
        Choice(
            "secure",
            "Wheels chocked, park or neutral, brake on. The maker's procedure, the workshop's rules, local law and a "
            "licensed technician come first.",
        ),
    ),
    causes=(
        NO_CAUSE,
        Choice("worn-track", "Worn or dirty track in the sensor"),
        Choice("closed-stop", "Closed stop or sensor out of adjustment"),
        Choice("short-travel", "Travel short: open stop, linkage or cable"),
        Choice("supply", "Reference from the controller wrong", shared=True, controller=True),
        Choice("ground-drop", "Voltage drop in the sensor ground", shared=True),
        Choice("open-ground", "Sensor ground open", shared=True),
        Choice("open-signal", "Signal or reference wire open, or signal shorted to ground"),
        *COMMON_CAUSES,
    ),
    next_tests=(
        NO_TEST,
        Choice("supply-ground", "Prove reference and ground at the plug, loaded, key on", wires=True),
        Choice("wiring", "Check signal wire and plug between sensor and controller, wiggling", wires=True),
        Choice("compare-part", "Renew or substitute the sensor and capture again", renews=True),
        Choice("mechanical", "Check stops, linkage and full mechanical travel"),
        *COMMON_NEXT_TESTS,
    ),
    setup_advice=(
        "0 to 5 V with head room: a 10 V range",
        "20 s across for slow sweeps, at least two, 4 s each way",
        "100 samples a second at the least; 1,000 or more to see short dropouts",
        "Ground lead on the sensor ground",
    ),
    proof=Proof(phases=("opening", "closing")),
    first_asked=("closed_v", "open_v", "opening_s", "dropout_depth_v"),
    measure=measure,
    shortest_s=1.0,
)
