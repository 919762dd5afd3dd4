"""As few sheets as hold every weight."""

from __future__ import annotations

from zigzag_meadow.core.project.document import (
    BaseSource,
    ChannelSource,
    Project,
    Sheet,
    SheetLayout,
    WeightSource,
)

__all__ = ["carries_weights", "proposed_sheets"]


def carries_weights(sheet: Sheet) -> bool:
    """Whether a sheet has a layer's or the base's weight in any channel."""
    return any(
        source is not None and source.kind in ("weight", "base", "rest")
        for source in (sheet.source(channel) for channel in sheet.channels)
    )


def proposed_sheets(project: Project) -> tuple[Sheet, ...]:
    """Sheets for all layers, bottom first, and the base last; ceil(n/4) of them. Other sheets are kept."""
    merged = [project.merge_of(item.id) for item in project.layers]
    ids = [item.id if merge is None else merge.id for item, merge in zip(project.layers, merged, strict=True)]
    sources: list[ChannelSource] = [WeightSource(layer=item) for item in dict.fromkeys(ids)]
    sources.append(BaseSource())
    kept = [sheet for sheet in project.sheets if not carries_weights(sheet)]
    taken_ids = {sheet.id for sheet in kept}
    taken_names = {sheet.name.casefold() for sheet in kept}
    made: list[Sheet] = []
    letters = iter(f"splat_{letter}" for letter in "abcdefghijklmnopqrstuvwxyz")
    for start in range(0, len(sources), 4):
        name = next(n for n in letters if n not in taken_ids and n not in taken_names)
        part = sources[start : start + 4]
        layout: SheetLayout = "grey" if len(part) == 1 else ("rgb" if len(part) == 3 else "rgba")
        slots = dict(zip(("r", "g", "b", "a"), part, strict=False))
        made.append(Sheet(id=name, name=name, layout=layout, **slots))
    return (*made, *kept)
