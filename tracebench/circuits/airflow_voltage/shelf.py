"""Airflow, voltage: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Airflow, sound, type A",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 37,
        "notes": "Element cleaned the week before; trims near zero.",
        "tags": (
            ("key_on", "Key on: about 0.4 V after a short surge while the element heats."),
            ("steady_4000", "More air, more volts: idle, 2,500 and 4,000 stand in order."),
            ("snap", "Three parts: the surge that fills the manifold, a dip, the climb with speed."),
        ),
        "options": {"type": "A"},
    },
    {
        "title": "Airflow, contaminated",
        "vehicle": "van",
        "part": {"fault": "contaminated", "severity": 1.0},
        "seed": 38,
        "notes": "Oil from a cotton filter. Idle looks nearly right.",
        "tags": (
            ("idle", "Idle gives little away."),
            ("low_under_load", "Under load it falls behind: dirt keeps the air from the element."),
        ),
    },
    {
        "title": "Airflow, ground lifted",
        "vehicle": "van",
        "part": {"fault": "high-ground", "severity": 1.0},
        "seed": 39,
        "notes": "Corroded eyelet under the battery tray. The sensor had been renewed twice.",
        "tags": (
            (
                "ground_high",
                "The ground lies where it should not; every level above it is shifted by as much.",
            ),
        ),
    },
)

READY = {
    "sound": "The heated element was cleaned. Does it still tell the truth at every speed?",
    "plain": ("contaminated", "Flat above half throttle; an oiled air filter was fitted last year."),
    "hard": ("no-surge", "Dull off the line, though every steady value looks right on the scan tool."),
}
