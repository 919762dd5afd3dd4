"""The application's one page."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from zigzag_meadow.server.problems import problem
from zigzag_meadow.server.settings import FRONTEND

__all__ = ["broken", "index", "no_such_endpoint", "not_found"]


@never_cache
@ensure_csrf_cookie
def index(request: HttpRequest) -> HttpResponse:
    """The built page. It finds its own way from the address."""
    page = FRONTEND / "index.html"
    if not page.is_file():
        return HttpResponse("The pages are not built yet. Run: make build", status=503, content_type="text/plain")
    return HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")


def no_such_endpoint(request: HttpRequest) -> HttpResponse:
    return problem(404, "not-found", f"There is no {request.path} in this API.")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return problem(404, "not-found", "There is nothing at this address.")


def broken(request: HttpRequest) -> HttpResponse:
    return problem(500, "broken", "Something broke that should not. Nothing was saved half; the log says more.")
