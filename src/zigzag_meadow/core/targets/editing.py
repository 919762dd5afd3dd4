"""Kinds of rules as an editor gets them, read off their classes, and a live example of what a target makes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic_core import PydanticUndefined

from zigzag_meadow.core.parts import Edited, Told
from zigzag_meadow.core.targets.codings import Codings
from zigzag_meadow.core.targets.distances import ColourDistances
from zigzag_meadow.core.targets.layouts import SheetLayouts
from zigzag_meadow.core.targets.map_sizes import MapSizes
from zigzag_meadow.core.targets.mixing import Mixings
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.rule import Rule
from zigzag_meadow.core.targets.sizes import SizeRules
from zigzag_meadow.core.targets.tiles import TileRules
from zigzag_meadow.core.targets.units import UnitRules

__all__ = ["RuleField", "RuleKind", "rule_kinds", "rule_sentences", "targets_table"]

_UNIONS: dict[str, tuple[type[Rule], ...]] = {
    "sizes": SizeRules,
    "coding": Codings,
    "map_size": MapSizes,
    "sheets": SheetLayouts,
    "tiles": TileRules,
    "distances": ColourDistances,
    "mixing": Mixings,
    "unit": UnitRules,
}


@dataclass(frozen=True, slots=True)
class RuleField:
    """*number*, *choice*, *numbers* (several whole ones), or *rule*: a size of a map."""

    name: str
    kind: str
    title: str
    unit: str = ""
    decimals: int = 0
    choices: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class RuleKind:
    """One class of a rule; ``fresh``: a new one as data."""

    kind: str
    title: str
    sentence: str
    fields: tuple[RuleField, ...]
    fresh: dict[str, Any]


def _fields(model: type[Rule]) -> tuple[RuleField, ...]:
    made = []
    for name, info in model.model_fields.items():
        for item in info.metadata:
            if isinstance(item, Told):
                kind = "choice" if item.choices else "number"
                made.append(RuleField(name, kind, item.title, item.unit, item.decimals, item.choices))
            elif isinstance(item, Edited):
                made.append(RuleField(name, item.kind, item.title))
    return tuple(made)


def _fresh(model: type[Rule]) -> dict[str, Any]:
    given = {name: info.default for name, info in model.model_fields.items() if info.default is not PydanticUndefined}
    return model.model_construct(**given).model_dump(mode="json")


def rule_kinds() -> dict[str, list[RuleKind]]:
    """Every class of every rule, by the place where it stands."""
    return {
        place: [RuleKind(m.model_fields["kind"].default, m.title, m.sentence, _fields(m), _fresh(m)) for m in models]
        for place, models in _UNIONS.items()
    }


def rule_sentences(target: Target) -> list[tuple[str, str]]:
    """(what it is about, the sentence) of every rule of a target."""
    told: list[tuple[str, str]] = [
        ("Sizes", target.sizes.read()),
        ("Heights", target.height.coding.read()),
        ("Masks", target.masks.size.read()),
        ("Colour", f"{target.distances.read()} {target.colour.size.read()}"),
        ("Weights", target.sheets.read()),
        ("Mixing", target.mixing.read()),
        ("Tiles", target.tiles.read()),
    ]
    most = f"At most {target.most_layers} in all"
    told.append(("Layers", f"{most}, {target.most_per_block} in one block." if target.most_per_block else f"{most}."))
    samples = {"vertex": "on vertices", "area": "on cells"}
    lie = f"Heights {samples[target.height.registration]}, masks {samples[target.masks.registration]}"
    told.append(("Samples", f"{lie}; files begin in the {target.first_row}-{target.first_column}."))
    anchor = {"corner": "its south-west corner", "centre": "its centre"}[target.position.anchor]
    water = " Heights count from the water level." if target.position.heights == "water" else ""
    units = target.units
    if any(unit.kind != "metres" for unit in (units.heights, units.lengths, units.positions)):
        told.append(
            (
                "Units",
                f"Heights in {units.heights.read()}, lengths in {units.lengths.read()}, positions in "
                f"{units.positions.read()}.",
            )
        )
    told.append(("Position", f"By {anchor}, {target.position.up} is up.{water}"))
    return told


def targets_table(targets: tuple[Target, ...]) -> str:
    """Every target as a Markdown table, for the README."""
    rows = ["| Target | id | Sizes | Heights | Masks and weights | Needs |", "| --- | --- | --- | --- | --- | --- |"]
    for item in targets:
        needs = ", ".join(word.replace("_", " ") for word in item.required) or "—"
        rows.append(
            f"| {item.title} | `{item.id}` | {item.sizes.read()} | {item.height.coding.read()} | "
            f"{item.masks.size.read()} {item.sheets.read()} | {needs} |"
        )
    return "\n".join(rows)
