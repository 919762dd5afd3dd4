"""Layers and coats through the evaluator: what comes out on every grid, window and thread count."""

import json
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.support.ground import document, evaluation, lay
from tests.support.painting import STROKES, edited, every_coat, painted, painted_document
from zigzag_meadow.core.errors import BadDocument, BadNumber, MeadowError, NotFound
from zigzag_meadow.core.evaluate.detail import detail_beside_plain
from zigzag_meadow.core.evaluate.layer_report import adds_up, layer_report, why_here
from zigzag_meadow.core.evaluate.painted_file import painted_grid, painted_sizes, write_painted
from zigzag_meadow.core.evaluate.stops import ramp_stops
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.project.check import parse_project
from zigzag_meadow.core.project.kit import kit_of, parse_kit
from zigzag_meadow.core.project.kit_painting import Wanted
from zigzag_meadow.core.project.layer_proposals import layer_named_like, layers_of, look_named_like
from zigzag_meadow.core.srgb import coded, linear_of, to_whole

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
MAPS = (
    "colour",
    "colour_far",
    "layers",
    "surface:normal",
    "surface:detail",
    "surface:roughness",
    "strongest",
    "coat:c9",
)


def test_tiles_threads_and_windows_do_not_change_a_byte(tmp_path, monkeypatch):
    data = painted_document(253, 190, mixing={"sharing": "relief_led", "depth": 0.02})
    data["strokes"] = [{"id": "s", "layer": "mud", "asset": STROKES, "count": 1}]
    _, one = painted(tmp_path, data)
    grid = one.home.resized(505, 379)
    whole = {name: one.map(name, grid) for name in MAPS}
    part = Window(100, 301, 33, 340)
    monkeypatch.setattr("zigzag_meadow.core.evaluate.engine.TILE", 64)
    monkeypatch.setattr("zigzag_meadow.core.grid.TILE", 64)
    _, two = painted(tmp_path, data, threads=2)
    for name, values in whole.items():
        made = two.map(name, grid, part)
        assert made.dtype == np.uint8 or name == "coat:c9"
        assert (made == values[part.row0 : part.row1, part.col0 : part.col1]).all(), name


@pytest.mark.parametrize("coat", every_coat(), ids=lambda coat: coat["kind"])
def test_every_coat_changes_something_and_nothing_when_muted_or_without_strength(tmp_path, coat):
    data = painted_document()
    slope = {"kind": "reading", "reading": "slope", "black": 0, "white": 40}
    coat = {**coat, "hue": 40} if coat["kind"] == "adjust" else coat
    data["coats"] = [{"kind": "ramp", "id": "under", "along": slope}, {**coat, "id": "coat"}]
    _, ev = painted(tmp_path, data)
    before, after = ev.map("colour:1"), ev.map("colour")
    assert (before != after).any()
    assert np.isfinite(ev.window(ev.graph.painting.coats(False), ev.home, ev.home.whole)).all()
    for part in ({"muted": True}, {"strength": 0.0}, {"within": {"kind": "plain", "value": 0.0}}):
        changed = edited(ev.project, {"op": "set_coat", "coat": {**data["coats"][1], **part}})
        off = np.abs(ev.engine.evaluation(changed).map("colour").astype(int) - before).max()
        assert off <= (0 if part.get("muted") else 1), part


def test_a_coat_lies_within_its_mask_and_is_seen_where_it_says(tmp_path):
    red = {"kind": "plain", "id": "red", "colour": "#ff0000", "within": {"kind": "mask", "mask": "steep"}}
    data = painted_document(coats=[red])
    _, ev = painted(tmp_path, data)
    mask = ev.map("mask:steep")
    light = mask[..., None] * np.array(linear_of("#ff0000")) + (1 - mask[..., None]) * np.array(linear_of("#7f9457"))
    assert np.abs(ev.map("colour").astype(int) - np.rint(coded(light.astype(np.float32)) * 255)).max() <= 1
    far = edited(ev.project, {"op": "set_coat", "coat": {**red, "seen": "far"}})
    only = ev.engine.evaluation(far)
    assert (only.map("colour") == only.map("colour:0")).all()
    assert (only.map("colour_far") == ev.map("colour")).all()


