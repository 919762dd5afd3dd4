"""The import note for people: rows of numbers in the order in which they are needed, as text and as a page."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from pathlib import Path

from jinja2 import Environment

from zigzag_meadow.core.paper import fonts, pages
from zigzag_meadow.core.targets.note import (
    ChannelNote,
    CheckPoint,
    FileNote,
    ImportNote,
    LegendNote,
    StoredHeights,
    UnitNote,
)

__all__ = ["Row", "carried", "ground_rows", "height_rows", "note_page", "note_text", "number"]


@dataclass(frozen=True, slots=True)
class Row:
    """What is asked for, the value, and what it is for."""

    title: str
    value: str
    why: str = ""


def number(value: float) -> str:
    """As many digits as tell it apart, and no more; without powers of ten, which no field takes everywhere."""
    return f"{Decimal(f'{value:.10g}'):f}"


def _metres(value: float) -> str:
    return f"{number(round(value, 6))} m"


def in_unit(value: float, unit: UnitNote, step: float = 0.0) -> str:
    """Metres as the number that is typed there, in its unit, and the metres beside it; where a stored number more is
    ``step`` metres, with so many digits that what is typed is off by less than a tenth of that."""
    if unit.plain:
        return _to_a_step(value, step) if step else _metres(value)
    text = _digits(value / unit.metres, step / unit.metres) if step else number(value / unit.metres)
    return f"{text} {unit.symbol} ({_metres(value)})"


def _digits(value: float, step: float) -> str:
    places = max(6, math.ceil(-math.log10(step)) + 1) if step > 0 else 6
    text = f"{value:.{min(places, 15)}f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def _to_a_step(value: float, step: float) -> str:
    """Metres with the digits that a step needs: typed, they are off by less than a tenth of it."""
    return f"{_digits(value, step)} m"


def ground_rows(note: ImportNote) -> list[Row]:
    """Size, spacing and place of the ground."""
    g, lengths = note.ground, note.units.lengths
    spacing = _titled("Metres between samples", "Between samples", lengths)
    less = 1 if g.registration == "vertex" else 0
    lie = "points, the outermost on the border" if less else "cells"
    rows = [
        Row("Samples", f"{g.columns} × {g.rows}", f"columns × rows of the height; they are {lie}"),
        Row("Cells", f"{g.columns - less} × {g.rows - less}", "where cells are asked for"),
    ]
    if g.blocks is not None:
        rows += [
            Row("Cells along a block side", str(g.blocks.cells), "on both axes"),
            Row("Blocks", f"{g.blocks.across} × {g.blocks.down}", "east–west × north–south"),
        ]
    rows += [
        Row(spacing, _pair(g.spacing_x, g.spacing_y, lengths), EAST),
        Row("Width × length", _pair(g.extent.width, g.extent.length, lengths), "of the whole"),
        Row("It lies", _place(note), f"by its {'centre' if g.anchor == 'centre' else 'south-west corner'}"),
        Row("Up is", g.up, "and north is " + ("y" if g.up == "z" else "z")),
    ]
    if note.distances is not None:
        d = note.distances
        rows += [
            Row("Near colour up to", in_unit(d.near_to, lengths), "from there on the middle colour map"),
            Row("Middle colour up to", in_unit(d.middle_to, lengths), "from there on the far colour map"),
        ]
    placed = _placed(note)
    if placed is not None:
        rows.append(placed)
    if g.zero:
        rows.append(Row("0 m there", _metres(g.zero), "in the project: heights count from the water level"))
    return rows


EAST = "east–west × north–south"


def _titled(metres: str, other: str, unit: UnitNote) -> str:
    return metres if unit.plain else other


def _pair(a: float, b: float, unit: UnitNote) -> str:
    if unit.plain:
        return f"{_metres(a)} × {_metres(b)}"
    each, metres = (" × ".join(number(v / k) for v in (a, b)) for k in (unit.metres, 1.0))
    return f"{each} {unit.symbol} ({metres} m)"


def _place(note: ImportNote) -> str:
    e = note.ground.extent
    east, north = e.centre if note.ground.anchor == "centre" else (e.west, e.south)
    unit = note.units.positions
    return f"{in_unit(east, unit)} east, {in_unit(north, unit)} north"


def _placed(note: ImportNote) -> Row | None:
    """How high the ground itself is put, where that is not in its heights already."""
    height = note.height
    stored = None if height is None else height.stored
    if height is None or stored is None or height.coding not in _SHIFTED:
        return None
    middle = stored.multiplier is not None
    up, which = (stored.at_middle, stored.middle) if middle else (stored.at_zero, 0)
    told = f"the height of its stored {number(which)}"
    if height.water is not None:
        over = up - height.water
        told += f", {_metres(abs(over))} {'over' if over >= 0 else 'under'} the water"
    return Row("Place it at", f"{in_unit(up, note.units.heights, stored.step)} up", told)


_SHIFTED = ("range", "signed_step", "unit", "signed", "mean")
"""Ways of storing heights from an end or about a middle, which the ground is then put at."""


def _stored_rows(stored: StoredHeights, unit: UnitNote) -> list[Row]:
    def row(at: int | float, metres: float, why: str = "") -> Row:
        title = f"{_titled('Metres at stored', 'At stored', unit)} {number(at)}"
        return Row(title, in_unit(metres, unit, stored.step), why)

    why = "between one stored value and the next"
    each = f"{number(stored.step)} m" if unit.plain else in_unit(stored.step, unit)
    rows = [Row(_titled("Metres a step", "A step", unit), each, why)]
    if stored.least and stored.at_least is not None:
        rows.append(row(stored.least, stored.at_least))
    rows.append(row(0, stored.at_zero))
    if stored.middle:
        rows.append(row(stored.middle, stored.at_middle, "the middle"))
    rows.append(row(stored.full, stored.at_full, "full scale"))
    if stored.base_step is not None and stored.multiplier is not None:
        text = f"if it asks for a multiplier of steps of {number(stored.base_step)} m"
        rows.append(Row("Multiplier of a step", number(stored.multiplier), text))
    return rows


def height_rows(note: ImportNote) -> list[Row]:
    """Heights in every form that is asked for."""
    h = note.height
    if h is None:
        return []
    unit = note.units.heights
    rows = _stored_rows(h.stored, unit) if h.stored is not None else [Row("Metres", "as stored", "floating numbers")]
    zero = note.ground.zero
    why = f", where 0 m there lies at {_metres(zero)}" if zero else ""
    water = "none" if h.water is None else in_unit(h.water, unit)
    rows += [
        Row("Lowest", in_unit(h.lowest, unit), f"of this file; {_metres(h.project_lowest)} in the project{why}"),
        Row("Highest", in_unit(h.highest, unit), f"of this file; {_metres(h.project_highest)} in the project{why}"),
        Row("Range", in_unit(h.highest - h.lowest, unit), "highest minus lowest"),
        Row("Water level", water, "where a water surface is placed"),
    ]
    if h.scale_by in _HELD:
        rows.append(Row("What holds the scale", *_HELD[h.scale_by]))
    return rows


_HELD = {
    "codes": ("the heightmap's numbers", "another file of its kind is stored by the same steps, whatever its extremes"),
    "typed": ("black and white as typed", "another file is stored by the same steps, whatever its extremes"),
    "extremes": ("its extremes", "a new lowest or highest place rescales all heights: type these numbers again then"),
}
"""Where the scale of stored heights comes from, and what another heightmap does to it."""


def _ends(channel: ChannelNote) -> str:
    unit = f" {channel.unit}" if channel.unit else ""
    if channel.black is None or channel.white is None:
        return ""
    even = ", even on the logarithm" if channel.mapping == "log" else ""
    return f": black is {number(channel.black)}{unit}, white is {number(channel.white)}{unit}{even}"


def carried(channel: ChannelNote) -> str:
    """What a channel carries, in words."""
    words = {"weight": ", weight", "base": ", base weight", "step": ", blend step over what is below", "mask": ", mask"}
    text = channel.title + words.get(channel.kind, "")
    if channel.kind == "density" and channel.white is not None:
        text += f", density: white is {number(channel.white)} on 100 m²"
    elif channel.kind == "reading":
        text += _ends(channel) or (f", in {channel.unit}" if channel.unit else "")
    return text + (", turned over" if channel.turned else "")


def facts(file: FileNote) -> str:
    """How a file is written, in words."""
    if file.kind == "points":
        return f"{file.format}, {file.count} points: {', '.join(file.fields)}; metres, degrees clockwise from north"
    told = [file.format, f"{file.columns} × {file.rows}"]
    told += [f"{file.byte_order} end first, no header"] if file.byte_order else []
    told += ["no header"] if file.reads == "raw" and not file.byte_order else []
    space = {"sRGB": "sRGB", "linear": "linear light", "data": "data, linear"}[file.colour_space]
    told.append(space if file.colour_space != "sRGB" else f"sRGB, {'tagged' if file.tagged else 'not tagged'}")
    told += ["alpha is straight data"] if file.alpha == "straight data" else []
    told += [f"begins in the {file.first_row}-{file.first_column}"]
    told += [f"tile {file.tile.x}, {file.tile.y}"] if file.tile is not None else []
    return ", ".join(told)


def laid(file: FileNote) -> str:
    """What a file is laid over, in words."""
    e = file.extent
    size = f"{_metres(e.width)} × {_metres(e.length)}"
    middle = f"{number(e.centre[0])}, {number(e.centre[1])}"
    return f"{size} from {_metres(e.west)} east, {_metres(e.south)} north; centre {middle}"


def looked_at(note: ImportNote, point: CheckPoint) -> tuple[str, str, str]:
    """East, north and height of a check point, as they are read there."""
    places, heights = note.units.positions, note.units.heights
    up = f"{point.height:.2f} m"
    if not heights.plain:
        up = f"{number(float(f'{point.height / heights.metres:.6g}'))} {heights.symbol} ({up})"
    east, north = (f"{number(v)} m" if places.plain else in_unit(v, places) for v in (point.east, point.north))
    return f"{east} east", f"{north} north", up


@cache
def _pages() -> Environment:
    made = pages(Path(__file__).parent / "templates")
    made.filters |= {"number": number, "metres": _metres, "carried": carried, "facts": facts, "laid": laid}
    return made


def note_text(note: ImportNote) -> str:
    """The note in plain text."""
    lines = [f"Import note: {note.project} for {note.target.title}", ""]
    for heading, rows in (("The ground", ground_rows(note)), ("Heights", height_rows(note))):
        if rows:
            lines += [heading, *(f"  {r.title:<28} {r.value:<28} {r.why}".rstrip() for r in rows), ""]
    lines.append("Files")
    for file in note.files:
        lines.append(f"  {file.file}  ({facts(file)})")
        if file.kind != "points":
            lines.append(f"    laid over {laid(file)}; {file.resampled}")
        lines += [f"    {c.channel.upper()}  {carried(c)}" for c in file.channels]
    if note.weights.full is not None:
        lines += ["", f"The weights of all sheets together add up to {note.weights.full} at every sample."]
    if note.legend:
        lines += ["", f"Grounds. {note.weights.sentence}"]
        lines += [f"  {_legend_line(item)}" for item in note.legend]
    if note.neutral:
        lines += ["", "Switch off, or set to"]
        lines += [f"  [ ] {item.setting}: {item.to}. {item.because}" for item in note.neutral]
    if note.after:
        lines += ["", "After the import", *(f"  [ ] {item.do} {item.because}".rstrip() for item in note.after)]
    lines += ["", "Look there, and read off"]
    for p in note.check_points:
        east, north, up = looked_at(note, p)
        lines.append(f"  [ ] {p.title}: {east}, {north}: {up}, mostly {p.strongest}")
    lines += ["", "What it should look like", *(f"  {text}" for text in note.expect)]
    return "\n".join(lines) + "\n"


def _legend_line(item: LegendNote) -> str:
    place = f"{item.file} {item.channel}" if item.file else "what is left of the others"
    wears = f", {item.texture}, {number(item.size)} m across" if item.texture and item.size else ""
    rough = f", roughness × {number(item.roughness)}" if item.roughness is not None else ""
    return f"{item.title}: {place}{wears}{rough}"


def note_page(note: ImportNote, pictures: Mapping[tuple[str, str], str]) -> str:
    """The note as one page, fonts inside. ``pictures``: data addresses of thumbnails by (file, channel)."""
    return (
        _pages()
        .get_template("import_note.html")
        .render(
            note=note,
            fonts=fonts(),
            pictures=dict(pictures),
            ground=ground_rows(note),
            heights=height_rows(note),
            colours={item.layer: item for item in note.legend},
            points=[(point, *looked_at(note, point)) for point in note.check_points],
        )
    )
