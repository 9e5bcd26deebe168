"""The application that gunicorn serves."""

import os

from tracebench.settings import Settings
from tracebench.web import create_app

app = create_app(Settings.from_env(os.environ))
