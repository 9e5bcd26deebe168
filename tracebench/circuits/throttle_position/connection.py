"""How the scope was connected: swapped, reversed or mis-scaled lanes, probe slips, sampling and clipping."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tracebench.circuits.throttle_position.work import LONGEST_DROPOUT_S, SMALLEST_SWING_V, Sweep, on_grid
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import TRIM
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import robust_sigma, sample_noise
from tracebench.core.robust.series import joined, running_median, runs

SLIP_ZERO_V = Threshold(0.10, "V", "A signal that rests this near to zero has lost its probe (from memory)")
SLIP_SHORTEST_S = Threshold(0.050, "s", "A shorter fall to zero may be the track's own (from memory)")


def put_right(work: Sweep) -> None:
    """Swapped lanes, reversed polarity and wrong factors put right where that is safe, each with its finding."""
    _unswap(work)
    signal = work.capture.lanes["signal"]
    thin = signal.samples[:: max(1, signal.samples.size // 32_768)]
    if percentile(thin, 99) < 0.05 and percentile(thin, 1) < -0.3:
        work.setup("reversed_polarity", "the signal lies below zero: leads reversed; read inverted", "signal")
        work.capture = work.capture.with_lane(signal.scaled(-1.0))
    moving = not setup.is_flat(work.samples("signal"), 0.0)
    for name, low, high in (("signal", 2.5, 5.1), ("reference", 4.5, 5.5)):
        if name == "signal" and not moving:
            continue
        setup.put_scale_right(work, name, low * work.reference_v / 5, high * work.reference_v / 5, name == "signal")


def _unswap(work: Sweep) -> None:
    capture = work.capture
    signal = capture.lanes["signal"]
    if not setup.is_flat(signal.samples, SMALLEST_SWING_V):
        return
    for name in ("reference", "ground"):
        other = capture.lanes.get(name)
        if other is None or setup.is_flat(other.samples, 4 * SMALLEST_SWING_V):
            continue
        work.setup("lanes_swapped", f"the {name} lane sweeps and the signal does not: read exchanged")
        swapped = {"signal": replace(other, name="signal"), name: replace(signal, name=name)}
        work.capture = replace(capture, lanes={**capture.lanes, **swapped})
        return


def slips(work: Sweep) -> list[tuple[int, int]]:
    """Sample intervals over 150 ms that fall to zero at once and come back at once, off any travel.

    Shorter ones, and those up to 150 ms that repeat at one travel, are left to the dropouts.
    """
    signal = work.samples("signal")
    grid, grid_s = on_grid(work, signal)
    block = round(grid_s / work.capture.interval_s)
    edge = max(1, round(0.006 / grid_s))
    within: float = SLIP_ZERO_V
    noise = sample_noise(grid)
    if 2.5 * noise > SLIP_ZERO_V:
        # Noise lifts single samples of a lost signal off zero: looked at over 50 ms then.
        width = max(5, round(0.05 / grid_s)) | 1
        grid = running_median(grid, width)
        edge = max(edge, width // 2 + 1)
        within = max(within, 3 * 1.2533 * noise / float(np.sqrt(width)))
    zero = runs(np.abs(grid) < within)
    if sum(b - a for a, b in zero) > 0.6 * grid.size:
        return []
    out = []
    for a, b in joined(zero, round(0.01 / grid_s)):
        before = grid[max(0, a - edge)] if a > 0 else np.inf
        after = grid[min(grid.size - 1, b - 1 + edge)] if b < grid.size else np.inf
        abrupt = min(before, after) > within + 0.15 and not (a == 0 and b == grid.size)
        # Noise makes a low level pass for none in single places: the whole stretch together knows better.
        whole = abs(float(np.mean(signal[a * block : b * block])))
        lost = whole < max(SLIP_ZERO_V, 2.5 * noise / float(np.sqrt(b - a)))
        if lost and abrupt and (b - a) * grid_s > LONGEST_DROPOUT_S:
            out.append((max(0, (a - 1) * block), min(signal.size, (b + 1) * block)))
    return out


def slip_finding(work: Sweep, start: int, stop: int) -> None:
    span = work.span(start, stop)
    together = ", the reference with it" if reference_falls(work, start, stop) else ""
    text = (
        f"the signal vanishes to 0 V at once for {1000 * (span[1] - span[0]):.0f} ms{together} and returns: "
        "the connection, not the part"
    )
    work.setup("probe_slip", text, "signal", span, hides=True)


def reference_falls(work: Sweep, start: int, stop: int) -> bool:
    """True if the reference lane falls with the signal in these samples."""
    reference = work.lane("reference")
    if reference is None:
        return False
    usual = median(reference[:: max(1, reference.size // 32_768)])
    return median(reference[start:stop]) < 0.4 * usual


def check_sampling(work: Sweep) -> None:
    per_dropout = LONGEST_DROPOUT_S / work.capture.interval_s
    if not enough(per_dropout, setup.FEWEST_SAMPLES):
        text = (
            f"{work.capture.rate_hz:,.0f} samples a second put {per_dropout:.2g} across a 150 ms dropout; "
            f"{setup.FEWEST_SAMPLES} are needed"
        )
        work.setup("undersampled", text, hides=True)


def check_clipping(work: Sweep) -> None:
    rests = [*work.phases_of("closed"), *work.phases_of("open")]
    if not rests:
        return
    signal = work.samples("signal")
    # Sample to sample, so that a hand that eases in does not pass for noise.
    stirring = max(
        robust_sigma(np.diff(signal[slice(*work.indices((p.from_s, p.to_s), TRIM))])) for p in rests
    ) / np.sqrt(2.0)
    stretches = setup.clipped_stretches(signal, stirring, work.code("signal"))
    inside = [(a, b) for a, b in stretches if (b - a) * work.capture.interval_s > 0.02]
    if inside:
        a, b = max(inside, key=lambda ab: ab[1] - ab[0])
        text = f"rests dead flat at {signal[a]:.3g} V, the end of the range; choose a larger range or shift the zero"
        where = [work.span(a, b) for a, b in inside]
        work.find("clipped", "set-up", text, work.span(a, b), "signal", hides=True, places=where)
