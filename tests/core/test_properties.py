"""Properties that must hold for anything an artist can type."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.support.ground import document
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.fit.registering import best_fitting, sampled, shift_between
from zigzag_meadow.core.grid import Grid, Window, reference_grid, whole_ground_grid
from zigzag_meadow.core.ground.heights import in_metres
from zigzag_meadow.core.layers.sharing import cover, uncover
from zigzag_meadow.core.masks.algebra import band, combine, levels, turn_over
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.readings.differences import extended, offsets
from zigzag_meadow.core.readings.slope import slope
from zigzag_meadow.core.signature import Measuring, Signature
from zigzag_meadow.core.targets.codings import over_range
from zigzag_meadow.core.targets.encode import encoded

unit = st.floats(0, 1, width=32)
number = st.floats(-1000, 1000, width=32)
masks = st.integers(0, 10**6).map(lambda seed: np.random.default_rng(seed).random((5, 7), np.float32))


@given(masks, number, st.floats(0, 500), st.floats(0, 300), st.floats(0, 300), st.booleans())
def test_bands_stay_between_zero_and_one_and_are_one_inside(values, low, span, fade_low, fade_high, smooth):
    values = values * 2000 - 1000
    out = band(values, low, low + span, fade_low, fade_high, smooth=smooth)
    assert out.min() >= 0
    assert out.max() <= 1
    inside = (values >= np.float32(low)) & (values <= np.float32(low + span))
    assert (out[inside] == 1).all()
    outside = (values < np.float32(low - fade_low) - 1e-3) | (values > np.float32(low + span + fade_high) + 1e-3)
    assert (out[outside] == 0).all()


@given(masks, number, st.floats(1, 300), st.floats(0, 1))
def test_a_band_rises_once_and_falls_once(values, low, span, share):
    line = np.linspace(low - 400, low + span + 400, 500, dtype=np.float32)[None]
    out = band(line, low, low + span, 300 * share, 200 * (1 - share))[0]
    turns = np.sign(np.diff(out.astype(np.float64)))
    turns = turns[turns != 0]
    assert (np.diff(turns) <= 0).all()


@given(masks, masks, st.sampled_from(["take", "leave_out", "keep_within"]), unit)
def test_strength_mixes_between_before_and_after(a, b, verb, strength):
    none, some, full = (combine(a, b, verb, s) for s in (0.0, strength, 1.0))
    assert none == pytest.approx(a)
    assert some == pytest.approx((1 - strength) * a + strength * full, abs=1e-6)
    assert some.min() >= -1e-7
    assert some.max() <= 1 + 1e-6


@given(masks, masks)
def test_leaving_out_is_keeping_within_the_turned_over(a, b):
    assert combine(a, b, "leave_out") == pytest.approx(combine(a, turn_over(b), "keep_within"), abs=1e-6)
    assert turn_over(turn_over(a)) == pytest.approx(a, abs=1e-6)


@given(masks, unit, unit, st.floats(0.1, 5), unit, unit)
def test_levels_stay_between_their_outputs(mask, a, b, middle, out_low, out_high):
    assume(abs(a - b) > 1e-3)
    out = levels(mask, min(a, b), max(a, b), middle, out_low, out_high)
    assert out.min() >= min(out_low, out_high) - 1e-6
    assert out.max() <= max(out_low, out_high) + 1e-6
    # More in never gives less out (or never more, where the outputs are turned over).
    order = np.argsort(mask.ravel(), kind="stable")
    steps = np.diff(out.ravel()[order].astype(np.float64)) * (1 if out_high >= out_low else -1)
    assert (steps >= -1e-6).all()


@given(st.integers(1, 6), st.integers(0, 10**6))
def test_the_topmost_full_layer_hides_all_below(layers, seed):
    stack = np.random.default_rng(seed).random((layers, 4, 4), np.float32)
    stack[layers - 1, 0, 0] = 1.0
    weights = cover(stack)
    assert weights[layers, 0, 0] == 1
    assert not weights[:layers, 0, 0].any()
    back = uncover(weights)[1:]
    seen = weights[1:] > 1e-3
    assert back[seen] == pytest.approx(stack[seen], abs=2e-3)


@given(st.integers(0, 10**6), st.floats(-9000, 9000), st.floats(1, 9000))
def test_heights_from_low_to_high_use_both_ends(seed, low, height):
    samples = np.random.default_rng(seed).integers(100, 40000, (9, 8), np.uint16)
    assume(samples.min() < samples.max())
    metres = in_metres(samples, low, low + height)
    assert metres.min() == pytest.approx(low, abs=1e-3)
    assert metres.max() == pytest.approx(low + height, abs=1e-3)
    # float32 may make neighbours equal, but never swap them.
    assert (np.diff(metres.ravel()[np.argsort(samples.ravel())].astype(np.float64)) >= 0).all()


@given(st.integers(0, 10**6), st.floats(-500, 500), st.floats(10, 3000))
def test_encoded_heights_come_back_within_half_a_step(seed, low, height):
    metres = (low + height * np.random.default_rng(seed).random((9, 8))).astype(np.float32)
    scale = over_range(low, low + height)
    values, clipped = encoded(metres, scale)
    back = values.astype(np.float64) * scale.step + scale.at_zero
    assert np.abs(back - metres).max() <= 0.5 * scale.step + 1e-3
    assert clipped == 0 or metres.max() > low + height


@given(st.floats(-2, 2), st.floats(-2, 2), st.floats(1, 4), st.sampled_from([(2.0, 3.0), (1.0, 1.0), (5.0, 2.0)]))
def test_slope_of_any_plane_at_any_width(a, b, width, spacing):
    dy, dx = spacing
    grid = Grid(14, 17, dy, dx)
    y, x = np.arange(14)[:, None] * dy, np.arange(17)[None] * dx
    expected = np.degrees(np.arctan(np.hypot(a, b)))
    found = slope((a * x + b * y).astype(np.float32), grid, width=width * max(dy, dx))
    assert found == pytest.approx(expected, abs=2e-2)


@given(st.floats(1, 9), st.floats(1, 9))
def test_offsets_split_into_whole_samples_and_a_rest(wy, wx):
    grid = Grid(40, 40, 1.0, 1.0)
    off = offsets(grid, (wy, wx))
    assert off.ky + off.fy == pytest.approx(wy, abs=1e-5)
    assert off.kx + off.fx == pytest.approx(wx, abs=1e-5)
    assert 0 <= off.fy < 1
    assert off.margin[0] >= wy - 1e-5


@given(st.integers(3, 12), st.integers(3, 12), st.integers(0, 8), st.integers(0, 8))
def test_borders_go_on_in_straight_lines(rows, cols, down, across):
    z = np.add.outer(np.arange(rows) * 3.0, np.arange(cols) * -2.0).astype(np.float32)
    inside = Window(0, rows, 0, cols)
    grown = extended(z, inside, inside.grown(down, across))
    y, x = np.arange(-down, rows + down) * 3.0, np.arange(-across, cols + across) * -2.0
    assert grown == pytest.approx(np.add.outer(y, x))


@given(st.integers(8, 9000), st.integers(8, 9000))
def test_capped_grids_keep_the_extent(rows, cols):
    home = Grid(rows, cols, 2.0, 3.0)
    for grid, most in ((reference_grid(home), 1025), (whole_ground_grid(home), 4097)):
        assert max(grid.shape) <= max(most, 2)
        assert grid.width == pytest.approx(home.width)
        assert grid.length == pytest.approx(home.length)


def _waves(seed):
    """A ground of waves on 72² samples, moved by some of them."""
    waves = np.random.default_rng(seed).uniform(6, 40, (6, 3))
    y, x = np.mgrid[0:72, 0:72] / 72.0

    def ground(dy, dx):
        moved = (np.sin(a * (x - dx / 72) + b * (y - dy / 72) + c) for a, b, c in waves)
        return sum(z / (k + 1) for k, z in enumerate(moved))[:, :, None]

    return ground


@given(st.floats(-4, 4), st.floats(-4, 4), st.integers(0, 99))
def test_shifts_are_found_to_parts_of_a_sample(south, east, seed):
    ground = _waves(seed)
    assert shift_between(ground(south, east), ground(0, 0), 0.25) == pytest.approx((south, east), abs=0.05)


@pytest.mark.parametrize("seed", range(5))
def test_a_part_stretched_over_all_is_found(seed):
    """Rows 9 to 60 and columns 6 to 66 of 72."""
    whole, at = _waves(seed)(0, 0), (np.arange(72) + 0.5) / 72
    crop = best_fitting(sampled(whole, 9 + at * 51 - 0.5, 6 + at * 60 - 0.5), whole)
    assert crop is not None
    assert (crop.top, crop.left, crop.down, crop.across) == pytest.approx((9 / 72, 6 / 72, 51 / 72, 60 / 72), abs=0.02)


@given(st.integers(9, 90), st.integers(9, 90), st.integers(1, 9), st.booleans())
def test_a_signature_is_the_same_in_whatever_pieces_rows_come(rows, cols, pieces, wide):
    rng = np.random.default_rng(rows * cols)
    a = rng.integers(0, 65536 if wide else 256, (rows, cols, 2)).astype(np.uint16 if wide else np.uint8)
    whole, parts = Measuring(rows, cols, 2), Measuring(rows, cols, 2)
    whole.add(a)
    for part in np.array_split(a, pieces):
        if len(part):
            parts.add(part)
    one, other = whole.signatures()[1], parts.signatures()[1]
    assert whole.samples == parts.samples
    assert np.array_equal(one.means, other.means)
    assert np.array_equal(one.rough, other.rough)
    full = 65535 if wide else 255
    assert one.means.mean() == pytest.approx(a[:, :, 1].mean() / full)
    assert one.rough[0, 1] == pytest.approx((np.diff(a[:, :, 1] / full, axis=1) ** 2).mean())
    kept = Signature.from_json(one.as_json())
    assert kept is not None
    assert kept.means == pytest.approx(one.means, abs=1e-5)


VERBS = st.sampled_from(["take", "leave_out", "keep_within"])
SOURCES = st.one_of(
    st.builds(
        lambda r, low, span, fade: {"kind": "band", "reading": r, "low": low, "high": low + span, "fade_low": fade},
        st.sampled_from(["height", "slope", "flow"]),
        st.floats(0.5, 300),
        st.floats(0, 500),
        st.floats(0, 9),
    ),
    st.just({"kind": "mask", "mask": "wet"}),
)
LINES = st.lists(st.tuples(VERBS, SOURCES, unit, st.booleans()), max_size=6)


@given(LINES)
def test_any_recipe_is_built_and_survives_json(lines):
    data = document()
    data["masks"][0]["lines"] = [
        {"id": f"l{i}", "verb": verb, "source": source, "strength": strength, "muted": muted}
        for i, (verb, source, strength, muted) in enumerate(lines)
    ]
    project = parse_project(data)
    again = parse_project(project.model_dump(mode="json"))
    assert again == project
    assert Graph(again).mask("steep").key == Graph(project).mask("steep").key


MASKS, LAYERS = st.sampled_from(["steep", "wet"]), st.sampled_from(["rock", "mud"])
PLACES, NAMES = st.integers(0, 5), st.sampled_from(["Wet", "Peat", "Steep"])
OPERATIONS = st.lists(
    st.one_of(
        st.builds(lambda m, to: {"op": "move_mask", "mask": m, "to": to}, MASKS, PLACES),
        st.builds(lambda m, to: {"op": "move_layer", "layer": m, "to": to}, LAYERS, PLACES),
        st.builds(lambda m: {"op": "delete_mask", "mask": m}, MASKS),
        st.builds(lambda m: {"op": "delete_layer", "layer": m}, LAYERS),
        st.builds(lambda m, n: {"op": "rename_mask", "mask": m, "name": n}, MASKS, NAMES),
        st.builds(lambda h: {"op": "set_ground", "high": h}, st.floats(-100, 900)),
        st.just({"op": "propose_sheets"}),
        st.builds(lambda s: {"op": "delete_sheet", "sheet": s}, st.sampled_from(["splat", "data", "splat_a"])),
    ),
    max_size=12,
)


@given(OPERATIONS)
def test_whatever_is_done_the_document_holds_together(operations):
    """Each operation either makes a sound document with a name for undo, or is refused and changes nothing."""
    project = parse_project(document())
    refusals = []
    for operation in operations:
        try:
            project, label = apply_operations(project, parse_operations([operation]))
        except MeadowError as error:
            refusals.append(error.message)
            continue
        assert label
        assert parse_project(project.model_dump(mode="json")) == project
        for sheet in project.sheets:
            Graph(project).sheet(sheet.id)
    assert all(message.endswith(".") for message in refusals)
