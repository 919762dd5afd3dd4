"""Every refusal, whoever makes it, leaves as a problem: a status, a code, and a sentence that helps."""

from __future__ import annotations

import errno
import json
import os

import pytest
from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db import OperationalError
from django.http import HttpResponse
from django.test import Client, RequestFactory

from tests.support.ground import hills, png16
from zigzag_meadow.core import errors
from zigzag_meadow.core.survey.desk import SurveyRefused, TileMissing
from zigzag_meadow.server.folders import files_there
from zigzag_meadow.server.middleware import START, ApiGuard
from zigzag_meadow.server.problems import problem_of
from zigzag_meadow.server.uploads import MOST_SENT


def guarded(answer):
    made = ApiGuard(answer)(RequestFactory().get("/api/anything"))
    assert made.headers["X-Start"] == START
    assert made.headers["Content-Type"] == "application/problem+json"
    said = json.loads(made.content)
    assert (said["status"], said["detail"][-1] in ".?") == (made.status_code, True)
    return made, said["detail"]


@pytest.mark.parametrize(
    ("status", "words"),
    [
        (400, "could not be understood"),
        (403, "Load it again"),
        (404, "nothing at this address"),
        (405, "does not take such requests"),
        (413, "more than can be sent"),
        (415, "another kind of content"),
        (418, "was refused"),
    ],
)
def test_a_refusal_of_the_frame_work_is_a_sentence(status, words):
    made, said = guarded(lambda _: HttpResponse("<h1>no</h1>", status=status))
    assert made.status_code == status
    assert words in said


@pytest.mark.parametrize(
    ("error", "status", "words"),
    [
        (RequestDataTooBig(), 413, "more than can be sent"),
        (SuspiciousOperation(), 400, "could not be understood"),
        (OSError(errno.ENOSPC, "x"), 507, "disk is full"),
        (OSError(errno.EDQUOT, "x"), 507, "disk is full"),
        (OSError(errno.EFBIG, "x"), 507, "disk is full"),
        (OSError(errno.EROFS, "x"), 507, "may not be written"),
        (OSError(errno.EACCES, "x"), 507, "may not be written"),
        (OSError(errno.EPERM, "x"), 507, "may not be written"),
        (OperationalError("database or disk is full"), 507, "disk is full"),
        (OperationalError("attempt to write a readonly database"), 507, "may not be written"),
        (OperationalError("disk I/O error"), 507, "did not take it"),
        (OperationalError("unable to open database file"), 507, "cannot be opened"),
        (OperationalError("database disk image is malformed"), 507, "damaged"),
        (OperationalError("database is locked"), 503, "busy"),
        (errors.TooLarge("It is too large."), 413, "too large"),
    ],
)
def test_what_is_raised_is_a_sentence(error, status, words):
    def raising(_):
        raise error

    made, said = guarded(raising)
    assert made.status_code == status
    assert words in said
    assert ("Retry-After" in made.headers) == (status == 503)


def test_mistakes_of_ours_are_not_told_as_anything_else():
    for error in (OSError(errno.EBADF, "x"), OperationalError("no such table")):

        def raising(_, error=error):
            raise error

        with pytest.raises(type(error)):
            guarded(raising)


@pytest.mark.parametrize(
    ("kind", "status"),
    [
        (errors.NotFound, 404),
        (errors.Conflict, 409),
        (errors.NameTaken, 422),
        (errors.TooLarge, 413),
        (errors.NoRoom, 507),
        (errors.BadFile, 422),
        (errors.BadNumber, 422),
        (errors.IllegalSize, 422),
        (errors.BadDocument, 422),
        (errors.WrongFormat, 422),
        (TileMissing, 404),
        (SurveyRefused, 409),
    ],
)
def test_every_kind_of_error_has_its_status(kind, status):
    assert problem_of(kind("So it is.")).status_code == status


@pytest.mark.django_db
@pytest.mark.parametrize(("length", "status"), [(str(MOST_SENT + 1), 413), ("9" * 19, 413), ("-1", 413), ("x", 413)])
def test_what_says_that_it_is_too_long_is_not_read(length, status):
    made = Client().post("/api/projects", b"{}", content_type="application/json", headers={"Content-Length": length})
    assert made.status_code == status
    assert "600 MiB" in made.json()["detail"]


def test_the_newest_five_hundred_files_of_a_folder_are_shown(tmp_path, settings):
    settings.MEADOW_FOLDERS = [str(tmp_path.resolve())]
    data = png16(hills(8, 8))
    for number in range(502):
        path = tmp_path / f"f{number:03d}.png"
        path.write_bytes(data)
        os.utime(path, ns=(10**18, 10**18 + number * 10**9))
    names = [item["name"] for item in files_there()]
    assert names == [f"f{number:03d}.png" for number in range(501, 1, -1)]
