"""The WSGI application."""

import os

from django.core.wsgi import get_wsgi_application

from zigzag_meadow.core.warm import warm_up

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zigzag_meadow.server.settings")
application = get_wsgi_application()

from zigzag_meadow.server.engine import desk  # noqa: E402  (settings come first)

# Load the compiled kernels now rather than in somebody's first request, and have files read from the first one on.
warm_up()
desk().start()
