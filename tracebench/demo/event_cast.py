"""References of the injector and ignition circuits on the demo shelf: what each shows and teaches."""

from __future__ import annotations

from typing import Any

from tracebench.demo.cast import DemoReference
from tracebench.demo.shelf_cast import reference

_HATCH, _VAN, _BOARD, _DIESEL = 0, 1, 2, 3

INJ_V, INJ_A, GROUP = "injector-voltage", "injector-current", "injector-current-group"
PARADE, HELD, PIEZO = "injector-current-parade", "injector-peak-hold", "injector-piezo"
COIL_A, COIL_V, SPARK, MODULE = "coil-primary-current", "coil-primary-voltage", "secondary-voltage", "igniter-bench"

SIX = {"injectors": "6", "each_a": "0.7"}
FOUR = {"firing_order": "1-3-4-2"}
NEEDLE_LIMIT = [{"reading": "pintle_ms", "low": 0.9, "high": 1.4, "basis": "maker"}]

STACKS = [
    {
        "terminals": "pin to pin, injector 2",
        "value": "176",
        "unit": "kohm",
        "low": "150",
        "high": "200",
        "celsius": "24",
    },
    {"terminals": "pin to body, injector 2", "value": "infinite", "unit": "kohm", "low": "infinite"},
    {"terminals": "pin to body, injector 3", "value": "12.5", "unit": "kohm", "low": "infinite", "celsius": "24"},
]
"""Unplugged and powered down, after the power stage had shut off: one stack leaks to the body."""

Tags = tuple[tuple[str, str], ...]


def _ref(
    circuit: str, title: str, vehicle: int, fault: str, seed: int, notes: str, tags: Tags, **more: Any
) -> DemoReference:
    options = {GROUP: SIX, PARADE: FOUR, COIL_A: FOUR, SPARK: FOUR}.get(circuit)
    seconds = {MODULE: 6.0, PIEZO: 0.9, SPARK: 0.6}.get(circuit, 0.8)
    return reference(
        circuit, title, vehicle, fault, seed, notes, tags, **{"options": options, "duration_s": seconds, **more}
    )