def test_the_same_ground_looks_the_same_at_other_sizes(tmp_path):
    """Textures are filtered to the grid: a coarse colour map is the mean of a fine one, in light."""
    data = painted_document(253, 253)
    data["coats"] = [{"kind": "layers", "id": "l"}]
    data["base"]["dressing"] = {"look": "scree", "size": 40.0}
    data |= {"layers": [], "sheets": []}
    _, ev = painted(tmp_path, data)
    node = ev.graph.painting.coats(False)
    fine = ev.home.resized(1009, 1009)
    home = ev.window(node, ev.home, ev.home.whole)
    large = ev.window(node, fine, fine.whole)
    means = np.stack([large[r : r + 1009 - 4 : 4, c : c + 1009 - 4 : 4] for r in (0, 1, 2, 3) for c in (0, 1, 2, 3)])
    assert np.abs(means.mean(axis=0)[2:, 2:].mean(axis=(0, 1)) - home.mean(axis=(0, 1))).max() < 2e-3
    assert np.ptp(home.mean(axis=2)) < np.ptp(large.mean(axis=2))
    # True detail, not an enlargement: beside the plain one it varies more from sample to sample.
    pair, grid = detail_beside_plain(ev, "colour", 100, 100, 4)
    made, plain = np.split(pair.astype(float), 2, axis=1)
    assert grid.rows == 1009
    assert np.abs(np.diff(made, axis=1)).mean() > 1.5 * np.abs(np.diff(plain, axis=1)).mean()
    assert made.mean() == pytest.approx(plain.mean(), abs=4)
    with pytest.raises(BadNumber, match="on the ground"):
        detail_beside_plain(ev, "colour", 253, 0, 4)


def test_an_aerial_image_lies_where_its_reading_lays_it(tmp_path):
    data = painted_document(coats=[{"kind": "image", "id": "i", "picture": "aerial"}])
    _, ev = painted(tmp_path, data)
    colour = ev.map("colour").astype(int)
    assert (np.diff(colour[60, :, 0]) >= 0).all()
    assert (np.diff(colour[:, 60, 1]) >= 0).all()
    assert colour[60, 60, 2] == 60
    moved = edited(
        ev.project,
        {
            "op": "set_reading",
            "setting": {**data["readings"][0], "numbers": {**data["readings"][0]["numbers"], "east": 200.0}},
        },
    )
    shifted = ev.engine.evaluation(moved).map("colour")
    # Where the picture is not, the ground is as it was without it.
    assert (shifted[:, 0] == (0x7F, 0x94, 0x57)).all()
    assert np.abs(shifted[60, 100].astype(int) - colour[60, 60]).max() <= 3


def test_surface_maps_of_a_plane_are_known(tmp_path):
    data = painted_document(coats=[], base={"name": "Bare", "colour": "#808080"}, layers=[], sheets=[])
    _, ev = painted(tmp_path, data)
    stage = ev.graph.stage()
    grid = stage.home
    east = (np.arange(grid.cols) * grid.dx)[None, :].repeat(grid.rows, 0).astype(np.float32)
    lay(ev, stage.ground, east)
    lay(ev, stage.solid, east)
    assert ev.map("surface:normal")[60, 60].tolist() == [37, 128, 218]
    assert (ev.map("surface:curvature") == 128).all()
    assert (ev.map("surface:roughness") == int(0.85 * 255 + 0.5)).all()
    assert (ev.map("surface:detail") == 0).all()
    half = edited(ev.project, {"op": "set_surface", "surface": {**data_of(ev.project.surface), "strength": 0.0}})
    again = ev.engine.evaluation(half)
    assert again.map("surface:normal")[60, 60].tolist() == [128, 128, 255]


def data_of(part) -> dict:
    return part.model_dump(mode="json")


# Layers -----------------------------------------------------------------------------------------------------------


def test_strength_bands_mute_and_order_reach_the_weights(tmp_path):
    project, ev = evaluation(tmp_path, document())
    rock = data_of(project.layers[0])
    half = ev.engine.evaluation(edited(project, {"op": "set_layer", "layer": {**rock, "strength": 0.5}}))
    assert half.map("strength:rock") == pytest.approx(ev.map("mask:steep") / 2)
    muted = ev.engine.evaluation(edited(project, {"op": "set_layer", "layer": {**rock, "muted": True}}))
    assert muted.map("weight:rock").max() == 0
    assert muted.map("strength:rock").max() == 0
    cut = [{"op": "add_line", "mask": "steep", "line": {"id": "z", "verb": "cut", "count": 3}},
           {"op": "set_layer", "layer": {**rock, "band": 2}}]  # fmt: skip
    banded = ev.engine.evaluation(edited(project, *cut))
    assert (banded.map("strength:rock") == banded.map("band:steep:2")).all()
    with pytest.raises(NotFound, match="is not cut into bands"):
        edited(project, {"op": "set_layer", "layer": {**rock, "band": 0}})


