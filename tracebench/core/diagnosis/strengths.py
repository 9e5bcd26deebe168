"""How surely a cause makes a finding, and how often a sound part shows a strange one.

Common practice, no published source.
"""

from __future__ import annotations

from tracebench.core.circuits.threshold import Threshold

_SOURCE = "(common practice, no published source)"

SURELY = Threshold(0.99, "", f"A cause makes the finding surely {_SOURCE}")
MOSTLY = Threshold(0.8, "", f"A cause makes the finding mostly {_SOURCE}")
AT_TIMES = Threshold(0.4, "", f"A cause makes the finding at times {_SOURCE}")
HARDLY = Threshold(0.1, "", f"A cause makes the finding hardly ever {_SOURCE}")
NEVER = Threshold(0.005, "", f"What a cause never makes, seen all the same {_SOURCE}")

STRANGE = Threshold(0.02, "", f"A capture of a sound part holds any strange finding, all codes together {_SOURCE}")
WITHOUT_CONDITION = Threshold(0.1, "", f"Part of its strength that shows without the cause's condition {_SOURCE}")
SCAN_PART = Threshold(0.5, "", f"Part of a scope lane's strength that scan data tell {_SOURCE}")
