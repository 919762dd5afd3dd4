"""The API: parse, call an action, return. Errors become problem details in one place."""

from __future__ import annotations

import logging
from typing import Any

import orjson
from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.renderers import BaseRenderer

from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.server.api import (
    aligning,
    deliveries,
    diagnosis,
    features,
    folders,
    formats,
    kits,
    maps,
    outside,
    painting,
    projects,
    recipes,
    started,
    survey,
    targets,
)
from zigzag_meadow.server.problems import no_room, problem, problem_of, store_problem
from zigzag_meadow.server.stale import StaleEdit

__all__ = ["api"]

log = logging.getLogger(__name__)


class _Json(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data)


api = NinjaAPI(
    title="Zigzag Meadow",
    version="1",
    docs_url=None,
    urls_namespace="api",
    renderer=_Json(),
    openapi_url="/openapi.json",
)
api.add_router("", projects.router)
api.add_router("", maps.router)
api.add_router("", diagnosis.router)
api.add_router("", survey.router)
for module in (recipes, features, folders, outside, painting, kits, deliveries, targets, aligning, started, formats):
    api.add_router("", module.router)


@api.exception_handler(StaleEdit)
def _stale(request: HttpRequest, error: StaleEdit) -> HttpResponse:
    return problem(409, error.code, error.message, current=error.current, since=error.since, both=error.both)


@api.exception_handler(MeadowError)
def _meadow(request: HttpRequest, error: MeadowError) -> HttpResponse:
    return problem_of(error)


@api.exception_handler(ValidationError)
def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    place = ".".join(str(part) for part in first.get("loc", ()) if part not in ("body", "query", "path"))
    return problem(422, "bad-request", f"{place or 'The request'}: {first.get('msg', 'not understood')}.", field=place)


@api.exception_handler(HttpError)
def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    return problem(error.status_code, "bad-request", str(error))


@api.exception_handler(DatabaseError)
def _store(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    log.warning("the store refused: %s", error)
    return store_problem(error)


@api.exception_handler(OSError)
def _disk(request: HttpRequest, error: OSError) -> HttpResponse:
    log.warning("the disk refused: %s", error)
    return problem_of(no_room(error))


@api.exception_handler(RequestDataTooBig)
def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    return problem(413, "too-large", "This is more than can be sent at once. Send it in parts.")
