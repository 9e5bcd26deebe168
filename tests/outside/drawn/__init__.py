"""Drawn records of all circuits: makers by circuit, a room a family, with the kinds that each draws."""

from tests.outside.drawn.air import KINDS as AIR
from tests.outside.drawn.feeds import KINDS as FEEDS
from tests.outside.drawn.ignition import KINDS as IGNITION
from tests.outside.drawn.injectors import KINDS as INJECTORS
from tests.outside.drawn.mixture import KINDS as MIXTURE
from tests.outside.drawn.swept import KINDS as SWEPT
from tests.outside.drawn.wheels import KINDS as WHEELS

SENSORS = {**SWEPT, **AIR, **MIXTURE, **WHEELS, **FEEDS}
PULSES = {**INJECTORS, **IGNITION}
