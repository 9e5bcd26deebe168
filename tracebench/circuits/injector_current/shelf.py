"""Injector current: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Injector current, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 74,
        "duration_s": 0.8,
        "notes": "One injector through a clamp of 100 mV/A, zeroed first.",
        "tags": (
            ("on", "A slope, not a step: the winding takes its time."),
            ("pintle_ms", "The notch in the slope: the needle lifts and works against the current."),
        ),
    },
    {
        "title": "Injector current, winding shorted",
        "vehicle": "van",
        "part": {"fault": "shorted", "severity": 1.0},
        "seed": 75,
        "duration_s": 0.8,
        "notes": "Fuse had blown twice.",
        "tags": (("shorted_winding", "Upright at once: hardly a winding left between supply and driver."),),
    },
    {
        "title": "Injector current, needle late",
        "vehicle": "hatchback",
        "part": {"fault": "late", "severity": 1.0},
        "seed": 76,
        "duration_s": 0.8,
        "notes": "Starts badly cold. Gum in the injector.",
        "tags": (("late_pintle", "The notch comes late: the needle needs more current before it moves."),),
        "limits": [{"reading": "pintle_ms", "low": 0.9, "high": 1.4, "basis": "maker"}],
    },
)

READY = {
    "sound": "A used injector on the bench board: good enough to fit?",
    "plain": ("stuck", "Clicks on the bench and delivers nothing."),
    "hard": ("high-resistance", "A rough idle that no balance test explains."),
}
