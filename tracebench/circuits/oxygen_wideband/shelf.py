"""Oxygen, wideband: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Oxygen, wideband, sound",
        "vehicle": "van",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 46,
        "notes": "Pump current, pump voltage, both references and airflow.",
        "tags": (
            ("steady", "No current at lambda 1. It need not switch."),
            ("response_ms", "From the load request to rich: about 200 ms."),
            ("overrun", "Fuel cut: all air, the pump works at its stop."),
        ),
    },
    {
        "title": "Oxygen, wideband, fuel answers late",
        "vehicle": "van",
        "part": {"fault": "slow-fuel", "severity": 1.0},
        "seed": 47,
        "notes": "Fuel filter never changed. Hesitates under load.",
        "tags": (
            (
                "slow_fuel_response",
                "Lean first, rich much too late: fuel supply before anything else.",
            ),
        ),
    },
    {
        "title": "Oxygen, wideband, stuck",
        "vehicle": "hatchback",
        "part": {"fault": "stuck", "severity": 1.0},
        "seed": 48,
        "notes": "Looks perfect in steady running.",
        "tags": (("stuck_in_window", "A load request goes by and nothing moves: too good to be true."),),
    },
)

READY = {
    "sound": "New sensor, learnt values cleared. Does the controller hold its mixture?",
    "plain": ("slow-fuel", "Smells rich after every change of gear."),
    "hard": ("lean", "Pings under load since the exhaust was mended."),
}
