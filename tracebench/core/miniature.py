"""A trace in miniature, for lists: 240 bytes whatever the record's length."""

from __future__ import annotations

import base64

import numpy as np

from tracebench.core.samples import Samples

COLUMNS = 120
TOP = 255


def miniature(samples: Samples) -> bytes:
    """Least and most of even parts of a record, all least values first, 0 at its lowest sample and 255 at its highest.

    Shorter records have fewer columns. One pass over the samples.
    """
    starts = np.unique(np.linspace(0, samples.size, min(COLUMNS, samples.size), endpoint=False).astype(np.int64))
    return pictured(np.minimum.reduceat(samples, starts), np.maximum.reduceat(samples, starts))


def pictured(low: Samples, high: Samples) -> bytes:
    """The same of columns that were worked out already."""
    least = float(low.min())
    span = float(high.max()) - least or 1.0
    places = np.round((np.concatenate([low, high]) - least) / span * TOP)
    return places.astype(np.uint8).tobytes()


def as_text(picture: bytes) -> str:
    """As it goes over the wire."""
    return base64.b64encode(picture).decode()
