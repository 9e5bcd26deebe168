"""Every marked sitting."""

from tests.marked.events import EVENT_SITTINGS
from tests.marked.sensors import SENSOR_SITTINGS
from tests.marked.throttle import THROTTLE_SITTINGS

SITTINGS = (*THROTTLE_SITTINGS, *SENSOR_SITTINGS, *EVENT_SITTINGS)
