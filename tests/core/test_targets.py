"""Targets as data: sizes, codings, tiles, layouts against the facts of the trade; every built-in one end to end."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.delivery import checked, made
from tests.support.ground import document
from zigzag_meadow.core.delivery.cautions import cautions, target_change
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.errors import BadDocument, BadNumber, IllegalSize, NotFound, WrongFormat
from zigzag_meadow.core.fit.reading import opened, read_whole
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.model.propose import carries_weights
from zigzag_meadow.core.targets.catalogue import built_in, parse_target, target
from zigzag_meadow.core.targets.codings import FixedStep, SignedStep, UnsignedRange, WholeMetres, over_range
from zigzag_meadow.core.targets.encode import encoded
from zigzag_meadow.core.targets.map_sizes import FewerCells, PowerOfTwoCells
from zigzag_meadow.core.targets.sizes import (
    AnySize,
    BlockSizes,
    Multiples,
    PowersOfTwo,
    nearest_pair,
    pair_for,
    size_pairs,
)
from zigzag_meadow.core.targets.tiles import Regions, SharedTiles

BLOCKS = target("block-grid").sizes
ALL = [item.id for item in built_in()]


def aimed(target_id, **more):
    project, _ = apply_operations(
        parse_project(document(**more)), parse_operations([{"op": "choose_target", "target": target_id}])
    )
    return project.model_dump(mode="json")


def stored(out, file):
    with opened(out, file) as source:
        return read_whole(source)


def test_legal_sizes():
    assert {505, 1009, 1017, 2017, 2033, 4033, 4065, 4081, 8129, 8161} <= set(BLOCKS.lengths())
    assert not {33, 513, 1025, 2049, 4097} & set(BLOCKS.lengths())
    assert [BLOCKS.nearest(n, 1)[0] for n in (1024, 2048, 4096)] == [1021, 2041, 4081]
    # 1009 is 16 blocks of 63 and 8 of 126: the larger are named.
    assert BLOCKS.layout(1009, 1009).cells == 126
    assert (BLOCKS.layout(505, 1009).down, BLOCKS.layout(505, 1009).across) == (4, 8)
    assert target("powers-and-one").sizes.lengths() == [33, 65, 129, 257, 513, 1025, 2049, 4097]
    assert target("raw-pair").sizes.fits(512, 1024)
    assert not target("equal-maps").sizes.fits(512, 1024)


@pytest.mark.parametrize("target_id", ALL)
@pytest.mark.parametrize(("rows", "cols"), [(505, 1009), (1009, 1009), (700, 1000), (90, 800), (4097, 4097)])
def test_a_ground_of_any_shape_gets_sizes_that_are_taken(target_id, rows, cols):
    home, rule = Grid(rows, cols, 3, 3), target(target_id).sizes
    pairs = size_pairs(rule, home)
    assert pairs
    assert all(rule.fits(*pair) for pair in pairs)
    assert nearest_pair(rule, home) in pairs
    assert nearest_pair(rule, home) == (rows, cols) or not rule.fits(rows, cols)


RULES = st.one_of(
    st.builds(BlockSizes, cells=st.lists(st.integers(1, 4096), min_size=1, max_size=32), most=st.integers(1, 128)),
    st.builds(
        PowersOfTwo,
        plus=st.sampled_from([0, 1]),
        least=st.integers(8, 8192),
        most=st.integers(8, 8192),
        sides=st.sampled_from(["equal", "free"]),
    ),
    st.builds(Multiples, of=st.integers(1, 4096), plus=st.sampled_from([0, 1])),
    st.builds(AnySize, least=st.integers(8, 8193), most=st.integers(8, 8193)),
)


@given(rule=RULES, rows=st.integers(8, 8193), cols=st.integers(8, 8193), around=st.integers(8, 8193))
def test_whatever_the_rule_some_sizes_are_offered_and_each_is_taken(rule, rows, cols, around):
    """Forty at most, near what was asked for, the ground's own among them; a rule that leaves none is refused."""
    home = Grid(rows, cols, 3, 3)
    pairs = size_pairs(rule, home, around)
    assert len(pairs) <= 40
    assert all(rule.fits(*pair) and max(pair) <= 8193 for pair in pairs)
    assert ((rows, cols) in pairs) == rule.fits(rows, cols)
    if rule.legal(around) and (pair := pair_for(rule, home, around)) is not None and min(pair) >= 8:
        assert rule.fits(*pair)
        assert max(pair) == around
    if not pairs:
        with pytest.raises(IllegalSize, match="Change the rule"):
            nearest_pair(rule, home)


