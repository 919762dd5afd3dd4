"""The import note of a plan: every number that is typed in there, made once, from what was written."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zigzag_meadow.core.delivery.channel_notes import channel_notes, file_colour_space
from zigzag_meadow.core.delivery.height_looker import HIGHEST, LOWEST
from zigzag_meadow.core.delivery.legend_notes import legend_notes
from zigzag_meadow.core.delivery.manifest import Entry, HeightSeen
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem, sharpens
from zigzag_meadow.core.delivery.raster import extent_of, is_coded
from zigzag_meadow.core.evaluate.coarser import coarser_words
from zigzag_meadow.core.evaluate.engine import Evaluation
from zigzag_meadow.core.formats.writing.points import FIELDS
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.project.model.items import map_of
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.sheets import BaseSource, RestSource, StepSource, WeightSource
from zigzag_meadow.core.targets.codings import Scale, SignedStep
from zigzag_meadow.core.targets.distances import NearMiddleFar
from zigzag_meadow.core.targets.note import (
    BlockNote,
    CheckPoint,
    DistancesNote,
    Extent,
    FileNote,
    GroundNote,
    HeightNote,
    ImportNote,
    SettingNote,
    StepNote,
    StoredHeights,
    TargetNote,
    TileNote,
    UnitNote,
    UnitsNote,
    WeightsNote,
)

__all__ = ["import_note", "resampled_words", "stored_heights"]


def import_note(evaluation: Evaluation, plan: Plan, entries: Mapping[str, Entry]) -> ImportNote:
    """Everything a rehearsal, or a person at the target, may know. ``entries``: the written files by name."""
    target, project = plan.target, plan.project
    files = [_file(evaluation, plan, item, file, entries.get(file.name)) for item in plan.items for file in item.files]
    return ImportNote(
        project=project.name,
        target=TargetNote(
            id=target.id,
            title=target.title,
            sentence=target.sentence,
            required=target.by_default,
            most_layers=target.most_layers,
            most_per_block=target.most_per_block,
        ),
        units=_units(plan),
        ground=_ground(plan),
        distances=_distances(plan),
        height=_height(plan, entries),
        weights=_weights(plan),
        files=tuple(files),
        legend=tuple(legend_notes(plan, files)),
        neutral=_neutral(plan),
        after=tuple(StepNote(do=n.do, because=n.because) for n in target.after),
        expect=tuple(_expected(plan, entries)),
        check_points=tuple(_points(evaluation, plan, entries)),
        trial=plan.trial,
    )


def _units(plan: Plan) -> UnitsNote:
    units = plan.target.units
    longer = max(plan.grid.width, plan.grid.length)
    heights, lengths, positions = (
        UnitNote(metres=unit.each(longer), symbol=unit.told())
        for unit in (units.heights, units.lengths, units.positions)
    )
    return UnitsNote(heights=heights, lengths=lengths, positions=positions)


def _distances(plan: Plan) -> DistancesNote | None:
    rule = plan.target.distances
    if not isinstance(rule, NearMiddleFar):
        return None
    return DistancesNote(near_to=rule.near_to, middle_to=rule.middle_to)


def _neutral(plan: Plan) -> tuple[SettingNote, ...]:
    """What must be neutral there, as heights are stored."""
    item = plan.item("height")
    stored = None if item is None else "metres" if item.scale is None else "codes"
    return tuple(
        SettingNote(setting=n.setting, to=n.to, because=n.because)
        for n in plan.target.neutral
        if n.only is None or n.only == stored
    )


def _ground(plan: Plan) -> GroundNote:
    grid, part = plan.grid, plan.part
    layout = plan.target.sizes.layout(part.rows, part.cols)
    blocks = None if layout is None else BlockNote(cells=layout.cells, across=layout.across, down=layout.down)
    return GroundNote(
        columns=part.cols,
        rows=part.rows,
        registration=grid.registration,
        spacing_x=grid.dx,
        spacing_y=grid.dy,
        extent=extent_of(plan, grid, part),
        anchor=plan.target.position.anchor,
        up=plan.target.position.up,
        zero=plan.zero,
        blocks=blocks,
    )


def stored_heights(plan: Plan, scale: Scale) -> StoredHeights:
    """What stored values stand for, told in every form that is asked for anywhere."""
    whole = scale.full > 1
    middle: int | float = (scale.full + 1) // 2 if whole else (scale.least + scale.full) / 2
    coding = plan.target.height.coding
    base = coding.base_step if whole and isinstance(coding, SignedStep) else None
    return StoredHeights(
        least=scale.least,
        at_least=scale.at_zero + scale.least * scale.step,
        step=scale.step,
        at_zero=scale.at_zero,
        middle=middle,
        at_middle=scale.at_zero + middle * scale.step,
        full=scale.full,
        at_full=scale.at_zero + scale.full * scale.step,
        base_step=base,
        multiplier=None if base is None else scale.step / base,
    )


def _all_seen(plan: Plan, entries: Mapping[str, Entry]) -> list[HeightSeen]:
    item = plan.item("height")
    found = [] if item is None else [entries.get(file.name) for file in item.files]
    return [entry.seen for entry in found if entry is not None and entry.seen is not None]


def _height(plan: Plan, entries: Mapping[str, Entry]) -> HeightNote | None:
    item = plan.item("height")
    if item is None:
        return None
    seen = _all_seen(plan, entries)
    low, high = (h - plan.zero for h in plan.ends)
    water = plan.project.ground.water
    return HeightNote(
        coding=_coding(plan, item),
        scale_by=item.scale_by,
        stored=None if item.scale is None else stored_heights(plan, item.scale),
        lowest=min((s.low for s in seen), default=low),
        highest=max((s.high for s in seen), default=high),
        project_lowest=plan.ends[0],
        project_highest=plan.ends[1],
        water=None if water is None else water - plan.zero,
        clipped=sum(s.clipped for s in seen),
    )


def _coding(plan: Plan, item: PlannedItem) -> str:
    """By which name the way of storing goes."""
    if item.scale is None:
        return "metres"
    return item.choice.stored or "unit" if item.form.floats else plan.target.height.coding.kind


def _weights(plan: Plan) -> WeightsNote:
    mixing = plan.target.mixing
    full = _adds_up(plan)
    implied = not any(kind in ("base", "rest") for kind, _ in _carried(plan))
    return WeightsNote(full=full, base_implied=implied, mixing=mixing.kind, sentence=mixing.sentence)


def _carried(plan: Plan) -> list[tuple[str, str]]:
    """(kind, layer) of every weight in a delivered sheet."""
    found: list[tuple[str, str]] = []
    for item in plan.items:
        if item.sheet is None:
            continue
        for channel in item.channels:
            source = item.sheet.source(channel)
            if isinstance(source, WeightSource | StepSource | BaseSource | RestSource):
                layer = source.layer if isinstance(source, WeightSource | StepSource) else BASE
                found.append(("turned" if source.turned else source.kind, layer))
    return found


def _adds_up(plan: Plan) -> int | None:
    """Full scale, where the sheets carry every weight that is shown exactly once and in one depth."""
    carried = _carried(plan)
    if not carried or any(kind not in ("weight", "base") for kind, _ in carried):
        return None
    shown = {outcome.id for outcome in plan.project.outcomes}
    if sorted(layer for _, layer in carried if layer in shown) != sorted(shown):
        return None
    fulls = {item.full for item in plan.items if item.sheet is not None and item.thing.group == "weights"}
    return int(next(iter(fulls))) if len(fulls) == 1 and fulls != {1.0} else None


def _file(evaluation: Evaluation, plan: Plan, item: PlannedItem, file: PlannedFile, entry: Entry | None) -> FileNote:
    grid, window = item.grid, file.tile.window
    form = item.form
    kept: dict[str, Any] = {
        "file": file.name,
        "title": item.thing.title,
        "of": item.thing.of,
        "kind": item.thing.kind,
        "form": form.id,
        "reads": form.reads,
        "format": form.title,
        "bits": form.bits,
        "floats": form.floats,
    }
    if not item.is_picture:
        return FileNote(
            **kept,
            extent=extent_of(plan, plan.grid, plan.part),
            fields=FIELDS,
            count=None if entry is None else entry.count,
        )
    tile = (
        None
        if file.single
        else TileNote(
            x=file.tile.x,
            y=file.tile.y,
            first_row=window.row0 - item.window.row0,
            first_column=window.col0 - item.window.col0,
        )
    )
    return FileNote(
        **kept,
        rows=window.rows,
        columns=window.cols,
        whole_rows=item.window.rows,
        whole_columns=item.window.cols,
        registration=grid.registration,
        spacing_x=grid.dx,
        spacing_y=grid.dy,
        extent=_laid_over(plan, item, window),
        first_row="south" if item.rows_up else "north",
        first_column="east" if item.cols_back else "west",
        tile=tile,
        colour_space=file_colour_space(plan, item),
        tagged=is_coded(plan, item) and form.colours == "tagged",
        alpha="straight data" if "a" in item.channels else "none",
        byte_order=(item.choice.order or "little") if form.reads == "raw" and form.bits > 8 else None,
        resampled=resampled_words(plan, item),
        remark=_remark(evaluation, item),
        channels=channel_notes(evaluation, plan, item),
        stored=None if item.scale is None else stored_heights(plan, item.scale),
    )


def _remark(evaluation: Evaluation, item: PlannedItem) -> str:
    """What else is to be known of a picture."""
    coarser = None if item.thing.kind == "look" else coarser_words(evaluation.graph, map_of(item.thing))
    return " ".join(text for text in (item.form.lacks, coarser) if text)


def _laid_over(plan: Plan, item: PlannedItem, window: Window) -> Extent:
    """What a file is laid over; a texture lies from the south-west corner on."""
    made = extent_of(plan, item.grid, window)
    return made.model_copy(update={"west": 0.0, "south": 0.0}) if item.thing.kind == "look" else made


def resampled_words(plan: Plan, item: PlannedItem) -> str:
    """How it came to its size, in words."""
    home, grid = plan.project.ground.home, item.grid
    if item.thing.kind == "look":
        return "as the texture comes"
    across, down = grid.dx / home.dx, grid.dy / home.dy
    if max(across, down) > 1 + 1e-9:
        how = (
            "Lanczos over two lobes"
            if item.choice.resampling == "sharp" and sharpens(item)
            else "the mean over what a sample stands for"
        )
        return f"reduced: {how}"
    if min(across, down) < 1 - 1e-9:
        return "raised: Catmull–Rom between samples of the ground"
    same = grid.registration == home.registration
    return "on the samples of the ground" if same else "between the samples of the ground"


def _expected(plan: Plan, entries: Mapping[str, Entry]) -> list[str]:
    """What it should look like there."""
    seen = _all_seen(plan, entries)
    told = []
    if seen:
        low, high = min(s.low for s in seen), max(s.high for s in seen)
        told.append(f"Heights from {low:.2f} m to {high:.2f} m, {high - low:.2f} m in all.")
        clipped = sum(s.clipped for s in seen)
        if clipped:
            told.append(f"{clipped} samples lie beyond what can be stored: they are cut off flat.")
    extent = extent_of(plan, plan.grid, plan.part)
    told.append(f"A ground {extent.width:g} m wide and {extent.length:g} m long.")
    water = plan.project.ground.water
    if water is not None:
        told.append(f"Water fills the ground up to {water - plan.zero:g} m.")
    if plan.trial:
        told.append("Only a part of the ground was delivered, to try.")
    return told


def _points(evaluation: Evaluation, plan: Plan, entries: Mapping[str, Entry]) -> list[CheckPoint]:
    """Check points of all height files, each where it was found; the ends are those of the whole."""
    best: dict[str, tuple[int, int, float]] = {}
    for seen in _all_seen(plan, entries):
        for title, found in seen.points.items():
            sign = -1 if title == LOWEST else 1
            if title not in best or (title in (HIGHEST, LOWEST) and sign * found[2] > sign * best[title][2]):
                best[title] = found
    whole = extent_of(plan, plan.grid, plan.grid.whole)
    half = 0.0 if plan.grid.registration == "vertex" else 0.5
    names = [outcome.name for outcome in plan.project.outcomes]
    places = sorted(best.items())
    node = evaluation.graph.painting.strongest()
    strongest: dict[str, int] = {}

    def look(k: int) -> None:
        title, (row, col, _) = places[k]
        here = Window(row, row + 1, col, col + 1)
        strongest[title] = int(evaluation.window(node, plan.grid, here)[0, 0])

    # Each lies in a tile of its own, which is no longer held.
    evaluation.each(len(places), look)
    return [
        CheckPoint(
            title=title,
            east=round(whole.west + (col + half) * plan.grid.dx, 3),
            north=round(whole.south + whole.length - (row + half) * plan.grid.dy, 3),
            height=metres,
            strongest=names[strongest[title]],
        )
        for title, (row, col, metres) in places
    ]
