"""The WSGI application."""

import gc

# Nearly all that is made while modules load stays: to look for what does not takes a fifth of the time.
gc.disable()

import os  # noqa: E402
import sys  # noqa: E402
import threading  # noqa: E402

from django.core.wsgi import get_wsgi_application  # noqa: E402

from zigzag_meadow.core.warm import warm_up  # noqa: E402

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zigzag_meadow.server.settings")
application = get_wsgi_application()

# Settings come first; what is not loaded here the first request would wait for.
import zigzag_meadow.server.urls  # noqa: E402, F401
from zigzag_meadow.server.engine import file_reader, watch  # noqa: E402
from zigzag_meadow.server.lifeline import wait_until_ready  # noqa: E402
from zigzag_meadow.server.memory import give_back_when_idle  # noqa: E402

gc.freeze()
gc.enable()
# What is quick gets its turn sooner beside threads that compute.
sys.setswitchinterval(0.001)
wait_until_ready()
# Compiled kernels are loaded while the first page is on its way, rather than when somebody first needs them.
watch()
file_reader().start()
threading.Thread(target=warm_up, name="kernels", daemon=True).start()
give_back_when_idle()