def test_maps_beside_the_height():
    powers = target("powers-and-one")
    height = Grid(1025, 1025, 4, 4)
    masks = powers.masks.grid(height)
    assert (masks.shape, masks.registration, masks.width) == ((1024, 1024), "area", height.width)
    raw = target("raw-pair")
    assert raw.masks.grid(Grid(1024, 2048, 4, 4, "area")).shape == (512, 1024)
    assert target("block-grid").map_grid(Grid(1009, 505, 4, 4), "colour_far", "colour").shape == (253, 127)
    assert [PowerOfTwoCells(most=1024).cells(n) for n in (700, 769, 1008, 5000)] == [512, 1024, 1024, 1024]
    assert FewerCells(over=4).cells(1008) == 252


def test_codings_by_the_facts():
    scale = UnsignedRange().scale(0, 1000)
    assert scale.step == pytest.approx(0.0152590, abs=1e-7)
    stored, clipped = encoded(np.array([[500, -5, 1000]], np.float32), scale)
    assert stored.tolist() == [[32768, 0, 65535]]
    assert clipped == 1
    assert scale.at_zero + 32768 * scale.step == pytest.approx(500.00763, abs=1e-5)
    assert SignedStep().scale(0, 1000).step * 128 == pytest.approx(1.9531548, abs=1e-7)
    fixed = FixedStep(step=1 / 128, at_zero=-256).scale(0, 1)
    stored, clipped = encoded(np.array([[0, 2, 255.9921875, 300]], np.float32), fixed)
    assert stored.tolist() == [[32768, 33024, 65535, 65535]]
    assert clipped == 1
    assert encoded(np.array([[12.4, 12.5]], np.float32), WholeMetres(at_zero=0).scale(0, 1))[0].tolist() == [[12, 13]]
    with pytest.raises(BadNumber, match="above the lowest"):
        over_range(5, 5)


@given(st.floats(-5000, 5000), st.floats(0.5, 9000))
def test_a_range_uses_all_of_it(low, height):
    stored, clipped = encoded(np.array([[low, low + height]]), over_range(low, low + height))
    assert stored.tolist() == [[0, 65535]]
    assert clipped == 0


@given(st.integers(1, 9), st.integers(1, 7), st.integers(9, 65))
def test_tiles_that_share_a_border_cover_everything(across, down, side):
    rows, cols = down * (side - 1) + 1, across * (side - 1) + 1
    tiles = SharedTiles(side=side).tiles(rows, cols, "vertex")
    seen = np.zeros((rows, cols), int)
    for tile in tiles:
        w = tile.window
        assert w.shape == (side, side)
        assert (w.row0, w.col0) == (tile.y * (side - 1), tile.x * (side - 1))
        seen[w.row0 : w.row1, w.col0 : w.col1] += 1
    assert seen.min() == 1
    assert len(tiles) == across * down


def test_tiles_that_do_not_divide_name_the_nearest():
    assert len(SharedTiles(side=513).tiles(4097, 4097, "vertex")) == 64
    assert len(SharedTiles(side=513).tiles(4096, 4096, "area")) == 64
    with pytest.raises(IllegalSize, match=r"1000 rows do not divide into regions of 256\. Nearest: 1024"):
        Regions(side=256).tiles(1000, 1024, "area")


