"""Kits: those of the application and those saved here."""

from __future__ import annotations

import secrets

from zigzag_meadow.core.errors import Conflict, NotFound
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.project.edits.ops_pieces import ApplyKit
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.kit import Heights, Kit, kit_of, parse_kit
from zigzag_meadow.core.project.travel.kit_painting import Wanted
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.server import models

__all__ = ["all_kits", "application", "delete", "find", "heights_of", "save", "store"]


def heights_of(evaluation: Evaluation) -> Heights:
    """Lowest and highest height of a project's ground, and its water."""
    low, high = evaluation.ends()
    return Heights(low=low, high=high, water=evaluation.project.ground.water)


def all_kits() -> list[tuple[str, Kit, bool]]:
    """(id, kit, whether it is the application's own), those first."""
    own = [(kit_id, kit, True) for kit_id, kit in OWN_KITS.items()]
    return own + [(row.id, parse_kit(row.content), False) for row in models.Kit.objects.all()]


def find(kit_id: str) -> Kit:
    if kit_id in OWN_KITS:
        return OWN_KITS[kit_id]
    row = models.Kit.objects.filter(id=kit_id).first()
    if row is None:
        raise NotFound("That kit is no longer there.", field="kit")
    return parse_kit(row.content)


def store(kit: Kit) -> str:
    """Keep a kit; returns its id."""
    row = models.Kit.objects.create(name=kit.name, content=kit.model_dump(mode="json"))
    return row.id


def save(
    evaluation: Evaluation, name: str, note: str, masks: list[str], pieces: list[str], painting: Wanted
) -> tuple[str, Kit, list[str]]:
    """(id, kit, what could not come along) of some masks, pieces and parts of the painting of a project."""
    project: Project = evaluation.project
    kit, left = kit_of(project, name, note, heights_of(evaluation), masks, pieces, painting)
    return store(kit), kit, left


def delete(kit_id: str) -> None:
    if kit_id in OWN_KITS:
        raise Conflict("That kit comes with the application and stays.")
    if not models.Kit.objects.filter(id=kit_id).delete()[0]:
        raise NotFound("That kit is no longer there.", field="kit")


def application(kit: Kit, heights: Heights | None) -> ApplyKit:
    """The edit that lays a kit onto a project, with ids that are new."""
    return ApplyKit.model_validate({"kit": kit, "prefix": f"k{secrets.token_hex(3)}", "heights": heights})
