"""What will be written: items, names, sizes and coding, checked against the target before anything runs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import BadDocument, BadNumber, IllegalSize, MeadowError, WrongFormat
from zigzag_meadow.core.formats.names import file_stem
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.layers.scatter import densest
from zigzag_meadow.core.project.document import Project, Sheet
from zigzag_meadow.core.project.features import Scatter
from zigzag_meadow.core.project.painting import BASE
from zigzag_meadow.core.project.uses import uses
from zigzag_meadow.core.targets.encode import SignedStep, signed_step
from zigzag_meadow.core.targets.rules import BlockLayout, Target, target

__all__ = ["Caution", "Item", "Plan", "block_layout", "cautions", "make_plan"]


@dataclass(frozen=True, slots=True)
class Item:
    """One file to be written."""

    kind: Literal["height", "sheet", "density", "points"]
    title: str
    file: str
    format: Literal["png", "raw", "csv", "geojson", "ply"]
    bits: int
    channels: int
    sheet: Sheet | None = None
    scatter: Scatter | None = None

    @property
    def is_image(self) -> bool:
        return self.kind != "points"

    def bytes_at_most(self, grid: Grid) -> int:
        if self.scatter is not None and self.kind == "points":
            many = grid.width * grid.length / 100 * min(self.scatter.density, densest(self.scatter.distance))
            return int(many * (140 if self.format == "geojson" else 60)) + 65536
        return grid.rows * grid.cols * self.channels * self.bits // 8 + 65536


@dataclass(frozen=True, slots=True)
class Plan:
    """A delivery ready to run."""

    project: Project
    target: Target
    grid: Grid
    layout_x: BlockLayout
    layout_y: BlockLayout
    coding: SignedStep
    ends: tuple[float, float]
    items: tuple[Item, ...]

    @property
    def bytes_needed(self) -> int:
        """Room on disk for the files."""
        return sum(item.bytes_at_most(self.grid) for item in self.items)


@dataclass(frozen=True, slots=True)
class Caution:
    """Something that does not stop a delivery but should be known before."""

    waypoint: str
    message: str
    short: str


def block_layout(chosen: Target, rows: int, cols: int) -> tuple[BlockLayout, BlockLayout]:
    """(layout across, layout down) with the same patches on both axes and the fewest blocks.

    Raises :class:`IllegalSize` with the nearest sizes that are legal.
    """
    down = {(item.patch, item.patches): item for item in chosen.layouts(rows)}
    for across in chosen.layouts(cols):
        match = down.get((across.patch, across.patches))
        if match is not None:
            return across, match
    for side, size in (("columns", cols), ("rows", rows)):
        if not chosen.is_legal(size):
            near = ", ".join(str(n) for n in chosen.nearest_sizes(size))
            raise IllegalSize(f"{chosen.title} does not take {size} {side}. Nearest: {near}.", field=side)
    raise IllegalSize(f"{chosen.title} takes {cols} and {rows}, but no patch size serves both.", field="rows")


def _file_name(project: Project, size: str, map_name: str, ending: str) -> str:
    text = project.delivery.pattern
    for token, value in (("{project}", project.name), ("{map}", map_name), ("{size}", size)):
        text = text.replace(token, value)
    if "{" in text or "}" in text:
        raise BadNumber("A name pattern may hold {project}, {map} and {size} and no other braces.", field="pattern")
    return f"{file_stem(text)}.{ending}"


def _scatter_items(project: Project, scatter: Scatter, size: str) -> list[Item]:
    density = _file_name(project, size, f"{scatter.name}_density", "png")
    items = [Item("density", f"{scatter.name}, density", density, "png", scatter.bits, 1, scatter=scatter)]
    if scatter.points_format != "none":
        name = _file_name(project, size, f"{scatter.name}_points", scatter.points_format)
        items.append(Item("points", f"{scatter.name}, points", name, scatter.points_format, 0, 0, scatter=scatter))
    return items


def make_plan(project: Project, ends: tuple[float, float] | None = None) -> Plan:
    """Plan the delivery of a project.

    ``ends``: lowest and highest height of the prepared ground in metres; without them those of the file stand in,
    which is right as long as no step of preparation changes heights. Raises :class:`IllegalSize`,
    :class:`BadNumber` for names that collide, :class:`BadDocument` where the ground has gaps.
    """
    if project.ground.keeps_voids:
        raise BadDocument(
            "The ground has samples without a height: no target takes gaps. Fill them as a step of preparation.",
            field="steps",
        )
    chosen = target(project.delivery.target)
    grid = project.final
    across, down = block_layout(chosen, grid.rows, grid.cols)
    low, high = ends or project.ground.file_ends
    # Level ground has no range to divide: a metre of it does.
    coding = signed_step(low, max(high, low + 1) if high - low < 1e-6 else high, chosen.base_step)
    if project.delivery.height_format not in chosen.height_formats:
        takes = ", ".join(chosen.height_formats)
        raise WrongFormat(f"{chosen.title} does not take {project.delivery.height_format}. It takes: {takes}.")
    raw = project.delivery.height_format == "raw16"
    size = f"{grid.cols}x{grid.rows}"
    ending = "r16" if raw else "png"
    items = [Item("height", "Height", _file_name(project, size, "height", ending), "raw" if raw else "png", 16, 1)]
    for sheet in project.sheets:
        name = _file_name(project, size, sheet.name, "png")
        items.append(Item("sheet", sheet.name, name, "png", 8, len(sheet.channels), sheet))
    for scatter in project.scatters:
        if scatter.deliver:
            items += _scatter_items(project, scatter, size)
    names = [item.file for item in items]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise BadNumber(f"Two files would be called {twice}. Put {{map}} into the name pattern.", field="pattern")
    return Plan(project, chosen, grid, across, down, coding, (low, high), tuple(items))


_SHORT: dict[type[MeadowError], str] = {
    IllegalSize: "size not legal", BadDocument: "gaps to fill", BadNumber: "file names to mend",
    WrongFormat: "format not taken",
}  # fmt: skip
"""What a refused plan is called in short, by its cause."""


def cautions(project: Project) -> list[Caution]:
    """What an artist should know before delivering: empty channels, weights nobody packed, too many layers."""
    told: list[Caution] = []
    packed = {
        use.used.partition(":")[2] for use in uses(project) if use.user.startswith("sheet:") and "layer:" in use.used
    }
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            if source is None:
                text = f"Channel {channel.upper()} of {sheet.name} is empty: whoever reads it finds black."
                told.append(Caution("packing", text, "empty channels"))
            elif source.kind == "rest":
                packed.add("base")
    told += [
        Caution("packing", f"The weight of {item.name} is in no channel.", "weights unpacked")
        for item in project.outcomes
        if item.id not in packed and item.id != BASE
    ]
    if project.sheets and BASE not in packed:
        text = f"The base, {project.base.name}, is in no channel: the target must imply it."
        told.append(Caution("packing", text, "base unpacked"))
    chosen = target(project.delivery.target)
    if len(project.outcomes) > chosen.most_layers:
        text = f"{len(project.outcomes)} layers with the base; {chosen.title} takes {chosen.most_layers}. Merge some."
        told.append(Caution("layers", text, "too many layers"))
    if not project.sheets:
        told.append(Caution("packing", "There are no sheets: only the height would be delivered.", "no sheets"))
    try:
        make_plan(project)
    except MeadowError as error:
        told.append(Caution("delivery", error.message, _SHORT.get(type(error), "cannot run yet")))
    return told
