"""Every form that can be written, opened by readers that are not ours; what each cannot carry is said before."""

from __future__ import annotations

import csv
import json
import struct
from pathlib import Path

import cv2
import numpy as np
import OpenEXR
import pytest
import rasterio
import tifffile
from PIL import Image

from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.errors import BadNumber, WrongFormat
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.formats.catalogue import form, forms
from zigzag_meadow.core.formats.writing.points import PointList
from zigzag_meadow.core.formats.writing.raster import DTYPES, Raster
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes

ROWS, COLS = 301, 227
PICTURES = [(f.id, n) for f in forms() if f.takes == "raster" and f.data for n in f.channels]


def samples(sample, channels, seed=3):
    values = np.random.default_rng(seed).random((ROWS, COLS, channels))
    top = {"u8": 255, "u16": 65535}.get(sample, 900.0)
    made = (values * top).astype(DTYPES[sample])
    return made[..., 0] if channels == 1 else made


def written(path, form_id, values, pieces=97, **more):
    chosen = form(form_id)
    channels = 1 if values.ndim == 2 else values.shape[2]
    raster = Raster(ROWS, COLS, channels, chosen.sample, **more)
    with chosen.open(path, raster, Stripes(2)) as out:
        for at in range(0, ROWS, pieces):
            out.write(values[at : at + pieces])
    return path


def by_others(path, chosen, channels):
    """The picture by a library that had no part in writing it."""
    if chosen.reads == "png":
        if channels == 2:
            with rasterio.open(path) as file:
                return np.moveaxis(file.read(), 0, -1)
        read = cv2.imread(str(path), cv2.IMREAD_UNCHANGED)
        return read if channels == 1 else read[..., [2, 1, 0, 3][:channels]]
    if chosen.reads == "tiff":
        with rasterio.open(path) as file:
            return np.moveaxis(file.read(), 0, -1)
    if chosen.reads == "exr":
        parts = OpenEXR.File(str(path), separate_channels=True).channels()
        return np.stack([parts[name].pixels for name in ("YA", "YA", "RGB", "RGBA")[channels - 1][:channels]], axis=-1)
    if chosen.reads == "pfm":
        read = cv2.imread(str(path), cv2.IMREAD_UNCHANGED)
        return read if channels == 1 else read[..., ::-1]
    if chosen.reads == "asc":
        return np.loadtxt(path, skiprows=6, dtype=np.float32)
    if chosen.reads == "npy":
        return np.load(path)
    if chosen.reads == "raw":
        return np.fromfile(path, np.dtype(DTYPES[chosen.sample])).reshape(ROWS, COLS, channels)
    return np.asarray(Image.open(path))


@pytest.mark.parametrize(("form_id", "channels"), PICTURES)
def test_other_programs_read_what_was_written(tmp_path, form_id, channels):
    chosen = form(form_id)
    values = samples(chosen.sample, channels)
    path = written(tmp_path / f"map.{chosen.ending}", form_id, values)
    read = by_others(path, chosen, channels)
    assert read.dtype == values.dtype
    assert np.array_equal(read.reshape(ROWS, COLS, -1), values.reshape(ROWS, COLS, -1))


@pytest.mark.parametrize("form_id", [f.id for f in forms() if f.takes == "raster"])
def test_bytes_do_not_depend_on_the_pieces(tmp_path, form_id):
    chosen = form(form_id)
    values = samples(chosen.sample, max(n for n in chosen.channels if n != 2))
    first = written(tmp_path / "a", form_id, values, pieces=ROWS).read_bytes()
    assert written(tmp_path / "b", form_id, values, pieces=31).read_bytes() == first


@pytest.mark.parametrize("form_id", ["tiff16", "tiff32f", "geotiff16"])
@pytest.mark.parametrize("more", [{"packed": False}, {"tile": 128}, {"tile": 128, "packed": False}])
def test_tiff_in_strips_and_tiles_packed_or_not(tmp_path, form_id, more):
    values = samples(form(form_id).sample, 3)
    path = written(tmp_path / "map.tif", form_id, values, **more)
    with tifffile.TiffFile(path) as file:
        page = file.pages[0]
        assert page.is_tiled == ("tile" in more)
        assert (page.compression.name == "NONE") == (not more.get("packed", True))
    assert np.array_equal(by_others(path, form(form_id), 3), values)


