"""The built-in targets: one data file each."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Any

import orjson
from pydantic import ValidationError

from zigzag_meadow.core.errors import BadDocument, BadFile, NotFound, TooLarge
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.upgrades import Data, Upgrades, upgraded

__all__ = ["MOST_TARGET_BYTES", "built_in", "parse_target", "read_target", "target"]

PLACES = [Path(__file__).parent / "built_in"]
"""Folders whose JSON files are built-in targets."""
MOST_TARGET_BYTES = 256 * 1024
_NEWEST = 2


def _to_2(data: Data) -> Data:
    """Units of numbers came, and settings that depend on how heights are stored; nothing that was there changed."""
    return data


TARGET_UPGRADES: Upgrades = {1: _to_2}
"""By the version that a target has: what makes the next one of it."""


def parse_target(data: Any, name: str = "The target") -> Target:
    """A checked target from plain JSON data. Raises :class:`BadDocument` with the place that is wrong."""
    version = data.get("version") if isinstance(data, dict) else None
    if isinstance(version, int) and version > _NEWEST:
        raise BadDocument(f"{name} was made by a newer version (target {version}; this one reads up to {_NEWEST}).")
    data = upgraded(data, TARGET_UPGRADES)
    try:
        made = Target.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise BadDocument(f"{name}: {place or 'it'}: {first['msg']}.", field=place) from None
    check_target(made)
    return made


def check_target(made: Target) -> None:
    """Raise :class:`BadDocument` for rules that cannot be kept together, with what to change."""
    for place, forms in (
        ("height", made.height.forms),
        ("masks", made.masks.forms),
        ("colour", made.colour.forms),
        ("detail", made.detail.forms),
    ):
        for item in forms:
            if form(item).takes != "raster":
                raise BadDocument(
                    f"{made.title}: {form(item).title} holds points; {place} needs a picture.", field=f"{place}.forms"
                )
    floats = [form(item).floats for item in made.height.forms]
    if made.height.coding.kind == "metres" and not all(floats):
        raise BadDocument(f"{made.title}: metres as they are need a format of floating numbers.", field="height.forms")
    if made.height.coding.kind in ("signed_step", "whole_metres", "fixed_step") and any(
        form(item).bits != 16 or form(item).floats for item in made.height.forms
    ):
        raise BadDocument(f"{made.title}: stored steps need a format of 16 bits.", field="height.forms")
    if not made.sizes.lengths():
        raise BadDocument(f"{made.title}: its rule of sizes leaves none. Widen it.", field="sizes")
    if made.most_per_block is not None and made.sizes.kind != "blocks":
        raise BadDocument(f"{made.title}: a limit a block needs sizes made of blocks.", field="most_per_block")
    if made.distances.kind == "near_middle_far" and made.distances.middle_to <= made.distances.near_to:
        raise BadDocument(
            f"{made.title}: middle colour must reach further than near colour, got {made.distances.middle_to:g} m "
            f"after {made.distances.near_to:g} m.",
            field="distances.middle_to",
        )
    kinds = [item.kind for item in made.sizes_of]
    if len(set(kinds)) < len(kinds):
        raise BadDocument(f"{made.title}: a kind of map has one size, not two.", field="sizes_of")
    if "{map}" not in made.names:
        raise BadDocument(f"{made.title}: names of files need {{map}}, or all would be called alike.", field="names")


def read_target(path: Path, name: str) -> Target:
    """A target from a JSON file. Raises :class:`BadFile`, :class:`TooLarge` or :class:`BadDocument`."""
    if path.stat().st_size > MOST_TARGET_BYTES:
        raise TooLarge(f"{name} has more than {MOST_TARGET_BYTES // 1024} KiB: it is no target.")
    try:
        data = orjson.loads(path.read_bytes())
    except orjson.JSONDecodeError:
        raise BadFile(f"{name} is no JSON. Save the target out again.") from None
    return parse_target(data, name)


@cache
def built_in() -> tuple[Target, ...]:
    """Every built-in target, in the order of their files' names."""
    return tuple(read_target(path, path.name) for place in PLACES for path in sorted(place.glob("*.json")))


def target(target_id: str, own: Iterable[Target] = ()) -> Target:
    """A target by its id: one of ``own``, or a built-in one. Raises :class:`NotFound` with the ids there are."""
    known = [*own, *built_in()]
    found = next((item for item in known if item.id == target_id), None)
    if found is None:
        there = ", ".join(item.id for item in known)
        raise NotFound(f"There is no target {target_id!r}. There are: {there}.", field="target")
    return found
