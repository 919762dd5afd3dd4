"""Errors as problem details (RFC 7807), from one table."""

from __future__ import annotations

import errno
from typing import Any

import orjson
from django.db import DatabaseError
from django.http import HttpResponse

from zigzag_meadow.core.errors import (
    BadDocument,
    BadFile,
    BadNumber,
    BadText,
    Cancelled,
    Conflict,
    EndedTwice,
    IllegalSize,
    MeadowError,
    NameTaken,
    NoRoom,
    NotFound,
    TooLarge,
)
from zigzag_meadow.core.survey.desk import SurveyRefused, TileMissing

__all__ = ["no_room", "problem", "problem_of", "store_problem"]

STATUS: tuple[tuple[type[MeadowError], int], ...] = (
    (NotFound, 404),
    (Conflict, 409),
    (NameTaken, 422),
    (TooLarge, 413),
    (NoRoom, 507),
    (BadFile, 422),
    (BadNumber, 422),
    (BadText, 422),
    (IllegalSize, 422),
    (BadDocument, 422),
    (Cancelled, 409),
    (EndedTwice, 409),
    (TileMissing, 404),
    (SurveyRefused, 409),
)


def problem(status: int, code: str, message: str, **more: Any) -> HttpResponse:
    """A problem response: ``code`` for machines, ``detail`` as a sentence for people."""
    body = {"type": "about:blank", "title": code, "status": status, "code": code, "detail": message, **more}
    return HttpResponse(orjson.dumps(body), status=status, content_type="application/problem+json")


_FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG}
_SHUT = {errno.EROFS, errno.EACCES, errno.EPERM}
# What the database says when its disk is to blame (https://sqlite.org/rescode.html), and what that means.
_STORE = (
    ("disk is full", "The disk is full: nothing was saved, and nothing was lost. Make room, then do it again."),
    ("readonly", "The data folder may not be written: nothing was saved, and nothing was lost."),
    ("disk i/o", "The disk did not take it: nothing was saved, and nothing was lost. Is there room on it?"),
    ("unable to open", "The data folder cannot be opened: nothing was saved. Is its disk there?"),
    ("malformed", "The project store is damaged on the disk. Restore the data folder from a copy."),
)


def no_room(error: OSError) -> MeadowError:
    """A disk's refusal in a sentence. Anything else than a disk that is full or shut is an error of ours."""
    if error.errno in _FULL:
        return NoRoom("The disk is full: nothing was lost. Make room, then do it again.")
    if error.errno in _SHUT:
        return NoRoom("The data folder may not be written: nothing was lost. Look at its rights and its disk.")
    raise error


def store_problem(error: DatabaseError) -> HttpResponse:
    """What the project store refuses: for now when it is busy, until there is room when its disk is full."""
    text = str(error).lower()
    told = next((sentence for words, sentence in _STORE if words in text), None)
    if told is not None:
        return problem(507, NoRoom.code, told)
    if "locked" not in text and "busy" not in text:
        raise error
    response = problem(503, "busy", "The project store is busy. Nothing was lost; try again in a moment.")
    response["Retry-After"] = "1"
    return response


def problem_of(error: MeadowError) -> HttpResponse:
    status = next((number for kind, number in STATUS if isinstance(error, kind)), 422)
    return problem(status, error.code, error.message, field=error.field)
