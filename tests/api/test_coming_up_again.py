"""What must not stop anything: jobs that break, workers that die, clocks that jump, disks that are full, leftovers."""

from __future__ import annotations

import errno
import json
import os
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.db import OperationalError, connection

from tests.support.ground import hills, png16
from tests.support.server import claim, run_all
from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.server import assets, work
from zigzag_meadow.server.jobs import MOST_FAILURES, Claims
from zigzag_meadow.server.lifeline import Held, hold
from zigzag_meadow.server.management.commands.worker import Command
from zigzag_meadow.server.models import Job

LOW = {"op": "rename_mask", "mask": "wet", "name": "Sikes"}


def asked(api: Any, project: dict[str, Any]) -> str:
    return str(api.post(f"/projects/{project['id']}/deliveries", status=202)["id"])


def broken(monkeypatch: pytest.MonkeyPatch, error: Exception, times: int = 99) -> list[int]:
    """Deliveries break in the middle, so many times; returns what counts them."""
    count, real = [0], work.deliver

    def fails(*arguments: Any) -> Any:
        names = real(*arguments)
        count[0] += 1
        if count[0] <= times:
            raise error
        return names

    monkeypatch.setattr(work, "deliver", fails)
    return count


# Jobs ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("error", [ValueError("x"), RecursionError(), MemoryError(), KeyError("k"), AssertionError()])
def test_a_job_that_breaks_is_given_up_after_three_attempts_and_others_run(api, project, monkeypatch, error):
    first = asked(api, project)
    count = broken(monkeypatch, error)
    run_all()
    ended = api.get(f"/jobs/{first}")
    assert (ended["state"], ended["attempt"], count[0]) == ("failed", MOST_FAILURES, MOST_FAILURES)
    assert "Given up after 3 attempts" in ended["error"]["detail"]
    assert type(error).__name__ in ended["message"]
    assert not (Path(settings.MEADOW_DATA) / "staging" / first).exists()
    monkeypatch.undo()
    second = asked(api, project)
    run_all()
    assert api.get(f"/jobs/{second}")["state"] == "done"


def test_one_that_broke_once_waits_behind_those_that_did_not_and_is_done(api, project, monkeypatch):
    first, second = asked(api, project), asked(api, project)
    broken(monkeypatch, ValueError("once"), times=1)
    claims, order = Claims(), []
    while (taken := claims.next()) is not None:
        order.append(taken.job.id)
        work.run_claim(taken)
    assert order == [first, second, first]
    assert {api.get(f"/jobs/{job}")["state"] for job in order} == {"done"}


def test_a_job_whose_worker_dies_three_times_is_given_up(api, project):
    """The worker of a living application that ends without a word: too little memory, a crash."""
    job, now = asked(api, project), [0.0]
    for death in range(MOST_FAILURES):
        claims = Claims("run", clock=lambda: now[0])
        assert (claims.next() is None) == (death > 0)
        now[0] += 60
        if death > 0:
            assert claims.next() is not None
    last = Claims("run", clock=lambda: now[0])
    assert last.next() is None
    now[0] += 60
    assert last.next() is None
    ended = api.get(f"/jobs/{job}")
    assert ended["state"] == "failed"
    assert "may need more memory" in ended["error"]["detail"]


def test_stops_from_outside_do_not_count(api, project):
    """The machine is switched off in the middle, again and again: the job is taken up each time."""
    job, now = asked(api, project), [0.0]
    for start in range(8):
        claims = Claims(f"run {start}", clock=lambda: now[0])
        taken = claims.next()
        if start:
            assert taken is None
            now[0] += 60
            taken = claims.next()
        assert taken is not None
    assert Job.objects.get(id=job).failures == 0
    now[0] += 60
    later = Claims("run 9", clock=lambda: now[0])
    later.next()
    now[0] += 60
    taken = later.next()
    assert taken is not None
    work.run_claim(taken)
    assert api.get(f"/jobs/{job}")["state"] == "done"