def test_merged_layers_weigh_the_sum_of_theirs_and_sheets_stay_exact(tmp_path):
    project, ev = evaluation(tmp_path, document())
    merge = {"op": "merge_layers", "id": "both", "name": "Both", "layers": ["rock", "mud"], "shares": [0.3, 0.1]}
    merged = edited(project, merge)
    made = ev.engine.evaluation(merged)
    assert made.map("weight:both") == pytest.approx(ev.map("weight:rock") + ev.map("weight:mud"), abs=1e-6)
    assert [item.id for item in merged.outcomes] == ["base", "both"]
    assert merged.merges[0].shares == pytest.approx((0.75, 0.25))
    splat = merged.sheets[0]
    assert (splat.r.layer, splat.g) == ("both", None)
    sheet = made.map("sheet:splat").astype(int)
    assert (sheet[..., 0] + sheet[..., 2] == 255).all()
    assert set(np.unique(made.map("strongest"))) <= {0, 1}
    apart = edited(merged, {"op": "take_merge_apart", "merge": "both"})
    assert apart.sheets[0].r.layer == "rock"
    gone = edited(merged, {"op": "delete_layer", "layer": "mud"})
    assert gone.merges == ()
    assert gone.sheets[0].r is None
    for wrong in (
        {**merge, "shares": [1.0]},
        {**merge, "layers": ["rock", "rock"]},
        {**merge, "layers": ["rock", "no"]},
    ):
        with pytest.raises(MeadowError):
            edited(project, wrong)
    with pytest.raises(BadDocument, match="merged already"):
        edited(merged, {**merge, "id": "again", "name": "Again"})


def test_brush_strokes_move_weights_only_where_they_are(tmp_path):
    project, ev = painted(tmp_path, painted_document())
    strokes = {"id": "s", "layer": "base", "asset": STROKES, "count": 1}
    brushed = ev.engine.evaluation(edited(project, {"op": "set_strokes", "strokes": strokes}))
    before, after = ev.map("weight:base"), brushed.map("weight:base")
    assert after[30, 30] == pytest.approx(1)
    assert (after[-1] == before[-1]).all()
    assert (ev.map("mask:steep") == brushed.map("mask:steep")).all()
    limited = {**strokes, "only": {"kind": "plain", "value": 0.5}}
    half = ev.engine.evaluation(edited(project, {"op": "set_strokes", "strokes": limited})).map("weight:base")
    assert half == pytest.approx((before + after) / 2, abs=1e-6)
    sheet = brushed.map("sheet:splat").astype(int)
    assert (sheet[..., :3].sum(axis=2) == 255).all()
    with pytest.raises(NotFound, match="layer"):
        edited(project, {"op": "set_strokes", "strokes": {**strokes, "layer": "nobody"}})
    gone = edited(brushed.project, {"op": "delete_strokes", "strokes": "s"})
    assert gone.strokes == ()


def test_the_report_counts_what_there_is_and_blocks_that_hold_too_many(tmp_path, monkeypatch):
    _, ev = evaluation(tmp_path, document())
    report = layer_report(ev)
    assert sum(layer.after for layer in report.layers) == pytest.approx(1, abs=1e-6)
    assert sum(layer.strongest for layer in report.layers) == pytest.approx(1)
    assert report.sum_error < 1e-6
    rock = next(layer for layer in report.layers if layer.id == "rock")
    assert rock.before == pytest.approx(float(ev.map("mask:steep").mean()))
    strong = (ev.map("mask:steep") > 0.5).astype(int) + (ev.map("mask:wet") > 0.5)
    assert report.overlap == pytest.approx((strong > 1).mean())
    blocks = report.blocks
    assert blocks is not None
    weights = np.stack([ev.map("channel:splat:" + c) for c in "rgb"])
    assert max(blocks.counts) == int((weights.reshape(3, -1).max(axis=1) > 0).sum())
    assert (blocks.over, blocks.most) == (0, 8)


