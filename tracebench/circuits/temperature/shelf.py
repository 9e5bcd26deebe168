"""Temperature sensor: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Intake temperature, sound, warming",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 55,
        "notes": "From a cold start in the yard, 20 °C.",
        "tags": (
            (
                "celsius",
                "Falling volts, rising temperature, no steps: a good thermistor and a good plug.",
            ),
        ),
        "options": {"ambient_c": "20"},
    },
    {
        "title": "Intake temperature, open",
        "vehicle": "van",
        "part": {"fault": "open", "severity": 1.0},
        "seed": 56,
        "notes": "Plug not pushed home.",
        "tags": (("open_circuit", "The supply itself: nothing pulls it down."),),
    },
    {
        "title": "Intake temperature, reads cold",
        "vehicle": "van",
        "part": {"fault": "offset", "severity": 1.0},
        "seed": 57,
        "notes": "Everything else agreed on 20 °C after a night outside.",
        "tags": (
            (
                "implausible_cold_start",
                "Colder than the night was: sensor or resistance in its wiring.",
            ),
        ),
        "options": {"ambient_c": "20"},
    },
)

READY = {
    "sound": "Warm-up from cold after a new thermostat.",
    "plain": ("open", "The fan runs from the moment the key is turned."),
    "hard": ("dropout", "The gauge falls to nothing for a blink, twice a week."),
}
