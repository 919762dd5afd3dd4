"""Old states: told by what changed, thinned by a rule, and taken over from stores of earlier versions."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from tests.support.api import low
from tests.support.ground import hills, png16
from zigzag_meadow.core.project.model.upgrade import NEWEST
from zigzag_meadow.server import revisions, thinning
from zigzag_meadow.server.api.state_schemas import StateOut
from zigzag_meadow.server.assets import incoming, keep, sweep
from zigzag_meadow.server.models import Asset, Delivery, Job, Project, Reference, Revision

STORE = Path(__file__).parents[1] / "samples" / "store_7.sql"
NOW = datetime(2030, 5, 20, 12, 30, tzinfo=UTC)


def test_what_an_edit_answers_makes_the_state_that_is_read_anew(api, project):
    pid, base = project["id"], project["revision"]
    told = api.edit(pid, base, low(33))
    told = api.step("undo", pid)
    told = api.edit(
        pid, told["revision"], {"op": "move_mask", "mask": "steep", "to": 1}, {"op": "rename_project", "name": "X"}
    )
    revisions.forget_all()
    assert told == api.get(f"/projects/{pid}")
    # Nobody checks it each time it is sent.
    assert StateOut.model_validate(told).model_dump(mode="json") == json.loads(json.dumps(told))


def test_an_edit_answers_with_little(api, project):
    body = {"base": project["revision"], "tab": "t", "operations": [low(33)]}
    answer = api.client.post(f"/api/projects/{project['id']}/edits", body, content_type="application/json").json()
    assert {change["path"].split("/")[1] for change in answer["changes"]} >= {"document", "revision", "undo"}
    assert len(json.dumps(answer)) < len(json.dumps(project)) / 3


def test_every_state_can_be_read_however_it_is_kept(api, project):
    pid, base = project["id"], project["revision"]
    states = [project]
    for i in range(revisions.WHOLE_EVERY + 5):
        states.append(api.edit(pid, base + i, low(20 + i)))
    revisions.forget_all()
    whole = [row.number for row in Revision.objects.filter(project=pid) if row.document is not None]
    assert whole == [1, 2, 3 + revisions.WHOLE_EVERY]
    for state in states:
        assert revisions.read(pid, state["revision"]).model_dump(mode="json") == state["document"]
    # One that is damaged costs those that count since it, and no others.
    Revision.objects.filter(project=pid, number=2).update(document="odd")
    revisions.forget_all()
    with pytest.raises(revisions.Unreadable):
        revisions.read(pid, 5)
    assert revisions.read(pid, states[-1]["revision"]).model_dump(mode="json") == states[-1]["document"]


def test_a_state_counts_since_one_of_its_own_version_only(api, project):
    pid, base = project["id"], project["revision"]
    row = Revision.objects.get(project=pid, number=base)
    Revision.objects.filter(id=row.id).update(document={**row.document, "version": 4})
    revisions.forget_all()
    api.edit(pid, base, low(33))
    assert Revision.objects.get(project=pid, number=base + 1).document is not None


@pytest.mark.parametrize(
    ("ago", "kept"),
    [(timedelta(hours=23, minutes=59), True), (timedelta(days=1), False), (timedelta(days=6, hours=23), False)],
)
def test_every_edit_of_a_day_is_kept_and_one_of_an_hour_before(ago, kept):
    at = (NOW - ago).replace(minute=10, second=0) if not kept else NOW - ago
    states = [(1, at), (2, at + timedelta(minutes=1 if not kept else 0))]
    assert thinning.kept_states(states, NOW) == ({1, 2} if kept else {2})
    assert thinning.kept_states([(1, at), (2, at + timedelta(hours=1))], NOW) == {1, 2}


def test_one_of_a_day_is_kept_beyond_a_week():
    old = NOW - timedelta(days=8)
    hours = [(n, old.replace(hour=n)) for n in range(1, 10)]
    assert thinning.kept_states(hours, NOW) == {9}
    assert thinning.kept_states([(1, old), (2, old + timedelta(days=1))], NOW) == {1, 2}


def test_thinning_keeps_what_was_delivered_and_leads_undo_past_what_is_gone(api, project):
    pid, base = project["id"], project["revision"]
    states = {base + 1 + i: api.edit(pid, base + i, low(20 + i)) for i in range(6)}
    newest = max(states)
    month = datetime.now(UTC) - timedelta(days=30)
    Revision.objects.filter(project=pid).update(created_at=month.replace(hour=3))
    job = api.post(f"/projects/{pid}/deliveries", status=202)
    Delivery.objects.filter(project=pid).update(revision=base + 3)
    Job.objects.filter(pk=job["id"]).update(params={"revision": base + 1}, state="waiting")
    Revision.objects.filter(project=pid, number=base + 3).update(label="n" * 200)
    gone = thinning.thin(pid)
    left = list(Revision.objects.filter(project=pid).order_by("number").values_list("number", flat=True))
    # What others count since stays as well.
    assert left == [base, base + 1, base + 3, newest]
    assert gone == newest - 4
    assert thinning.thin(pid) == 0
    revisions.forget_all()
    back = api.step("undo", pid)
    assert back["document"] == states[base + 3]["document"]
    assert back["redo"] == f"{states[newest]['undo']}, and more"
    assert back["undo"] == "n" * 190 + ", and more"
    assert api.step("redo", pid)["document"] == states[newest]["document"]


@pytest.mark.django_db
def test_old_files_are_swept_without_a_look_into_documents(api, project, monkeypatch):
    monkeypatch.setattr(revisions, "stored", lambda *_: pytest.fail("a document was read"))
    place = incoming()
    place.write_bytes(b"nobody refers to it")
    stray = keep(place)
    assert sweep(-1) == 1
    assert not Reference.objects.filter(asset=stray).exists()
    assert api.get(f"/projects/{project['id']}/maps/mask:steep").status_code == 200


@pytest.mark.parametrize(("ago", "joins"), [(0.9, True), (1.1, False)])
def test_key_steps_within_a_second_are_one_for_undo(api, project, ago, joins):
    """As whoever does not tell when they were made is taken: by when they were saved."""
    pid, base = project["id"], project["revision"]
    api.edit(pid, base, low(30), merge="low")
    first = Revision.objects.filter(project=pid, number=base + 1)
    now = datetime.now(UTC)
    first.update(created_at=now - timedelta(seconds=ago))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("zigzag_meadow.server.projects.timezone.now", lambda: now)
        api.edit(pid, base + 1, low(31), merge="low")
    assert Revision.objects.get(project=pid, number=base + 2).back == (base if joins else base + 1)


@pytest.mark.django_db
@pytest.mark.parametrize(("hours", "stays"), [(23, True), (25, False)])
def test_a_file_that_nobody_refers_to_is_kept_for_a_day(hours, stays):
    place = incoming()
    place.write_bytes(f"{hours}".encode())
    stray = keep(place)
    Asset.objects.filter(sha256=stray).update(created_at=datetime.now(UTC) - timedelta(hours=hours))
    assert sweep() == (0 if stays else 1)
    assert Asset.objects.filter(sha256=stray).exists() is stays


def _taken_over(data: Path) -> subprocess.CompletedProcess[str]:
    code = "import django; django.setup(); from zigzag_meadow.server.taking_over import take_over; take_over()"
    command = [sys.executable, "-c", code]
    return subprocess.run(
        command, env={**os.environ, "ZIGZAG_DATA": str(data)}, capture_output=True, text=True, check=False
    )


def test_a_store_of_an_earlier_version_is_taken_over_whole_or_not_at_all(tmp_path):
    path = tmp_path / "meadow.sqlite3"
    with sqlite3.connect(path) as store:
        store.executescript(STORE.read_text())
        before = store.execute("SELECT number, document FROM server_revision ORDER BY id").fetchall()
        # As if it were cut off at its last step.
        cut_off = "BEGIN SELECT RAISE(ABORT, 'cut off'); END"
        store.execute(f"CREATE TRIGGER stop BEFORE INSERT ON django_migrations {cut_off}")
    assert _taken_over(tmp_path).returncode != 0
    with sqlite3.connect(path) as store:
        assert store.execute("SELECT number, document FROM server_revision ORDER BY id").fetchall() == before
        assert "server_reference" not in {name for (name,) in store.execute("SELECT name FROM sqlite_master")}
        store.execute("DROP TRIGGER stop")
    assert _taken_over(tmp_path).returncode == 0
    with sqlite3.connect(path) as store:
        assert store.execute("SELECT number, document FROM server_revision ORDER BY id").fetchall() == before
        named = store.execute("SELECT revision_id, asset FROM server_reference ORDER BY revision_id, asset").fetchall()
    heightmap = "2816a5e33827fc061d0eaf884674e4eaacfb6af24381fe76014b82b3d3fdad6f"
    assert [revision for revision, asset in named if asset == heightmap] == list(range(1, 9))
    # What cannot be read refers to files as well.
    assert (8, "7" * 64) in named


@pytest.mark.django_db
def test_states_of_an_earlier_version_are_read_edited_and_undone(api):
    place = incoming()
    place.write_bytes(png16(hills(33, 33)))
    heightmap = keep(place)
    old = sqlite3.connect(":memory:")
    old.executescript(STORE.read_text())
    row = Project.objects.create(name="Kept Moor", head=7)
    told = "SELECT number, document, label, asset, back, forward, tab, merge FROM server_revision WHERE id < 8"
    for number, document, *more in old.execute(told).fetchall():
        names = ("label", "asset", "back", "forward", "tab", "merge")
        made = dict(zip(names, more, strict=True))
        revision = Revision.objects.create(project=row, number=number, document=json.loads(document), **made)
        Reference.objects.create(revision=revision, asset=heightmap)
    row.holdings.create(asset=heightmap)
    state = api.get(f"/projects/{row.id}")
    assert (state["document"]["name"], state["redo"]) == ("Kept Moor", "lower edge to 32°")
    edited = api.edit(row.id, 7, {"op": "rename_project", "name": "New"})
    kept = Revision.objects.get(project=row, number=8)
    # Of another version than the one before: kept whole, and the next as what changed.
    assert (kept.document["version"], kept.since) == (NEWEST, None)
    assert edited["document"]["name"] == "New"
    assert api.step("undo", row.id)["document"] == state["document"]
