"""Documents, kits and files that hold layers and coats."""

import json
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.support.ground import document
from tests.support.painting import STROKES, data_of, edited, painted, painted_document
from zigzag_meadow.core.errors import BadDocument, BadNumber, MeadowError, NotFound
from zigzag_meadow.core.evaluate.painted_file import DEPTHS, painted_grid, painted_sizes, write_painted
from zigzag_meadow.core.evaluate.stops import ramp_stops
from zigzag_meadow.core.formats.catalogue import form
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.map_name import map_name
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.upgrade import NEWEST
from zigzag_meadow.core.project.travel.kit import kit_of, parse_kit
from zigzag_meadow.core.project.travel.kit_painting import Wanted
from zigzag_meadow.core.srgb import to_whole

SAMPLES = Path(__file__).resolve().parents[1] / "samples"


def test_documents_and_kits_of_the_version_before_still_open():
    old = json.loads((SAMPLES / "lantern_moor_2.json").read_text())
    project = parse_project(old)
    assert (old["version"], project.version) == (2, NEWEST)
    assert [layer.strength for layer in project.layers] == [1.0] * 4
    assert project.coats == ()
    kit = parse_kit(json.loads((SAMPLES / "moor_kit_1.json").read_text()))
    assert (kit.kit, kit.painting.layers) == (4, ())
    assert len(kit.masks) == 5
    for newer in (parse_kit(json.loads((SAMPLES / f"kit_{old}.json").read_text())) for old in (2, 3)):
        assert (newer.kit, len(newer.painting.layers), len(newer.painting.sheets)) == (4, 2, 2)
        assert not any(sheet.proposed for sheet in newer.painting.sheets)


def test_what_a_painting_holds_is_checked_at_its_limits():
    project = parse_project(painted_document())
    ramp = next(data_of(coat) for coat in project.coats if coat.kind == "ramp")
    many = [{"at": k / 24, "colour": "#000000"} for k in range(24)]
    assert edited(project, {"op": "set_coat", "coat": {**ramp, "stops": many}})
    wrong = [
        {**ramp, "stops": many + many[:1]},
        {**ramp, "stops": many[::-1]},
        {**ramp, "stops": many[:1]},
        {**ramp, "within": {"kind": "mask", "mask": "gone"}},
        {**ramp, "along": {"kind": "reading", "reading": "no", "black": 0, "white": 1}},
        {"kind": "image", "id": "c1", "picture": "slope"},
        {"kind": "piece", "id": "c1", "piece": "gone"},
    ]
    for coat in wrong:
        with pytest.raises(MeadowError):
            edited(project, {"op": "set_coat", "coat": {**coat, "id": "c1"}})
    with pytest.raises(BadDocument, match="at most 100 coats; this would make 101"):
        edited(
            project,
            *({"op": "add_coat", "coat": {"kind": "plain", "id": f"p{n}"}} for n in range(101 - len(project.coats))),
        )


def test_a_mask_that_goes_leaves_coats_layers_and_strokes_that_can_be_read():
    data = painted_document()
    data["coats"] = [
        {"kind": "plain", "id": "p", "within": {"kind": "mask", "mask": "steep"}},
        {"kind": "carry", "id": "c", "of": {"kind": "mask", "mask": "steep"}},
    ]
    data["strokes"] = [{"id": "s", "layer": "mud", "asset": STROKES, "only": {"kind": "mask", "mask": "steep"}}]
    project = parse_project(data)
    with pytest.raises(BadDocument, match="the coat Plain colour"):
        edited(project, {"op": "delete_mask", "mask": "steep"})
    out = edited(project, {"op": "delete_mask", "mask": "steep", "uses": "take_out"})
    assert out.coats[0].within is None
    assert out.coats[1].of.value == 0
    assert out.strokes[0].only is None
    assert out.layer("rock").mask is None
    other = edited(project, {"op": "delete_mask", "mask": "steep", "uses": "replace", "other": "wet"})
    assert other.coats[1].of.mask == "wet"


