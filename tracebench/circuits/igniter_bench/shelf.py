"""Switching module, bench: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Module, passed cold",
        "vehicle": "board",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 98,
        "duration_s": 6.0,
        "notes": "A dozen triggers by hand, long and short. Passing cold clears nothing.",
        "tags": (("output_low_ms", "The same short low time, however long the trigger is held."),),
    },
    {
        "title": "Module, misses triggers",
        "vehicle": "board",
        "part": {"fault": "misses", "severity": 1.0},
        "seed": 99,
        "duration_s": 6.0,
        "notes": "Warmed with care under a lamp.",
        "tags": (("misses", "A trigger and no answer: failing is conclusive."),),
    },
    {
        "title": "Module, low time unstable",
        "vehicle": "board",
        "part": {"fault": "unstable", "severity": 1.0},
        "seed": 100,
        "duration_s": 6.0,
        "notes": "Misfires when hot.",
        "tags": (("output_low_ms", "Now short, now long: the spark's energy goes with it."),),
    },
)

READY = {
    "sound": "An igniter from stock: what does a short run on the bench say of one that is blamed when warm?",
    "plain": ("misses", "The engine cuts out for an instant when warm."),
    "hard": ("unstable", "The spark on the tester wanders in strength."),
}
