"""What the worker does for each kind of job."""

from __future__ import annotations

import logging
import shutil
from collections.abc import Callable
from dataclasses import asdict

import numpy as np
import orjson
from django.db import DatabaseError
from django.utils import timezone

from zigzag_meadow.core.delivery.chosen_tiles import files_of_tiles, only_tiles
from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.manifest import read_manifest
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.errors import Cancelled, MeadowError
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.fit.typed import Typed
from zigzag_meadow.core.reports.finals import check_final
from zigzag_meadow.server.clearing import clear_old
from zigzag_meadow.server.destinations import put_into_place
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.jobs import Claim, delivery_folder, finals_file, request_fit
from zigzag_meadow.server.models import Delivery
from zigzag_meadow.server.problems import no_room
from zigzag_meadow.server.projects import at_revision

__all__ = ["run_claim"]

log = logging.getLogger(__name__)


def _deliver(claim: Claim) -> None:
    delivery: Delivery = claim.job.delivery
    document = at_revision(claim.job.project_id, delivery.revision)
    files = claim.staging / "files"
    files.mkdir()
    shared = engine()
    evaluation = shared.evaluation(document, cancel=claim.cancelled)
    claim.tell(0.01, "measuring the ground")
    # The day on which it was asked for, however often it is begun again.
    day = timezone.localtime(claim.job.created_at).date().isoformat()
    plan = make_plan(document, evaluation.heights(), claim.job.params.get("only"), day)
    earlier, again = _earlier(delivery), None
    if tiles := [(column, row) for column, row in claim.job.params.get("tiles", [])]:
        if claim.job.params.get("again"):
            earlier, again = _whole_before(delivery, plan.trial), files_of_tiles(plan, tiles)
        else:
            plan = only_tiles(plan, tiles)
    names = deliver(evaluation, plan, files, shared.stripes, claim.tell, earlier, again)
    if claim.cancelled():
        raise Cancelled()
    sizes = [{"file": name, "bytes": (files / name).stat().st_size} for name in names]
    keys = {entry.file: entry.key for entry in read_manifest(files).files if entry.key}
    kept = 0 if earlier is None else earlier.taken

    def move() -> None:
        folder = delivery_folder(delivery)
        folder.parent.mkdir(parents=True, exist_ok=True)
        shutil.rmtree(folder, ignore_errors=True)
        claim.staging.rename(folder)
        Delivery.objects.filter(id=delivery.id).update(files=sizes, keys=keys, placed=None)
        # With what it follows, in one go: whoever sees the one done sees the other waiting, and no end of the worker
        # in between loses it.
        if claim.job.params.get("then_fit"):
            request_fit(delivery.project_id, delivery.number)

    told = f", {kept} of them unchanged" if kept else ""
    published = claim.publish(move, f"{len(keys)} files{told}, with note and manifest")
    put_into_place(delivery.project_id, delivery.number)
    if published:
        clear_old(delivery.project_id)


def _earlier(delivery: Delivery) -> Earlier | None:
    """The newest finished delivery before this one."""
    rows = Delivery.objects.filter(project_id=delivery.project_id, number__lt=delivery.number, job__state="done")
    last = rows.order_by("-number").first()
    return None if last is None else Earlier(delivery_folder(last) / "files")


def _whole_before(delivery: Delivery, trial: bool) -> Earlier | None:
    """The newest finished delivery for the same target that holds all of its files, of a part of the ground where this
    one is a ``trial`` of a part, else of all of it."""
    rows = Delivery.objects.filter(project_id=delivery.project_id, number__lt=delivery.number, job__state="done")
    for row in rows.filter(target=delivery.target).select_related("job").order_by("-number")[:20]:
        params = row.job.params
        if not params.get("only") and (not params.get("tiles") or params.get("again")):
            earlier = Earlier(delivery_folder(row) / "files")
            if earlier.manifest is not None and earlier.manifest.note.get("trial", False) == trial:
                return earlier
    return None


def _fit(claim: Claim) -> None:
    delivery = Delivery.objects.get(project_id=claim.job.project_id, number=claim.job.params["number"])
    files = delivery_folder(delivery) / "files"
    claim.tell(0.0, "reading the note")
    document = at_revision(claim.job.project_id, delivery.revision)
    evaluation = engine().evaluation(document, cancel=claim.cancelled)
    rehearsal = Rehearsal(files)
    typed = Typed.model_validate(claim.job.params.get("typed") or {})
    report = check_delivery(
        files,
        ProjectTruth(evaluation, rehearsal),
        typed=typed,
        progress=claim.tell,
        cancelled=claim.cancelled,
        keep=lambda name, values: np.save(claim.staging / f"{name}.npy", values),
        rehearsal=rehearsal,
    )
    made = report.as_json()
    (claim.staging / "report.json").write_bytes(orjson.dumps(made, option=orjson.OPT_INDENT_2))

    def move() -> None:
        folder = delivery_folder(delivery) / "fit"
        shutil.rmtree(folder, ignore_errors=True)
        claim.staging.rename(folder)
        Delivery.objects.filter(id=delivery.id).update(fit=made, fit_at=timezone.now())

    claim.publish(move, "fits" if report.fits else f"{len(report.findings)} findings")


def _finals(claim: Claim) -> None:
    """Every mask at the delivered size against the draft; results are stamped with the keys of what was compared."""
    params = claim.job.params
    document = at_revision(claim.job.project_id, params["revision"])
    evaluation = engine().evaluation(document, cancel=claim.cancelled)
    masks = []
    for done, mask in enumerate(document.masks):
        claim.tell(done / len(document.masks), f"making {mask.name} at the delivered size")
        found = asdict(check_final(evaluation, mask.id, params["least"]))
        masks.append({"mask": mask.id, "key": evaluation.graph.mask(mask.id).key, **found})
        if claim.cancelled():
            raise Cancelled()
    made = {"least": params["least"], "revision": params["revision"], "masks": masks}
    (claim.staging / "finals.json").write_bytes(orjson.dumps(made))

    def move() -> None:
        file = finals_file(claim.job.project_id)
        file.parent.mkdir(parents=True, exist_ok=True)
        (claim.staging / "finals.json").replace(file)

    differ = sum(1 for entry in masks if entry["places"])
    claim.publish(move, f"{differ} of {len(masks)} masks differ")


_KINDS: dict[str, Callable[[Claim], None]] = {"delivery": _deliver, "fit": _fit, "finals": _finals}


def run_claim(claim: Claim) -> None:
    """Do a claimed job to its end; every failure is recorded as a sentence."""
    with claim:
        try:
            _KINDS[claim.job.kind](claim)
        except Cancelled:
            claim.stopped()
        except MeadowError as error:
            claim.fail(error)
        except OSError as error:
            claim.fail(no_room(error))
        except DatabaseError:
            # Nothing can be recorded now. The worker goes on and takes this job up again once it can.
            raise
        except Exception as error:
            log.exception("job %s broke", claim.job.id)
            claim.broke(error)
