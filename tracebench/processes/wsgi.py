"""The application that the web processes serve."""

import os

from tracebench.core.circuits import CIRCUITS
from tracebench.settings import Settings
from tracebench.web import create_app

app = create_app(Settings.from_env(os.environ))
# All of them before the first person asks, not one by one while somebody waits.
list(CIRCUITS.values())
