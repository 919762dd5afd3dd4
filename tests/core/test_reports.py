"""What reports say of maps: ends of their numbers, and how a mask that came back lies."""

from __future__ import annotations

import base64
import io
import re

import numpy as np
import pytest
from PIL import Image

from tests.support.delivery import checked, made
from tests.support.ground import document, evaluation
from zigzag_meadow.core.fit.page import fit_page, verdict
from zigzag_meadow.core.map_name import map_name
from zigzag_meadow.core.reports.returned import Returned
from zigzag_meadow.core.reports.seen_map import seen_map
from zigzag_meadow.core.reports.stats import map_stats


@pytest.mark.parametrize(("name", "top"), [("channel:splat:r", 255), ("mask:steep", 1), ("weight:rock", 1)])
def test_numbers_of_bytes_end_at_their_full_scale_and_others_at_one(tmp_path, name, top):
    _, ev = evaluation(tmp_path, document())
    told = map_stats(seen_map(ev, map_name(name)))
    assert (told.bin_low, told.bin_high) == (0, top)
    assert told.summary.high <= top


@pytest.mark.parametrize(
    ("turn", "flip", "alike", "said"),
    [
        (0, "none", 0.9, []),
        (90, "none", 0.1, ["came back turned by 270°"]),
        (0, "east_west", 0.1, ["came back flipped east–west;"]),
        (180, "north_south", 0.9, ["came back flipped north–south and turned by 180°"]),
        (0, "none", 0.19, ["hardly resembles"]),
        (0, "none", 0.2, []),
    ],
)
def test_a_mask_that_came_back_says_how_it_lay(turn, flip, alike, said):
    told = Returned(alike, turn, flip, 0.125, 0.01).says("It is half as large.")
    assert told.startswith("It is half as large. ")
    assert told.endswith("12.5% of the ground was changed.")
    assert all(words in told for words in said)
    assert ("came back" in told, "hardly" in told) == ("came back" in str(said), "hardly" in str(said))


def test_a_page_of_a_check_shows_every_map_and_how_wrong_ones_differ(tmp_path):
    (tmp_path / "fit").mkdir()
    ev, out = made(tmp_path)
    Image.open(out / "test_moor_splat.png").transpose(Image.Transpose.FLIP_TOP_BOTTOM).save(out / "test_moor_splat.png")
    pictures = tmp_path / "fit"
    report = checked(ev, out, keep=lambda name, values: np.save(pictures / f"{name}.npy", values))
    page = fit_page(report.as_json(), "Moor", 3, pictures)
    assert (page.count('alt="As rebuilt"'), page.count('alt="Difference"')) == (3, 1)
    assert verdict(report.as_json()) == "One thing does not fit."
    first = re.findall(r'src="data:image/png;base64,([^"]+)"', page)
    shown = [np.asarray(Image.open(io.BytesIO(base64.b64decode(text)))) for text in first]
    assert {picture.shape[:2] for picture in shown} == {(127, 127)}
    # Nothing differs by much: grey is no difference, the strongest one is black or white.
    difference = next(picture for picture in shown if picture.ndim == 2 and (picture == 128).mean() > 0.02)
    assert difference.min() == 0 or difference.max() == 255
