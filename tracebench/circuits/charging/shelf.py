"""Charging: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Charging, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 61,
        "notes": "Loads on and off for twenty seconds.",
        "tags": (("sense_v", "Near 14.1 V whatever is switched on."),),
    },
    {
        "title": "Charging, overcharge now and then",
        "vehicle": "hatchback",
        "part": {"fault": "regulator", "severity": 1.0},
        "seed": 62,
        "notes": "Bulbs fail. A short record had shown nothing: it needs the event inside.",
        "tags": (
            (
                "overcharge",
                "Over 15 V for seconds, command at rest, case ground flat: only the regulator is left.",
            ),
            ("command_duty_pct", "The command stays where it was: nobody asked for this."),
        ),
        "records": (
            (
                "log",
                [
                    {"at_s": "3.2", "action": "wiggle", "where": "sense wire at the battery"},
                    {"at_s": "8.6", "action": "tap", "where": "regulator"},
                ],
            ),
        ),
    },
    {
        "title": "Charging, a diode open",
        "vehicle": "van",
        "part": {"fault": "diode", "severity": 1.0},
        "seed": 63,
        "notes": "Battery flat after three days. Zoom in.",
        "tags": (("diode_ripple", "One hump in six is missing: the ripple is deep and slow."),),
    },
)

READY = {
    "sound": "Battery renewed. Does the alternator keep it through lights, heater and load?",
    "plain": ("regulator", "Bulbs burn out, the battery smells."),
    "hard": ("diode", "Flat after a long weekend; the charging voltage looks right on a meter."),
}