def test_a_run_of_coats_becomes_a_piece_and_comes_apart_again(tmp_path):
    project, ev = painted(tmp_path, painted_document())
    at = next(n for n, coat in enumerate(project.coats) if coat.kind == "adjust")
    dim = project.coats[at]
    exposed = [{"id": "n", "title": "Brightness", "line": dim.id, "field": "brightness"}]
    piece = {"id": "worn", "name": "Worn", "coats": [data_of(dim)], "exposed": exposed}
    made = edited(project, {"op": "make_coat_piece", "first": at, "last": at + 2, "coat": "use", "piece": piece})
    assert len(made.coats) == len(project.coats) - 2
    use = {"kind": "piece", "id": "use", "piece": "worn"}
    only = [{"op": "delete_coat", "coat": coat.id} for coat in made.coats[at + 1 :]]
    whole = ev.engine.evaluation(edited(made, *only))
    assert (whole.map("colour") == ev.map(f"colour:{at + 3}")).all()
    dark = edited(made, *only, {"op": "set_coat", "coat": {**use, "numbers": {"n": 0.2}}})
    half = edited(dark, {"op": "set_coat", "coat": {**use, "numbers": {"n": 0.2}, "strength": 0.5}})
    means = [ev.engine.evaluation(document_).map("colour").mean() for document_ in (dark, half)]
    assert means[0] < means[1] < whole.map("colour").mean()
    apart = edited(dark, {"op": "take_coat_apart", "coat": "use", "ids": ["x", "y", "z"]})
    assert [coat.id for coat in apart.coats[at:]] == ["x", "y", "z"]
    assert (ev.engine.evaluation(apart).map("colour") == ev.engine.evaluation(dark).map("colour")).all()
    # A coat that is seen far away only stays so within a piece, and under a piece that is switched off, off.
    away = edited(dark, {"op": "set_coat_piece", "piece": {**piece, "coats": [{**data_of(dim), "seen": "far"}]}})
    ev2 = ev.engine.evaluation(away)
    assert (ev2.map("colour") == ev2.map(f"colour:{at}")).all()
    assert (ev2.map("colour_far") != ev2.map("colour")).any()
    off = edited(away, {"op": "set_coat", "coat": {**use, "muted": True, "seen": "near"}})
    (left,) = edited(off, {"op": "take_coat_apart", "coat": "use", "ids": ["x"]}).coats[at:]
    assert (left.muted, left.seen) == (True, "far")
    with pytest.raises(BadDocument, match="is used by the coat Piece"):
        edited(made, {"op": "delete_coat_piece", "piece": "worn"})
    with pytest.raises(BadDocument, match="cannot hold another piece"):
        edited(made, {"op": "set_coat_piece", "piece": {**piece, "coats": [use]}})


def test_a_kit_carries_layers_coats_and_sheets_to_another_ground(tmp_path):
    project, ev = painted(tmp_path, painted_document())
    heights = {"low": 20, "high": 320, "water": 40}
    wanted = Wanted(layers=True, coats=True, sheets=True)
    kit, left = kit_of(project, "All", "", parse_kit({"name": "h", "heights": heights}).heights, [], [], wanted)
    assert {mask.id for mask in kit.masks} == {"steep", "wet"}
    assert any("lay a picture" in text for text in left)
    parse_kit(json.loads(kit.model_dump_json()))
    bare = parse_project({**document(), "masks": [], "layers": [], "sheets": []})
    apply = {"op": "apply_kit", "kit": data_of(kit), "prefix": "abcd"}
    made = edited(bare, apply)
    assert [layer.name for layer in made.layers] == ["Rock", "Mud"]
    assert made.base.name == "Grass"
    assert {coat.kind for coat in made.coats} == {coat.kind for coat in project.coats} - {"image", "match"}
    assert made.sheets[0].r.layer == made.layers[0].id
    there = ev.engine.evaluation(made)
    assert there.map(f"weight:{made.layers[0].id}") == pytest.approx(ev.map("weight:rock"), abs=1e-6)
    twice = edited(made, {**apply, "prefix": "efgh"})
    assert twice.layers[2].name == "Rock 2"
    with pytest.raises(BadDocument, match="names files of a project"):
        parse_kit({**data_of(kit), "painting": {**data_of(kit.painting), "coats": [{"kind": "image", "id": "i"}]}})


