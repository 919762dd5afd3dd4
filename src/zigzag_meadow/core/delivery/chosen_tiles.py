"""Some tiles of a delivery only: as a trial of their own, or written again beside all others that lie there."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from zigzag_meadow.core.delivery.manifest import Entry, Manifest
from zigzag_meadow.core.delivery.notes import stored_heights
from zigzag_meadow.core.delivery.plan import Plan, PlannedFile, PlannedItem
from zigzag_meadow.core.errors import BadNumber, Conflict
from zigzag_meadow.core.targets.note import NOTE_VERSION, note_of

__all__ = ["check_again", "files_of_tiles", "only_tiles", "tiles_of"]

Place = tuple[int, int]
"""(column from the west, row from the north) of a tile of the height, from 0."""
Share = tuple[float, float, float, float]


def tiles_of(plan: Plan) -> tuple[int, int]:
    """Tiles of the height (across, down); (1, 1) where it is one file or none."""
    item = plan.item("height")
    if item is None:
        return 1, 1
    return max(f.tile.x for f in item.files) + 1, max(f.tile.y for f in item.files) + 1


def _share(item: PlannedItem, file: PlannedFile) -> Share:
    """Where a file lies, in shares of all of its map: west, north, east, south. Samples that tiles share are counted
    to neither."""
    w, tile = item.window, file.tile.window
    less = 1 if item.grid.registration == "vertex" else 0
    cols, rows = max(w.cols - less, 1), max(w.rows - less, 1)
    west, north = (tile.col0 - w.col0) / cols, (tile.row0 - w.row0) / rows
    return west, north, (tile.col1 - less - w.col0) / cols, (tile.row1 - less - w.row0) / rows


def _places(plan: Plan) -> dict[Place, Share]:
    """Where every tile of the height lies, whichever way its files are counted."""
    item = plan.item("height")
    if item is None:
        return {}
    windows = [file.tile.window for file in item.files]
    columns, rows = sorted({w.col0 for w in windows}), sorted({w.row0 for w in windows})
    return {
        (columns.index(w.col0), rows.index(w.row0)): _share(item, f) for f, w in zip(item.files, windows, strict=True)
    }


def _wanted(plan: Plan, chosen: Collection[Place]) -> list[Share]:
    tiles = _places(plan)
    if len(tiles) < 2:
        raise BadNumber(
            f"{plan.target.title} takes the height in one file: there are no tiles to choose.", field="tiles"
        )
    if not chosen:
        raise BadNumber("Choose at least one tile.", field="tiles")
    for column, row in chosen:
        if (column, row) not in tiles:
            across, down = tiles_of(plan)
            raise BadNumber(
                f"There are {across} × {down} tiles, none in column {column} and row {row} from the north-west.",
                field="tiles",
            )
    return [tiles[place] for place in chosen]


def files_of_tiles(plan: Plan, chosen: Collection[Place]) -> set[str]:
    """Names of all files that lie over chosen tiles of the height. Raises :class:`BadNumber` for tiles that are not
    there."""
    wanted = _wanted(plan, chosen)
    return {
        file.name
        for item in plan.items
        if item.is_picture and len(item.files) > 1
        for file in item.files
        if any(_meet(_share(item, file), share) for share in wanted)
    }


def _meet(a: Share, b: Share) -> bool:
    near = 1e-6
    return min(a[2], b[2]) - max(a[0], b[0]) > near and min(a[3], b[3]) - max(a[1], b[1]) > near


def only_tiles(plan: Plan, chosen: Collection[Place]) -> Plan:
    """The plan with files of chosen tiles alone, to try: maps that are one file stay out. Raises :class:`BadNumber`."""
    names = files_of_tiles(plan, chosen)
    items = (replace(i, files=tuple(f for f in i.files if f.name in names)) for i in plan.items)
    return replace(plan, items=tuple(item for item in items if item.files), tried=True)


def check_again(plan: Plan, again: Collection[str], before: Manifest | None) -> dict[str, Entry]:
    """The files that stay beside those that are written ``again``, by name, as an earlier delivery ``before`` has them.

    Raises :class:`Conflict` where there is none, or where they would not go together: another size, form or scale.
    """
    entries = {} if before is None else {entry.file: entry for entry in before.files}
    stay = [(item, file) for item in plan.items for file in item.files if file.name not in again]
    missing = next((file.name for _, file in stay if file.name not in entries), None)
    if before is None or missing is not None:
        raise Conflict(
            f"Single tiles are written again beside all others: there is no delivery before with {missing or 'them'}. "
            "Deliver everything first."
        )
    note = note_of({**before.note, "note": NOTE_VERSION}, "note") if before.note else None
    told = {} if note is None else {file.file: file for file in note.files}
    for item, file in stay:
        was, window, w = told.get(file.name), file.tile.window, item.window
        stored = None if item.scale is None else stored_heights(plan, item.scale)
        # Points have neither size nor scale that others must go with.
        if was is None or (
            item.is_picture
            and (was.form, was.stored, was.registration, was.rows, was.columns, was.whole_rows, was.whole_columns)
            != (item.form.id, stored, item.grid.registration, window.rows, window.cols, w.rows, w.cols)
        ):
            raise Conflict(
                f"{file.name} lies there in another size, form or scale than it would have now: tiles of both do "
                "not go together. Deliver everything again."
            )
    return {file.name: entries[file.name] for _, file in stay}
