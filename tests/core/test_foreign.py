"""Maps from elsewhere are lined up with their height, and those of another ground are refused."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.pairs import KINDS, demo, fresh
from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.alignment import ORIENTATIONS
from zigzag_meadow.core.fit.foreign.align import align
from zigzag_meadow.core.fit.foreign.bringing import laid_picture
from zigzag_meadow.core.fit.registering import Fitting, moved, resized, softened


@pytest.mark.parametrize(("at", "kind"), list(enumerate(KINDS)))
def test_a_map_is_found_in_any_orientation_and_crop(at, kind, warm):
    """Rows 26 to 205 and columns 51 to 204 of a ground, at half its size, with noise."""
    rng = np.random.default_rng(at)
    z = demo("lantern_moor.png")[::4, ::4]
    part = resized(KINDS[kind](z, rng)[26:206, 51:205], 90, 77)
    turn = ORIENTATIONS[at + 1]
    found = align(z, turn.harm(part + rng.normal(0, 0.02 * part.std(), part.shape)))
    assert (found.orientation, found.belong) == (turn.id, True)
    corners = np.array([found.top, found.top + found.down, found.left, found.left + found.across]) * 128
    assert corners == pytest.approx([13, 103, 25.5, 102.5], abs=0.5)
    assert found.scale == pytest.approx((2, 2), abs=0.03)
    assert (found.same_kind is not None) == (kind == "height")


def test_forest_on_a_picture_does_not_hide_how_it_lies(warm):
    """Faint shading under dark patches that have nothing to do with the ground."""
    rng = np.random.default_rng(3)
    z = demo("lantern_moor.png")[::4, ::4]
    shade = np.gradient(z, axis=0) - np.gradient(z, axis=1)
    forest = softened(rng.normal(size=(256, 256, 1)), 6.0)[:, :, 0] > 0
    colours = [0.5 + 0.03 * k * shade / shade.std() - dark * forest for k, dark in ((1.0, 0.3), (1.4, 0.2), (0.8, 0.1))]
    found = align(z, np.round(np.clip(np.stack(colours, axis=-1), 0, 1) * 255)[:, ::-1])
    assert (found.orientation, found.belong) == ("mirrored", True)
    assert (found.top, found.left, found.down, found.across) == (0, 0, 1, 1)


@pytest.mark.parametrize("kind", ["height", "splat"])
def test_half_a_sample_is_told(kind, warm):
    z = demo("lantern_moor.png")[::2, ::2]
    found = align(z, moved(KINDS[kind](z, np.random.default_rng(3)), 0.5, 0, "cubic"))
    assert (found.south, found.east) == pytest.approx((-0.5, 0), abs=0.12)
    assert "samples of the height north" in found.says


def soft_hills(side):
    y, x = np.mgrid[-1 : 1 : side * 1j, -1 : 1 : side * 1j]
    high = 300 * np.exp(-3 * ((x - 0.2) ** 2 + (y + 0.3) ** 2)) + 150 * np.exp(-9 * ((x + 0.5) ** 2 + (y - 0.4) ** 2))
    return high + 40 * np.sin(5 * x + 3 * y)


def test_a_slope_mask_of_soft_ground_is_known_by_its_broad_forms(warm):
    z = soft_hills(512)
    slope = np.hypot(*np.gradient(z))
    mask = np.clip((slope - np.quantile(slope, 0.9)) / (0.3 * slope.std()) + 0.5, 0, 1)
    found = align(z, np.floor(mask * 255 + 0.5)[::-1])
    assert (found.orientation, found.belong) == ("flipped", True)
    assert (found.top, found.left, found.down, found.across) == pytest.approx((0, 0, 1, 1), abs=2e-3)
    # Its broad forms are none of another soft ground's, however alike those look.
    assert not align(softened(fresh(60, 256)[:, :, None], 5.0)[:, :, 0], mask[::2, ::2]).belong


def test_what_does_not_belong_together_is_refused(warm):
    rng = np.random.default_rng(8)
    z, other = demo("lantern_moor.png")[::4, ::4], fresh(3, 256)
    accepted = [align(z, KINDS[kind](other, rng) * 255).belong for kind in ("mask", "flow")]
    assert not any(accepted)
    with pytest.raises(BadFile, match="same everywhere"):
        align(np.ones((50, 50)), other)
    with pytest.raises(BadFile, match="fewer than 16"):
        align(z, other[:9])


def test_two_heights_tell_scale_and_step(warm):
    z = demo("skerry_sound.png")[::4, ::4]
    found = align(z, np.round((z + 40) / 0.02)[::-1])
    assert found.orientation == "flipped"
    assert found.same_kind is not None
    assert found.same_kind[:2] == pytest.approx((0.02, -40), abs=0.05)


@pytest.mark.parametrize("turn", ORIENTATIONS, ids=lambda turn: turn.id)
def test_a_map_is_laid_where_it_belongs(turn):
    rng = np.random.default_rng(2)
    whole = rng.integers(1, 256, (40, 60, 2)).astype(np.uint8)
    made, exact = laid_picture(turn.harm(whole), turn, Fitting(0, 0, 1, 1))
    assert exact
    assert np.array_equal(made, whole)
    part = turn.harm(whole[10:30, 15:60])
    made, exact = laid_picture(part, turn, Fitting(0.25, 0.25, 0.5, 0.75))
    assert exact
    assert np.array_equal(made[10:30, 15:60], whole[10:30, 15:60])
    assert not made[:10].any()
    made, exact = laid_picture(part, turn, Fitting(0.26, 0.25, 0.5, 0.75))
    assert (made.shape, exact) == (whole.shape, False)
