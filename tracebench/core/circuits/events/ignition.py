"""What ignition circuits declare alike."""

from __future__ import annotations

from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import Choice

SECONDARY = Choice(
    "secondary",
    "Secondary ignition: tens of kV. No contact with leads, towers or coil while cranking or running; only rated "
    "pickups; a defined spark path to engine ground, never an open circuit; not near fuel vapour. People with "
    "implanted medical devices keep away.",
)
PRIMARY = Choice(
    "primary",
    "Coil wires kick to 250 to 420 V when switched off: use an attenuator or an input rated for it.",
)

CAUSES = (
    Choice("coil", "Coil: shorted turns, broken insulation or open winding"),
    Choice("secondary", "Plug, lead, boot or cap: gap, fouling, open or leaking"),
    Choice("mixture", "Mixture lean or compression low: harder or easier to fire"),
    Choice("driver", "Driver or module, or its ground", controller=True),
    *common.SUPPLY_CAUSES,
)
TESTS = (
    Choice("spark-gap", "Spark gap test with a rated, grounded tester"),
    Choice("swap", "Swap coil or plug with another cylinder's: does the fault move?"),
    Choice("inspect-plug", "Remove and inspect plug, lead and boot"),
    Choice("resistance", "Measure primary and secondary resistance, lead resistance"),
    Choice("load", "Capture again in a snap or on the road: load shows what idle hides"),
    Choice("compression", "Compression or leak-down test"),
    Choice("driver-ground", "Prove the driver's ground and supply, loaded", wires=True),
    Choice("heat", "Capture again hot, or warm the module with care"),
    *common.SUPPLY_TESTS,
)
COIL = ("swap", "resistance", "spark-gap")
PLUG = ("inspect-plug", "swap", "spark-gap")
DRIVER = ("driver-ground", "wiring", "supply-ground")
