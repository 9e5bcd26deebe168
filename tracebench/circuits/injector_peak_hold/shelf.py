"""Injector, peak and hold: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Peak and hold, sound",
        "vehicle": "van",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 82,
        "duration_s": 0.8,
        "notes": "Direct injector. Never touch its plug while it runs or has just run.",
        "tags": (
            ("boost", "Boosted from a capacitor to some 10 A: the needle opens fast."),
            ("hold", "Held by switching on and off: that is the ripple."),
        ),
    },
    {
        "title": "Peak and hold, no boost",
        "vehicle": "van",
        "part": {"fault": "no-boost", "severity": 1.0},
        "seed": 83,
        "duration_s": 0.8,
        "notes": "Long crank, all cylinders.",
        "tags": (("no_boost", "The first peak is missing: the boost supply, not the injector."),),
    },
    {
        "title": "Peak and hold, no hold",
        "vehicle": "van",
        "part": {"fault": "no-hold", "severity": 1.0},
        "seed": 84,
        "duration_s": 0.8,
        "notes": "Misfires under load.",
        "tags": (("no_hold", "It opens and is dropped at once: the driver lets go."),),
    },
)

READY = {
    "sound": "A direct injector after a new seal: boost and hold as they should be?",
    "plain": ("no-boost", "Will not start cold; turns over cleanly."),
    "hard": ("no-hold", "Starts and dies."),
}
