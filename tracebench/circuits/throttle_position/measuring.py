"""Measuring of a throttle sweep: what is peculiar to this circuit, on the shared detectors."""

from __future__ import annotations

from tracebench.circuits.throttle_position import connection, faults, levels, movement
from tracebench.circuits.throttle_position.repeats import repeated_excursions
from tracebench.circuits.throttle_position.work import (
    DROPOUT_FLOOR_V,
    SMALLEST_SWING_V,
    Sweep,
    on_grid,
)
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.work import Work
from tracebench.core.measure.sweeps import find_rests
from tracebench.core.robust.series import bridged


def measure(begun: Work) -> Work:
    """All readings and findings of one throttle capture; units in the ids, instants on the file's axis."""
    work = Sweep(begun.capture, begun.told, begun.findings)
    work.reference_v = work.number("reference_v", 5.0, 1.0, 24.0)
    connection.put_right(work)
    slips = connection.slips(work)
    held = bridged(work.samples("signal"), slips)
    connection.check_sampling(work)
    work.excursions = repeated_excursions(work, held)
    work.clean = bridged(held, [(e.start, e.stop) for e in work.excursions])
    grid, grid_s = on_grid(work, work.clean)
    rests = find_rests(grid, grid_s, SMALLEST_SWING_V)
    levels.find_phases(work, rests, grid_s)
    if not rests and setup.is_flat(held, SMALLEST_SWING_V):
        faults.judge_no_sweep(work, held)
    else:
        _read_sweep(work)
    faults.read_other_lanes(work)
    faults.judge_excursions(work)
    for start, stop in slips:
        connection.slip_finding(work, start, stop)
    faults.note_no_dropout(work)
    return work


def _read_sweep(work: Sweep) -> None:
    closed, opened = levels.read_levels(work)
    levels.count_sweeps(work)
    movement.read_durations(work, closed, opened)
    movement.read_reversal(work)
    connection.check_clipping(work)
    setup.check_range_use(work, "signal", hides_above=DROPOUT_FLOOR_V)