def test_a_first_colour_is_coats_that_can_be_changed(tmp_path):
    project, ev = painted(tmp_path, painted_document(coats=[]))
    made = edited(project, {"op": "begin_colour"})
    assert [coat.kind for coat in made.coats] == ["layers", "vary", "soil", "bleach", "water"]
    assert len(edited(made, {"op": "begin_colour"}).coats) == 10
    bare = parse_project({**document(), "layers": [], "sheets": []})
    assert edited(bare, {"op": "begin_colour"}).coats[0].kind == "ramp"
    colour = ev.engine.evaluation(made).map("colour")
    assert len(np.unique(colour.reshape(-1, 3), axis=0)) > 500


def test_ramps_take_colours_from_pictures_and_from_the_map(tmp_path):
    _, ev = painted(tmp_path, painted_document())
    width, length = ev.home.width, ev.home.length
    east = ramp_stops(ev, "aerial", [(0, length / 2), (width, length / 2)], 3)
    reds = [int(colour[1:3], 16) for _, colour in east]
    assert reds == sorted(reds)
    assert reds[0] < 90 < 170 < reds[2]
    assert len(ramp_stops(ev, "aerial", None, 4)) == 4
    assert len(ramp_stops(ev, None, None, 3)) == 3
    none = edited(ev.project, {"op": "set_reading", "setting": {"id": "aerial", "kind": "picture", "numbers": {}}})
    with pytest.raises(NotFound, match="no picture"):
        ramp_stops(ev.engine.evaluation(none), "aerial", None, 3)


def test_sizes_over_the_same_extent():
    home = Grid(505, 1009, 4.0, 4.0)
    sizes = {(size.rows, size.cols, size.registration) for size in painted_sizes(home)}
    assert {(505, 1009, "vertex"), (1009, 2017, "vertex"), (2017, 4033, "vertex"), (504, 1008, "area")} <= sizes
    assert {(512, 1024, "area"), (4096, 8192, "area"), (4033, 8065, "vertex")} <= sizes
    assert max(max(rows, cols) for rows, cols, _ in sizes) <= 8193
    grid = painted_grid(home, 512, 1024, "area")
    assert (grid.width, grid.length) == (home.width, home.length)
    for rows, cols in ((7, 100), (100, 8194)):
        with pytest.raises(BadNumber, match="8 to 8193"):
            painted_grid(home, rows, cols, "vertex")


def test_files_are_tagged_by_what_they_hold_and_read_by_others(tmp_path):
    _, ev = painted(tmp_path, painted_document())
    grid = painted_grid(ev.home, 505, 505, "vertex")
    light = ev.window(ev.graph.painting.coats(), grid, grid.whole)

    def written(name: str, depth: str, file: str) -> Path:
        write_painted(
            ev, map_name(name), grid, tmp_path / file, form(DEPTHS[depth][0]), ev.engine.stripes, dither=depth == "8d"
        )
        return tmp_path / file

    eight = Image.open(written("colour", "8", "a.png"))
    assert (eight.size, eight.mode) == ((505, 505), "RGB")
    assert eight.info["srgb"] == 0
    assert (np.asarray(eight) == to_whole(light)).all()
    sixteen = imagecodecs.png_decode(written("colour", "16", "b.png").read_bytes())
    assert (sixteen == to_whole(light, 16)).all()
    linear_light = tifffile.imread(written("colour", "float", "c.tif"))
    assert linear_light.dtype == np.float32
    assert (linear_light == light).all()
    dithered = np.asarray(Image.open(written("colour", "8d", "d.png"))).astype(int)
    off = np.abs(dithered - np.asarray(eight))
    assert 0 < off.max() <= 1
    normal = Image.open(written("surface:normal", "8", "e.png"))
    assert "srgb" not in normal.info
    rough = Image.open(written("surface:roughness", "8", "f.png"))
    assert rough.mode == "L"
    numbers = Image.open(written("strongest", "8", "g.png"))
    assert numbers.mode == "P"
    assert (np.asarray(numbers) == ev.map("strongest", grid)).all()
    assert numbers.getpalette("RGB")[:3] == [0x7F, 0x94, 0x57]
