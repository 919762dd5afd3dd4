"""The job table: ask, claim, beat, publish, cancel."""

from __future__ import annotations

import shutil
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import OperationalError, close_old_connections, transaction
from django.db.models import F, Max
from django.utils import timezone

from zigzag_meadow.core.delivery.chosen_tiles import files_of_tiles
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.errors import Cancelled, Conflict, MeadowError, NotFound
from zigzag_meadow.server.models import Delivery, Destination, Job, new_id
from zigzag_meadow.server.projects import head

__all__ = [
    "Claim",
    "Claims",
    "ask_cancel",
    "delivery_folder",
    "request_delivery",
    "request_fit",
]

STALE_SECONDS = 5.0
BEAT_SECONDS = 1.0
MOST_FAILURES = 3
TELL_SECONDS = 0.5


def delivery_folder(delivery: Delivery) -> Path:
    folder: Path = settings.MEADOW_DATA / "deliveries" / delivery.project_id / f"{delivery.number:04d}"
    return folder


@dataclass(frozen=True)
class Tiles:
    """Some tiles only, as (column, row) pairs: as a trial, or ``again`` beside all others."""

    chosen: list[list[int]]
    again: bool


def request_delivery(
    project_id: str, only: list[str] | None = None, then_fit: bool = False, tiles: Tiles | None = None
) -> Job:
    """Queue a delivery of the newest revision, or ``only`` of some of its items, or of some ``tiles``; ``then_fit``:
    and a fit check of it. Raises what planning raises, so that a bad plan never runs."""
    state = head(project_id)
    plan = make_plan(state.document, only=only)
    params: dict[str, Any] = {} if only is None else {"only": only}
    if tiles is not None:
        files_of_tiles(plan, [(column, row) for column, row in tiles.chosen])
        params |= {"tiles": tiles.chosen, "again": tiles.again}
    if then_fit:
        params["then_fit"] = True
    with transaction.atomic():
        job = Job.objects.create(project=state.row, kind="delivery", params=params, message="waiting for the worker")
        held = Destination.objects.filter(project=state.row).aggregate(last=Max("holds"))["last"] or 0
        # A number that lies in a folder is never given again, whatever was deleted here.
        last = max(Delivery.objects.filter(project=state.row).aggregate(last=Max("number"))["last"] or 0, held)
        Delivery.objects.create(
            project=state.row,
            number=last + 1,
            revision=state.revision.number,
            job=job,
            target=state.document.delivery.target,
        )
    return job


def request_fit(project_id: str, number: int, typed: dict[str, Any] | None = None) -> Job:
    """Queue a fit check of a finished delivery; ``typed``: what was typed in place of the note's numbers. One that was
    asked for with other numbers is stopped."""
    params = {"number": number, "typed": typed or {}}
    # A delivery that is being checked is not cleared: it must not go between the look and the row of its check.
    with transaction.atomic():
        delivery = Delivery.objects.filter(project_id=project_id, number=number).select_related("job").first()
        if delivery is None:
            raise NotFound(f"There is no delivery {number} of this project.")
        if delivery.job.state != "done":
            raise Conflict(f"Delivery {number} is not finished: there are no files to read back yet.")
        for job in Job.objects.filter(
            project_id=project_id, kind="fit", state__in=("waiting", "running"), params__number=number
        ):
            if job.params == params and not job.cancel:
                return job
            ask_cancel(job.id)
        return Job.objects.create(project_id=project_id, kind="fit", params=params, message="waiting for the worker")


def finals_file(project_id: str) -> Path:
    """Where the newest comparison of draft and final lies."""
    path: Path = settings.MEADOW_DATA / "finals" / f"{project_id}.json"
    return path


def request_finals(project_id: str, least: float) -> Job:
    """Queue a comparison of every mask with what it is at the delivered size; one that waits or runs for another
    revision is stopped."""
    state = head(project_id)
    params = {"revision": state.revision.number, "least": least}
    with transaction.atomic():
        for job in Job.objects.filter(project_id=project_id, kind="finals", state__in=("waiting", "running")):
            if job.params == params:
                return job
            ask_cancel(job.id)
        return Job.objects.create(project=state.row, kind="finals", params=params, message="waiting for the worker")


def ask_cancel(job_id: str) -> Job:
    """Stop a job: at once when it waits, at its next tile when it runs."""
    with transaction.atomic():
        job = Job.objects.filter(id=job_id).first()
        if job is None:
            raise NotFound("There is no such job.")
        if job.state == "waiting":
            job.state, job.finished_at, job.message = "cancelled", timezone.now(), "stopped before it began"
        elif job.state == "running":
            job.cancel, job.message = True, "stopping"
        job.save()
    return job