@pytest.mark.parametrize("form_id", ["tiff8", "tiff16", "tiff32f"])
@pytest.mark.parametrize(("alpha", "mark"), [(True, 2), (False, 0)])
def test_a_fourth_channel_says_whether_it_is_alpha(tmp_path, form_id, alpha, mark):
    """2: straight alpha, 0: unspecified (TIFF 6.0, ExtraSamples). Either way other programs keep its samples."""
    values = samples(form(form_id).sample, 4)
    path = written(tmp_path / "map.tif", form_id, values, alpha=alpha)
    with tifffile.TiffFile(path) as file:
        assert tuple(int(x) for x in file.pages[0].extrasamples) == (mark,)
    with rasterio.open(path) as file:
        assert (file.colorinterp[3] == rasterio.enums.ColorInterp.alpha) == alpha
        assert np.array_equal(file.read(4), values[..., 3])
    if form_id == "tiff8" and alpha:
        with Image.open(path) as image:
            assert np.array_equal(np.asarray(image)[..., 3], values[..., 3])


def test_byte_order_and_endings_of_raw(tmp_path):
    values = samples("u16", 1)
    path = written(tmp_path / "map.ter", "raw16", values, order="big")
    assert path.read_bytes() == values.astype(">u2").tobytes()
    with rasterio.open(written(tmp_path / "m.tif", "tiff8", samples("u8", 4))) as file:
        assert [c.name for c in file.colorinterp] == ["red", "green", "blue", "undefined"]


def test_colours_are_tagged_and_data_is_not(tmp_path):
    values = samples("u8", 3)
    for form_id in ("png8", "tiff8", "jpeg"):
        ending = form(form_id).ending
        for srgb in (True, False):
            path = written(tmp_path / f"{srgb}.{ending}", form_id, values, srgb=srgb)
            info = Image.open(path).info
            assert ("srgb" in info or bool(info.get("icc_profile"))) is srgb, (form_id, srgb)
    jpeg = np.asarray(Image.open(tmp_path / "True.jpg")).astype(int)
    assert jpeg.shape == values.shape
    assert not list(tmp_path.glob(".*.rows"))


