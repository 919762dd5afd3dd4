"""Maps of heightmaps and projects, and the demo projects, without a server."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, fail, print_out
from zigzag_meadow.cli_looked import Channel, Columns, NoData, Order, Rows, Sample, Skip, looked_at
from zigzag_meadow.core.errors import BadNumber, NotFound
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.evaluate.painted_file import DEPTHS, painted_grid, write_painted
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.write import form_of_file, forms_of_file, write_map
from zigzag_meadow.core.map_name import (
    ColourName,
    FarColourName,
    LayersName,
    MapName,
    MiddleColourName,
    ReadingName,
    StrongestName,
    SurfaceName,
)
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.travel.adopt import file_fields
from zigzag_meadow.core.readings.catalogue import reading as kind_named
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.demo import write_demos
from zigzag_meadow.opened import Opened, ids_in
from zigzag_meadow.pipeline import sized

__all__ = ["demo", "map_", "reading"]

FormOption = Annotated[str | None, typer.Option(help="How it is written; zigzag targets --formats lists them")]


def _pair(text: str) -> tuple[float, float]:
    try:
        x, _, y = text.partition(",")
        return float(x), float(y or x)
    except ValueError:
        raise BadNumber(f"Spacing is X,Y in metres, such as 4,4; got {text!r}.") from None


def _numbers(name: str, text: str) -> tuple[str, float | str]:
    key, _, value = text.partition("=")
    kinds = {param.name: param.kind for param in kind_named(name).params}
    try:
        return key, float(value) if kinds.get(key, "number") == "number" else value
    except ValueError:
        raise BadNumber(f"--set takes NAME=NUMBER, such as width=12; got {text!r}.") from None


@app.command()
def reading(
    file: Path,
    name: Annotated[str, typer.Option(help="A reading, such as slope; a wrong name lists them all")],
    spacing: Annotated[str, typer.Option(help="X,Y in metres")],
    out: Annotated[Path, typer.Option(help="Its ending says how: .npy, .tif, .exr, .asc, .pfm …")],
    low: Annotated[float | None, typer.Option(help="Metres at the lowest sample")] = None,
    high: Annotated[float | None, typer.Option(help="Metres at the highest sample")] = None,
    rows: Rows = None,
    columns: Columns = None,
    sample: Sample = None,
    byte_order: Order = None,
    skip: Skip = 0,
    channel: Channel = None,
    no_data: NoData = None,
    given: Annotated[list[str], typer.Option("--set", help="A number of the reading: width=12")] = [],  # noqa: B006
    form: FormOption = None,
    as_json: AsJson = False,
) -> None:
    """Measure a heightmap: heights as stored, or stretched from --low to --high."""
    try:
        if not kind_named(name).ready:
            raise BadNumber(f"The reading {name} needs a file besides the heightmap; open the project for that.")
        chosen = form_of_file(out, form)
        dx, dy = _pair(spacing)
        if (low is None) != (high is None):
            raise BadNumber("Give both --low and --high, or neither to take heights as stored.")
        file_told = looked_at(file, rows, columns, sample, byte_order, skip, channel, no_data)
        ground = {
            **file_fields("0" * 64, file_told),
            "heights": "stored" if low is None else "range",
            "low": low or 0.0,
            "high": high if high is not None else 1.0,
            "spacing_x": dx,
            "spacing_y": dy,
        }
        numbers = [{"id": name, "kind": name, "numbers": dict(_numbers(name, text) for text in given)}] if given else []
        delivery = {"rows": file_told.rows, "cols": file_told.columns}
        project = parse_project({"name": "reading", "ground": ground, "readings": numbers, "delivery": delivery})
        stripes = Stripes()
        evaluation = Engine(stripes, TileCache(), lambda _: file).evaluation(project)
        values = evaluation.map(ReadingName(name))
        written = write_map(out, np.ascontiguousarray(values), evaluation.home, chosen, stripes)
    except TROUBLES as error:
        fail(error, as_json)
    data = {
        "reading": name,
        "rows": values.shape[0],
        "columns": values.shape[1],
        "low": float(np.nanmin(values)),
        "high": float(np.nanmax(values)),
        "out": str(out),
    }
    print_out(data, [f"{name}: {np.nanmin(values):g} to {np.nanmax(values):g}, written to {out} ({written})"], as_json)


@app.command("map")
def map_(
    project: Path,
    name: Annotated[
        str,
        typer.Argument(
            help="mask:NAME, band:NAME:NUMBER, scatter:NAME, weight:NAME, reading:NAME, colour, colour_middle, "
            "colour_far, layers, strongest, surface:normal, :roughness, :occlusion, :curvature, :detail"
        ),
    ],
    out: Annotated[
        Path,
        typer.Option(help="Its ending says how: the finest depth it has, for colours the coarsest"),
    ],
    depth: Annotated[
        str | None, typer.Option(help=f"Of colour and surface maps: {', '.join(DEPTHS)} (8d is dithered)")
    ] = None,
    form: FormOption = None,
    size: Annotated[int | None, typer.Option(help="Samples on the longer side; home size when left out")] = None,
    as_json: AsJson = False,
) -> None:
    """Write one map of a project file."""
    try:
        if not out.parent.is_dir():  # said before anything is computed
            raise NotFound(f"There is no folder {out.parent} to write into. Make it first, or name another one.")
        with Opened(project) as opened:
            grid = opened.project.ground.home
            wanted = ids_in(opened.project, name)
            if isinstance(wanted, _PAINTED):
                told, lines = _write_painted(opened, wanted, out, depth, form, size)
                print_out(told, lines, as_json)
                return
            if depth is not None:
                raise BadNumber(f"--depth is of colour and surface maps; say with --form how {name} is written.")
            chosen = form_of_file(out, form)
            if size is not None:
                grid = grid.resized(*sized(grid, size))
            values = opened.evaluation().map(wanted, grid)
            if values.ndim != 2:
                raise NotFound(f"{name} has several channels; deliver the project to get it as an image.")
            written = write_map(out, np.ascontiguousarray(values, dtype=np.float32), grid, chosen, opened.stripes)
    except TROUBLES as error:
        fail(error, as_json)
    data = {"map": name, "rows": grid.rows, "columns": grid.cols, "mean": float(values.mean()), "out": str(out)}
    print_out(data, [f"{name}: {grid.cols} × {grid.rows}, mean {values.mean():.4f}, {written}, {out}"], as_json)


_PAINTED = (ColourName, MiddleColourName, FarColourName, LayersName, SurfaceName, StrongestName)


def _painted_form(name: MapName, out: Path, depth: str | None, form: str | None) -> Form:
    """The form of a colour or surface map: the one asked for, else by ending and depth, else the coarsest of the
    ending, which is what colours are usually wanted in."""
    if depth is not None and depth not in DEPTHS:
        raise BadNumber(f"--depth is {', '.join(DEPTHS)}, got {depth!r}.")
    named = forms_of_file(out, form)
    if isinstance(name, StrongestName) and named[0].reads != "png":
        raise BadNumber(f"Numbers with a palette are a PNG, got {out.name!r}.")
    if depth is None:
        return min(named, key=lambda one: one.bits)
    sample = DEPTHS[depth][1]
    found = next((one for one in named if one.sample == sample), None)
    if found is None:
        held = ", ".join(one.title for one in named)
        raise BadNumber(f"{out.name} can be {held}, none of which has the depth {depth}. Leave --depth out.")
    return found


def _write_painted(
    opened: Opened, name: MapName, out: Path, depth: str | None, form: str | None, size: int | None
) -> tuple[dict[str, Any], list[str]]:
    """Write a colour or surface map; what was written, as data and in words. A power of two lies on cells, any other
    size on vertices."""
    chosen = _painted_form(name, out, depth, form)
    home = opened.project.ground.home
    grid = home
    if size is not None:
        cells = size & (size - 1) == 0
        rows, cols = sized(home, size)
        short = round(size * min(home.length, home.width) / max(home.length, home.width))
        pair = (size, short) if home.length > home.width else (short, size)
        grid = painted_grid(home, *(pair if cells else (rows, cols)), "area" if cells else "vertex")
    aside = out.with_name(f".{out.name}.part")
    try:
        written = write_painted(opened.evaluation(), name, grid, aside, chosen, opened.stripes, dither=depth == "8d")
        aside.replace(out)
    finally:
        aside.unlink(missing_ok=True)
    told = {
        "map": str(name),
        "rows": grid.rows,
        "columns": grid.cols,
        "registration": grid.registration,
        "written": written,
        "out": str(out),
    }
    return told, [f"{name}: {grid.cols} × {grid.rows} ({grid.registration}), {written}, {out}"]


@app.command()
def demo(
    out: Annotated[Path, typer.Option(help="Folder for the project files")] = Path("demo_projects"),
    as_json: AsJson = False,
) -> None:
    """Write the demo project files."""
    try:
        written = write_demos(out)
    except TROUBLES as error:
        fail(error, as_json)
    print_out({"files": [str(path) for path in written]}, [str(path) for path in written], as_json)
