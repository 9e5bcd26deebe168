"""The captures of an outsider read again through worse recorders: what is condemned or passed wrongly then.

    .venv/bin/python -m benchmarks.worn_captures

Counted as wrong: a call that is neither a right one nor 'cannot tell', a finding that must not be made, and a
reading that is no number. 'Cannot tell' counts as right, so this says nothing of how often a worse recorder hides a
fault.
"""

from __future__ import annotations

import warnings
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tests.outside.captures import CAPTURES
from tests.outside.workshop import WORKSHOP
from tracebench.core.answer import Phase
from tracebench.core.capture import Capture
from tracebench.core.circuits import measure
from tracebench.core.samples import Samples

GAIN, OFFSET, NOISE, CUT = 1.015, 0.004, 0.008, 0.13
"""Gain; offset and noise as parts of a lane's swing; part of the record that is cut off in front."""


def each(change: Callable[[Samples], Samples]) -> Callable[[Capture], Capture]:
    return lambda c: replace(c, lanes={n: replace(x, samples=change(x.samples)) for n, x in c.lanes.items()})


def eight_bits(samples: Samples) -> Samples:
    """Codes of 8 bits over the smallest range of 1, 2 or 5 times a power of ten that holds the lane."""
    reach = max(2 * float(np.abs(samples).max()), 1e-9)
    decade = 10.0 ** np.ceil(np.log10(reach))
    step = next(decade * part for part in (0.2, 0.5, 1.0) if decade * part >= reach) / 256
    return np.round(samples / step) * step


def noisier(samples: Samples) -> Samples:
    return samples + np.random.default_rng(77).normal(0, NOISE * float(np.ptp(samples)), samples.size)


def half_rate(capture: Capture) -> Capture:
    return replace(each(lambda x: x[::2].copy())(capture), interval_s=2 * capture.interval_s)


RECORDERS: dict[str, Callable[[Capture], Capture]] = {
    "8 bits": each(eight_bits),
    "gain and offset": each(lambda x: GAIN * x + OFFSET * float(np.ptp(x))),
    "cut in front": each(lambda x: x[int(CUT * x.size) :]),
    "half the rate": half_rate,
    "noisier": each(noisier),
}


def main() -> None:
    warnings.simplefilter("ignore")
    read = wrong = 0
    for one in (*CAPTURES, *WORKSHOP):
        for name, worn in RECORDERS.items():
            if one.phases and name == "cut in front":
                continue  # told phases lie elsewhere then
            answer = measure(worn(one.capture()), one.circuit, [Phase(*p) for p in one.phases], dict(one.options))
            read += 1
            denied = set(one.denies) & {f.code for f in answer.findings if f.kind != "note"}
            numbers = all(np.isfinite((r.value, r.uncertainty)).all() for r in answer.readings)
            if answer.call not in (*one.calls, "inconclusive") or denied or not numbers:
                wrong += 1
                print(f"{one.name}, {name}: {answer.call}, {', '.join(answer.because) or 'nothing'}")
    print(f"{wrong} of {read} wrong")


if __name__ == "__main__":
    main()
