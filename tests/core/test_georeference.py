"""Where a delivered height lies in the world, as others read it."""

from __future__ import annotations

import numpy as np
import pytest
import rasterio
import tifffile
from rasterio.transform import from_origin

from tests.support.ground import document, evaluation, hills
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.formats.reading.georeference import georeference_of
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.stripes import Stripes

ROWS, COLS = 301, 227


def test_a_georeferenced_height_keeps_what_its_source_said(tmp_path):
    """The same ground at half as many samples lies over the same place, in the source's own system."""
    source = tmp_path / "hills.png"
    data = document(
        delivery={
            "target": "plain-files",
            "rows": 64,
            "cols": 64,
            "items": [
                {"of": "height", "form": "geotiff32f"},
                {"of": "sheet:splat", "deliver": False},
                {"of": "sheet:data", "deliver": False},
            ],
        }
    )
    project, ev = evaluation(tmp_path, data)
    with rasterio.open(
        source,
        "w",
        driver="GTiff",
        height=127,
        width=127,
        count=1,
        dtype="uint16",
        crs="EPSG:32632",
        transform=from_origin(400000, 5200000, 5, 4),
    ) as file:
        file.write(hills(127, 127), 1)
    out = tmp_path / "out"
    out.mkdir()
    deliver(ev, make_plan(project, ev.heights()), out, Stripes(1), lambda share, text: None)
    with rasterio.open(out / "test_moor_height.tif") as file:
        assert file.crs.to_epsg() == 32632
        # Samples are points now: rasterio tells the corner of the first one's cell.
        assert file.transform.c + file.transform.a / 2 == pytest.approx(400002.5)
        assert file.transform.f + file.transform.e / 2 == pytest.approx(5199998)
        assert file.transform.a * 63 == pytest.approx(126 * 5)
        assert np.abs(file.read(1)[0, 0] - ev.map("reading:height")[0, 0]) < 1


@pytest.mark.parametrize("turn", ["none", "north_south", "both"])
@pytest.mark.parametrize("rows", [51, 64])
def test_a_reference_follows_ground_that_is_cut_and_turned(tmp_path, turn, rows):
    """Wherever steps take a sample and whichever way the file runs, others find it at the place it came from."""
    data = document(
        delivery={
            "target": "plain-files",
            "rows": rows,
            "cols": 41,
            "items": [
                {"of": "height", "form": "geotiff32f", "turn": turn},
                {"of": "sheet:splat", "deliver": False},
                {"of": "sheet:data", "deliver": False},
            ],
        }
    )
    data["ground"] |= {
        "spacing_x": 5.0,
        "spacing_y": 4.0,
        "steps": [
            {"id": "cut", "kind": "crop", "west": 100, "north": 60, "width": 250, "length": 160},
            {"id": "turned", "kind": "turn", "how": "right"},
        ],
    }
    project, ev = evaluation(tmp_path, data)
    heights = hills(127, 127)
    lies = from_origin(400000, 5200000, 2, 3)
    with rasterio.open(
        tmp_path / "hills.png",
        "w",
        driver="GTiff",
        height=127,
        width=127,
        count=1,
        dtype="uint16",
        crs="EPSG:32632",
        transform=lies,
    ) as file:
        file.write(heights, 1)
    out = tmp_path / "out"
    out.mkdir()
    deliver(ev, make_plan(project, ev.heights()), out, Stripes(1), lambda share, text: None)
    with rasterio.open(out / "test_moor_height.tif") as file:
        found, place = file.read(1), file.transform
    # Brought in again it says how far apart its samples are, whichever way it runs.
    again = inspect_file(out / "test_moor_height.tif").placement
    assert again is not None
    assert (again.spacing_y, again.spacing_x) == pytest.approx((50 * 2 / (rows - 1), 3))
    corners = np.array([(0, 0), (0, 40), (rows - 1, 0), (rows - 1, 40)])
    cols, lines = np.round(np.array([~lies @ (place @ (c + 0.5, r + 0.5)) for r, c in corners]) - 0.5, 6).T
    assert sorted(set(cols)) == [20, 70]
    assert sorted(set(lines)) == [15, 55]
    there = heights[lines.astype(int), cols.astype(int)]
    low, high = project.ground.file_ends
    assert np.allclose(found[tuple(corners.T)], low + there / 65535 * (high - low), atol=0.05)


@pytest.mark.parametrize(
    "tags",
    [
        [(33550, "d", 1, 2.0, True)],
        [(33550, "d", 3, (2.0, float("inf"), 0.0), True)],
        [(33550, "s", 0, "two", True)],
        [(34264, "d", 16, (float("nan"),) * 16, True)],
        [(34264, "d", 1, 5.0, True)],
        [(34735, "s", 0, "keys", True)],
    ],
)
def test_a_reference_of_nonsense_is_none(tmp_path, tags):
    sound = [
        (33550, "d", 3, (2.0, 3.0, 0.0), True),
        (33922, "d", 6, (0.0,) * 6, True),
        (34735, "H", 4, (1, 1, 1, 0), True),
    ]
    code = tags[0][0]
    more = [tag for tag in sound if tag[0] != (33550 if code == 34264 else code)]
    tifffile.imwrite(tmp_path / "odd.tif", np.zeros((8, 8), np.uint16), extratags=[*tags, *more])
    assert georeference_of(tmp_path / "odd.tif", "odd.tif") is None
