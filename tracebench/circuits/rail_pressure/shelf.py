"""Rail pressure: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Rail pressure, sound",
        "vehicle": "diesel",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 49,
        "notes": "One record from key on to stop.",
        "tags": (
            ("crank", "Pressure is there within half a second of cranking."),
            ("accelerate", "Up at once, held steady, down at once."),
            ("stop", "Decays over seconds: the rail is tight, but not blocked."),
        ),
    },
    {
        "title": "Rail pressure, slow to build",
        "vehicle": "diesel",
        "part": {"fault": "slow-build", "severity": 1.0},
        "seed": 50,
        "notes": "Long cranking when hot. Leak-back of two injectors far over the others.",
        "tags": (("slow_build", "Cranks and cranks: what the pump gives, the injectors give back."),),
    },
    {
        "title": "Rail pressure, hunting",
        "vehicle": "diesel",
        "part": {"fault": "hunting", "severity": 1.0},
        "seed": 51,
        "notes": "Metering valve sticks.",
        "tags": (("pressure_hunting", "Idle swings slowly up and down: regulator, not sensor."),),
    },
)

READY = {
    "sound": "Long cranking was cured with a new filter. Prove it over start, load and stop.",
    "plain": ("hunting", "Idles like a tractor with the windows up, and smooths out when driven."),
    "hard": ("slow-build", "Cranks for four seconds when hot, one when cold."),
}
