"""The WSGI application."""

import os
import threading

from django.core.wsgi import get_wsgi_application

from zigzag_meadow.core.warm import warm_up

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zigzag_meadow.server.settings")
application = get_wsgi_application()

from zigzag_meadow.server.engine import desk  # noqa: E402  (settings come first)

# Compiled kernels are loaded while the first page is on its way, rather than when somebody first needs them.
desk().start()
threading.Thread(target=warm_up, name="kernels", daemon=True).start()
