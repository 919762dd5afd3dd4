"""Documents of earlier versions, brought up to this one: one upgrade a version, applied in a row."""

from __future__ import annotations

import re
from typing import Any

from zigzag_meadow.core.upgrades import Data, Upgrades

__all__ = ["NEWEST", "UPGRADES", "Upgrades", "made_by_another"]

NEWEST = 7


def _to_2(data: Data) -> Data:
    """The width of slope was a measure of the ground and became a number of the reading; raw files name their sample
    type."""
    ground, readings = data.get("ground"), data.get("readings", [])
    if not isinstance(ground, dict) or not isinstance(readings, list):
        return data
    kept = {name: value for name, value in ground.items() if name != "slope_width"}
    if ground.get("file_format") == "raw16":
        kept |= {"file_format": "raw", "sample": "u16"}
    width = ground.get("slope_width")
    more = [] if width is None else [{"id": "slope", "kind": "slope", "numbers": {"width": width}}]
    return {**data, "ground": kept, "readings": [*readings, *more]}


def _to_3(data: Data) -> Data:
    """Layers got strength, bands and what they wear, and coats came; nothing that was there changed."""
    return data


def _to_4(data: Data) -> Data:
    """Where a step of preparation acts was a list of bands and became a recipe."""
    ground = data.get("ground")
    if not isinstance(ground, dict) or not isinstance(ground.get("steps"), list):
        return data
    steps = [
        {**step, "where": _lines(step.get("where"))} if isinstance(step, dict) else step for step in ground["steps"]
    ]
    return {**data, "ground": {**ground, "steps": steps}}


def _lines(bands: Any) -> Any:
    """Bands that all had to hold, as lines: the first is taken, the others keep only within."""
    if not isinstance(bands, list):
        return bands or []
    return [
        {"id": f"where-{at}", "verb": "keep_within" if at else "take", "source": band} for at, band in enumerate(bands)
    ]


def _to_5(data: Data) -> Data:
    """What is chosen of the height file became a choice like that of any other file."""
    delivery = data.get("delivery")
    if not isinstance(delivery, dict):
        return data
    form = delivery.get("height_format", "png16")
    kept = {name: value for name, value in delivery.items() if name != "height_format"}
    items = [] if form == "png16" else [{"of": "height", "form": form}]
    return {**data, "delivery": {"pattern": "{project}_{map}", **kept, "items": items}}


def _to_6(data: Data) -> Data:
    """Heights came to be held by what stored numbers stand for, and cells to be laid out as cells. Grounds that were
    there keep to their ends, and end at the middles of their outermost cells, until somebody takes them otherwise."""
    ground, targets, sheets = data.get("ground"), data.get("targets"), data.get("sheets")
    if isinstance(sheets, list):
        data = {**data, "sheets": [_known_as_proposed(sheet) for sheet in sheets]}
    if isinstance(targets, list):
        data = {**data, "targets": [_newer_target(item) for item in targets]}
    if not isinstance(ground, dict):
        return data
    kept = {"on_replace": "ends", **ground}
    if ground.get("samples") == "cells":
        kept.setdefault("cells_reach", False)
    return {**data, "ground": kept}


def _to_7(data: Data) -> Data:
    """Aerial images may be enlarged sharply and with grain; those that were there are enlarged plainly, without."""
    return data


def _known_as_proposed(sheet: Any) -> Any:
    """Sheets that carry weights were replaced by every proposal, whoever had made them; and so were those called as
    proposals call them, whose layers are gone."""
    if not isinstance(sheet, dict):
        return sheet
    kinds = [source.get("kind") for name in "rgba" if isinstance(source := sheet.get(name), dict)]
    weights = any(kind in ("weight", "base", "rest", "step") for kind in kinds)
    named = re.fullmatch(r"splat_([a-z]|\d{2})", str(sheet.get("id", ""))) is not None
    return {"proposed": True, **sheet} if weights or (named and not kinds) else sheet


def _newer_target(target: Any) -> Any:
    """Its own targets got units with it."""
    return {**target, "version": 2} if isinstance(target, dict) and target.get("version", 1) == 1 else target


UPGRADES: Upgrades = {1: _to_2, 2: _to_3, 3: _to_4, 4: _to_5, 5: _to_6, 6: _to_7}
"""By the version that a document has: what makes the next one of it. Each knows its own two versions alone, and leaves
what is none of them as it is, to be refused by name."""


def made_by_another(data: Any) -> str | None:
    """A sentence when a document says that it was made by a version that this one does not know; None otherwise."""
    version = data.get("version") if isinstance(data, dict) else None
    if not isinstance(version, int) or version <= NEWEST:
        return None
    return f"It was saved by a newer version of the application (document {version}; this one reads up to {NEWEST})."