def test_a_worker_that_is_stopped_lets_go_of_its_job(api, project, monkeypatch):
    job, leaving = asked(api, project), [False]

    def stopped(*_: Any) -> None:
        leaving[0] = True
        raise Cancelled

    monkeypatch.setattr(work, "deliver", stopped)
    work.run_claim(claim(run="a", leaving=lambda: leaving[0]))
    assert api.get(f"/jobs/{job}")["state"] == "waiting"
    monkeypatch.undo()
    work.run_claim(claim(run="b"))
    assert api.get(f"/jobs/{job}")["state"] == "done"
    assert Job.objects.get(id=job).failures == 0


@pytest.mark.parametrize("jump", [-400 * 86400, 400 * 86400])
def test_a_clock_that_is_set_neither_keeps_nor_takes_a_job(api, project, monkeypatch, jump):
    from django.utils import timezone

    job = asked(api, project)
    first = claim(run="a")
    real = timezone.now
    monkeypatch.setattr(timezone, "now", lambda: real() + __import__("datetime").timedelta(seconds=jump))
    now = [0.0]
    other = Claims("b", clock=lambda: now[0])
    for _ in range(4):
        # Its worker beats: whatever the time of day, the job is its own.
        Job.objects.filter(id=job).update(beat=Job.objects.get(id=job).beat + 1)
        now[0] += 60
        assert other.next() is None
    now[0] += 60
    assert other.next() is not None
    assert first._mine().count() == 0


def test_the_worker_goes_on_whatever_a_turn_raises(api, project, monkeypatch):
    turns = Command()

    class Raising:
        def next(self) -> None:
            raise OperationalError("database or disk is full")

    assert turns._turn(Raising()) == 1.0  # type: ignore[arg-type]
    job = asked(api, project)
    real = Job.objects.filter

    def full(*_: Any, **__: Any) -> Any:
        raise OperationalError("database or disk is full")

    claims = Claims()
    broken(monkeypatch, OperationalError("database or disk is full"), times=1)
    assert turns._turn(claims) == 1.0
    assert api.get(f"/jobs/{job}")["state"] == "running"
    # Its own worker asks for work again: the job is not being done, so it is taken up once more.
    assert turns._turn(claims) == 0.0
    assert api.get(f"/jobs/{job}")["state"] == "done"
    assert real is not full


# A full disk ---------------------------------------------------------------------------------------------------


def test_a_store_that_is_full_loses_nothing_and_goes_on(api, project):
    """The database's own limit of pages is reached, as on a full disk, and lifted again."""
    pid, base = project["id"], project["revision"]
    with connection.cursor() as cursor:
        pages = cursor.execute("PRAGMA page_count").fetchone()[0]
        most = cursor.execute("PRAGMA max_page_count").fetchone()[0]
        cursor.execute(f"PRAGMA max_page_count = {pages}")
    note = "x" * 380
    lines = [{"id": f"n{k}", "verb": "turn_over", "note": note} for k in range(100)]
    big = {"op": "add_mask", "mask": {"id": "big", "name": "Big", "lines": lines}}
    said = None
    for _ in range(40):
        body = json.dumps({"base": base, "tab": "", "operations": [big]})
        response = api.client.post(f"/api/projects/{pid}/edits", body, content_type="application/json")
        if response.status_code != 200:
            said = json.loads(response.content)
            break
        base += 1
        big = {**big, "mask": {**big["mask"], "id": f"big{base}", "name": f"Big {base}"}}
    assert said is not None
    assert (said["status"], said["code"]) == (507, "disk-full")
    assert "nothing was lost" in said["detail"]
    assert api.get(f"/projects/{pid}")["revision"] == base
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA max_page_count = {most}")
    assert api.edit(pid, base, LOW)["revision"] == base + 1


