"""Captures as files of several kinds, written by the libraries themselves and not by the product."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping

import h5py
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
from scipy.io import savemat

from tracebench.core.capture import Capture


def rows_of(capture: Capture) -> dict[str, np.ndarray]:
    """Times and samples under the names that a scope with channels gives them."""
    times = capture.start_s + np.arange(capture.samples) * capture.interval_s
    channels = {f"Channel {chr(65 + k)}": lane.samples for k, lane in enumerate(capture.lanes.values())}
    return {"time": times, **channels}


def text_of(capture: Capture) -> bytes:
    """Comma, point, units in the header."""
    rows = rows_of(capture)
    units = ["s", *(lane.unit for lane in capture.lanes.values())]
    head = ",".join(f"{name} ({unit})" for name, unit in zip(rows, units, strict=True))
    body = "\n".join(",".join(f"{v:.7g}" for v in row) for row in zip(*rows.values(), strict=True))
    return f"{head}\n{body}\n".encode()


def matlab_of(capture: Capture) -> bytes:
    out = io.BytesIO()
    savemat(out, {name.replace(" ", "_"): values for name, values in rows_of(capture).items()})
    return out.getvalue()


def parquet_of(capture: Capture) -> bytes:
    out = io.BytesIO()
    pq.write_table(pa.table({name: pa.array(values) for name, values in rows_of(capture).items()}), out)
    return out.getvalue()


def hdf5_of(capture: Capture) -> bytes:
    out = io.BytesIO()
    with h5py.File(out, "w") as file:
        for name, values in rows_of(capture).items():
            file[name] = values
    return out.getvalue()


def zip_of(files: Mapping[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()
