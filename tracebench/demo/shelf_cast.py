"""References of the sensor, reference and charging circuits on the demo shelf: what each shows and teaches."""

from __future__ import annotations

from typing import Any

from tracebench.demo.cast import DemoReference

_HATCH, _VAN, _BOARD, _DIESEL = 0, 1, 2, 3


def reference(
    circuit: str,
    title: str,
    vehicle: int,
    fault: str,
    seed: int,
    notes: str,
    tags: tuple[tuple[str, str], ...],
    severity: float = 1.0,
    **more: Any,
) -> DemoReference:
    """A reference of the demo vehicle whose part has a fault of that severity."""
    part = {"fault": fault, "severity": severity, **more.pop("part", {})}
    return DemoReference(title, vehicle, part, seed, tags, notes, circuit=circuit, **more)


PEDAL = "pedal-position"
MAP = "manifold-pressure"
AIR_V, AIR_HZ = "airflow-voltage", "airflow-frequency"
NARROW, WIDE = "oxygen-switching", "oxygen-wideband"
RAIL, CRANK, WHEEL, TEMP = "rail-pressure", "crank-position", "wheel-speed", "temperature"
FEED, CHARGE = "supply-ground", "charging"

CAM_LIMIT = [{"reading": "cam_phase_deg", "low": 145.0, "high": 153.0, "basis": "maker"}]

FLEET = ((0.62, 4.18), (0.60, 4.22), (0.65, 4.20), (0.63, 4.15), (0.58, 4.24), (0.64, 4.17))
"""Closed and open volts of sound throttles of one design."""

