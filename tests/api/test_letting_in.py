"""What does not belong is not let in: names that lead elsewhere, files of other projects, too much, other origins."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tests.support.ground import document, hills, png16
from zigzag_meadow.core.errors import NotFound, TooLarge
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.server import assets, uploads
from zigzag_meadow.server.models import Holding

NAMES = [
    "/etc/passwd",
    "../../secret",
    "..",
    "",
    "0" * 63,
    "0" * 65,
    "G" * 64,
    "A" * 64,
    "0" * 64 + "\n",
    "./" + "0" * 62,
    "secret",
    "0" * 32 + "/" + "0" * 31,
    "\x00" * 64,
    "０" * 64,
]


def picture(asset: str) -> dict[str, Any]:
    return {"op": "add_reading", "setting": {"id": "pic", "kind": "picture", "numbers": {"asset": asset}}}


def touched(asset: str) -> dict[str, Any]:
    return {"op": "add_line", "mask": "wet", "line": {"id": "t", "verb": "touch_up", "asset": asset}}


# Names ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES, ids=[repr(n)[:20] for n in NAMES])
def test_only_checksums_lead_to_files(api, project, data_folder, name):
    """The server's own secret lies in the data folder: no name of a file may reach it."""
    assert (data_folder / "secret").is_file()
    with pytest.raises(NotFound):
        assets.asset_path(name)
    pid, base = project["id"], project["revision"]
    if name:
        api.edit(pid, base, picture(name), status=422)
        api.edit(pid, base, touched(name), status=422)
        kit = {
            "kit": 1,
            "name": "K",
            "heights": {"low": 0, "high": 1},
            "masks": [],
            "readings": [{"id": "p", "kind": "picture", "numbers": {"asset": name}}],
        }
        file = SimpleUploadedFile("k.kit.json", json.dumps(kit).encode())
        assert api.client.post("/api/kits/bring-in", {"file": file}).status_code == 422
        api.edit(pid, base, {"op": "apply_kit", "kit": kit, "prefix": "aaaa"}, status=422)
    api.post("/heightmaps/again", {"asset": name, "name": "x.png"}, status=422)
    api.post(f"/projects/{pid}/strokes", {"asset": name, "strokes": []}, status=422)
    source = {"asset": name, "name": "x.png"}
    api.post(f"/projects/{pid}/replace", {"base": base, "tab": "t", "source": source, "keep": "extent"}, status=422)
    assert api.get(f"/projects/{pid}")["revision"] == base


def project_file(change: Any, **more: bytes) -> bytes:
    """A project file whose document was changed by a stranger."""
    image = png16(hills(127, 127))
    data = document()
    data["ground"]["asset"] = hashlib.sha256(image).hexdigest()
    change(data)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("project.json", json.dumps(data))
        archive.writestr(f"assets/{hashlib.sha256(image).hexdigest()}", image)
        for name, content in more.items():
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize("name", [n for n in NAMES if n])
def test_a_project_file_cannot_write_or_delete_outside(api, tmp_path, name):
    victim = tmp_path / "victim.part"
    victim.write_text("precious")
    reach = str(victim.with_suffix("")) if name.startswith("/") else name

    def change(data: dict[str, Any]) -> None:
        data["readings"] = [{"id": "p", "kind": "picture", "numbers": {"asset": reach}}]

    before = sorted(p.name for p in Path(settings.MEADOW_DATA).rglob("*") if "kernels" not in p.parts)
    api.upload("/projects/bring-in", "stranger.zip", project_file(change, **{f"assets/{reach}": b"x"}), status=422)
    assert victim.read_text() == "precious"
    after = sorted(p.name for p in Path(settings.MEADOW_DATA).rglob("*") if "kernels" not in p.parts)
    assert [n for n in after if n not in before and "sqlite" not in n] == []


# Whose files ---------------------------------------------------------------------------------------------------


