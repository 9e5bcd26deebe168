"""Coil primary voltage: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Coil voltage, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 91,
        "duration_s": 0.8,
        "notes": "Attenuator 20:1.",
        "tags": (
            ("dwell", "Driver on: under a volt and a half."),
            ("kick", "Switched off: the field falls and the voltage jumps."),
            ("burn", "The arc burns: its voltage seen through the turns ratio."),
            ("ring_out", "What is left rings out: the coil is whole."),
        ),
    },
    {
        "title": "Coil voltage, secondary open",
        "vehicle": "van",
        "part": {"fault": "open", "severity": 1.0},
        "seed": 92,
        "duration_s": 0.8,
        "notes": "Boot burnt through.",
        "tags": (("no_burn", "A kick and no burn behind it: no arc where it belongs."),),
    },
    {
        "title": "Coil voltage, no rings",
        "vehicle": "hatchback",
        "part": {"fault": "no-rings", "severity": 1.0},
        "seed": 93,
        "duration_s": 0.8,
        "notes": "Weak spark, coil warm to the touch.",
        "tags": (("no_rings", "The energy is gone at once: shorted turns."),),
    },
)

READY = {
    "sound": "A coil from another engine, said to be the same. Does it burn as it should?",
    "plain": ("open", "One cylinder dead after a jump start."),
    "hard": ("short-burn", "Hesitates on a pull, cleans out when cruising."),
}