SENSOR_REFERENCES = (
    reference(
        PEDAL,
        "Pedal, sound",
        _HATCH,
        "none",
        31,
        "Both tracks, both references and the ground in one record.",
        (
            ("released", "Released: track 1 at twice the volts of track 2, both well above zero."),
            ("pressing", "Both rise together all the way: the ratio is what the controller checks."),
        ),
    ),
    reference(
        PEDAL,
        "Pedal, reference lost at full lock",
        _HATCH,
        "reference-lost",
        32,
        "Complaint: limp mode while parking. The loom is pulled tight behind the column when the wheel is turned.",
        (
            ("reference_lost", "The reference falls, and its track with it; the other track does not notice."),
            ("full", "Before and after, the pedal itself is perfect: it is cleared."),
        ),
    ),
    reference(
        PEDAL,
        "Pedal, track 2 lost",
        _VAN,
        "track-lost",
        33,
        "Broken signal wire at the bulkhead.",
        (("track_lost", "Track 2 is gone while its reference stays up: pedal or signal wire, not the supply."),),
    ),
    reference(
        MAP,
        "Manifold pressure, sound",
        _HATCH,
        "none",
        34,
        "Throttle and oxygen beside it: the three explain each other.",
        (
            ("key_on", "Key on: the sensor is a barometer. Hold it against the day's air pressure."),
            ("snap", "The pressure follows the throttle at once, to nearly the air outside."),
            ("overrun", "Throttle shut at speed: lower than idle. Rings, valves and gaskets seal."),
        ),
    ),
    reference(
        MAP,
        "Manifold pressure, vacuum leak",
        _HATCH,
        "leak",
        35,
        "Hose off the brake servo. Idle hunts and is too fast.",
        (
            ("high_idle_pressure", "Idle is far too near the air outside: air comes in that nobody asked for."),
            ("overrun", "Even the overrun gains less than it should."),
        ),
    ),
    reference(
        MAP,
        "Manifold pressure, blocked hose",
        _VAN,
        "slow-hose",
        36,
        "Carbon in the hose to the sensor.",
        (("slow_rise", "The throttle is open long before the pressure knows: the sensor hears through a straw."),),
    ),
    reference(
        AIR_V,
        "Airflow, sound, type A",
        _HATCH,
        "none",
        37,
        "Element cleaned the week before; trims near zero.",
        (
            ("key_on", "Key on: about 0.4 V after a short surge while the element heats."),
            ("steady_4000", "More air, more volts: idle, 2,500 and 4,000 stand in order."),
            ("snap", "Three parts: the surge that fills the manifold, a dip, the climb with speed."),
        ),
        options={"type": "A"},
    ),
    reference(
        AIR_V,
        "Airflow, contaminated",
        _VAN,
        "contaminated",
        38,
        "Oil from a cotton filter. Idle looks nearly right.",
        (
            ("idle", "Idle gives little away."),
            ("low_under_load", "Under load it falls behind: dirt keeps the air from the element."),
        ),
    ),
    reference(
        AIR_V,
        "Airflow, ground lifted",
        _VAN,
        "high-ground",
        39,
        "Corroded eyelet under the battery tray. The sensor had been renewed twice.",
        (("ground_high", "The ground lies where it should not; every level above it is shifted by as much."),),
    ),
    reference(
        AIR_HZ,
        "Airflow by frequency, sound",
        _HATCH,
        "none",
        40,
        "Idle and one snap.",
        (
            ("idle", "Square and even: the frequency is the reading, not the volts."),
            ("snap", "The frequency leaps with the air. Zoom in: every pulse is there."),
        ),
    ),
    reference(
        AIR_HZ,
        "Airflow by frequency, pulses missing",
        _HATCH,
        "missing-pulses",
        41,
        "Chafed signal wire at the strut.",
        (("missing_pulses", "A pulse left out. A meter shows the mean and never sees it."),),
    ),
    reference(
        AIR_HZ,
        "Airflow by frequency, swing too low",
        _VAN,
        "low-swing",
        42,
        "Pull-up inside the controller damaged by a jump start.",
        (("low_swing", "The high state does not reach its level: the controller starts to miss pulses."),),
    ),
    reference(
        NARROW,
        "Oxygen, switching, sound",
        _HATCH,
        "none",
        43,
        "Warm, 2,500, then a snap.",
        (
            ("steady", "Swings about 0.45 V several times in two seconds: the loop is at work."),
            ("snap", "Held rich while the throttle is open."),
            ("overrun", "Fuel cut: nothing but air passes, the signal falls to zero."),
        ),
    ),
    reference(
        NARROW,
        "Oxygen, lazy",
        _VAN,
        "lazy",
        44,
        "180,000 km on it. No code stored.",
        (("lazy", "Slow from 0.3 to 0.6 V and back: old. The loop waits for it and the mixture wanders."),),
    ),
    reference(
        NARROW,
        "Oxygen, mixture lean",
        _HATCH,
        "lean",
        45,
        "Weak fuel pressure: beyond what the loop can add.",
        (("biased_lean", "It rests lean and yet answers to the snap: the sensor is right, the mixture is not."),),
    ),
    reference(
        WIDE,
        "Oxygen, wideband, sound",
        _VAN,
        "none",
        46,
        "Pump current, pump voltage, both references and airflow.",
        (
            ("steady", "No current at lambda 1. It need not switch."),
            ("response_ms", "From the load request to rich: about 200 ms."),
            ("overrun", "Fuel cut: all air, the pump works at its stop."),
        ),
    ),
    reference(
        WIDE,
        "Oxygen, wideband, fuel answers late",
        _VAN,
        "slow-fuel",
        47,
        "Fuel filter never changed. Hesitates under load.",
        (("slow_fuel_response", "Lean first, rich much too late: fuel supply before anything else."),),
    ),
    reference(
        WIDE,
        "Oxygen, wideband, stuck",
        _HATCH,
        "stuck",
        48,
        "Looks perfect in steady running.",
        (("stuck_in_window", "A load request goes by and nothing moves: too good to be true."),),
    ),
    reference(
        RAIL,
        "Rail pressure, sound",
        _DIESEL,
        "none",
        49,
        "One record from key on to stop.",
        (
            ("crank", "Pressure is there within half a second of cranking."),
            ("accelerate", "Up at once, held steady, down at once."),
            ("stop", "Decays over seconds: the rail is tight, but not blocked."),
        ),
    ),
    reference(
        RAIL,
        "Rail pressure, slow to build",
        _DIESEL,
        "slow-build",
        50,
        "Long cranking when hot. Leak-back of two injectors far over the others.",
        (("slow_build", "Cranks and cranks: what the pump gives, the injectors give back."),),
    ),
    reference(
        RAIL,
        "Rail pressure, hunting",
        _DIESEL,
        "hunting",
        51,
        "Metering valve sticks.",
        (("pressure_hunting", "Idle swings slowly up and down: regulator, not sensor."),),
    ),
    reference(
        CRANK,
        "Crank and cam, sound",
        _HATCH,
        "none",
        52,
        "60-2 wheel, inductive; Hall cam.",
        (
            ("gap_teeth", "Two teeth left out: the controller knows where it is."),
            ("cam_phase_deg", "The cam edge stands at its place after the gap, turn after turn."),
        ),
        limits=CAM_LIMIT,
    ),
    reference(
        CRANK,
        "Crank, tooth damaged",
        _VAN,
        "damaged-tooth",
        53,
        "Stone through the clutch housing.",
        (("tooth_damaged", "Small or gone at the same place each turn: the wheel, not the wire."),),
    ),
    reference(
        CRANK,
        "Cam drive jumped",
        _HATCH,
        "cam-shift",
        54,
        "Belt renewed last month. Starts badly, pulls badly.",
        (("cam_phase_shift", "The cam edge comes late against the gap: one tooth of the belt."),),
        limits=CAM_LIMIT,
    ),
    reference(
        WHEEL,
        "Wheel speed, sound",
        _HATCH,
        "none",
        62,
        "Front left, lifted and spun by hand: pulled once, then let run down.",
        (("turning", "Every tooth alike: height and rate fall together as it runs down."),),
        options={"teeth": "48"},
    ),
    reference(
        WHEEL,
        "Wheel speed, gap too wide",
        _HATCH,
        "weak",
        63,
        "Front right of the same car, after a bearing was renewed. Lamp comes on at walking pace.",
        (("turning", "Even teeth, a seventh as high as on the other side: the gap, not the ring."),),
        options={"teeth": "48"},
    ),
    reference(
        WHEEL,
        "Wheel speed, ring damaged",
        _VAN,
        "damaged-tooth",
        61,
        "Warning lamp and a pulsing pedal just before it stands. Wheel lifted and spun by hand.",
        (
            ("turning", "Pulled up and let run down: height and rate fall together."),
            ("tooth_damaged", "One tooth gone at the same place each turn: the ring, not the wire."),
        ),
        options={"teeth": "48"},
    ),
    reference(
        TEMP,
        "Intake temperature, sound, warming",
        _HATCH,
        "none",
        55,
        "From a cold start in the yard, 20 °C.",
        (("celsius", "Falling volts, rising temperature, no steps: a good thermistor and a good plug."),),
        options={"ambient_c": "20"},
    ),
    reference(
        TEMP,
        "Intake temperature, open",
        _VAN,
        "open",
        56,
        "Plug not pushed home.",
        (("open_circuit", "The supply itself: nothing pulls it down."),),
    ),
    reference(
        TEMP,
        "Intake temperature, reads cold",
        _VAN,
        "offset",
        57,
        "Everything else agreed on 20 °C after a night outside.",
        (("implausible_cold_start", "Colder than the night was: sensor or resistance in its wiring."),),
        options={"ambient_c": "20"},
    ),
    reference(
        FEED,
        "Feeds and grounds, sound",
        _BOARD,
        "none",
        58,
        "All loaded, key on.",
        (("ground_v", "20 mV under load: a ground to be trusted."),),
    ),
    reference(
        FEED,
        "Feed with a drop",
        _VAN,
        "low-supply",
        59,
        "Green fuse holder.",
        (("supply_low", "Battery and supply side by side: what lies between is lost on the way."),),
    ),
    reference(
        FEED,
        "Ground with a drop",
        _HATCH,
        "high-ground",
        60,
        "Painted-over ground point.",
        (("ground_high", "Every sensor on this ground reads high by as much."),),
    ),
    reference(
        CHARGE,
        "Charging, sound",
        _HATCH,
        "none",
        61,
        "Loads on and off for twenty seconds.",
        (("sense_v", "Near 14.1 V whatever is switched on."),),
    ),
    reference(
        CHARGE,
        "Charging, overcharge now and then",
        _HATCH,
        "regulator",
        62,
        "Bulbs fail. A short record had shown nothing: it needs the event inside.",
        (
            ("overcharge", "Over 15 V for seconds, command at rest, case ground flat: only the regulator is left."),
            ("command_duty_pct", "The command stays where it was: nobody asked for this."),
        ),
        records=(
            (
                "log",
                [
                    {"at_s": "3.2", "action": "wiggle", "where": "sense wire at the battery"},
                    {"at_s": "8.6", "action": "tap", "where": "regulator"},
                ],
            ),
        ),
    ),
    reference(
        CHARGE,
        "Charging, a diode open",
        _VAN,
        "diode",
        63,
        "Battery flat after three days. Zoom in.",
        (("diode_ripple", "One hump in six is missing: the ripple is deep and slow."),),
    ),
    *(
        reference(
            "throttle-position",
            f"Throttle position, sound, fleet car {car}",
            _HATCH,
            "none",
            70 + car,
            "One of six alike: together they make the corridor.",
            (("open", "Full travel of this car."),),
            part={"closed_v": closed_v, "open_v": open_v},
        )
        for car, (closed_v, open_v) in enumerate(FLEET, 1)
    ),
)
