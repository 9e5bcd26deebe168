"""Pedal position: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits import extremes, probe, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.thinning import Grid
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.circuits.work import TRIM, Work
from tracebench.core.measure.levels import level_of, rest_of
from tracebench.core.measure.sweeps import find_rests
from tracebench.core.robust.codes import code_doubt
from tracebench.core.robust.median import median, percentile, percentile_span
from tracebench.core.robust.noise import correlation, sample_noise
from tracebench.core.robust.series import bridged, joined, running_mean, runs
from tracebench.core.samples import Samples

TRACKS = (("track1", "reference1"), ("track2", "reference2"))
LOST_V = Threshold(0.12, "V", "Under this a track carries nothing: a released pedal rests well above")

LONG_S = Threshold(0.150, "s", "A fall that lasts longer is no dropout of a track")
SMALLEST_SWING_V = Threshold(0.2, "V", "A pedal that moves less was not moved")
REFERENCE_LEAST_V = Threshold(
    4.75, "V", "A 5 V reference under this is not held (common practice, no published source)"
)


NOISY_V = Threshold(0.12, "V", "Noise in which a dropout of half a volt is no longer sure to be seen")


def measure(work: Work) -> Work:
    """Levels, ratio and residual of the tracks, minima of the references, and what a lost track says of which."""
    if _all_dead(work):
        work.settle_phases([])
        probe.note_dead(work, "track1", median(work.samples("track1")))
        return work
    for one, _ in TRACKS:
        for _, other in TRACKS:
            _unswap_track(work, one, other)
    _unswap_tracks(work)
    slips = _slips(work)
    lost = {name: _lost(work, name, slips) for name, _ in TRACKS}
    clean = {name: _clean(work, name, [*lost[name], *slips]) for name, _ in TRACKS}
    _find_phases(work, clean, lost)
    _references(work, lost, slips)
    _lost_findings(work, lost)
    _read_levels(work, clean)
    _read_ratio(work, clean, [*slips, *(g for gone in lost.values() for g in gone), *_fallen(work)])
    _read_ground(work)
    for name, _ in TRACKS:
        sigma = sample_noise(work.samples(name))
        if sigma > NOISY_V:
            text = (
                f"noise of {sigma:.2g} V hides dropouts and how well the tracks agree: another ground, a shielded lead"
            )
            work.setup("noisy", text, name, hides=True)
    return work


def _all_dead(work: Work) -> bool:
    """Both tracks at nothing, and no reference or told phase that proves the pedal powered."""
    powered = any(median(work.capture.lanes[n].samples) > 1.0 for _, n in TRACKS if n in work.capture.lanes)
    dead = all(percentile(np.abs(thinning.thin(work.samples(n))), 99) < LOST_V for n, _ in TRACKS)
    return dead and not powered and not work.told.phases


def _unswap_track(work: Work, track: str, reference: str) -> None:
    """A reference that sweeps while the track rests near 5 V."""
    other = work.lane(reference)
    if other is None or track[-1] != reference[-1]:
        return
    still = setup.is_flat(work.samples(track), SMALLEST_SWING_V) and not setup.is_flat(other, 1.0)
    if still and median(thinning.thin(work.samples(track))) > 4.5:
        probe.exchange(work, track, reference, f"the {reference} lane sweeps and {track} does not: read exchanged")


def _unswap_tracks(work: Work) -> None:
    """The half-voltage track on the other's lane: track1 rises by half of what track2 does."""
    one, two = (thinning.on_grid(work, work.samples(n), 0.01).values for n, _ in TRACKS)
    swings = [percentile_span(x, 2, 98) for x in (one, two)]
    lows = [percentile(x, 5) for x in (one, two)]
    if min(swings) < SMALLEST_SWING_V:
        return
    if 0.44 < swings[0] / swings[1] < 0.56 and 0.35 < lows[0] / max(lows[1], 1e-6) < 0.65:
        probe.exchange(work, "track1", "track2", "track1 rises by half of what track2 does: read exchanged")


