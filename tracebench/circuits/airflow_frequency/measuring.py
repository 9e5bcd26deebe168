"""Airflow, frequency: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.circuits import lane_levels, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.load_steps import Steps, find_states
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import Work, inner
from tracebench.core.measure.edges import Edges, find_edges, high_shares, swing_thresholds
from tracebench.core.measure.levels import level_of
from tracebench.core.robust.codes import code_doubt
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import running_median
from tracebench.core.samples import Samples

GAP = Threshold(1.6, "", "A period over this many times its neighbours' median has pulses missing")

LEAST_GROWTH = Threshold(
    1.5, "", "Peak over idle frequency of a sound sensor in a snap or at load (common practice, no published source)"
)

LEAST_JUMP = Threshold(
    0.15,
    "",
    "A jump over this part of the idle frequency that does not rest is a snap, so that a weak answer to one is seen",
)

EDGE_OF_JITTER = 1 / (0.6745 * np.sqrt(6.0))
"""Sigma of one edge from the median of |second differences| of edges: their variance is six times an edge's."""

LEAST_DOUBT_PCT = Threshold(1e-4, "%", "What interpolation leaves of a duty that nothing else blurs")

NOISY = Threshold(0.25, "", "Noise over the distance of the two thresholds from which it makes edges of its own")

SLOWEST_EDGE = Threshold(0.25, "", "Part of a period that an edge may take before the trace counts as filtered")


def measure(work: Work) -> Work:
    """Levels, frequency, duty and missing pulses; phases on the trend of the frequency."""
    samples = work.samples("signal")
    if setup.is_flat(samples, 0.3):
        _no_signal(work, samples)
        return work
    low, high = swing_thresholds(samples, 0.3)
    edges = find_edges(samples, low, high)
    if edges.rising.size < 4:
        work.setup("too_short", f"only {edges.rising.size} pulses in this capture", "signal", hides=True)
        return work
    # Instants are where the trace passes the middle of the two state levels (IEEE 181): percentiles know it less well.
    middle, in_doubt = _levels(work, samples)
    edges = find_edges(samples, low, high, middle)
    periods = np.diff(edges.rising)
    usual = running_median(periods, 9)
    _sampling(work, samples, usual)
    _frequency(work, edges, periods, usual)
    _duty(work, edges, high - low, in_doubt)
    if sample_noise(samples) > NOISY * (high - low):
        work.setup(
            "noisy", "noise crosses between the two levels: another ground, a shielded lead", "signal", hides=True
        )
    return work


def _no_signal(work: Work, samples: Samples) -> None:
    work.settle_phases([])
    level = level_of(thinning.thin(samples), work.code("signal"))
    if level.value > 3.0 or work.told.phases:
        text = f"rests at {level.value:.2f} V: powered, but no pulses"
        work.fault("no_signal", text, None, "signal", level.value, "V")
    else:
        probe.note_dead(work, "signal", level.value)


def _levels(work: Work, samples: Samples) -> tuple[float, float]:
    """Reads both state levels; their middle and its uncertainty, in volts."""
    low, high = swing_thresholds(samples, 0.3)
    states = {
        "low_v": lane_levels.state_level(samples, work.code("signal"), below=low),
        "high_v": lane_levels.state_level(samples, work.code("signal"), above=high),
    }
    for reading_id, level in states.items():
        work.add(reading_id, level.value, "V", level.uncertainty, work.whole, "signal")
    at, to = states.values()
    return 0.5 * (at.value + to.value), 0.5 * float(np.hypot(at.uncertainty, to.uncertainty))


def _sampling(work: Work, samples: Samples, usual: Samples) -> None:
    shortest = percentile(usual, 2)
    if not enough(shortest, setup.FEWEST_SAMPLES):
        text = f"{shortest:.2g} samples across a pulse; {setup.FEWEST_SAMPLES} are needed"
        setup.too_few(work, text, shortest, "signal")
        return
    low, high = swing_thresholds(samples, 0.1)
    passing = float(np.mean((thinning.thin(samples) > low) & (thinning.thin(samples) < high)))
    if passing > 2 * SLOWEST_EDGE and sample_noise(samples) < 0.01 * (high - low):
        text = f"edges take {50 * passing:.0f} % of a period each and there is no noise: a filter is on"
        work.setup("over_filtered", text, "signal", hides=True)