EVENT_REFERENCES = (
    _ref(
        INJ_V,
        "Injector voltage, sound",
        _HATCH,
        "none",
        71,
        "Port injector, warm idle. Attenuator 10:1.",
        (
            ("on", "Pulled to ground by the driver: under half a volt, flat."),
            ("kick", "Switched off, the coil kicks to the driver's clamp: a flat top."),
            ("bump_ms", "The bump in the way down: the needle falls on its seat."),
        ),
    ),
    _ref(
        INJ_V,
        "Injector voltage, needle stuck",
        _VAN,
        "stuck",
        72,
        "Cylinder dead, winding and driver good.",
        (("no_bump", "Everything electrical is right and the bump is missing: nothing moved."),),
    ),
    _ref(
        INJ_V,
        "Injector voltage, driver ground weak",
        _HATCH,
        "weak-ground",
        73,
        "Runs lean on one cylinder.",
        (("weak_ground", "It should be pulled nearly to zero: what is left is lost in the driver or its ground."),),
    ),
    _ref(
        INJ_A,
        "Injector current, sound",
        _HATCH,
        "none",
        74,
        "One injector through a clamp of 100 mV/A, zeroed first.",
        (
            ("on", "A slope, not a step: the winding takes its time."),
            ("pintle_ms", "The notch in the slope: the needle lifts and works against the current."),
        ),
    ),
    _ref(
        INJ_A,
        "Injector current, winding shorted",
        _VAN,
        "shorted",
        75,
        "Fuse had blown twice.",
        (("shorted_winding", "Upright at once: hardly a winding left between supply and driver."),),
    ),
    _ref(
        INJ_A,
        "Injector current, needle late",
        _HATCH,
        "late",
        76,
        "Starts badly cold. Gum in the injector.",
        (("late_pintle", "The notch comes late: the needle needs more current before it moves."),),
        limits=NEEDLE_LIMIT,
    ),
    _ref(
        GROUP,
        "Injector group, sound",
        _VAN,
        "none",
        77,
        "Six on one driver. Work out what they should draw before you look.",
        (("peak_a", "Six at 0.7 A make 4.2 A: near enough."),),
    ),
    _ref(
        GROUP,
        "Injector group, two windings shorted",
        _VAN,
        "shorted",
        78,
        "Access is poor: one clamp on the common feed is enough to quote the set.",
        (("shorted_winding", "More than twice what six should draw, and upright."),),
    ),
    _ref(
        GROUP,
        "Injector group, half of it open",
        _VAN,
        "open",
        112,
        "Three cylinders of a bank dead at once: think of what they share.",
        (("peak_a", "Half of 4.2 A: as many draw nothing as draw what they should. Look for what those have alike."),),
        severity=0.6,
    ),
    _ref(
        PARADE,
        "Injector parade, sound",
        _HATCH,
        "none",
        79,
        "All four on the common feed, cylinder 1 on the second lane.",
        (("cycle_ms", "One engine cycle: four pulses in firing order, all alike."),),
    ),
    _ref(
        PARADE,
        "Injector parade, cylinder 3 missing",
        _HATCH,
        "missing",
        80,
        "Dead cylinder, cold exhaust port.",
        (("missing_pulse", "Where cylinder 3 should be there is nothing: wire or driver, not the injector's needle."),),
    ),
    _ref(
        PARADE,
        "Injector parade, cylinder 3 weak",
        _VAN,
        "high-resistance",
        81,
        "Corroded plug.",
        (("weak_current", "One lower than its siblings: resistance in its own circuit."),),
    ),
    _ref(
        HELD,
        "Peak and hold, sound",
        _VAN,
        "none",
        82,
        "Direct injector. Never touch its plug while it runs or has just run.",
        (
            ("boost", "Boosted from a capacitor to some 10 A: the needle opens fast."),
            ("hold", "Held by switching on and off: that is the ripple."),
        ),
    ),
    _ref(
        HELD,
        "Peak and hold, no boost",
        _VAN,
        "no-boost",
        83,
        "Long crank, all cylinders.",
        (("no_boost", "The first peak is missing: the boost supply, not the injector."),),
    ),
    _ref(
        HELD,
        "Peak and hold, no hold",
        _VAN,
        "no-hold",
        84,
        "Misfires under load.",
        (("no_hold", "It opens and is dropped at once: the driver lets go."),),
    ),
    _ref(
        PIEZO,
        "Piezo injector, sound",
        _DIESEL,
        "none",
        85,
        "One conductor through the clamp, arrow so that the opening pulse is positive.",
        (
            ("pilot", "Pilot: charge opens, discharge closes."),
            ("main", "Main: the widest of the three."),
        ),
    ),
    _ref(
        PIEZO,
        "Piezo injector, stack cracked",
        _DIESEL,
        "low-charge",
        86,
        "Cylinder balance far off.",
        (("low_charge", "Half the charge at the same voltage: half the stack is left."),),
    ),
    _ref(
        PIEZO,
        "Piezo injector, power stage shut down",
        _DIESEL,
        "power-off",
        87,
        "Stops when hot, all injectors at once. Go on with resistances, powered down.",
        (("power_stage_off", "One has failed and the controller switches them all off: nothing more to see here."),),
        records=(("resistance", STACKS),),
    ),
    _ref(
        COIL_A,
        "Coil current, sound",
        _HATCH,
        "none",
        88,
        "All four from the shared fuse, cylinder 1 on the second lane.",
        (
            ("on", "Dwell: the coil fills with energy. Half of L times the current squared."),
            ("turn_on_ring_a", "Ripple at turn-on: the secondary rings, so it is whole."),
        ),
    ),
    _ref(
        COIL_A,
        "Coil current, cylinder 3 secondary open",
        _HATCH,
        "secondary-open",
        89,
        "Misfire on 3. Primary good, as it seems.",
        (("turn_on_abnormal", "No ripple where the others have it: look at plug, boot and secondary."),),
    ),
    _ref(
        COIL_A,
        "Coil current, cylinder 3 dwell short",
        _VAN,
        "short-dwell",
        90,
        "Misfire under load.",
        (("short_dwell", "Filled for too short a time: less current, less spark."),),
    ),
    _ref(
        COIL_V,
        "Coil voltage, sound",
        _HATCH,
        "none",
        91,
        "Attenuator 20:1.",
        (
            ("dwell", "Driver on: under a volt and a half."),
            ("kick", "Switched off: the field falls and the voltage jumps."),
            ("burn", "The arc burns: its voltage seen through the turns ratio."),
            ("ring_out", "What is left rings out: the coil is whole."),
        ),
    ),
    _ref(
        COIL_V,
        "Coil voltage, secondary open",
        _VAN,
        "open",
        92,
        "Boot burnt through.",
        (("no_burn", "A kick and no burn behind it: no arc where it belongs."),),
    ),
    _ref(
        COIL_V,
        "Coil voltage, no rings",
        _HATCH,
        "no-rings",
        93,
        "Weak spark, coil warm to the touch.",
        (("no_rings", "The energy is gone at once: shorted turns."),),
    ),
    _ref(
        SPARK,
        "Secondary, sound",
        _HATCH,
        "none",
        94,
        "Idle and a snap. Pickup with its factor told.",
        (
            ("firing", "Firing line: what the gap needs at this pressure."),
            ("burn", "Spark line: steady, a millisecond or more."),
            ("snap_burn_ms", "Under load it burns shorter, and must still burn."),
        ),
        duration_s=2.5,
    ),
    _ref(
        SPARK,
        "Secondary, cylinder 3 fails under load",
        _VAN,
        "weak-coil",
        95,
        "Bucks on hills, idles well.",
        (("burn_collapses_on_snap", "At idle no different from the others; in the snap the burn collapses."),),
        duration_s=2.5,
    ),
    _ref(
        SPARK,
        "Secondary, cylinder 3 plug fouled",
        _HATCH,
        "fouled",
        96,
        "Oil burner.",
        (("low_firing", "Fires far too easily: over soot, not over the gap."),),
        manoeuvre="idle",
    ),
    _ref(
        SPARK,
        "Secondary, cylinder 3 gap too wide",
        _VAN,
        "wide-gap",
        97,
        "Worn plugs.",
        (("high_firing", "Needs twice what the others need."),),
        manoeuvre="idle",
    ),
    _ref(
        MODULE,
        "Module, passed cold",
        _BOARD,
        "none",
        98,
        "A dozen triggers by hand, long and short. Passing cold clears nothing.",
        (("output_low_ms", "The same short low time, however long the trigger is held."),),
    ),
    _ref(
        MODULE,
        "Module, misses triggers",
        _BOARD,
        "misses",
        99,
        "Warmed with care under a lamp.",
        (("misses", "A trigger and no answer: failing is conclusive."),),
    ),
    _ref(
        MODULE,
        "Module, low time unstable",
        _BOARD,
        "unstable",
        100,
        "Misfires when hot.",
        (("output_low_ms", "Now short, now long: the spark's energy goes with it."),),
    ),
)
