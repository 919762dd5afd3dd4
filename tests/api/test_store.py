"""What is kept, and what is not: assets, sweeping, preparing, the worker's claims, a busy store."""

from __future__ import annotations

import shutil
import threading
from datetime import timedelta
from pathlib import Path

import pytest
from django.conf import settings
from django.core.management import call_command
from django.db import OperationalError
from django.utils import timezone

from tests.support.api import low
from tests.support.ground import hills, png16
from tests.support.server import claim
from tests.support.site import ROOT
from zigzag_meadow.core.errors import NotFound, TooLarge
from zigzag_meadow.server import assets, engine, jobs, work
from zigzag_meadow.server.models import Asset, Delivery, Job, Project, Revision
from zigzag_meadow.server.revisions import stored


def put(data: bytes) -> str:
    path = assets.incoming()
    path.write_bytes(data)
    return assets.keep(path)


@pytest.mark.django_db
def test_equal_files_are_kept_once():
    first, second = put(b"the same"), put(b"the same")
    assert first == second
    assert Asset.objects.count() == 1
    assert assets.asset_path(first).read_bytes() == b"the same"
    with pytest.raises(NotFound, match="missing from the data folder"):
        assets.asset_path("0" * 64)


@pytest.mark.django_db
def test_sweeping_takes_what_nobody_refers_to(project):
    stray = put(b"nobody's")
    used = project["document"]["ground"]["asset"]
    assert assets.sweep() == 0
    Asset.objects.update(created_at=timezone.now() - timedelta(days=3))
    assert assets.sweep() == 1
    assert assets.asset_path(used).exists()
    with pytest.raises(NotFound):
        assets.asset_path(stray)


@pytest.mark.django_db
def test_what_is_brought_in_again_while_it_is_swept_stays(monkeypatch):
    names = {put(content) for content in (b"one", b"two")}
    Asset.objects.update(created_at=timezone.now() - timedelta(days=3))
    looked: list[str] = []

    def meanwhile(asset):
        looked.append(asset)
        for content in (b"one", b"two"):
            put(content)
        return False

    monkeypatch.setattr(assets, "_is_used", meanwhile)
    assert assets.sweep() == 1
    (kept,) = names - set(looked)
    assert assets.asset_path(kept).is_file()


@pytest.mark.django_db
def test_old_revisions_keep_their_heightmap(api, project):
    """Undo must be able to go back to any ground, so every revision counts as a user."""
    Asset.objects.update(created_at=timezone.now() - timedelta(days=3))
    api.call("DELETE", f"/projects/{project['id']}", status=204)
    assert assets.sweep() == 0
    api.post(f"/projects/{project['id']}/restore")
    assert api.get(f"/projects/{project['id']}/maps/reading:height")["X-Map-Type"] == "f32"


def test_an_upload_over_the_limit_stops_early_and_leaves_nothing(monkeypatch, data_folder):
    monkeypatch.setattr(assets, "MOST_BYTES", 1000)
    taken = []

    def chunks():
        for i in range(100):
            taken.append(i)
            yield bytes(400)

    with pytest.raises(TooLarge, match="over"):
        assets.store_chunks(chunks(), "big.r16")
    assert len(taken) == 3
    assert list((data_folder / "assets" / "incoming").iterdir()) == []


@pytest.mark.django_db
def test_preparing_twice_puts_the_demos_on_the_shelf_once():
    # Textures made before are taken: what is looked at here is the shelf.
    made = ROOT / "build" / "prepared" / "maps"
    if made.is_dir():
        shutil.copytree(made, settings.MEADOW_DATA / "maps", dirs_exist_ok=True)
    for _ in range(2):
        call_command("prepare", "--demo", verbosity=0)
    assert sorted(Project.objects.values_list("name", flat=True)) == ["Lantern Moor", "Skerry Sound"]
    Project.objects.update(deleted_at=timezone.now())
    call_command("prepare", "--demo", verbosity=0)
    assert Project.objects.count() == 2


@pytest.mark.django_db
def test_every_edit_is_a_revision_and_none_is_lost(api, project):
    pid = project["id"]
    for i in range(3):
        api.edit(pid, project["revision"] + i, low(40 + i))
    api.step("undo", pid)
    rows = list(Revision.objects.filter(project_id=pid).order_by("number"))
    assert [row.number for row in rows] == list(range(1, len(rows) + 1))
    assert [row.number for row in rows if row.document is not None] == [1, 2]
    assert stored(pid, len(rows)) == stored(pid, len(rows) - 2) != stored(pid, len(rows) - 1)
    assert all(row.asset == project["document"]["ground"]["asset"] for row in rows)


def test_a_busy_store_asks_to_try_again(api, project, monkeypatch):
    def locked(*_: object, **__: object) -> None:
        raise OperationalError("database is locked")

    monkeypatch.setattr("zigzag_meadow.server.projects.find", locked)
    said = api.get(f"/projects/{project['id']}", status=503)
    assert said["code"] == "busy"
    assert "Nothing was lost" in said["detail"]


