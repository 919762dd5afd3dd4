"""A plan as pages show it."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.delivery.channel_notes import file_colour_space
from zigzag_meadow.core.delivery.content import reading_ends
from zigzag_meadow.core.delivery.notes import resampled_words
from zigzag_meadow.core.delivery.plan import Plan, PlannedItem, ends_are_free, lost_in, sharpens
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.catalogue import form, forms
from zigzag_meadow.core.map_name import reading_of
from zigzag_meadow.core.project.model.readings import kind_of
from zigzag_meadow.core.targets.codings import Scale

__all__ = ["planned_item", "trial_place"]


def planned_item(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> dict[str, Any]:
    """One map of a plan, with everything that can be chosen of it."""
    tiles = [file.tile for file in item.files]
    return {
        "of": item.thing.of,
        "title": item.thing.title,
        "group": item.thing.group,
        "kind": item.thing.kind,
        "name": item.files[0].name,
        "files": len(item.files),
        "form": item.form.id,
        "format": item.form.title,
        "bits": item.form.bits,
        "channels": list(item.channels),
        "rows": item.window.rows,
        "cols": item.window.cols,
        "bytes": item.bytes_at_most(plan.project),
        "space": file_colour_space(plan, item),
        "ends": _ends(item),
        "typed": _typed(evaluation, plan, item),
        "sharpens": sharpens(item) and item.is_picture,
        "resampled": resampled_words(plan, item) if item.is_picture else "",
        "registration": item.grid.registration,
        "tiles": [max(t.x for t in tiles) + 1, max(t.y for t in tiles) + 1],
        "free_size": _free(plan, item),
        "choice": item.choice,
        "forms": _forms(plan, item),
    }


def _free(plan: Plan, item: PlannedItem) -> bool:
    if item.thing.rule is None or item.thing.kind in ("look", "points"):
        return False
    return plan.target.size_of(item.thing.size_kind or "data", item.thing.rule).kind == "free"


def _ends(item: PlannedItem) -> str:
    scale = item.scale
    if scale is not None and item.choice.stored == "mean":
        return f"metres about the mean, {scale.at_zero:.6g} m"
    if scale is not None:
        return "black {:.6g} m, white {:.6g} m".format(*_between(scale))
    return "metres" if item.thing.kind == "height" else ""


def _typed(evaluation: Evaluation, plan: Plan, item: PlannedItem) -> dict[str, Any] | None:
    """What black and white stand for, where that can be chosen."""
    if not ends_are_free(plan, item):
        return None
    scale = item.scale
    if scale is not None:
        black, white = _between(scale)
        return {"black": black, "white": white, "unit": "m", "log": False, "by": item.scale_by, "as_is": False}
    kind = kind_of(plan.project, reading_of(item.thing.name) or "")
    black, white = reading_ends(evaluation, item)
    as_is = item.form.floats and item.choice.black is None
    return {
        "black": black,
        "white": white,
        "unit": kind.unit,
        "log": kind.scale == "log",
        "by": "typed" if item.choice.black is not None else "extremes",
        "as_is": as_is,
    }


def _between(scale: Scale) -> tuple[float, float]:
    """Metres at black and at white."""
    return scale.at_zero + scale.least * scale.step, scale.at_zero + scale.full * scale.step


def _forms(plan: Plan, item: PlannedItem) -> list[dict[str, Any]]:
    if item.thing.kind == "points":
        taken = [one for one in forms() if one.takes == "points"]
    else:
        rule = item.thing.rule
        taken = [form(one) for one in (plan.target.height.forms if rule is None else plan.target.kind(rule).forms)]
    return [
        {
            "id": one.id,
            "title": one.title,
            "remark": one.lacks,
            "endings": one.endings,
            "orders": one.orders,
            "packs": one.packs,
            "tiled": one.tiled,
            "floats": one.floats,
            "loss": None if one.takes == "points" else lost_in(plan, item.thing, one, item.channels, item.sheet),
        }
        for one in taken
    ]


def trial_place(plan: Plan) -> dict[str, Any] | None:
    """Where the part lies that is written, where only a part is."""
    if not plan.trial:
        return None
    part, grid = plan.part, plan.grid
    less = 1 if grid.registration == "vertex" else 0
    return {
        "east": part.col0 * grid.dx,
        "south": part.row0 * grid.dy,
        "width": (part.cols - less) * grid.dx,
        "length": (part.rows - less) * grid.dy,
        "rows": part.rows,
        "cols": part.cols,
    }