def _slips(work: Work) -> list[tuple[int, int]]:
    """Both tracks at zero at once: the clips. A pedal loses its tracks one by one, or both with their references."""
    grids = [thinning.on_grid(work, work.samples(n), 0.002) for n, _ in TRACKS]
    zero = np.all([np.abs(g.values) < LOST_V for g in grids], axis=0)
    there = [work.capture.lanes[n].samples for _, n in TRACKS if n in work.capture.lanes]
    block = round(grids[0].interval_s / work.capture.interval_s)
    out = []
    for a, b in joined(runs(zero), 5):
        if a > 0 and b < zero.size and (b - a) * grids[0].interval_s > 0.05:
            span = (grids[0].time_s(a), grids[0].time_s(b))
            inside = [abs(median(x[a * block : b * block])) < LOST_V for x in there]
            if any(inside) and not all(inside):
                continue  # one reference is gone: what hangs on it says so
            text = f"both tracks vanish at once for {1000 * (span[1] - span[0]):.0f} ms and return: the connection"
            work.setup("probe_slip", text, "track1", span, hides=True)
            out.append((max(0, (a - 1) * block), min(work.capture.samples, (b + 1) * block)))
    return out


def _lost(work: Work, name: str, slips: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Stretches over 150 ms in which a track carries nothing, slips apart."""
    grid = thinning.on_grid(work, work.samples(name), 0.002)
    block = round(grid.interval_s / work.capture.interval_s)
    out = []
    for a, b in joined(runs(grid.values < LOST_V), round(0.02 / grid.interval_s)):
        start, stop = max(0, (a - 1) * block), min(work.capture.samples, (b + 1) * block)
        if (b - a) * grid.interval_s > LONG_S and not any(s < stop and e > start for s, e in slips):
            out.append((start, stop))
    return out


def _clean(work: Work, name: str, gone: list[tuple[int, int]]) -> Samples:
    held = bridged(work.samples(name), gone)
    found, own = probe.judge_dropouts(work, held, name, 0.06)
    work.add(f"{name}_dropouts_count", sum(e.depth < 0 for e in own), "", 0.0, work.whole, name)
    return bridged(held, [(e.start, e.stop) for e in found])


def _find_phases(work: Work, clean: dict[str, Samples], lost: dict[str, list[tuple[int, int]]]) -> None:
    """Rests of the track that was there longest; a crossed second track is turned over first."""
    missing = {n: sum(b - a for a, b in lost[n]) for n in lost}
    name = min(missing, key=lambda n: missing[n])
    grid = thinning.on_grid(work, clean[name], 0.002)
    values = grid.values
    if name == "track2" and median(values[:10]) > 0.5 * (values.min() + values.max()):
        values = values.max() + values.min() - values
    names = {"low": "released", "high": "full"}
    found: list[Phase] = []
    rests = find_rests(values, grid.interval_s, SMALLEST_SWING_V)
    for k, rest in enumerate(rests):
        found.append(grid.phase(names[rest.side], rest.start, rest.stop))
        if k + 1 < len(rests):
            moving = "pressing" if rest.side == "low" else "releasing"
            found.append(grid.phase(moving, rest.stop, rests[k + 1].start))
    work.settle_phases(found)


def _falls_with(work: Work, reference: str, start: int, stop: int) -> bool | None:
    """Whether the reference falls in these samples; None without its lane."""
    samples = work.lane(reference)
    if samples is None:
        return None
    return median(samples[start:stop]) < 0.6 * percentile(thinning.thin(samples), 90)


def _references(work: Work, lost: dict[str, list[tuple[int, int]]], slips: list[tuple[int, int]]) -> None:
    for track, reference in TRACKS:
        samples = work.lane(reference)
        if samples is None:
            work.miss(f"{reference}_min_v", f"no {reference} lane in this capture")
            continue
        samples = bridged(samples, slips)
        extremes.read_extreme(work, f"{reference}_min_v", samples, reference, 0.005, largest=False)
        grid = thinning.on_grid(work, samples, 0.005)
        for a, b in joined(runs(grid.values < 0.95 * REFERENCE_LEAST_V), round(0.05 / grid.interval_s)):
            _reference_lost(work, grid, a, b, track, reference, lost[track])


def _reference_lost(
    work: Work, grid: Grid, a: int, b: int, track: str, reference: str, lost: list[tuple[int, int]]
) -> None:
    span = (grid.time_s(a), grid.time_s(b))
    least = float(grid.values[a:b].min())
    text = f"{reference} falls to {least:.2f} V for {1000 * (span[1] - span[0]):.0f} ms"
    start, stop = work.indices(span)
    if any(s < stop and e > start for s, e in lost):
        text += (
            f", and {track} falls and returns with it: the pedal is cleared. Suspect the supply, controller output "
            "or wiring; prove the controller's own grounds and feeds before naming it"
        )
    work.fault("reference_lost", text, span, reference, least, "V")


def _lost_findings(work: Work, lost: dict[str, list[tuple[int, int]]]) -> None:
    for track, reference in TRACKS:
        for start, stop in lost[track]:
            with_it = _falls_with(work, reference, start, stop)
            if with_it:
                continue  # said with the reference, which is where the cause lies
            span = work.span(start, stop)
            text = f"{track} carries nothing for {span[1] - span[0]:.2f} s"
            if with_it is False:
                text += f" while {reference} stays up: the pedal or its signal wire"
            work.fault("track_lost", text, span, track, median(work.samples(track)[start:stop]), "V")


def _read_levels(work: Work, clean: dict[str, Samples]) -> None:
    for name, _ in TRACKS:
        for phase_name in ("released", "full"):
            phases = work.phases_of(phase_name)
            if not phases:
                continue
            code = work.code(name)
            parts = [rest_of(clean[name][slice(*work.indices((p.from_s, p.to_s), TRIM))], code) for p in phases]
            level = level_of(np.concatenate(parts), code)
            longest = max(phases, key=lambda p: p.to_s - p.from_s)
            span = (longest.from_s, longest.to_s)
            work.add(f"{name}_{phase_name}_v", level.value, "V", level.uncertainty, span, name)


def _fallen(work: Work) -> list[tuple[int, int]]:
    """Stretches that a finding explains already: dropouts and lost references."""
    return [work.indices((f.from_s, f.to_s)) for f in work.findings if f.code in ("dropout", "reference_lost")]


def _read_ratio(work: Work, clean: dict[str, Samples], gone: list[tuple[int, int]]) -> None:
    """Slope of track1 on track2 by least squares, trimmed; the residual on 5 ms medians outside what was lost."""
    one, two = (thinning.on_grid(work, clean[n], 0.005) for n, _ in TRACKS)
    keep = np.ones(one.values.size, dtype=bool)
    for start, stop in gone:
        a, b = (one.index(t) for t in work.span(start, stop))
        keep[max(0, a - 5) : b + 6] = False
    x, y = two.values[keep], one.values[keep]
    if x.size < 20 or float(np.ptp(x)) < SMALLEST_SWING_V or float(np.ptp(y)) < SMALLEST_SWING_V:
        why = "a track does not move in this capture"
        work.miss("ratio", why)
        work.miss("ratio_residual_mv", why)
        return
    slope, offset = (float(c) for c in np.polyfit(x, y, 1))
    away = y - slope * x - offset
    near = np.abs(away) <= max(0.03, 3 * 1.4826 * median(np.abs(away)))
    slope, offset = (float(c) for c in np.polyfit(x[near], y[near], 1))
    away = y - slope * x - offset
    sigma = float(np.std(away[near]))
    drawn = sigma * correlation(away[near]) / float(np.std(x)) / np.sqrt(x.size)
    # Over 50 ms: the codes of a coarse recorder are no disagreement.
    apart = np.abs(running_mean(away, max(1, round(0.05 / one.interval_s))))
    codes = [code_doubt(work.code(n), sample_noise(work.samples(n))) for n, _ in TRACKS]
    # At rest in one code at either end, a track is off by it there, and so is the slope between them.
    rests = np.sqrt(2.0) * float(np.linalg.norm(codes)) / float(np.ptp(x[near]))
    work.add("ratio", slope, "", float(np.hypot(drawn, rests)), work.whole, "track1")
    at = int(np.flatnonzero(keep)[int(np.argmax(apart))])
    span = (one.time_s(at), one.time_s(at + 1))
    work.add("ratio_residual_mv", 1000 * float(apart.max()), "mV", 1000 * sigma, span, "track1")


def _read_ground(work: Work) -> None:
    samples = work.lane("ground")
    if samples is None:
        work.miss("ground_max_v", "no ground lane in this capture")
        return
    extremes.read_extreme(work, "ground_max_v", samples, "ground", 0.010, largest=True)