@pytest.mark.django_db
def test_jobs_run_oldest_first_and_one_at_a_time(api, project):
    pid = project["id"]
    wanted = [api.post(f"/projects/{pid}/deliveries", status=202)["id"] for _ in range(3)]
    claims, taken = jobs.Claims(), []
    while (held := claims.next()) is not None:
        taken.append(held.job.id)
        assert api.get(f"/projects/{pid}/jobs")[0]["id"] == held.job.id
        work.run_claim(held)
    assert taken == wanted
    assert [item["number"] for item in api.get(f"/projects/{pid}/deliveries")] == [3, 2, 1]
    assert api.get(f"/projects/{pid}/jobs") == []


@pytest.mark.django_db
def test_a_failing_job_says_why_and_leaves_no_files(api, project, monkeypatch):
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", status=202)

    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(work, "deliver", full)
    held = claim()
    work.run_claim(held)
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert made["job"]["state"] == "failed"
    assert "The disk is full" in made["job"]["message"]
    assert "Make room" in made["job"]["error"]["detail"]
    assert not jobs.delivery_folder(Delivery.objects.get()).exists()
    assert not held.staging.exists()


@pytest.mark.django_db
def test_a_delivery_uses_the_revision_it_was_asked_for(api, project):
    """Edits made while it waits or runs are for the next one."""
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", status=202)
    api.edit(pid, project["revision"], {"op": "rename_project", "name": "Later"})
    work.run_claim(claim())
    files = [item["file"] for item in api.get(f"/projects/{pid}/deliveries")[0]["files"]]
    assert "test_moor_height.png" in files
    assert "later_height.png" not in files


@pytest.mark.django_db
def test_one_fit_check_waits_at_a_time(api, project):
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", status=202)
    work.run_claim(claim())
    first = api.post(f"/projects/{pid}/deliveries/1/fit", status=202)
    assert api.post(f"/projects/{pid}/deliveries/1/fit", status=202)["id"] == first["id"]
    assert Job.objects.filter(kind="fit").count() == 1
    api.get(f"/projects/{pid}/deliveries/1/fit/maps/0-difference", status=404)
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert (made["check"]["id"], made["check"]["state"], made["fit"]) == (first["id"], "waiting", None)
    work.run_claim(claim())
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert made["check"] is None
    assert made["fit"]["fits"]
    api.get(f"/projects/{pid}/deliveries/1/fit/maps/0-difference")
    api.get(f"/projects/{pid}/deliveries/1/fit/maps/0-secret", status=404)


@pytest.mark.django_db
def test_a_fit_check_of_a_broken_delivery_is_a_sentence(api, project):
    pid = project["id"]
    api.post(f"/projects/{pid}/deliveries", status=202)
    work.run_claim(claim())
    folder = jobs.delivery_folder(Delivery.objects.get()) / "files"
    (folder / "import_note.json").write_text('{"note": 2}')

    def ended():
        job = api.post(f"/projects/{pid}/deliveries/1/fit", status=202)
        work.run_claim(claim())
        return api.get(f"/jobs/{job['id']}")

    # The manifest knows the note as it was: a broken one is a finding; with neither there is nothing to go by.
    assert ended()["state"] == "done"
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert "changed by hand" in made["fit"]["findings"][0]["message"]
    (folder / "manifest.json").write_text("{}")
    assert ended()["state"] == "failed"
    assert "changed by hand" in ended()["message"]
    (made,) = api.get(f"/projects/{pid}/deliveries")
    assert (made["check"]["state"], made["fit"] is not None) == ("failed", True)


@pytest.mark.django_db
def test_progress_is_told_at_most_twice_a_second(api, project):
    api.post(f"/projects/{project['id']}/deliveries", status=202)
    held = claim()
    for i in range(50):
        held.tell(i / 50, f"row {i}")
    assert Job.objects.get().progress == 0
    assert Job.objects.get().message == "row 0"


@pytest.mark.django_db
def test_two_fresh_imports_with_odd_names(api):
    for name in ("über moor.png", "mo\u202eor.png", "x" * 300 + ".png", ".png"):
        found = api.upload("/heightmaps", name, png16(hills(20, 30)))
        assert 0 < len(found["name"]) <= 120
        assert "\u202e" not in found["name"]


def test_only_the_newest_request_of_a_slot_goes_on():
    latest = engine.LatestOnly()
    latest.enter("tab", "view", 3)
    latest.enter("tab", "view", 2)
    assert latest.is_old("tab", "view", 2)
    assert not latest.is_old("tab", "view", 3)
    assert not latest.is_old("other", "view", 1)
    threads = [threading.Thread(target=latest.enter, args=("tab", "view", n)) for n in range(4, 60)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert latest.is_old("tab", "view", 58)


def test_the_page_is_served_with_its_token_and_nothing_is_cached(client, monkeypatch, tmp_path: Path):
    (tmp_path / "index.html").write_text("<!doctype html><title>page</title>")
    monkeypatch.setattr("zigzag_meadow.server.pages.FRONTEND", tmp_path)
    for address in ("/", "/project/abc/masks"):
        response = client.get(address)
        assert response.status_code == 200
        assert "csrftoken" in response.cookies
        assert "no-cache" in response["Cache-Control"]
    monkeypatch.setattr("zigzag_meadow.server.pages.FRONTEND", tmp_path / "none")
    assert client.get("/").status_code == 503