def test_a_writer_that_is_given_up_leaves_nothing_waiting(tmp_path):
    for form_id in [f.id for f in forms() if f.takes == "raster"]:
        chosen = form(form_id)
        channels = max(n for n in chosen.channels if n != 2)
        raster = Raster(ROWS, COLS, channels, chosen.sample)
        with pytest.raises((ZeroDivisionError, AttributeError)), chosen.open(tmp_path / "x", raster, Stripes(1)) as out:
            out.write(samples(chosen.sample, channels)[: 40 // out.row])
        with pytest.raises(BadNumber, match="rows"), chosen.open(tmp_path / "x", raster, Stripes(1)) as out:
            out.write(samples(chosen.sample, channels)[:40])
        with pytest.raises(BadNumber, match="must be"), chosen.open(tmp_path / "x", raster, Stripes(1)) as out:
            out.write(samples(chosen.sample, channels)[:, :-1])


def test_a_full_disk_is_raised_where_rows_are_pushed(tmp_path):
    raster = Raster(ROWS, COLS, 1, "f32", packed=False)
    values = samples("f32", 1)

    def push(form_id):
        with form(form_id).open(Path("/dev/full"), raster, Stripes(1)) as out:
            for at in range(0, ROWS, 10):
                out.write(values[at : at + 10])

    for form_id in ("tiff32f", "raw32f", "asc"):
        with pytest.raises(OSError, match="No space left"):
            push(form_id)


def test_points_as_other_programs_read_them(tmp_path):
    points = np.random.default_rng(5).random((1203, 5)) * 900
    for form_id in ("csv", "geojson", "ply"):
        with form(form_id).open(tmp_path / form_id, PointList(len(points), 'Stones "a"'), Stripes(1)) as out:
            for at in range(0, len(points), 500):
                out.write(points[at : at + 500])
    rows = list(csv.DictReader((tmp_path / "csv").open()))
    assert [float(rows[7][name]) for name in ("east", "north", "turn")] == pytest.approx(points[7, [0, 1, 4]], abs=1e-3)
    told = json.loads((tmp_path / "geojson").read_text())
    assert told["name"] == 'Stones "a"'
    assert len(told["features"]) == 1203
    assert told["features"][502]["geometry"]["coordinates"] == pytest.approx(points[502, :3], abs=1e-3)
    data = (tmp_path / "ply").read_bytes()
    head, body = data.split(b"end_header\n", 1)
    assert b"element vertex 1203" in head
    assert struct.unpack("<5f", body[20 * 9 : 20 * 10]) == pytest.approx(points[9], rel=1e-6)


def plain(tmp_path, items, sheets=None, **ground):
    data = document(delivery={"target": "plain-files", "rows": 127, "cols": 127, "items": items})
    data["ground"] |= ground
    if sheets is not None:
        data["sheets"] = sheets
    project, ev = evaluation(tmp_path, data)
    out = tmp_path / "out"
    out.mkdir()
    deliver(ev, make_plan(project, ev.heights()), out, Stripes(2), lambda share, text: None)
    return ev, out


def test_heights_as_metres_or_between_black_and_white(tmp_path):
    items = [{"of": "height", "form": "tiff16", "black": 0, "white": 655.35}]
    ev, out = plain(tmp_path, items)
    stored = tifffile.imread(out / "test_moor_height.tif")
    assert np.abs(stored * 0.01 - ev.map("reading:height")).max() <= 0.0051
    note = Rehearsal(out).note
    assert note.height.stored.step == pytest.approx(0.01)
    assert note.height.lowest == pytest.approx(stored.min() * 0.01)


def test_items_are_named_turned_sized_and_stripped_as_chosen(tmp_path):
    items = [
        {
            "of": "mask:steep",
            "deliver": True,
            "file": "the_scree",
            "form": "raw8",
            "ending": "msk",
            "rows": 64,
            "cols": 64,
            "turn": "both",
        },
        {"of": "sheet:splat", "alpha": False, "form": "bmp24"},
        {"of": "reading:slope", "deliver": True, "form": "npy"},
        {"of": "band:wet:1", "deliver": True, "form": "png16"},
        {"of": "surface:normal", "deliver": True, "resampling": "sharp", "rows": 64, "cols": 64},
        {"of": "height", "deliver": False},
    ]
    data = document(
        delivery={"target": "plain-files", "rows": 127, "cols": 127, "pattern": "{map}_{size}", "items": items}
    )
    data["masks"][1]["lines"].append({"id": "z", "verb": "cut", "edges": [0.5]})
    project, ev = evaluation(tmp_path, data)
    out = tmp_path / "out"
    out.mkdir()
    names = deliver(ev, make_plan(project, ev.heights()), out, Stripes(1), lambda share, text: None)
    assert {"the_scree.msk", "splat_127.bmp", "slope_127.npy", "wet_2_127.png", "normal_64.png"} <= set(names)
    assert not any("height" in name for name in names)
    grid = ev.home.resized(64, 64)
    mask = np.floor(ev.map("mask:steep", grid) * 255 + 0.5).astype(np.uint8)
    assert np.array_equal(np.fromfile(out / "the_scree.msk", np.uint8).reshape(64, 64), mask[::-1, ::-1])
    assert np.array_equal(np.asarray(Image.open(out / "splat_127.bmp")), ev.map("sheet:splat")[..., :3])
    assert np.array_equal(np.load(out / "slope_127.npy"), ev.map("reading:slope"))
    note = Rehearsal(out).note
    assert next(f for f in note.files if f.of == "mask:steep").first_row == "south"
    assert note.height is None
    sharp, box = np.asarray(Image.open(out / "normal_64.png")).astype(int), ev.map("surface:normal", grid).astype(int)
    assert np.abs(sharp - box).mean() < 12
    assert sharp.std() > 0.98 * box.std()


def test_losses_are_told_before_a_format_is_chosen():
    assert form("bmp24").losses(("r", "g", "b", "a"), 8, False, "splat") == (
        "BMP 24 has no more than 3 channels: A of splat would be lost."
    )
    assert "8 bits of the 16" in form("tga").losses(("r", "g", "b"), 16, False, "flow")
    assert "blocks of 8 by 8" in form("jpeg").losses(("r",), 8, False, "Scree")
    assert form("jpeg").losses(("r", "g", "b"), 8, True, "Colour map") is None
    assert form("png16").losses(("r", "g", "b", "a"), 16, False, "splat") is None
    data = document(
        delivery={"target": "plain-files", "rows": 127, "cols": 127, "items": [{"of": "sheet:splat", "form": "bmp24"}]}
    )
    with pytest.raises(WrongFormat, match="A of splat would be lost"):
        make_plan(parse_project(data))
    for turn in ("north_south", "east_west", "both"):
        data["delivery"]["items"] = [{"of": "height", "form": "asc", "turn": turn}]
        with pytest.raises(WrongFormat, match="knows no other order: Height cannot be turned"):
            make_plan(parse_project(data))