@pytest.mark.parametrize("code", [errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EACCES])
def test_uploads_and_project_files_say_that_the_disk_is_full(api, project, monkeypatch, code):
    saved = api.saved_out(project["id"])

    def full(*_: Any, **__: Any) -> Any:
        raise OSError(code, os.strerror(code))

    monkeypatch.setattr("zigzag_meadow.server.assets.shutil.move", full)
    for path, name, data in (
        ("/heightmaps", "h.png", png16(hills(40, 40, 77))),
        (f"/projects/{project['id']}/pictures", "p.png", png16(hills(40, 40, 78))),
    ):
        said = api.upload(path, name, data, status=507)
        assert (said["code"], "lost" in said["detail"]) == ("disk-full", True)
    monkeypatch.setattr("zigzag_meadow.core.project.travel.archive.open", full, raising=False)
    monkeypatch.setattr(Path, "mkdir", full)
    assert api.upload("/projects/bring-in", "p.zip", saved, status=507)["code"] == "disk-full"
    monkeypatch.undo()
    api.upload("/projects/bring-in", "p.zip", saved, status=201)


def test_a_mistake_of_ours_is_not_told_as_a_full_disk():
    from zigzag_meadow.server.problems import no_room, store_problem

    with pytest.raises(OSError, match="No such file"):
        no_room(OSError(errno.ENOENT, "No such file"))
    with pytest.raises(OperationalError):
        store_problem(OperationalError("no such column: x"))
    assert store_problem(OperationalError("database is locked")).status_code == 503
    assert store_problem(OperationalError("attempt to write a readonly database")).status_code == 507


# Leftovers and other starts ------------------------------------------------------------------------------------


@pytest.mark.django_db
def test_a_sweep_takes_anything_away_and_never_stops_a_start(data_folder, monkeypatch):
    old = time.time() - 3 * 86400
    for place in (data_folder / "assets" / "incoming", data_folder / "uploads"):
        place.mkdir(parents=True, exist_ok=True)
        folder = place / "left by a kill"
        (folder / "deep").mkdir(parents=True)
        (folder / "deep" / "file.part").write_text("x")
        (place / "link").symlink_to(data_folder / "secret")
        for path in (folder, place / "link"):
            os.utime(path, (old, old), follow_symlinks=False)
        (place / "fresh").write_text("y")
    assets.sweep()
    for place in (data_folder / "assets" / "incoming", data_folder / "uploads"):
        assert [p.name for p in place.iterdir() if p.name in ("left by a kill", "link", "fresh")] == ["fresh"]
        (place / "fresh").unlink()
    assert (data_folder / "secret").is_file()
    stuck = data_folder / "assets" / "incoming" / "stuck"
    stuck.mkdir()
    os.utime(stuck, (old, old))
    monkeypatch.setattr(assets.shutil, "rmtree", lambda *_: (_ for _ in ()).throw(PermissionError("no")))
    assets.sweep()
    monkeypatch.undo()
    stuck.rmdir()


def test_one_application_holds_a_data_folder(tmp_path):
    held = hold(tmp_path, {"process": 77, "port": 8123})
    with pytest.raises(Held) as found:
        hold(tmp_path, {"process": 78, "port": 8124})
    assert found.value.holder == {"process": 77, "port": 8123}
    held.close()
    hold(tmp_path, {"process": 78, "port": 8124}).close()
    (tmp_path / "serve.lock").write_text("left by a kill, half wri")
    hold(tmp_path, {"process": 79, "port": 1}).close()


@pytest.mark.parametrize(
    ("more", "words"),
    [
        (["--host", "0.0.0.0"], "served to this machine only"),
        (["--host", "192.168.1.7"], "ssh -L"),
        (["--port", "99999"], "from 1 to 65535"),
        (["--port", "0"], "from 1 to 65535"),
    ],
)
def test_serving_anything_else_is_refused_with_a_way(tmp_path, more, words):
    command = [sys.executable, "-m", "zigzag_meadow.cli", "serve", *more]
    environment = {**os.environ, "ZIGZAG_DATA": str(tmp_path / "data")}
    ended = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=60)
    assert ended.returncode == 2
    assert words in ended.stderr
    assert "Traceback" not in ended.stderr
    assert not (tmp_path / "data" / "meadow.sqlite3").exists()
