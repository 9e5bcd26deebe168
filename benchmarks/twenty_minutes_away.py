"""The network gone for twenty real minutes of a sitting, thirty answers typed meanwhile, in a real browser.

.venv/bin/python -m benchmarks.twenty_minutes_away [minutes]
"""

from __future__ import annotations

import sys
import unittest

from tests.ui.test_twenty_minutes_away import TwentyMinutes


def main() -> None:
    TwentyMinutes.AWAY_S = 60 * (float(sys.argv[1]) if len(sys.argv) > 1 else 20.0)
    tests = unittest.defaultTestLoader.loadTestsFromTestCase(TwentyMinutes)
    told = unittest.TextTestRunner(verbosity=2).run(tests)
    sys.exit(not told.wasSuccessful())


if __name__ == "__main__":
    main()
