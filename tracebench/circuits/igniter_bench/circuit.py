"""A switching module on the bench, triggered by hand. Limits: common practice, no published source.

A module of the fixed-dwell type pulls low for the same short time however long its trigger is held.
"""

from __future__ import annotations

from tracebench.circuits.igniter_bench.measuring import UNSTABLE_PCT, measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
    Choice,
    Circuit,
    FindingSpec,
    LaneSpec,
    LimitFinding,
    Proof,
    ReadingSpec,
)
from tracebench.core.circuits.events import ignition as shared
from tracebench.core.circuits.events.table import UNUSUAL

CIRCUIT = Circuit(
    code="igniter-bench",
    title="Switching module, bench",
    lanes=(
        LaneSpec("trigger", "Trigger", "sync", "V", False, (-1.0, 16.0)),
        LaneSpec("output", "Output", "signal", "V", True, (-5.0, 100.0)),
    ),
    phases=(),
    readings=(
        ReadingSpec("pulses_count", "Pulses", "", "low times of the output", 0, how="number"),
        ReadingSpec("output_low_ms", "Low time", "ms", "output low, median", 2, lane="output", how="span"),
        ReadingSpec("spread_pct", "Spread", "%", "1.4826 MAD over median of the low times", 1, how="number"),
        ReadingSpec(
            "independent_of_trigger", "Follows the trigger", "", "rank correlation, near 0 if not", 2, how="number"
        ),
        ReadingSpec("misses_count", "Misses", "", "triggers without an answer", 0, how="number"),
    ),
    limits=(Limit("spread_pct", None, UNSTABLE_PCT), Limit("misses_count", None, 0.0)),
    findings=(
        FindingSpec(
            "no_switching", "Does not switch", "fault", "module", ("driver-ground", "supply-ground", "compare-part")
        ),
        FindingSpec("misses", "Misses triggers", "fault", "module", ("heat", "driver-ground", "compare-part")),
        FindingSpec(
            "unstable_width",
            "Low time unstable",
            "fault",
            "module",
            ("heat", "driver-ground", "compare-part"),
            faked_by=("undersampled", "over_filtered", "noisy"),
        ),
        FindingSpec("cold_only", "Passed cold only", "note"),
        UNUSUAL,
    ),
    limit_findings=(
        LimitFinding("misses_count", "high", "misses", "{value} triggers are not answered"),
        LimitFinding("spread_pct", "high", "unstable_width", "low times scatter by {value} %, over {limit} %"),
    ),
    options=(),
    cautions=(
        Choice(
            "bench",
            "Bench supply with a current limit; a coil or load on the output, and hands off it while it is triggered.",
        ),
        shared.SECONDARY,
        common.SECURE,
    ),
    causes=common.causes(Choice("module", "Switching module"), *shared.CAUSES),
    next_tests=common.next_tests(*shared.TESTS),
    setup_advice=(
        "Six triggers or more of clearly different lengths",
        "10,000 samples a second or more: the low time is a few milliseconds",
        "A module known good beside it, captured the same way",
    ),
    proof=Proof(steady_s=1.0),
    measure=measure,
    opens_on_s=0.5,
    first_asked=("output_low_ms",),
)