def test_a_project_cannot_reach_for_what_another_holds(api, project):
    """A stranger who knows a checksum gets nothing: not by an edit, a preview, strokes, a kit or a project file."""
    pid, base = project["id"], project["revision"]
    secret = api.upload(f"/projects/{pid}/pictures", "plan.png", png16(np.full((30, 40), 7, np.uint16)))["asset"]
    project = api.edit(pid, base, picture(secret))
    other = api.post("/flat-projects", {"name": "Other", "width": 400, "length": 300, "samples": 65}, status=201)
    oid = other["id"]
    assert "not brought into this project" in api.edit(oid, 1, picture(secret), status=404)["detail"]
    ask = {"tab": "t", "slot": "s", "sequence": 1, "map": "reading:pic", "operations": [picture(secret)]}
    api.post(f"/projects/{oid}/preview", ask, status=404)
    api.post(f"/projects/{oid}/strokes", {"asset": secret, "strokes": []}, status=404)

    def names_it(data: dict[str, Any]) -> None:
        data["readings"] = [{"id": "p", "kind": "picture", "numbers": {"asset": secret}}]

    refused = api.upload("/projects/bring-in", "stranger.zip", project_file(names_it), status=422)
    assert "holds no" in refused["detail"]
    # What was brought into a project stays usable there, also after undo, in copies, and saved out and in again.
    api.step("undo", pid)
    assert api.step("redo", pid)["document"]["readings"]
    copy = api.post(f"/projects/{pid}/duplicate", status=201)
    api.edit(copy["id"], 1, {"op": "delete_reading", "reading": "pic"}, picture(secret))
    back = api.upload("/projects/bring-in", "mine.zip", api.saved_out(pid), status=201)
    assert back["document"]["readings"] == project["document"]["readings"]
    assert Holding.objects.filter(asset=secret).count() == 3


def test_what_nobody_holds_yet_is_the_first_ones_who_takes_it(api):
    found = api.upload("/heightmaps", "h.png", png16(hills(64, 64, 9)))
    assert Holding.objects.get(asset=found["asset"]).project is None
    new = {
        "name": "First",
        "source": {"asset": found["asset"], "name": "h.png"},
        "heights": "range",
        "low": 0,
        "high": 90,
        "spacing_x": 2,
        "spacing_y": 2,
    }
    first = api.post("/projects", new, status=201)
    assert Holding.objects.get(asset=found["asset"]).project_id == first["id"]
    other = api.post("/flat-projects", {"name": "Other", "width": 400, "length": 300, "samples": 65}, status=201)
    source = {"asset": found["asset"], "name": "h.png"}
    wanted = {"base": 1, "tab": "t", "source": source, "keep": "extent"}
    api.post(f"/projects/{other['id']}/replace", wanted, status=404)
    api.upload("/heightmaps", "h.png", png16(hills(64, 64, 9)))
    assert api.post(f"/projects/{other['id']}/replace", wanted)["document"]["ground"]["asset"] == found["asset"]


def test_a_file_that_is_gone_from_the_store_is_not_taken(api, project):
    asset = api.upload(f"/projects/{project['id']}/pictures", "p.png", png16(hills(30, 30)))["asset"]
    assets.asset_path(asset).unlink()
    api.edit(project["id"], project["revision"], picture(asset), status=404)


# Too much ------------------------------------------------------------------------------------------------------


class Counting(io.BytesIO):
    """A body that counts how much of it was read."""

    taken = 0

    def read(self, size: int | None = -1) -> bytes:
        part = super().read(size)
        self.taken += len(part)
        return part


def test_an_upload_is_refused_while_it_streams(monkeypatch, client):
    """By what it says of its length at once; by what comes, as soon as it is too much."""
    monkeypatch.setattr("zigzag_meadow.server.middleware.MOST_SENT", 2_000_000)
    said = client.post("/api/heightmaps", {"file": SimpleUploadedFile("h.png", bytes(3_000_000))})
    assert said.status_code == 413
    assert "can be sent at once" in json.loads(said.content)["detail"]
    monkeypatch.setattr(uploads, "MOST_SENT", 5_000_000)
    handler = uploads.LimitedUpload()
    handler.new_file("file", "h.png", "image/png", None)
    handler.receive_data_chunk(bytes(5_000_000), 0)
    with pytest.raises(TooLarge, match=r"At most 600 MiB"):
        handler.receive_data_chunk(b"x", 5_000_000)
    assert not Path(handler.file.temporary_file_path()).exists()


@pytest.mark.django_db
def test_a_streaming_upload_that_grows_too_large_leaves_nothing(monkeypatch):
    monkeypatch.setattr(uploads, "MOST_SENT", 3_000_000)
    before = set(Path(settings.FILE_UPLOAD_TEMP_DIR).iterdir())
    body = b"".join(
        (
            b'--b\r\nContent-Disposition: form-data; name="file"; filename="h.png"\r\n\r\n',
            bytes(9_000_000),
            b"\r\n--b--\r\n",
        )
    )
    stream = Counting(body)
    made = Client().generic(
        "POST",
        "/api/heightmaps",
        b"x",
        content_type="multipart/form-data; boundary=b",
        **{"wsgi.input": stream, "CONTENT_LENGTH": str(len(body))},
    )
    assert made.status_code == 413, made.content
    assert made["Content-Type"] == "application/problem+json"
    assert stream.taken < 5_000_000
    assert set(Path(settings.FILE_UPLOAD_TEMP_DIR).iterdir()) == before


