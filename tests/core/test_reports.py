"""What reports say of maps: ends of their numbers, and how a mask that came back lies."""

from __future__ import annotations

import pytest

from tests.support.ground import document, evaluation
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
