"""The job table: ask, claim, beat, publish, cancel."""

from __future__ import annotations

import shutil
import threading
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import OperationalError, close_old_connections, transaction
from django.db.models import Max, Q
from django.utils import timezone

from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.errors import Conflict, MeadowError, NotFound
from zigzag_meadow.server.models import Delivery, Job
from zigzag_meadow.server.projects import head

__all__ = [
    "Claim",
    "ask_cancel",
    "claim_next",
    "delivery_folder",
    "request_delivery",
    "request_fit",
]

STALE_AFTER = timedelta(seconds=5)
BEAT_SECONDS = 1.0
TELL_SECONDS = 0.5


def delivery_folder(delivery: Delivery) -> Path:
    folder: Path = settings.MEADOW_DATA / "deliveries" / delivery.project_id / f"{delivery.number:04d}"
    return folder


def request_delivery(project_id: str) -> Job:
    """Queue a delivery of the newest revision. Raises what planning raises, so that a bad plan never runs."""
    state = head(project_id)
    make_plan(state.document)
    with transaction.atomic():
        job = Job.objects.create(project=state.row, kind="delivery", message="waiting for the worker")
        last = Delivery.objects.filter(project=state.row).aggregate(last=Max("number"))["last"] or 0
        Delivery.objects.create(project=state.row, number=last + 1, revision=state.revision.number, job=job)
    return job


def request_fit(project_id: str, number: int) -> Job:
    """Queue a fit check of a finished delivery."""
    delivery = Delivery.objects.filter(project_id=project_id, number=number).select_related("job").first()
    if delivery is None:
        raise NotFound(f"There is no delivery {number} of this project.")
    if delivery.job.state != "done":
        raise Conflict(f"Delivery {number} is not finished: there are no files to read back yet.")
    waiting = Job.objects.filter(
        project_id=project_id, kind="fit", state__in=("waiting", "running"), params__number=number
    ).first()
    return waiting or Job.objects.create(
        project_id=project_id, kind="fit", params={"number": number}, message="waiting for the worker"
    )


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
    """A worker's hold on one attempt of a job."""

    def __init__(self, job: Job) -> None:
        self.job = job
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
                alive = self._mine().update(heartbeat_at=timezone.now())
                self._cancelled = not alive or Job.objects.get(id=self.job.id).cancel
            except (OperationalError, Job.DoesNotExist):
                continue
        close_old_connections()

    def cancelled(self) -> bool:
        return self._cancelled

    def tell(self, share: float, message: str) -> None:
        """Record progress, at most twice a second."""
        now = time.monotonic()
        if now - self._told >= TELL_SECONDS:
            self._told = now
            self._mine().update(progress=share, message=message[:300])

    def publish(self, move: Callable[[], None], message: str) -> bool:
        """Run ``move`` and mark the job done, if this attempt still holds it; returns whether it did."""
        with transaction.atomic():
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


def claim_next() -> Claim | None:
    """Take the oldest job that waits, or whose worker went silent."""
    stale = timezone.now() - STALE_AFTER
    with transaction.atomic():
        job = Job.objects.filter(Q(state="waiting") | Q(state="running", heartbeat_at__lt=stale)).first()
        if job is None:
            return None
        job.attempt += 1
        job.state, job.heartbeat_at = "running", timezone.now()
        job.started_at = job.started_at or timezone.now()
        job.message = "starting" if job.attempt == 1 else "starting again after an interruption"
        job.save()
    return Claim(job)
