"""Errors as problem details (RFC 7807), from one table."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpResponse

from zigzag_meadow.core.errors import (
    BadDocument,
    BadFile,
    BadNumber,
    Cancelled,
    Conflict,
    IllegalSize,
    MeadowError,
    NameTaken,
    NotFound,
    TooLarge,
)
from zigzag_meadow.core.survey.service import SurveyRefused, TileMissing

__all__ = ["problem", "problem_of"]

STATUS: tuple[tuple[type[MeadowError], int], ...] = (
    (NotFound, 404),
    (Conflict, 409),
    (NameTaken, 422),
    (TooLarge, 413),
    (BadFile, 422),
    (BadNumber, 422),
    (IllegalSize, 422),
    (BadDocument, 422),
    (Cancelled, 409),
    (TileMissing, 404),
    (SurveyRefused, 409),
)


def problem(status: int, code: str, message: str, **more: Any) -> HttpResponse:
    """A problem response: ``code`` for machines, ``detail`` as a sentence for people."""
    body = {"type": "about:blank", "title": code, "status": status, "code": code, "detail": message, **more}
    return HttpResponse(orjson.dumps(body), status=status, content_type="application/problem+json")


def problem_of(error: MeadowError) -> HttpResponse:
    status = next((number for kind, number in STATUS if isinstance(error, kind)), 422)
    return problem(status, error.code, error.message, field=error.field)