@pytest.mark.parametrize("length", ["-1", "1e9", "x", "²", "9" * 5000])
def test_a_length_that_is_none_is_refused(client, length):
    said = client.generic("POST", "/api/heightmaps", b"", content_type="text/plain", CONTENT_LENGTH=length)
    assert said.status_code == 413


def test_more_json_than_fits_is_a_problem(api, project):
    lines = [{"op": "rename_project", "name": "x" * 60}] * 300_000
    body = json.dumps({"base": 1, "tab": "", "operations": lines})
    said = api.client.post(f"/api/projects/{project['id']}/edits", body, content_type="application/json")
    assert said.status_code == 413
    assert json.loads(said.content)["code"] == "too-large"


# Pages ---------------------------------------------------------------------------------------------------------


def test_pages_load_nothing_from_elsewhere_and_changes_need_the_token(client, monkeypatch, tmp_path):
    (tmp_path / "index.html").write_text("<!doctype html><title>page</title>")
    monkeypatch.setattr("zigzag_meadow.server.pages.FRONTEND", tmp_path)
    policy = client.get("/")["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy
    script = next(part for part in policy.split(";") if "script-src" in part)
    assert "unsafe" not in script
    assert "http" not in policy
    guarded = Client(enforce_csrf_checks=True)
    said = guarded.post("/api/projects/x/undo", "{}", content_type="application/json")
    assert (said.status_code, json.loads(said.content)["code"]) == (403, "wrong-page")
    assert settings.CSRF_TRUSTED_ORIGINS == []


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("PATCH", "/api/projects", 405),
        ("GET", "/api/nothing", 404),
        ("DELETE", "/api/kits", 405),
        ("POST", "/api/heightmaps", 422),
        ("GET", "/api/projects/none", 404),
        ("PUT", "/api/survey", 405),
    ],
)
def test_every_refusal_is_a_problem(client, method, path, status):
    said = client.generic(method, path)
    assert said.status_code == status
    assert said["Content-Type"] == "application/problem+json"
    assert json.loads(said.content)["detail"].endswith(".")


@pytest.mark.django_db
def test_a_broken_form_is_a_problem(client):
    said = client.generic("POST", "/api/heightmaps", b"no form", content_type="multipart/form-data; boundary=")
    assert said.status_code == 400
    assert json.loads(said.content)["detail"] == "The request could not be understood."


def test_nobody_else_on_the_machine_reads_the_data_folder(data_folder):
    assert data_folder.stat().st_mode & 0o777 == 0o700
    assert (data_folder / "secret").stat().st_mode & 0o777 == 0o600


# The helper that reads files -----------------------------------------------------------------------------------


# What is beyond any height may overflow to no number.
@pytest.mark.filterwarnings("ignore::RuntimeWarning")
def test_heights_that_no_ground_has_are_found_and_break_nothing(api):
    """Every map, number and line of a ground with ±1e38 in it answers, or says in a sentence why it cannot."""
    z = hills(70, 90, 3).astype(np.float32) / 100
    z[20, 30], z[41, 52] = 1e38, -1e38
    out = io.BytesIO()
    np.save(out, z)
    found = api.upload("/heightmaps", "h.npy", out.getvalue())
    new = {
        "name": "Marked",
        "source": {"asset": found["asset"], "name": "h.npy"},
        "heights": "stored",
        "spacing_x": 2,
        "spacing_y": 2,
    }
    made = api.post("/projects", new, status=201)
    diagnosis = api.get(f"/projects/{made['id']}/diagnosis")
    assert [f["code"] for f in diagnosis["findings"]] == ["impossible"]
    names = ["ground", "finding:impossible", *(f"reading:{r.name}" for r in READINGS)]
    asked = [f"{what}{name}" for name in names for what in ("maps/", "stats?name=")]
    answers = {path: api.client.get(f"/api/projects/{made['id']}/{path}").status_code for path in asked}
    assert {path: status for path, status in answers.items() if status >= 500} == {}
    assert answers["maps/finding:impossible"] == answers["maps/reading:slope"] == 200
