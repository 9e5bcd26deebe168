"""Pedal position: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Pedal, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 31,
        "notes": "Both tracks, both references and the ground in one record.",
        "tags": (
            ("released", "Released: track 1 at twice the volts of track 2, both well above zero."),
            ("pressing", "Both rise together all the way: the ratio is what the controller checks."),
        ),
    },
    {
        "title": "Pedal, reference lost at full lock",
        "vehicle": "hatchback",
        "part": {"fault": "reference-lost", "severity": 1.0},
        "seed": 32,
        "notes": (
            "Complaint: limp mode while parking. The loom is pulled tight behind the column when the wheel is turned."
        ),
        "tags": (
            (
                "reference_lost",
                "The reference falls, and its track with it; the other track does not notice.",
            ),
            ("full", "Before and after, the pedal itself is perfect: it is cleared."),
        ),
    },
    {
        "title": "Pedal, track 2 lost",
        "vehicle": "van",
        "part": {"fault": "track-lost", "severity": 1.0},
        "seed": 33,
        "notes": "Broken signal wire at the bulkhead.",
        "tags": (
            (
                "track_lost",
                "Track 2 is gone while its reference stays up: pedal or signal wire, not the supply.",
            ),
        ),
    },
)

READY = {
    "sound": "A trade-in before sale: show that both tracks of the pedal agree.",
    "plain": ("reference-lost", "Limps home with the warning lamp on since a radio was fitted."),
    "hard": ("disagree", "Reduced power now and then on rough roads, then fine for days."),
}
