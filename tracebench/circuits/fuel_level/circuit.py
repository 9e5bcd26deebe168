"""Fuel level sender: a float's arm on a resistor, fed through a pull-up in the instrument. Limits: from memory."""

from __future__ import annotations

from tracebench.circuits.fuel_level.measuring import measure
from tracebench.core.answer import Limit
from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import (
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

_HAND = Hand(2.0, 0.04)
_OHM = "pull-up x V / (supply - V)"
_MOVE = "move the arm slowly from empty to full and back"
_ARM = ("arm", "resistance")
_WIRE = ("wiring", "supply-ground", "resistance")

CIRCUIT = Circuit(
    code="fuel-level",
    title="Fuel level sender",
    lanes=(
        LaneSpec(
            "signal",
            "Sender",
            "signal",
            "V",
            True,
            (0.0, 16.0),
            Exam(
                upright=True,
                size=(1.5, 5.2),
                feature=("a lost contact of 100 ms", 0.100),
                clip_s=0.02,
                code=0.1,
                noise=0.12,
                hum=(0.05, 0.3),
            ),
        ),
    ),
    phases=(
        PhaseSpec("empty", True, _MOVE),
        PhaseSpec("filling", False),
        PhaseSpec("full", True, _MOVE),
        PhaseSpec("emptying", False),
    ),
    readings=(
        ReadingSpec("empty_v", "Empty level", "V", "level with the arm at empty", 3, "empty"),
        ReadingSpec("full_v", "Full level", "V", "level with the arm at full", 3, "full"),
        ReadingSpec("empty_ohm", "Empty", "ohm", _OHM, 0, "empty", how="number", own_hand=_HAND),
        ReadingSpec("full_ohm", "Full", "ohm", _OHM, 0, "full", how="number", own_hand=_HAND),
        ReadingSpec(
            "contacts_lost_count",
            "Contact lost",
            "",
            "short leaps towards the feed that return",
            0,
            how="number",
            seen_in="filling",
        ),
    ),
    limits=(
        Limit("empty_ohm", 120.0, None),
        Limit("full_ohm", None, 40.0),
        Limit("contacts_lost_count", None, 0.0),
    ),
    findings=(
        FindingSpec("contact_lost", "Contact lost", "fault", "track", _ARM, also=("wiring",), at_rail=True),
        FindingSpec("empty_not_reached", "Empty not reached", "fault", "arm", _ARM, faked_by=("clipped",)),
        FindingSpec("full_not_reached", "Full not reached", "fault", "arm", _ARM, faked_by=("clipped",)),
        FindingSpec("sticks", "Does not follow the arm", "fault", "arm", _ARM, also=("wiring",), stills=True),
        FindingSpec("open_circuit", "Open circuit", "fault", "wiring", _WIRE, also=("track",), stills=True),
        FindingSpec("short_circuit", "Short circuit", "fault", "wiring", _WIRE, also=("track",), stills=True),
    ),
    limit_findings=(
        LimitFinding("empty_ohm", "low", "empty_not_reached", "comes to {value} ohm empty where {limit} is the least"),
        LimitFinding("full_ohm", "high", "full_not_reached", "comes to {value} ohm full where {limit} is the most"),
        LimitFinding(
            "contacts_lost_count", "high", "contact_lost", "loses contact {value} times where {limit} is allowed"
        ),
    ),
    options=(
        OptionSpec("supply_v", "Feed of the instrument, V", "5.0"),
        OptionSpec("pull_up_ohm", "Pull-up in the instrument, ohm", "120"),
    ),
    cautions=(
        Choice(
            "vapour",
            "Fuel and its vapour burn: sender out of the tank, tank closed, in moving air, no sparks, extinguisher "
            "near. The maker's procedure and the workshop's rules come first.",
        ),
        common.BACK_PROBE,
        common.SECURE,
    ),
    causes=common.causes(
        Choice("track", "Resistor or wiper worn or dirty"),
        Choice("arm", "Arm bent, float heavy with fuel, or hindered by the tank"),
        *common.SUPPLY_CAUSES,
    ),
    next_tests=common.next_tests(
        Choice("arm", "Look at arm, float and stops while moving them through all of the way"),
        Choice("resistance", "Measure the sender's resistance at both ends, unplugged"),
        *common.SUPPLY_TESTS,
    ),
    setup_advice=(
        "Key on, sender plugged in, out of the tank and away from fuel",
        "10 V range, 20 to 30 s, 200 samples a second or more",
        "Move the arm slowly from empty to full and back, twice, and hold it at each end",
    ),
    proof=Proof(phases=("filling", "emptying")),
    measure=measure,
    shortest_s=1.0,
)