class Claim:
    """A worker's hold on one attempt of a job. ``leaving`` says whether the worker is being stopped from outside."""

    def __init__(self, job: Job, leaving: Callable[[], bool] = lambda: False) -> None:
        self.job = job
        self.leaving = leaving
        self.attempt = job.attempt
        self.staging: Path = settings.MEADOW_DATA / "staging" / job.id / str(job.attempt)
        self._stop = threading.Event()
        self._cancelled = False
        self._told = 0.0
        self._thread = threading.Thread(target=self._beat, daemon=True, name="heartbeat")

    def __enter__(self) -> Claim:
        shutil.rmtree(self.staging.parent, ignore_errors=True)
        self.staging.mkdir(parents=True)
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        self._thread.join()
        shutil.rmtree(self.staging.parent, ignore_errors=True)

    def _mine(self) -> Any:
        return Job.objects.filter(id=self.job.id, attempt=self.attempt, state="running")

    def _beat(self) -> None:
        while not self._stop.wait(BEAT_SECONDS):
            try:
                # Losing the claim counts as cancelled: another worker has the job.
                alive = self._mine().update(beat=F("beat") + 1)
                self._cancelled = not alive or Job.objects.get(id=self.job.id).cancel
            except (OperationalError, Job.DoesNotExist):
                continue
        close_old_connections()

    def cancelled(self) -> bool:
        return self._cancelled or self.leaving()

    def tell(self, share: float, message: str) -> None:
        """Record progress, at most twice a second."""
        now = time.monotonic()
        if now - self._told >= TELL_SECONDS:
            self._told = now
            self._mine().update(progress=share, message=message[:300])

    def publish(self, move: Callable[[], None], message: str) -> bool:
        """Run ``move`` and mark the job done, if this attempt still holds it; returns whether it did. Raises
        :class:`Cancelled` where it was stopped: quick work may be done before its next beat would have told."""
        with transaction.atomic():
            if self._mine().filter(cancel=True).exists():
                self._cancelled = True
                raise Cancelled()
            if not self._mine().update(state="done", progress=1.0, message=message, finished_at=timezone.now()):
                return False
            move()
        return True

    def fail(self, error: MeadowError | None) -> None:
        """Record why it ended without a result; ``None`` means that it was stopped as asked."""
        changes: dict[str, Any] = {"finished_at": timezone.now()}
        if error is None:
            changes |= {"state": "cancelled", "message": "stopped as asked"}
        else:
            changes |= {"state": "failed", "message": error.message[:300]}
            changes["error"] = {"code": error.code, "detail": error.message, "field": error.field}
        self._mine().update(**changes)

    def stopped(self) -> None:
        """End an attempt that was cut off: by the artist for good, by the worker's own stop until the next start."""
        if self.leaving() and not self._cancelled:
            self._mine().update(state="waiting", message="waiting for the worker")
        else:
            self.fail(None)

    def broke(self, error: Exception) -> None:
        """An error of ours ended this attempt: the job waits for another, behind those that did not fail; after
        :data:`MOST_FAILURES` it is given up."""
        with transaction.atomic():
            job = self._mine().first()
            if job is not None:
                _count_failure(job, f"Something broke that should not ({type(error).__name__}); the log says more.")
                job.state = "waiting" if job.state == "running" else job.state
                job.save()


def _count_failure(job: Job, why: str) -> None:
    job.failures += 1
    job.message = f"trying again: {why}"[:300]
    if job.failures >= MOST_FAILURES:
        detail = f"Given up after {job.failures} attempts. {why} Nothing of the project was lost."
        job.state, job.finished_at, job.message = "failed", timezone.now(), detail[:300]
        job.error = {"code": "given-up", "detail": detail, "field": None}


class Claims:
    """What one start of a worker takes from the table.

    A job whose worker's ``beat`` stands still for :data:`STALE_SECONDS` by this process's own clock, which no change
    of the time of day moves, has lost its worker. If that worker died though the application (``run``) lived on, the
    attempt counts as failed; a job of an application that was stopped as a whole is just taken up again.
    """

    def __init__(
        self,
        run: str = "",
        leaving: Callable[[], bool] = lambda: False,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.worker = new_id()
        self._run, self._leaving, self._clock = run, leaving, clock
        self._seen: dict[str, tuple[int, int, float]] = {}

    def next(self) -> Claim | None:
        """Take the first job that waits, or that lost its worker; those that never failed come first."""
        with transaction.atomic():
            for job in Job.objects.filter(state__in=("waiting", "running")):
                if job.state == "running" and not self._is_lost(job):
                    continue
                if job.state == "running" and job.worker != self.worker and job.run == self._run:
                    _count_failure(job, "The worker ended in the middle of it; it may need more memory than there is.")
                    if job.state == "failed":
                        job.save()
                        continue
                self._take(job)
                return Claim(job, self._leaving)
        return None

    def _is_lost(self, job: Job) -> bool:
        if job.worker == self.worker:
            # This worker asks for work: it is not at this one any more, and could not even say so (a full disk).
            return True
        attempt, beat, since = self._seen.get(job.id, (-1, -1, 0.0))
        if (attempt, beat) != (job.attempt, job.beat):
            self._seen[job.id] = (job.attempt, job.beat, self._clock())
            return False
        return self._clock() - since >= STALE_SECONDS

    def _take(self, job: Job) -> None:
        self._seen.pop(job.id, None)
        job.attempt += 1
        job.state, job.worker, job.run, job.beat = "running", self.worker, self._run, 0
        job.started_at = job.started_at or timezone.now()
        job.message = "starting" if job.attempt == 1 else "starting again after an interruption"
        job.save()