def _frequency(work: Work, edges: Edges, periods: Samples, usual: Samples) -> None:
    interval = work.capture.interval_s
    gaps = np.flatnonzero(periods > GAP * usual)
    lost = int(np.sum(np.round(periods[gaps] / usual[gaps]) - 1)) if gaps.size else 0
    span = work.span(round(edges.rising[gaps[0]]), round(edges.rising[gaps[-1] + 1])) if gaps.size else work.whole
    work.add("missing_pulses_count", lost, "", 0.0, span, "signal")
    for k in gaps[:20]:
        here = work.capture.time_s(edges.rising[k]), work.capture.time_s(edges.rising[k + 1])
        count = round(float(periods[k] / usual[k])) - 1
        text = f"{count} pulse{'s' if count > 1 else ''} missing between pulses of {1e6 * usual[k] * interval:.0f} us"
        work.fault("missing_pulses", text, here, "signal", float(count), "")
    times = 0.5 * (edges.rising[:-1] + edges.rising[1:])
    step_s = max(0.010, 3 * median(periods) * interval)
    size = max(4, int(work.capture.duration_s / step_s))
    at = (np.arange(size) + 0.5) * step_s / interval
    trend = np.interp(at, times, 1 / (usual * interval))
    grid = Grid(trend, step_s, work.capture.start_s)
    middle = median(trend)
    low = percentile(trend, 10)
    steps = Steps(0.05 * middle, 0.0, 2.2 * low, LEAST_JUMP * low)
    found, _ = find_states(grid, steps)
    work.settle_phases(found)
    for snap in work.phases_of("snap"):
        record_checks.is_cut_off(work, trend, snap, step_s)
    _read_trend(work, edges, periods, usual, interval)


def _read_trend(work: Work, edges: Edges, periods: Samples, usual: Samples, interval: float) -> None:
    good = periods <= GAP * usual
    starts = work.capture.start_s + edges.rising[:-1] * interval
    idle = work.phase("idle")
    jitter = median(np.abs(np.diff(periods))) * interval
    if idle is not None:
        span = inner(idle)
        inside = good & (starts >= span[0]) & (starts <= span[1])
        count = int(inside.sum())
        if count >= 3:
            # The mean of periods in a row has only the first and the last edge's error.
            period = float(np.mean(periods[inside])) * interval
            doubt = max(EDGE_OF_JITTER * jitter, 0.005 * interval) * np.sqrt(2) / count / period**2
            work.add("idle_hz", 1 / period, "Hz", doubt, span, "signal")
    steady = running_median(np.where(good, periods, usual), 5)
    at = int(np.argmin(steady))
    period = float(steady[at]) * interval
    where = (float(starts[at]), float(starts[at]) + period)
    loaded = any(p.name in ("snap", "steady_2500", "steady_4000") for p in work.phases)
    if loaded:
        work.add("peak_hz", 1 / period, "Hz", max(jitter, 0.3 * interval) / period**2, where, "signal")
        idle_hz = work.value("idle_hz")
        if idle_hz is not None and 1 / period < LEAST_GROWTH * idle_hz:
            text = f"reaches only {1 / period:.0f} Hz under load where idle is {idle_hz:.0f} Hz"
            work.fault("low_under_load", text, where, "signal", 1 / period, "Hz")


def _duty(work: Work, edges: Edges, between_v: float, middle_v: float) -> None:
    """`between_v` is what lies between the two thresholds of the edges, `middle_v` how far their middle is in doubt."""
    shares = 100 * high_shares(edges)[1]
    if shares.size:
        samples = work.samples("signal")
        # The middle is off by a part of a code, and an edge by what it takes to pass that, one sample at the least.
        code = code_doubt(work.code("signal"), sample_noise(samples))
        part = 100 * np.hypot(np.sqrt(2.0) * code, 2 * middle_v) / between_v / median(np.diff(edges.rising))
        doubt = float(np.linalg.norm((1.2533 * np.std(shares) / np.sqrt(shares.size), part, LEAST_DOUBT_PCT)))
        work.add("duty_pct", median(shares), "%", doubt, work.whole, "signal")
