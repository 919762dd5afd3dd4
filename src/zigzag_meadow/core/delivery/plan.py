"""What will be written: items, names, sizes and coding, checked against the target before anything runs."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from zigzag_meadow.core.delivery.height_scale import HeightScale, height_scale
from zigzag_meadow.core.delivery.naming import FileName, TilePlace, file_names
from zigzag_meadow.core.delivery.planned import KEPT, Plan, PlannedFile, PlannedItem, scatter_of
from zigzag_meadow.core.delivery.trial import trial_extent, window_over
from zigzag_meadow.core.errors import BadDocument, BadNumber, IllegalSize, WrongFormat
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.texture import SIDE
from zigzag_meadow.core.map_name import (
    FarColourName,
    LookName,
    MiddleColourName,
    ReadingName,
    SheetName,
    SurfaceName,
)
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import Deliverable, deliverables, delivered
from zigzag_meadow.core.project.model.sheets import Channel, Sheet
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.tiles import OneFile, Tile, even_tiles

__all__ = ["Plan", "PlannedFile", "PlannedItem", "ends_are_free", "lost_in", "make_plan", "sharpens"]

_LETTERS: dict[int, tuple[Channel, ...]] = {1: ("r",), 3: ("r", "g", "b")}


def make_plan(
    project: Project,
    heights: tuple[float, float, float] | None = None,
    only: Collection[str] | None = None,
    today: str = "",
) -> Plan:
    """Plan the delivery of a project.

    ``heights``: lowest, highest and mean height of the prepared ground in metres; without them those of the file stand
    in (and the middle for the mean), which is right as long as no step of preparation changes heights. ``only``: of the
    items these alone; ``today``: for names that hold the day. Raises :class:`IllegalSize`, :class:`WrongFormat`,
    :class:`BadNumber` for names that collide and for ends that make no sense, :class:`BadDocument` where the ground has
    gaps or nothing is chosen.
    """
    if project.ground.keeps_voids:
        raise BadDocument(
            "The ground has samples without a height: no target takes gaps. Fill them as a step of preparation.",
            field="steps",
        )
    chosen, grid = project.target, project.final
    _check_size(chosen, grid)
    low, high = heights[:2] if heights is not None else project.ground.file_ends
    mean = heights[2] if heights is not None else (low + high) / 2
    # Level ground has no range to divide: a metre of it does.
    high = max(high, low + 1) if high - low < 1e-6 else high
    water = project.ground.water
    zero = water if chosen.position.heights == "water" and water is not None else 0.0
    part = grid.whole if project.delivery.region is None else trial_extent(project, grid)
    plan = Plan(project, chosen, grid, part, (low, high), zero, (), mean)
    wanted = [t for t in deliverables(project) if (delivered(project, t) if only is None else t.of in only)]
    if not wanted:
        raise BadDocument("Nothing is chosen to be delivered. Choose a file.", field="items")
    planned = [_planned(plan, thing) for thing in wanted]
    named = file_names(project, [(item.thing, item.choice, item.form, item.grid) for item in planned], today)
    items = tuple(_with_files(plan, item, stem) for item, stem in zip(planned, named, strict=True))
    _check_clashes(items)
    return replace(plan, items=items)


def _check_size(chosen: Target, grid: Grid) -> None:
    for side, size in (("columns", grid.cols), ("rows", grid.rows)):
        if not chosen.sizes.legal(size):
            near = ", ".join(str(n) for n in chosen.sizes.nearest(size))
            raise IllegalSize(f"{chosen.title} does not take {size} {side}. Nearest: {near}.", field=side)
    if not chosen.sizes.fits(grid.rows, grid.cols):
        raise IllegalSize(
            f"{chosen.title} takes {grid.cols} and {grid.rows}, but not together. {chosen.sizes.read()}", field="rows"
        )


def _check_clashes(items: tuple[PlannedItem, ...]) -> None:
    taken: dict[str, str] = {}
    for item in items:
        for file in item.files:
            folded = file.name.casefold()
            what = item.thing.title if file.single else f"tile {file.tile.x}, {file.tile.y} of {item.thing.title}"
            if folded in taken:
                raise BadNumber(
                    f"{taken[folded][:1].upper()}{taken[folded][1:]} and {what} would both be called {file.name}. Name "
                    "one of them, or put what tells them apart into the pattern: {map}, or {x} and {y} of tiles.",
                    field="pattern",
                )
            taken[folded] = what
    own = next((file.name for item in items for file in item.files if file.name in KEPT), None)
    if own is not None:
        raise BadNumber(f"{own} is the name of a file that every delivery writes. Choose another.", field="file")


def _planned(plan: Plan, thing: Deliverable) -> PlannedItem:
    project, chosen = plan.project, plan.target
    choice = project.delivery.choice(thing.of)
    _check_ends(thing, choice)
    sheet = project.sheet(thing.name.sheet) if isinstance(thing.name, SheetName) else None
    written = _form(plan, thing, choice, sheet)
    channels = _channels(thing, choice, sheet)
    _check_form(plan, thing, written, channels, sheet)
    grid = _grid(plan, thing, choice)
    whole = plan.part == plan.grid.whole or thing.kind in ("look", "points")
    window = grid.whole if whole else window_over(grid, plan.grid, plan.part)
    flips = thing.kind != "look"
    up = flips and (chosen.first_row == "south") != (choice.turn in ("north_south", "both"))
    back = flips and (chosen.first_column == "east") != (choice.turn in ("east_west", "both"))
    if written.id == "asc" and (up or back):
        raise WrongFormat(
            f"An ASCII grid runs from north to south and from west to east, and knows no other order: {thing.title} "
            "cannot be turned in it. Choose another format, or no turn.",
            field="form",
        )
    scale = _scale(plan, thing, choice, written)
    return PlannedItem(thing, choice, written, grid, window, channels, scale.scale, up, back, (), sheet, scale.by)


def _check_ends(thing: Deliverable, choice: ItemChoice) -> None:
    """Ends that are typed are honoured or refused, never left out of account."""
    if choice.stored is not None and thing.kind != "height":
        raise BadNumber(f"{thing.title} is no height: it cannot be stored in another way.", field="stored")
    typed = choice.black is not None
    if typed and thing.kind != "height" and not isinstance(thing.name, ReadingName):
        raise BadNumber(f"{thing.title} lies between 0 and 1 already: it has no ends to type.", field="black")


def _surface_part(thing: Deliverable) -> str | None:
    """Which part of a surface it holds, of the ground's own or of a look."""
    if isinstance(thing.name, LookName):
        return thing.name.part
    return thing.name.map if isinstance(thing.name, SurfaceName) else None


