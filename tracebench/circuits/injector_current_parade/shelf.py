"""Injector currents, all in order: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Injector parade, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 79,
        "duration_s": 0.8,
        "notes": "All four on the common feed, cylinder 1 on the second lane.",
        "tags": (("cycle_ms", "One engine cycle: four pulses in firing order, all alike."),),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Injector parade, cylinder 3 missing",
        "vehicle": "hatchback",
        "part": {"fault": "missing", "severity": 1.0},
        "seed": 80,
        "duration_s": 0.8,
        "notes": "Dead cylinder, cold exhaust port.",
        "tags": (
            (
                "missing_pulse",
                "Where cylinder 3 should be there is nothing: wire or driver, not the injector's needle.",
            ),
        ),
        "options": {"firing_order": "1-3-4-2"},
    },
    {
        "title": "Injector parade, cylinder 3 weak",
        "vehicle": "van",
        "part": {"fault": "high-resistance", "severity": 1.0},
        "seed": 81,
        "duration_s": 0.8,
        "notes": "Corroded plug.",
        "tags": (("weak_current", "One lower than its siblings: resistance in its own circuit."),),
        "options": {"firing_order": "1-3-4-2"},
    },
)

READY = {
    "sound": "After a new loom: all cylinders in one record, each like the others.",
    "plain": ("high-resistance", "One cylinder weak since the loom was mended."),
    "hard": ("missing-once", "A single misfire every few minutes at idle."),
}
