"""Cautions, causes and next tests that several circuits declare."""

from __future__ import annotations

from tracebench.core.circuits.circuit import COMMON_CAUSES, COMMON_NEXT_TESTS, NO_CAUSE, NO_TEST, Choice

SECURE = Choice(
    "secure",
    "Wheels chocked, park or neutral, brake on. The maker's procedure, the workshop's rules, local law and a "
    "licensed technician come first.",
)
BACK_PROBE = Choice(
    "back-probe",
    "Back-probe, do not pierce. Never bridge neighbouring pins and never put 12 V on the 5 V reference.",
)
RUNNING = Choice(
    "running",
    "Running engine: keep clear of belts and of fans that start by themselves, of hot exhaust; extraction on, no loose "
    "clothing.",
)
SNAP = Choice("snap", "Snap the throttle only for a moment and never hold it wide open against no load.")
HIGH_PRESSURE = Choice(
    "high-pressure",
    "Fuel at up to 2,000 bar and more: never loosen or put a hand near a line or joint on a running or recently run "
    "engine. An injection injury is a surgical emergency.",
)
BATTERY = Choice(
    "battery",
    "Battery: hydrogen near it, no rings or tools across the terminals, fused test leads.",
)
ROAD = Choice("road", "On a road test one person drives and another watches the scope.")
HOT = Choice("hot", "Coolant and exhaust burn: never open a hot cooling system.")

SUPPLY_CAUSES = (
    Choice("supply", "Supply or reference from the controller, or its wiring", shared=True, controller=True),
    Choice("ground-drop", "Voltage drop in the ground", shared=True),
    Choice("wiring", "Signal wire or plug open, shorted or loose"),
)
SUPPLY_TESTS = (
    Choice("supply-ground", "Prove supply, reference and ground at the plug, loaded, key on", wires=True),
    Choice("wiring", "Check signal wire and plug between sensor and controller, wiggling", wires=True),
    Choice("compare-part", "Renew or substitute the part and capture again", renews=True),
)

WIRES = ("supply-ground", "wiring")
PART = ("wiring", "compare-part", "supply-ground")


def causes(*own: Choice) -> tuple[Choice, ...]:
    """The list of causes of a circuit: nothing wrong, its own, and those that every circuit has."""
    return (NO_CAUSE, *own, *COMMON_CAUSES)


def next_tests(*own: Choice) -> tuple[Choice, ...]:
    return (NO_TEST, *own, *COMMON_NEXT_TESTS)
