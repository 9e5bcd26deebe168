"""Supply and ground: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Feeds and grounds, sound",
        "vehicle": "board",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 58,
        "notes": "All loaded, key on.",
        "tags": (("ground_v", "20 mV under load: a ground to be trusted."),),
    },
    {
        "title": "Feed with a drop",
        "vehicle": "van",
        "part": {"fault": "low-supply", "severity": 1.0},
        "seed": 59,
        "notes": "Green fuse holder.",
        "tags": (("supply_low", "Battery and supply side by side: what lies between is lost on the way."),),
    },
    {
        "title": "Ground with a drop",
        "vehicle": "hatchback",
        "part": {"fault": "high-ground", "severity": 1.0},
        "seed": 60,
        "notes": "Painted-over ground point.",
        "tags": (("ground_high", "Every sensor on this ground reads high by as much."),),
    },
)

READY = {
    "sound": "Before a controller is condemned: prove its feeds.",
    "plain": ("high-ground", "Several sensors read a little high, all at once, since a battery was changed."),
    "hard": ("low-reference", "Three codes for three sensors that share a plug."),
}
