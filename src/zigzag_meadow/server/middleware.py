"""Guards in front of the API and around the pages."""

from __future__ import annotations

import logging
import secrets
import time
from collections.abc import Callable

from django.core.exceptions import BadRequest, RequestDataTooBig, SuspiciousOperation
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.http.multipartparser import MultiPartParserError
from ninja.utils import check_csrf

from zigzag_meadow.core.errors import MeadowError, TooLarge
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.gone import gone
from zigzag_meadow.server.memory import in_use
from zigzag_meadow.server.problems import no_room, problem, problem_of, store_problem
from zigzag_meadow.server.rooms import Full, room_for, waiting_on
from zigzag_meadow.server.uploads import MOST_SENT, too_much

__all__ = ["START", "ApiGuard", "PageGuard"]

log = logging.getLogger(__name__)
Answer = Callable[[HttpRequest], HttpResponse]
START = secrets.token_hex(8)
"""Names this start of the process: pages see by it that it is another one."""
_SAFE = ("GET", "HEAD", "OPTIONS", "TRACE")
_SAYS = {
    400: "The request could not be understood.",
    403: "This page is out of date. Load it again, then repeat what you did.",
    404: "There is nothing at this address.",
    405: "This address does not take such requests.",
    413: "This is more than can be sent at once.",
    415: "This address takes another kind of content.",
}


class ApiGuard:
    """Changes need the page's token: another site open in the browser cannot make them. Every refusal, whoever made
    it, leaves as a problem with a sentence."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.path.startswith("/api/"):
            return self.get_response(request)
        in_use()
        start = time.perf_counter()
        response = self._guarded(request)
        # How much of a wait was this server: browsers show it beside the rest of the way.
        response.headers["X-Start"] = START
        response.headers["Server-Timing"] = f"app;dur={(time.perf_counter() - start) * 1000:.1f}"
        return response

    def _guarded(self, request: HttpRequest) -> HttpResponse:
        try:
            response = self._answer(request)
        except MeadowError as error:
            return problem_of(error)
        except RequestDataTooBig:
            return problem(413, TooLarge.code, _SAYS[413])
        except (SuspiciousOperation, BadRequest, MultiPartParserError):
            return problem(400, "bad-request", _SAYS[400])
        except DatabaseError as error:
            return store_problem(error)
        except OSError as error:
            return problem_of(no_room(error))
        kind = response.headers.get("Content-Type", "")
        if response.status_code < 400 or kind.startswith("application/problem+json"):
            return response
        said = _SAYS.get(response.status_code, "The request was refused.")
        return problem(response.status_code, "bad-request", said)

    def _answer(self, request: HttpRequest) -> HttpResponse:
        if request.method not in _SAFE:
            length = request.META.get("CONTENT_LENGTH") or "0"
            if not length.isdecimal() or len(length) > 18 or int(length) > MOST_SENT:
                raise too_much()
            # Looking for the token may read the form, so limits apply already here.
            if check_csrf(request) is not None:
                return problem(403, "wrong-page", _SAYS[403])
        room = room_for(request)
        if room is None:
            return self.get_response(request)
        owner = request.path.split("/")[3]
        try:
            with waiting_on(engine().board, owner, room, gone(request)):
                return self.get_response(request)
        except Full:
            response = problem(503, "busy", "Very much is asked for at once. Nothing was lost; it is tried again.")
            response["Retry-After"] = "1"
            return response


class PageGuard:
    """Pages load and talk to nothing but this application, and show in no other site's frame."""

    POLICY = (
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        "font-src 'self' data:; connect-src 'self'; worker-src 'self' blob:; manifest-src 'self'; base-uri 'none'; "
        "form-action 'self'; frame-ancestors 'none'"
    )

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", self.POLICY)
        return response
