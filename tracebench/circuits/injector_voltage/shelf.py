"""Injector voltage: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Injector voltage, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 71,
        "duration_s": 0.8,
        "notes": "Port injector, warm idle. Attenuator 10:1.",
        "tags": (
            ("on", "Pulled to ground by the driver: under half a volt, flat."),
            ("kick", "Switched off, the coil kicks to the driver's clamp: a flat top."),
            ("bump_ms", "The bump in the way down: the needle falls on its seat."),
        ),
    },
    {
        "title": "Injector voltage, needle stuck",
        "vehicle": "van",
        "part": {"fault": "stuck", "severity": 1.0},
        "seed": 72,
        "duration_s": 0.8,
        "notes": "Cylinder dead, winding and driver good.",
        "tags": (("no_bump", "Everything electrical is right and the bump is missing: nothing moved."),),
    },
    {
        "title": "Injector voltage, driver ground weak",
        "vehicle": "hatchback",
        "part": {"fault": "weak-ground", "severity": 1.0},
        "seed": 73,
        "duration_s": 0.8,
        "notes": "Runs lean on one cylinder.",
        "tags": (
            (
                "weak_ground",
                "It should be pulled nearly to zero: what is left is lost in the driver or its ground.",
            ),
        ),
    },
)

READY = {
    "sound": "Injectors back from cleaning: show that this one opens and closes.",
    "plain": ("stuck", "One cylinder does nothing; its plug stays dry."),
    "hard": ("weak-ground", "Runs lean on every cylinder of one bank, worse when hot."),
}
