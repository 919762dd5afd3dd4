"""The API, and one page for everything else."""

from django.urls import path, re_path

from zigzag_meadow.server.api import api
from zigzag_meadow.server.pages import index, no_such_endpoint

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api/.*$", no_such_endpoint),
    re_path(r"^(?!static/).*$", index),
]
handler404 = "zigzag_meadow.server.pages.not_found"
handler500 = "zigzag_meadow.server.pages.broken"
