"""Guards in front of the API."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from ninja.utils import check_csrf

from zigzag_meadow.server.problems import problem

__all__ = ["ApiGuard"]


class ApiGuard:
    """Changes through the API need the page's token: another site open in the browser cannot make them."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        changes = request.method not in ("GET", "HEAD", "OPTIONS", "TRACE")
        if changes and request.path.startswith("/api/") and check_csrf(request) is not None:
            return problem(403, "wrong-page", "This page is out of date. Load it again, then repeat what you did.")
        return self.get_response(request)
