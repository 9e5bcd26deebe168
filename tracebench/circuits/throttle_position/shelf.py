"""Throttle position: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Throttle position, sound, fleet car 1",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.62, "open_v": 4.18},
        "seed": 71,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound, fleet car 2",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.6, "open_v": 4.22},
        "seed": 72,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound, fleet car 3",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.65, "open_v": 4.2},
        "seed": 73,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound, fleet car 4",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.63, "open_v": 4.15},
        "seed": 74,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound, fleet car 5",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.58, "open_v": 4.24},
        "seed": 75,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound, fleet car 6",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0, "closed_v": 0.64, "open_v": 4.17},
        "seed": 76,
        "notes": "One of six alike: together they make the corridor.",
        "tags": (("open", "Full travel of this car."),),
    },
    {
        "title": "Throttle position, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none"},
        "seed": 11,
        "notes": "Taken after the sensor was renewed; keep as the known good of this vehicle.",
        "tags": (
            ("closed", "Rest against the closed stop: flat, and the same after every sweep."),
            ("opening", "Even rise. Small texture is normal; a fall off the path is not."),
            ("open", "Held wide open: dead level, well under the reference."),
        ),
    },
    {
        "title": "Throttle position, worn near idle",
        "vehicle": "hatchback",
        "part": {"fault": "worn-idle"},
        "seed": 12,
        "notes": "Complaint: hesitates pulling away, no code stored. A meter showed nothing.",
        "tags": (
            ("dropout", "Falls off its path just off idle, where the wiper spends its life."),
            ("opening", "Same place of travel in each sweep, both ways: the track, not the probe."),
        ),
    },
    {
        "title": "Throttle position, sound, van",
        "vehicle": "van",
        "part": {"fault": "none", "closed_v": 0.55, "open_v": 3.77},
        "seed": 13,
        "notes": "Shows why the maker's figure outranks a rule of thumb.",
        "tags": (
            (
                "open",
                "3.77 V: under the rule of thumb, inside the maker's figure. Look it up before you condemn it.",
            ),
        ),
    },
    {
        "title": "Throttle position, does not open fully",
        "vehicle": "van",
        "part": {"fault": "short-travel", "severity": 0.7},
        "seed": 14,
        "notes": "Carpet mat under the pedal. Mechanical travel first, sensor last.",
        "tags": (("open", "Level and steady, but far too low: the plate does not reach its stop."),),
    },
    {
        "title": "Throttle position, ground open",
        "vehicle": "board",
        "part": {"fault": "open-ground"},
        "seed": 15,
        "notes": "Board with the ground lead pulled.",
        "tags": (("whole", "Near the reference whatever the throttle does: no current flows to ground."),),
    },
    {
        "title": "Throttle position, closed level low",
        "vehicle": "board",
        "part": {"fault": "low-closed", "severity": 0.4},
        "seed": 16,
        "notes": "Sensor turned on its slotted holes.",
        "tags": (("closed", "Rests under the least allowed: the controller may take it for an open wire."),),
    },
    {
        "title": "Throttle position, probe slipped",
        "vehicle": "board",
        "part": {"fault": "probe-slip"},
        "seed": 17,
        "notes": "Kept as a warning, still to be tidied up.",
        "tags": (
            (
                "slip",
                "Everything gone to zero at once, and back: the clip, not the part. Capture again.",
            ),
        ),
        "publish": False,
    },
)

READY = {
    "sound": "Renewed last week by an apprentice. The owner wants it in writing that it is right.",
    "plain": ("worn-mid", "Jerks at a steady country-road speed, always at the same pedal."),
    "hard": ("short-travel", "Tops out early on the motorway. Air filter and fuel pump are new."),
}