@pytest.mark.parametrize("target_id", ALL)
def test_every_target_takes_a_delivery_and_reads_it_back_exactly(tmp_path, target_id):
    data = aimed(target_id)
    ev, out = made(tmp_path, data)
    report = checked(ev, out)
    assert report.fits, report.findings
    facts = {fact.title: fact for fact in report.facts}
    assert facts["Height"].result == "exact"
    assert facts["Compared"].detail == "maps, sample by sample"
    assert {item.state for item in report.maps} == {"exact"}
    note = Rehearsal(out).note
    chosen = target(target_id)
    assert {(item.setting, item.to) for item in note.neutral} == {
        (n.setting, n.to) for n in chosen.neutral if n.only != "codes" or note.height.stored is not None
    }
    assert [item.do for item in note.after] == [step.do for step in chosen.after]
    if chosen.sheets.kind == "packed" and chosen.mixing.kind == "sum":
        assert facts["Weights"].result == "exact"


def test_a_target_that_begins_in_the_south_and_counts_from_the_water(tmp_path):
    import imagecodecs

    ev, out = made(tmp_path, aimed("powers-and-one", rows=129, cols=129))
    raw = np.fromfile(out / "height_129.r16", "<u2").reshape(129, 129)
    z = ev.map("reading:height", Grid(129, 129, ev.home.dy, ev.home.dx))
    low, high = ev.ends()
    assert np.abs(low + raw[::-1] * ((high - low) / 65535) - z).max() < 0.01
    sheet = imagecodecs.png_decode((out / "splat_a_128.png").read_bytes())
    grid = ev.home.resized(128, 128, "area")
    assert np.array_equal(sheet[::-1], ev.map("sheet:splat_a", grid))
    ev, out = made(tmp_path, aimed("rgb-over-base"), "water")
    note = Rehearsal(out).note
    assert note.ground.zero == 40
    assert note.height.water == 0
    assert note.height.project_lowest - 40 == pytest.approx(ev.ends()[0] - 40)
    assert note.height.lowest == pytest.approx(ev.ends()[0] - 40, abs=2)
    assert (note.ground.extent.west, note.ground.extent.centre) == (-315, (0, 0))


def test_tiles_and_classes_of_the_delivered_ground(tmp_path):
    from PIL import Image

    ev, out = made(tmp_path, aimed("whole-metres", delivery={"rows": 127, "cols": 127}))
    names = sorted(path.name for path in out.glob("classes*"))
    assert names == ["classes.png"]
    classes = np.asarray(Image.open(out / "classes.png"))
    assert np.array_equal(classes, ev.map("strongest", ev.project.target.masks.grid(ev.project.final)))
    data = aimed("whole-metres")
    data["delivery"] |= {"rows": 512, "cols": 512}
    ev, out = made(tmp_path, data, "tiles")
    assert sorted(p.name for p in out.glob("height*")) == [f"height_x{x}_y{y}.png" for x in (0, 1) for y in (0, 1)]
    report = checked(ev, out)
    assert report.fits, report.findings


def test_blend_steps_make_the_same_ground_as_weights(tmp_path):
    ev, out = made(tmp_path, aimed("equal-maps"))
    note = Rehearsal(out).note
    sheet = next(file for file in note.files if file.kind == "sheet" and "splat" in file.file)
    assert [c.kind for c in sheet.channels][:2] == ["step", "step"]
    assert note.weights.base_implied
    assert note.weights.full is None
    steps = stored(out, sheet).astype(float) / 255
    grid = ev.project.target.masks.grid(ev.project.final)
    weights = [ev.map(f"weight:{layer}", grid) for layer in ("rock", "mud")]
    mud = steps[..., 1]
    rock = steps[..., 0] * (1 - mud)
    assert np.abs(mud - weights[1]).max() <= 1 / 255
    assert np.abs(rock - weights[0]).max() <= 1.5 / 255


def test_changing_the_target_is_told_before_it_is_done():
    project = parse_project(document())
    told = " ".join(target_change(project, "raw-pair"))
    assert "128 × 128 instead of 127 × 127" in told
    assert "splat_a (grey)" in told
    assert "height.r16" in told
    assert target_change(project, "block-grid") != []
    with pytest.raises(NotFound, match="There are: block-grid"):
        target_change(project, "nowhere")


def test_what_a_target_refuses_is_a_sentence():
    data = aimed("raw-pair")
    data["sheets"] = document()["sheets"]
    with pytest.raises(WrongFormat, match="takes no alpha"):
        make_plan(parse_project(data))
    high = document()
    high["ground"] |= {"low": -2000, "high": 3000}
    project, _ = apply_operations(
        parse_project(high), parse_operations([{"op": "choose_target", "target": "raw-pair"}])
    )
    assert any("will be cut off" in item.message for item in cautions(project))


