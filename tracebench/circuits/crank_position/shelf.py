"""Crank position: references of the demo's shelf, and what ready cards are about. Data only."""

REFERENCES = (
    {
        "title": "Crank and cam, sound",
        "vehicle": "hatchback",
        "part": {"fault": "none", "severity": 1.0},
        "seed": 52,
        "notes": "60-2 wheel, inductive; Hall cam.",
        "tags": (
            ("gap_teeth", "Two teeth left out: the controller knows where it is."),
            ("cam_phase_deg", "The cam edge stands at its place after the gap, turn after turn."),
        ),
        "limits": [{"reading": "cam_phase_deg", "low": 145.0, "high": 153.0, "basis": "maker"}],
    },
    {
        "title": "Crank, tooth damaged",
        "vehicle": "van",
        "part": {"fault": "damaged-tooth", "severity": 1.0},
        "seed": 53,
        "notes": "Stone through the clutch housing.",
        "tags": (("tooth_damaged", "Small or gone at the same place each turn: the wheel, not the wire."),),
    },
    {
        "title": "Cam drive jumped",
        "vehicle": "hatchback",
        "part": {"fault": "cam-shift", "severity": 1.0},
        "seed": 54,
        "notes": "Belt renewed last month. Starts badly, pulls badly.",
        "tags": (("cam_phase_shift", "The cam edge comes late against the gap: one tooth of the belt."),),
        "limits": [{"reading": "cam_phase_deg", "low": 145.0, "high": 153.0, "basis": "maker"}],
    },
)

READY = {
    "sound": "A flywheel was changed. Is every tooth where it should be?",
    "plain": (
        "damaged-tooth",
        "Misfire counted on two cylinders that change places. Plugs and coils are new.",
    ),
    "hard": ("runout", "Stumbles in a rhythm that follows the engine's own speed."),
    "readings": ("teeth_per_rev", "gap_teeth", "amplitude_v", "rpm"),
}