def _form(plan: Plan, thing: Deliverable, choice: ItemChoice, sheet: Sheet | None) -> Form:
    if thing.kind == "points":
        scatter = plan.project.scatter(scatter_of(thing) or "")
        kind = "csv" if scatter is None or scatter.points_format == "none" else scatter.points_format
        return form(choice.form or kind)
    taken = plan.target.height.forms if thing.rule is None else plan.target.kind(thing.rule).forms
    if choice.form is not None:
        if choice.form not in taken:
            them = ", ".join(form(item).title for item in taken)
            raise WrongFormat(
                f"{plan.target.title} does not take {thing.title} as {form(choice.form).title}. It takes: {them}.",
                field="form",
            )
        return form(choice.form)
    forms = [form(item) for item in taken]
    bits = _bits(plan, thing, sheet)
    channels = _channels(thing, choice, sheet)
    good = [item for item in forms if lost_in(plan, thing, item, channels, sheet) is None]
    first = (good or forms)[0]
    if bits is None:
        return first
    return next((item for item in good if item.bits == bits and not item.floats), first)


def _bits(plan: Plan, thing: Deliverable, sheet: Sheet | None) -> int | None:
    """The depth that something asks for; None for what is as good in any."""
    if sheet is not None:
        return sheet.bits
    scatter = plan.project.scatter(scatter_of(thing) or "") if thing.kind == "density" else None
    return None if scatter is None else scatter.bits


def _channels(thing: Deliverable, choice: ItemChoice, sheet: Sheet | None) -> tuple[Channel, ...]:
    if sheet is not None:
        return tuple(c for c in sheet.channels if choice.alpha or c != "a")
    three = thing.kind == "colour" or _surface_part(thing) in ("albedo", "normal")
    return _LETTERS[3 if three else 1] if thing.kind != "points" else ()


def lost_in(
    plan: Plan, thing: Deliverable, written: Form, channels: tuple[Channel, ...], sheet: Sheet | None
) -> str | None:
    """What of a map a form cannot hold, in a sentence; None where it holds all of it."""
    colours = thing.kind == "colour" or (sheet is not None and sheet.holds_colours) or _surface_part(thing) == "albedo"
    return written.losses(channels, _bits(plan, thing, sheet) or 8, colours, thing.title)


def sharpens(item: PlannedItem) -> bool:
    """Whether a sharper reduction can be chosen: not where numbers are heights, add up, or stand for something."""
    return item.thing.kind in ("map", "density", "colour", "surface")


def ends_are_free(plan: Plan, item: PlannedItem) -> bool:
    """Whether black and white can be chosen: of readings and heights, unless the target fixes them; floats lie between
    0 and 1 then."""
    if item.thing.kind == "height" and item.form.floats:
        return item.scale is not None and item.choice.stored != "mean"
    if item.thing.kind == "height":
        return plan.target.height.coding.kind in ("range", "metres")
    return isinstance(item.thing.name, ReadingName)


