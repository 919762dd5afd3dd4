"""The WSGI application."""

import os

from django.core.wsgi import get_wsgi_application

from zigzag_meadow.core.warm import warm_up

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zigzag_meadow.server.settings")
application = get_wsgi_application()

# Load the compiled kernels now rather than in somebody's first request.
warm_up()