NONSENSE = [
    ({"sizes": {"kind": "blocks", "cells": [], "most": 4}}, "cells"),
    ({"sizes": {"kind": "powers", "plus": 1, "least": 4096, "most": 64, "sides": "free"}}, "leaves none"),
    ({"sizes": {"kind": "multiples", "of": 10**9, "plus": 0}}, "4096"),
    ({"names": "{project}"}, r"need \{map\}"),
    ({"names": "../../{map}"}, "names"),
    ({"height": {"registration": "vertex", "coding": {"kind": "metres"}, "forms": ["png16"]}}, "floating"),
    ({"height": {"registration": "vertex", "coding": {"kind": "whole_metres"}, "forms": ["png8"]}}, "16 bits"),
    ({"masks": {"registration": "area", "size": {"kind": "same"}, "forms": ["csv"]}}, "holds points"),
    ({"masks": {"registration": "area", "size": {"kind": "same"}, "forms": ["gif"]}}, "There is no format"),
    ({"tiles": {"kind": "shared", "side": 0}}, "side"),
    ({"most_layers": 0}, "most_layers"),
    ({"surprise": 1}, "surprise"),
    ({"version": 3}, "newer version"),
    ({"title": "x" * 4000}, "title"),
]


@pytest.mark.parametrize(("change", "words"), NONSENSE)
def test_a_target_with_nonsense_is_refused_in_a_sentence(change, words):
    data = {**json.loads(target("plain-files").model_dump_json()), "id": "mine", "title": "Mine", **change}
    with pytest.raises((BadDocument, NotFound), match=words):
        parse_target(data)


def test_own_targets_live_in_the_document():
    own = {**target("powers-and-one").model_dump(mode="json"), "id": "mine", "title": "Ours", "first_row": "north"}
    project = parse_project(document())
    steps = [{"op": "set_target", "target": own}, {"op": "choose_target", "target": "mine"}]
    kept, _ = apply_operations(project, parse_operations(steps))
    assert kept.target.title == "Ours"
    assert kept.delivery.rows == 129
    with pytest.raises(BadDocument, match="Choose another target first"):
        apply_operations(kept, parse_operations([{"op": "delete_target", "target": "mine"}]))
    with pytest.raises(BadDocument, match="built-in target is not changed"):
        apply_operations(project, parse_operations([{"op": "set_target", "target": {**own, "id": "raw-pair"}}]))
    assert parse_project(json.loads(kept.model_dump_json())) == kept


def _chosen(project, *targets):
    operations = [{"op": "choose_target", "target": item} for item in targets]
    return apply_operations(project, parse_operations(operations))[0]


@pytest.mark.parametrize(
    ("at", "to", "gives"),
    [
        ((1009, 2017), "scene-renderer", (1009, 2017)),  # legal there, so it stays
        ((1024, 1024), "rgb-over-base", (512, 1024)),  # legal, but stretched over ground twice as wide as long
        ((1009, 2017), "equal-maps", (512, 512)),  # equal sides are the rule: no size is less stretched
        ((600, 1200), "raw-pair", (512, 1024)),
    ],
)
def test_a_size_stays_on_a_change_of_place_unless_it_is_illegal_or_stretched(at, to, gives):
    ground = parse_project(document(505, 1009, delivery={"target": "plain-files", "rows": at[0], "cols": at[1]}))
    delivery = _chosen(ground, to).delivery
    assert (delivery.rows, delivery.cols) == gives


def test_weights_are_packed_again_after_a_place_that_takes_numbers_of_layers():
    blocks = _chosen(parse_project(document()), "powers-and-one", "block-grid")
    classes = _chosen(blocks, "whole-metres")
    assert not any(carries_weights(sheet) for sheet in classes.sheets)
    back = _chosen(classes, "block-grid")
    assert [sheet for sheet in back.sheets if carries_weights(sheet)]
    assert back.sheets == blocks.sheets
