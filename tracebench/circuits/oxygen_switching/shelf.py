"""Oxygen, switching: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Oxygen, switching, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 43,
        "notes": "Warm, 2,500, then a snap.",
        "tags": (
            ("steady", "Swings about 0.45 V several times in two seconds: the loop is at work."),
            ("snap", "Held rich while the throttle is open."),
            ("overrun", "Fuel cut: nothing but air passes, the signal falls to zero."),
        ),
    },
    {
        "title": "Oxygen, lazy",
        "vehicle": "van",
        "part": {"fault": "lazy", "severity": 1.0},
        "seed": 44,
        "notes": "180,000 km on it. No code stored.",
        "tags": (
            (
                "lazy",
                "Slow from 0.3 to 0.6 V and back: old. The loop waits for it and the mixture wanders.",
            ),
        ),
    },
    {
        "title": "Oxygen, mixture lean",
        "vehicle": "hatchback",
        "part": {"fault": "lean", "severity": 1.0},
        "seed": 45,
        "notes": "Weak fuel pressure: beyond what the loop can add.",
        "tags": (
            (
                "biased_lean",
                "It rests lean and yet answers to the snap: the sensor is right, the mixture is not.",
            ),
        ),
    },
)

READY = {
    "sound": "Emissions were borderline at the test. Show that the sensor is not why.",
    "plain": ("lazy", "Fails the test by a little, warm and at fast idle."),
    "hard": ("no-drop", "Drinks fuel on long descents."),
}
