"""Injector, piezo: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Piezo injector, sound",
        "vehicle": "diesel",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 85,
        "duration_s": 0.9,
        "notes": "One conductor through the clamp, arrow so that the opening pulse is positive.",
        "tags": (
            ("pilot", "Pilot: charge opens, discharge closes."),
            ("main", "Main: the widest of the three."),
        ),
    },
    {
        "title": "Piezo injector, stack cracked",
        "vehicle": "diesel",
        "part": {"fault": "low-charge", "severity": 1.0},
        "seed": 86,
        "duration_s": 0.9,
        "notes": "Cylinder balance far off.",
        "tags": (("low_charge", "Half the charge at the same voltage: half the stack is left."),),
    },
    {
        "title": "Piezo injector, power stage shut down",
        "vehicle": "diesel",
        "part": {"fault": "power-off", "severity": 1.0},
        "seed": 87,
        "duration_s": 0.9,
        "notes": "Stops when hot, all injectors at once. Go on with resistances, powered down.",
        "tags": (
            (
                "power_stage_off",
                "One has failed and the controller switches them all off: nothing more to see here.",
            ),
        ),
        "records": (
            (
                "resistance",
                [
                    {
                        "terminals": "pin to pin, injector 2",
                        "value": "176",
                        "unit": "kohm",
                        "low": "150",
                        "high": "200",
                        "celsius": "24",
                    },
                    {
                        "terminals": "pin to body, injector 2",
                        "value": "infinite",
                        "unit": "kohm",
                        "low": "infinite",
                    },
                    {
                        "terminals": "pin to body, injector 3",
                        "value": "12.5",
                        "unit": "kohm",
                        "low": "infinite",
                        "celsius": "24",
                    },
                ],
            ),
        ),
    },
)

READY = {
    "sound": "A refurbished piezo injector: charge, discharge, and every event there?",
    "plain": ("low-charge", "Knocks under load on one cylinder."),
    "hard": ("no-discharge", "Shut down by itself and will not start again."),
}
