"""Causes and next tests that sensors of airflow declare alike."""

from __future__ import annotations

from tracebench.core.circuits import common
from tracebench.core.circuits.circuit import Choice

AIR_CAUSES = (
    Choice("contaminated", "Contaminated sensor element"),
    Choice("air-leak", "Air leak after the sensor"),
    Choice("sensor", "Sensor faulty"),
)
AIR_TESTS = (
    Choice("leak-test", "Smoke or leak test of the intake"),
    Choice("scan-data", "Compare with airflow in scan data and fuel trim"),
    *common.SUPPLY_TESTS,
)
