"""Injector current, group: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Injector group, sound",
        "vehicle": "van",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 77,
        "duration_s": 0.8,
        "notes": "Six on one driver. Work out what they should draw before you look.",
        "tags": (("peak_a", "Six at 0.7 A make 4.2 A: near enough."),),
        "options": {"injectors": "6", "each_a": "0.7"},
    },
    {
        "title": "Injector group, two windings shorted",
        "vehicle": "van",
        "part": {"fault": "shorted", "severity": 1.0},
        "seed": 78,
        "duration_s": 0.8,
        "notes": "Access is poor: one clamp on the common feed is enough to quote the set.",
        "tags": (("shorted_winding", "More than twice what six should draw, and upright."),),
        "options": {"injectors": "6", "each_a": "0.7"},
    },
    {
        "title": "Injector group, half of it open",
        "vehicle": "van",
        "part": {"fault": "open", "severity": 0.6},
        "seed": 112,
        "duration_s": 0.8,
        "notes": "Three cylinders of a bank dead at once: think of what they share.",
        "tags": (
            (
                "peak_a",
                "Half of 4.2 A: as many draw nothing as draw what they should. Look for what those have alike.",
            ),
        ),
        "options": {"injectors": "6", "each_a": "0.7"},
    },
)

READY = {
    "sound": "All of a bank through one clamp: does each of them take its share?",
    "plain": ("shorted", "The bank's fuse blew once, on a hot day."),
    "hard": ("shorted", "Down on power on one bank when hot; no code."),
    "severity": 0.5,
    "options": {"injectors": "4"},
}
