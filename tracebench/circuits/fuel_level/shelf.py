"""Fuel level sender: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Fuel level, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 141,
        "notes": "Sender on the bench, plugged into the loom, arm moved by hand. Tank closed with a plate meanwhile.",
        "tags": (
            ("empty", "Arm at empty: most ohms, so the wire lies highest."),
            ("filling", "Falls evenly all the way; small steps of the resistor are its own."),
            ("full", "Arm at full: a few ohms to ground."),
        ),
    },
    {
        "title": "Fuel level, worn in the middle",
        "vehicle": "van",
        "part": {"fault": "worn", "severity": 1.0},
        "seed": 142,
        "notes": "Gauge drops to empty and comes back, always between half and three quarters.",
        "tags": (
            ("contact_lost", "Contact lost: the feed pulls the wire up for an instant, at the same places each way."),
        ),
    },
    {
        "title": "Fuel level, never full",
        "vehicle": "hatchback",
        "part": {"fault": "not-full", "severity": 0.8},
        "seed": 143,
        "notes": "Shows three quarters after filling up. The arm had been bent when the pump was changed.",
        "tags": (("full", "Held against the full stop and still far too many ohms: the arm, not the gauge."),),
    },
)

READY = {
    "sound": "A sender from a breaker. Is it worth fitting?",
    "plain": ("worn", "The gauge falls to empty for a blink at half a tank."),
    "hard": ("not-full", "Runs well, but the gauge never passes three quarters."),
}
