"""Airflow, frequency: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Airflow by frequency, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 40,
        "notes": "Idle and one snap.",
        "tags": (
            ("idle", "Square and even: the frequency is the reading, not the volts."),
            ("snap", "The frequency leaps with the air. Zoom in: every pulse is there."),
        ),
    },
    {
        "title": "Airflow by frequency, pulses missing",
        "vehicle": "hatchback",
        "part": {"fault": "missing-pulses", "severity": 1.0},
        "seed": 41,
        "notes": "Chafed signal wire at the strut.",
        "tags": (("missing_pulses", "A pulse left out. A meter shows the mean and never sees it."),),
    },
    {
        "title": "Airflow by frequency, swing too low",
        "vehicle": "van",
        "part": {"fault": "low-swing", "severity": 1.0},
        "seed": 42,
        "notes": "Pull-up inside the controller damaged by a jump start.",
        "tags": (
            (
                "low_swing",
                "The high state does not reach its level: the controller starts to miss pulses.",
            ),
        ),
    },
)

READY = {
    "sound": "A used airflow meter from a breaker: sound enough to sell on?",
    "plain": ("missing-pulses", "Surges on the motorway about once a minute."),
    "hard": ("low-swing", "Runs on its emergency map; the plug has been apart before."),
}
