"""Proposed sheets: as few as hold every weight the way the target takes them, and usual ones for data."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.map_name import map_name, reading_of
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.sheets import (
    CHANNELS,
    BaseSource,
    ChannelSource,
    MaskSource,
    PaintedSource,
    ReadingSource,
    Sheet,
    SheetLayout,
    StepSource,
    WeightSource,
)

__all__ = ["DATA_SHEETS", "DataSheet", "carries_weights", "proposed_data_sheets", "proposed_sheets"]

DataSheet = Literal["water", "direction", "surface", "attributes", "readings"]
DATA_SHEETS: dict[DataSheet, str] = {
    "water": "Flow, scour, deposition",
    "direction": "Flow direction and depth",
    "surface": "Occlusion, roughness, height detail",
    "attributes": "Unpacked masks, three to a sheet",
    "readings": "Readings that are delivered by themselves, three to a sheet",
}


def carries_weights(sheet: Sheet) -> bool:
    """Whether a sheet has a layer's or the base's weight in any channel."""
    return any(
        source is not None and source.kind in ("weight", "base", "rest", "step")
        for source in (sheet.source(channel) for channel in sheet.channels)
    )


def _weight(project: Project, layer: str) -> ChannelSource:
    if layer == BASE:
        return BaseSource()
    return StepSource(layer=layer) if project.target.mixing.kind == "chain" else WeightSource(layer=layer)


def _layout(many: int, most: int) -> SheetLayout:
    if many == 1:
        return "grey"
    return "rgba" if many == 4 and most == 4 else "rgb"


def _free_names(kept: Sequence[Sheet], stem: str) -> Iterator[str]:
    taken = {sheet.id for sheet in kept} | {sheet.name.casefold() for sheet in kept}
    numbers = (f"{stem}_{letter}" for letter in "abcdefghijklmnopqrstuvwxyz")
    more = (f"{stem}_{k}" for k in range(27, 100))
    yield from (name for names in (numbers, more) for name in names if name not in taken)


def _filled(name: str, layout: SheetLayout, sources: Sequence[ChannelSource]) -> Sheet:
    slots = dict(zip(CHANNELS[layout], sources, strict=False))
    return Sheet(id=name, name=name, layout=layout, proposed=True, **slots)


def _carried(sheets: Sequence[Sheet]) -> set[str]:
    """What weights and steps there are in sheets, as they would be proposed."""
    sources = (sheet.source(channel) for sheet in sheets for channel in sheet.channels)
    return {source.model_dump_json() for source in sources if source is not None}


def proposed_sheets(project: Project, most: int = 4) -> tuple[Sheet, ...]:
    """Sheets for all layers, bottom first, and the base last where the target wants it written. Those that an earlier
    proposal made for weights go; those made by hand stay, and what they carry is not packed twice. Grey or RGB where
    fewer channels are enough; ``most`` channels to a sheet at most: three hold no alpha."""
    merged = [project.merge_of(item.id) for item in project.layers]
    ids = [item.id if merge is None else merge.id for item, merge in zip(project.layers, merged, strict=True)]
    rule = project.target.sheets
    kept = [sheet for sheet in project.sheets if not (sheet.proposed and _for_weights(sheet))]
    names, there = _free_names(kept, "splat"), _carried(kept)
    groups = rule.groups(list(dict.fromkeys(ids)), BASE)
    layers = [layer for group in groups for layer in group if not (layer == BASE and _chained(project))]
    wanted = [source for layer in layers if (source := _weight(project, layer)).model_dump_json() not in there]
    most = min(most, rule.most_channels, 3 if project.target.alpha == "none" else 4)
    made = [
        _filled(next(names), _layout(len(sources), most), sources)
        for sources in (wanted[at : at + most] for at in range(0, len(wanted), most))
    ]
    return (*made, *kept)


def _for_weights(sheet: Sheet) -> bool:
    """Whether it was proposed for weights, of which all may be gone since with their layers."""
    return carries_weights(sheet) or all(sheet.source(channel) is None for channel in sheet.channels)


def _chained(project: Project) -> bool:
    """Whether grounds are laid one over the other: the base then lies below all of them, and needs no weight."""
    return project.target.mixing.kind == "chain"


def _spread(reading: str, mapping: Literal["stretch", "east", "north"] = "stretch") -> ReadingSource:
    return ReadingSource(reading=reading, black=0.0, white=1.0, mapping=mapping)


def proposed_data_sheets(project: Project, what: DataSheet) -> tuple[Sheet, ...]:
    """The sheets with one (or several) more for data. Raises :class:`BadDocument` where there is nothing to pack."""
    names = _free_names(project.sheets, what)
    if what == "water":
        made = [_filled(next(names), "rgb", [_spread("flow"), _spread("scour"), _spread("deposition")])]
    elif what == "direction":
        made = [
            _filled(
                next(names), "rgb", [_spread("aspect", "east"), _spread("aspect", "north"), _spread("channel_depth")]
            )
        ]
    elif what == "surface":
        parts = [PaintedSource(map=name) for name in ("occlusion", "roughness", "detail")]
        made = [_filled(next(names), "rgb", parts)]
    elif what == "readings":
        alone = [reading_of(map_name(item.of)) for item in project.delivery.items if item.deliver]
        wanted = [_spread(reading) for reading in alone if reading is not None]
        if not wanted:
            raise BadDocument("No reading is delivered by itself: choose which are to be packed at the delivery.")
        made = [
            _filled(next(names), _layout(len(three), 3), three)
            for three in (wanted[at : at + 3] for at in range(0, len(wanted), 3))
        ]
    else:
        packed = {
            source.mask
            for sheet in project.sheets
            for channel in sheet.channels
            if isinstance(source := sheet.source(channel), MaskSource)
        }
        layered = {layer.mask for layer in project.layers}
        left = [MaskSource(mask=mask.id) for mask in project.masks if mask.id not in packed | layered]
        if not left:
            raise BadDocument("Every mask is in a layer or in a sheet already: there is nothing left to pack.")
        groups = [left[at : at + 3] for at in range(0, len(left), 3)]
        made = [_filled(next(names), _layout(len(group), 3), group) for group in groups]
    return (*project.sheets, *made)
