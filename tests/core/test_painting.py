"""Layers and coats through the evaluator: what comes out on every grid, window and thread count."""

import numpy as np
import pytest

from tests.support.ground import document, evaluation, lay, small_tiles
from tests.support.painting import STROKES, data_of, edited, every_coat, painted, painted_document
from zigzag_meadow.core.errors import BadDocument, BadNumber, MeadowError, NotFound
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.travel.layer_proposals import layer_named_like, layers_of, look_named_like
from zigzag_meadow.core.reports.detail import detail_beside_plain
from zigzag_meadow.core.reports.layer_report import adds_up, layer_report, why_here
from zigzag_meadow.core.srgb import coded, linear_of

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
    small_tiles(monkeypatch, 64)
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
    assert np.isfinite(ev.window(ev.graph.painting.coats(), ev.home, ev.home.whole)).all()
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
    node = ev.graph.painting.coats()
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


# Layers -----------------------------------------------------------------------------------------------------------


def test_strength_bands_mute_and_order_reach_the_weights(tmp_path):
    project, ev = evaluation(tmp_path, document())
    rock = data_of(project.layers[0])
    half = ev.engine.evaluation(edited(project, {"op": "set_layer", "layer": {**rock, "strength": 0.5}}))
    assert half.map("strength:rock") == pytest.approx(ev.map("mask:steep") / 2)
    muted = ev.engine.evaluation(edited(project, {"op": "set_layer", "layer": {**rock, "muted": True}}))
    assert muted.map("weight:rock").max() == 0
    assert muted.map("strength:rock").max() == 0
    cut = [
        {"op": "add_line", "mask": "steep", "line": {"id": "z", "verb": "cut", "count": 3}},
        {"op": "set_layer", "layer": {**rock, "band": 2}},
    ]
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
    # The one that is left carries on where both were carried.
    assert gone.sheets[0].r.layer == "rock"
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
        {
            "id": "a",
            "name": "Sand dune",
            "lines": [{"id": "x", "verb": "take", "source": {"kind": "mask", "mask": "c"}}],
        },
        {
            "id": "b",
            "name": "Rest",
            "lines": [
                {"id": "y", "verb": "take", "source": {"kind": "mask", "mask": "a"}},
                {"id": "z", "verb": "turn_over"},
            ],
        },
        {
            "id": "c",
            "name": "Slope",
            "lines": [
                {"id": "w", "verb": "take", "source": {"kind": "reading", "reading": "slope", "black": 0, "white": 50}}
            ],
        },
    ]
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
