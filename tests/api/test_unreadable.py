"""Documents that cannot be read hide no other, and what lists things reads none."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.db import connection

from tests.support.server import run_all
from zigzag_meadow.server.models import Project, Revision
from zigzag_meadow.server.revisions import forget_all, stored

LOW = {"op": "rename_mask", "mask": "wet", "name": "Sikes"}


def asked(api: Any, project: dict[str, Any]) -> str:
    return str(api.post(f"/projects/{project['id']}/deliveries", status=202)["id"])


def damage(project: str, how: str) -> None:
    row = Project.objects.get(id=project)
    revision = Revision.objects.get(project=row, number=row.head)
    if how == "no json":
        with connection.cursor() as cursor:
            # As bytes that rot on the disk, which no constraint sees.
            cursor.execute("PRAGMA ignore_check_constraints = ON")
            cursor.execute(
                "UPDATE server_revision SET document = '{\"name', changes = NULL WHERE id = %s", [revision.id]
            )
            cursor.execute("PRAGMA ignore_check_constraints = OFF")
    else:
        data = json.loads(stored(project, row.head))
        data |= {"newer": {"version": 99}, "missing": {"ground": None}, "extra": {"threads": [1, 2]}}[how]
        Revision.objects.filter(id=revision.id).update(document=data)
    Project.objects.filter(id=project).update(summary=None)
    forget_all()


@pytest.mark.parametrize("how", ["no json", "newer", "missing", "extra"])
def test_a_document_that_cannot_be_read_hides_no_other(api, project, how):
    pid = project["id"]
    api.edit(pid, project["revision"], LOW)
    api.post("/flat-projects", {"name": "Other", "width": 400, "length": 300, "samples": 65}, status=201)
    damage(pid, how)
    cards = {card["name"]: card for card in api.get("/projects")}
    assert cards["Other"]["trouble"] is None
    assert cards["Test Moor"]["trouble"].startswith("This project cannot be opened.")
    for path in ("", "/maps/mask:steep", "/plan", "/targets", "/diagnosis"):
        assert api.get(f"/projects/{pid}{path}", status=409)["code"] == "unreadable"
    api.post(f"/projects/{pid}/deliveries", status=409)
    api.get(f"/projects/{pid}/deliveries")
    # It goes out as it is stored, with its heightmap.
    import io
    import zipfile

    with zipfile.ZipFile(io.BytesIO(api.saved_out(pid))) as archive:
        names = archive.namelist()
        assert names[0] == "project.json"
        if how != "missing":
            assert f"assets/{project['document']['ground']['asset']}" in names or how == "no json"
    # And back to what can be read.
    base = cards["Test Moor"]["revision"]
    back = api.post(f"/projects/{pid}/undo", {"base": base})
    assert back["document"]["masks"] == project["document"]["masks"]
    assert {card["name"]: card["trouble"] for card in api.get("/projects")} == {"Other": None, "Test Moor": None}
    assert api.get(f"/projects/{pid}/maps/mask:steep").status_code == 200


def test_undo_passes_over_states_that_cannot_be_read(api, project):
    pid, base = project["id"], project["revision"]
    state = api.edit(pid, base, LOW)
    damage(pid, "extra")
    Revision.objects.create(
        project_id=pid, number=base + 2, document=project["document"], label="later", asset="0" * 64, back=base + 1
    )
    Project.objects.filter(id=pid).update(head=base + 2)
    back = api.post(f"/projects/{pid}/undo", {"base": base + 2})
    assert back["document"] == project["document"]
    assert state["document"] != project["document"]


def test_undo_and_redo_carry_what_they_were_made_on(api, project):
    pid, base = project["id"], project["revision"]
    api.edit(pid, base, LOW)
    for way in ("undo", "redo"):
        said = api.post(f"/projects/{pid}/{way}", {"base": base}, status=409)
        assert (said["code"], said["current"], said["since"]) == ("stale-edit", base + 1, ["rename to Sikes"])
    assert api.get(f"/projects/{pid}")["revision"] == base + 1


def test_the_shelf_reads_no_documents(api, project, django_assert_max_num_queries, monkeypatch):
    api.get("/projects")
    monkeypatch.setattr("zigzag_meadow.server.revisions.read", lambda *_: pytest.fail("a document was read"))
    with django_assert_max_num_queries(4):
        (card,) = api.get("/projects")
    assert (card["rows"], card["cols"], card["layers"]) == (127, 127, 2)
    assert card["bytes"] > 10_000


def test_the_list_of_deliveries_reads_no_documents_either(api, project, monkeypatch):
    asked(api, project)
    run_all()
    monkeypatch.setattr("zigzag_meadow.server.revisions.document", lambda *_: pytest.fail("a document was read"))
    (made,) = api.get(f"/projects/{project['id']}/deliveries")
    assert all(file["key"] for file in made["files"] if file["file"].endswith(".png"))
