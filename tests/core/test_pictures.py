"""Pictures over the ground: what their samples stand for, and how like a colour they are."""

from __future__ import annotations

import imagecodecs
import numpy as np
import pytest

from tests.support.ground import document, hills, png16
from zigzag_meadow.core.errors import BadDocument, BadNumber, NotFound
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.travel.from_elsewhere import lie_as, lying
from zigzag_meadow.core.project.travel.kit import Heights, kit_of
from zigzag_meadow.core.readings.colours import likeness
from zigzag_meadow.core.readings.picture import picture
from zigzag_meadow.core.srgb import lab_of, linear_of
from zigzag_meadow.core.stripes import Stripes

HOME = Grid(129, 129, 4.0, 4.0)
PIXELS = np.zeros((64, 64, 4), np.uint8)
PIXELS[..., 3] = 255
PIXELS[:, :32, :3] = (122, 132, 80)
PIXELS[:, 32:, :3] = (180, 40, 30)
PIXELS[:16, :, 3] = 0


def looking(tmp_path, **numbers):
    """A project that looks at a picture by a likeness."""
    look = {"id": "likeness", "kind": "likeness", "numbers": {"picture": "air", **numbers}}
    lay = {"id": "air", "kind": "picture", "name": "Air", "numbers": {"asset": "1" * 64}}
    data = document(readings=[lay, look])
    (tmp_path / ("0" * 64)).write_bytes(png16(hills(127, 127)))
    (tmp_path / ("1" * 64)).write_bytes(bytes(imagecodecs.png_encode(PIXELS)))
    return Engine(Stripes(1), TileCache(), lambda key: tmp_path / key).evaluation(parse_project(data))


@pytest.mark.parametrize("outer", [(0.0, 0.0), (4.0, 4.0)])
def test_cells_lie_half_a_sample_inside_what_reaches_to_the_border(outer):
    """A ramp over the ground's whole width, sampled both ways, reads the same where it is laid back the right way."""
    wide = HOME.width + outer[1]
    cells = np.tile(((np.arange(64) + 0.5) / 64).astype(np.float32), (64, 1))
    border = np.tile((np.arange(64) / 63).astype(np.float32), (64, 1))
    east = np.arange(129) * 4.0 + outer[1] / 2
    laid = {
        name: picture(pixels, HOME, HOME, HOME.whole, samples=name, outer=outer)[40]
        for name, pixels in (("cells", cells), ("border", border))
    }
    inside = (east > wide / 128) & (east < wide - wide / 128)
    np.testing.assert_allclose(laid["cells"][inside], (east / wide)[inside], atol=1e-5)
    np.testing.assert_allclose(laid["border"], east / wide, atol=1e-5)
    wrong = picture(cells, HOME, HOME, HOME.whole, samples="border", outer=outer)[40]
    assert np.abs(wrong - east / wide).max() == pytest.approx(0.5 / 64, rel=0.02)


@pytest.mark.parametrize(
    ("shape", "kind"),
    [
        ((129, 129), "border"),
        ((1009, 1009), "border"),
        ((128, 128), "cells"),
        ((64, 64), "cells"),
        ((504, 504), "cells"),
        ((512, 256), "cells"),
        ((100, 100), "border"),
    ],
)
def test_what_samples_most_likely_are_follows_from_their_count(shape, kind):
    assert lie_as(HOME, Grid(1009, 1009, 0.5, 0.5), *shape) == kind


def test_what_the_other_way_would_mean_is_said_in_metres_and_samples():
    said = lying(HOME, 64, 64, "cells")
    assert "are cells" in said
    assert "4 m aside: half a sample of its own, 1 of the ground's" in said


def test_likeness_is_one_at_the_colour_a_half_at_the_spread_and_nothing_at_twice_that():
    base = np.array(linear_of("#7a8450"), np.float32)
    lab = lab_of(base[None, None])[0, 0]
    other = np.array(linear_of("#8a8450"), np.float32)
    away = float(np.linalg.norm(lab_of(other[None, None])[0, 0] - lab)) * 100
    colours = np.ones((1, 2, 4), np.float32)
    colours[0, 0, :3], colours[0, 1, :3] = base, other
    assert likeness(colours, "#7a8450", away)[0] == pytest.approx([1, 0.5], abs=1e-4)
    assert likeness(colours, "#7a8450", away / 2)[0] == pytest.approx([1, 0], abs=1e-4)
    colours[..., 3] = 0.25
    assert likeness(colours, "#7a8450", away)[0] == pytest.approx([0.25, 0.125], abs=1e-4)


def test_fields_come_out_of_an_image_and_the_image_is_shown_as_it_is(tmp_path):
    ev = looking(tmp_path, colour="#7a8450", spread=3)
    like = ev.map("reading:likeness")
    assert like[60, 20] == pytest.approx(1, abs=0.01)
    assert like[60, 110] == 0
    assert like[4, 20] == 0
    shown = ev.map("picture:air")
    assert (shown.dtype, shown[60, 20].tolist(), shown[60, 110].tolist()) == (
        np.uint8,
        [122, 132, 80, 255],
        [180, 40, 30, 255],
    )
    assert shown[4, 20, 3] == 0
    assert (ev.map("picture:air:otherwise") != shown).any()
    with pytest.raises(NotFound, match="lays no picture"):
        ev.map("picture:likeness")


def test_a_likeness_looks_at_a_picture_and_stays_with_it(tmp_path):
    ev = looking(tmp_path)
    plain = ev.project.model_dump(mode="json")
    plain["readings"][1]["numbers"]["picture"] = "slope"
    with pytest.raises(BadDocument, match="must look at a picture"):
        parse_project(plain)
    for wrong in ({"colour": "red"}, {"colour": "#12345g"}, {"spread": 61}, {"picture": "../x"}):
        with pytest.raises(BadNumber):
            looking(tmp_path, **wrong)
    source = {"kind": "band", "reading": "likeness", "low": 0.5, "high": 1}
    plain = ev.project.model_dump(mode="json")
    plain["masks"].append({"id": "f", "name": "Fields", "lines": [{"id": "l", "verb": "take", "source": source}]})
    kit, left = kit_of(parse_project(plain), "K", "", Heights(low=0, high=1), ["f"], [])
    assert not kit.readings
    assert "Fields" in left[0]


def test_ground_of_cells_is_laid_under_pictures_to_its_outer_border():
    data = document()
    data["ground"] |= {"samples": "cells", "steps": [{"kind": "turn", "id": "t", "how": "right"}]}
    assert parse_project({**data, "version": 5}).ground.outer == (5.0, 4.0)
    # As cells they reach to the border themselves.
    assert parse_project(data).ground.outer == (0.0, 0.0)
    data["ground"]["samples"] = "border"
    assert parse_project(data).ground.outer == (0.0, 0.0)