def _check_form(
    plan: Plan, thing: Deliverable, written: Form, channels: tuple[Channel, ...], sheet: Sheet | None
) -> None:
    if thing.kind == "points":
        if written.takes != "points":
            raise WrongFormat(f"{thing.title} are points: {written.title} holds pictures.", field="form")
        return
    if written.takes != "raster":
        raise WrongFormat(f"{thing.title} is a picture: {written.title} holds points.", field="form")
    lost = lost_in(plan, thing, written, channels, sheet)
    if lost is not None:
        raise WrongFormat(f"{lost} Choose another format.", field="form")
    if plan.target.alpha == "none" and "a" in channels:
        raise WrongFormat(f"{plan.target.title} takes no alpha: A of {thing.title} would be lost. {_instead(sheet)}")
    if sheet is not None and thing.group == "weights" and len(channels) > plan.target.sheets.most_channels:
        raise WrongFormat(
            f"{plan.target.title} takes {plan.target.sheets.most_channels} weights in one file; {thing.title} has "
            f"{len(channels)} channels. {_instead(sheet)}"
        )


def _instead(sheet: Sheet | None) -> str:
    """What to do about a sheet that the target does not take: a proposal leaves alone what was made by hand."""
    if sheet is None or sheet.proposed:
        return "Propose sheets for it."
    return "It was made by hand, and no proposal takes it away: take channels out of it, or delete it and propose."


def _grid(plan: Plan, thing: Deliverable, choice: ItemChoice) -> Grid:
    if thing.kind == "height":
        return plan.grid
    if thing.kind == "look":
        return _look_grid(plan.project, thing)
    group, kind = thing.rule or "masks", thing.size_kind or "data"
    grid, rule = plan.target.map_grid(plan.grid, kind, group), plan.target.size_of(kind, group)
    own = next((size for size in plan.project.delivery.sizes if size.kind == kind), None)
    rows, cols = (choice.rows, choice.cols) if own is None or choice.rows else (own.rows, own.cols)
    if rows is None or cols is None:
        return grid
    if rule.kind != "free":
        raise IllegalSize(
            f"{plan.target.title} fixes the size of {thing.title}: {grid.cols} × {grid.rows}. {rule.read()}",
            field="rows",
        )
    return plan.grid.resized(rows, cols, grid.registration)


def _look_grid(project: Project, thing: Deliverable) -> Grid:
    assert isinstance(thing.name, LookName)
    name = thing.name.look
    own = project.look(name)
    if own is not None:
        return Grid(own.rows, own.cols, own.size / own.cols, own.size / own.cols, "area")
    size = next(look.size for look in LOOKS if look.id == name)
    return Grid(SIDE, SIDE, size / SIDE, size / SIDE, "area")


def _scale(plan: Plan, thing: Deliverable, choice: ItemChoice, written: Form) -> HeightScale:
    """How heights are stored; of anything else nothing."""
    if thing.kind != "height":
        return HeightScale(None, "target")
    return height_scale(plan.target, plan.project.ground, choice, written, plan.levels, plan.zero)


def _with_files(plan: Plan, item: PlannedItem, named: FileName) -> PlannedItem:
    ending = (item.choice.ending or item.form.ending) if item.form.endings else item.form.ending
    rule = OneFile() if item.choice.whole or plan.trial or not _tiled(item) else plan.target.tiles
    w, region = item.window, plan.project.delivery.region
    if plan.trial and region is not None and region.into > 1 and _tiled(item) and item.is_picture:
        tiles = even_tiles(w.rows, w.cols, region.into, item.grid.registration)
    else:
        tiles = rule.tiles(w.rows, w.cols, item.grid.registration) if item.is_picture else [Tile(0, 0, w)]
    single = len(tiles) == 1
    names = plan.project.delivery.tile_names or plan.target.tile_names
    files = []
    down, across = max(t.y for t in tiles), max(t.x for t in tiles)
    for tile in tiles:
        x = across - tile.x if item.cols_back else tile.x
        y = down - tile.y if item.rows_up else tile.y
        t = tile.window
        moved = Window(t.row0 + w.row0, t.row1 + w.row0, t.col0 + w.col0, t.col1 + w.col0)
        place = TilePlace(tile.x, tile.y, across + 1, down + 1, item.rows_up, item.cols_back)
        stem = named.alone() if single else named.of_tile(names, place)
        files.append(PlannedFile(f"{stem}.{ending}", Tile(x, y, moved), single))
    return replace(item, files=tuple(files))


def _tiled(item: PlannedItem) -> bool:
    whole = isinstance(item.thing.name, MiddleColourName | FarColourName)
    return item.thing.kind not in ("look", "points") and not whole