def test_why_here_tells_what_the_maps_hold(tmp_path):
    _, ev = painted(tmp_path, painted_document())
    row, col = np.argwhere(ev.map("weight:rock") > 0.3)[0]
    why = why_here(ev, int(row), int(col))
    by_id = {layer.id: layer for layer in why.layers}
    assert [layer.id for layer in why.layers] == ["mud", "rock", "base"]
    assert by_id["rock"].share == pytest.approx(float(ev.map("weight:rock")[row, col]))
    assert by_id["rock"].covered == pytest.approx(float(ev.map("mask:wet")[row, col]))
    assert f"{by_id['rock'].share * 100:.0f} %" in by_id["rock"].says
    written = ev.map("colour")[row, col]
    assert why.coats[-1].colour == "#" + "".join(f"{v:02x}" for v in written)
    assert len(why.coats) == len(ev.project.coats)
    water = next(coat for coat in why.coats if coat.title == "Water")
    deep = why_here(ev, *(int(n) for n in np.unravel_index(ev.map("reading:height").argmin(), (127, 127))))
    lies = [coat.lies for coat in deep.coats if coat.title == "Water"]
    assert (water.lies, lies) == (0, [1])
    with pytest.raises(BadNumber):
        why_here(ev, 127, 0)


def test_layers_in_one_go_see_when_masks_are_weights_already(tmp_path):
    data = document()
    data["masks"] = [
        {"id": "a", "name": "Sand dune", "lines": [
            {"id": "x", "verb": "take", "source": {"kind": "mask", "mask": "c"}}]},
        {"id": "b", "name": "Rest", "lines": [
            {"id": "y", "verb": "take", "source": {"kind": "mask", "mask": "a"}}, {"id": "z", "verb": "turn_over"}]},
        {"id": "c", "name": "Slope", "lines": [
            {"id": "w", "verb": "take", "source": {"kind": "reading", "reading": "slope", "black": 0, "white": 50}}]},
    ]  # fmt: skip
    data |= {"layers": [], "sheets": []}
    project, ev = evaluation(tmp_path, data)
    pair = [MaskUse(mask="a"), MaskUse(mask="b")]
    assert adds_up(ev, pair)
    assert not adds_up(ev, [MaskUse(mask="a"), MaskUse(mask="c")])
    assert not adds_up(ev, [MaskUse(mask="a")])
    layers = layers_of(project, pair, "new")
    assert [layer.name for layer in layers] == ["Sand dune", "Rest"]
    assert layers[0].dressing.look == "sand"
    made = edited(project, {"op": "add_layers", "layers": [data_of(x) for x in layers], "sharing": "by_strength"})
    assert made.mixing.sharing == "by_strength"
    weights = ev.engine.evaluation(made)
    assert weights.map("weight:new-0") == pytest.approx(weights.map("mask:a"), abs=1e-6)
    assert weights.map("weight:base").max() < 1e-6
    again = layers_of(made, pair, "more")
    assert [layer.name for layer in again] == ["Sand dune 2", "Rest 2"]
    with pytest.raises(BadDocument, match="at most 64"):
        layers_of(project, pair * 33, "many")


def test_names_find_looks_and_layers():
    project = parse_project(painted_document())
    assert look_named_like(project, "Moor grasses") == "moor_grass"
    assert look_named_like(project, "Qwerty") is None
    assert layer_named_like(project, "wet_rock") == "rock"
    assert layer_named_like(project, "grass_2k") == "base"
    assert layer_named_like(project, "tarmac") is None


# Documents, kits, files -------------------------------------------------------------------------------------------


def test_documents_and_kits_of_the_version_before_still_open():
    old = json.loads((SAMPLES / "lantern_moor_2.json").read_text())
    project = parse_project(old)
    assert (old["version"], project.version) == (2, 3)
    assert [layer.strength for layer in project.layers] == [1.0] * 4
    assert project.coats == ()
    kit = parse_kit(json.loads((SAMPLES / "moor_kit_1.json").read_text()))
    assert (kit.kit, kit.painting.layers) == (2, ())
    assert len(kit.masks) == 5


def test_what_a_painting_holds_is_checked_at_its_limits():
    project = parse_project(painted_document())
    ramp = next(data_of(coat) for coat in project.coats if coat.kind == "ramp")
    many = [{"at": k / 24, "colour": "#000000"} for k in range(24)]
    assert edited(project, {"op": "set_coat", "coat": {**ramp, "stops": many}})
    wrong = [
        {**ramp, "stops": many + many[:1]}, {**ramp, "stops": many[::-1]}, {**ramp, "stops": many[:1]},
        {**ramp, "within": {"kind": "mask", "mask": "gone"}},
        {**ramp, "along": {"kind": "reading", "reading": "no", "black": 0, "white": 1}},
        {"kind": "image", "id": "c1", "picture": "slope"}, {"kind": "piece", "id": "c1", "piece": "gone"},
    ]  # fmt: skip
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
    light = ev.window(ev.graph.painting.coats(False), grid, grid.whole)

    def written(name: str, depth: str, file: str) -> Path:
        write_painted(ev, name, grid, tmp_path / file, depth, ev.engine.stripes)
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
