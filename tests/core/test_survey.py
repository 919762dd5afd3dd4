"""The survey desk: the same world every time, and its troubles handled."""

from __future__ import annotations

import numpy as np
import pytest

from zigzag_meadow.core.errors import BadNumber, MeadowError, NotFound
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.survey.desk import Square, SurveyRefused, survey
from zigzag_meadow.core.survey.world import aerial_tile, height_tile
from zigzag_meadow.server.survey_service import SurveyService

POOL = Stripes(1)
SQUARE = Square(52000, 61000, 4000, 65)


def desk(weather="fair", **more):
    return survey(SurveyService(POOL, weather, sleep=lambda _: None), SQUARE, pool=POOL, **more)


def test_the_world_is_the_same_every_time_and_fits_together():
    assert (height_tile(6, 10, 12, POOL) == height_tile(6, 10, 12, POOL)).all()
    left, right = height_tile(6, 10, 12, POOL), height_tile(6, 11, 12, POOL)
    inner = np.abs(np.diff(left, axis=1)).mean()
    assert np.abs(right[:, 0] - left[:, -1]).mean() < 3 * inner
    # A coarse level is the mean of the finer one, but for detail that it cannot hold.
    fine = height_tile(7, 20, 24, POOL)
    coarse = height_tile(6, 10, 12, POOL)[:128, :128]
    assert np.abs(fine.reshape(128, 2, 128, 2).mean(axis=(1, 3)) - coarse).mean() < 6
    with pytest.raises(NotFound, match="outside the world"):
        height_tile(2, 4, 0, POOL)


def test_a_square_comes_with_its_measures_and_its_picture():
    found = desk()
    assert found.heights.shape == (65, 65)
    assert found.spacing == 62.5
    assert found.aerial.shape == (65, 65, 3)
    assert (found.missing, found.notes) == (0, ())
    slow = desk("slow")
    assert (slow.heights == found.heights).all()
    finest = survey(SurveyService(POOL), Square(52000, 61000, 100, 201), pool=POOL)
    assert "interpolated" in finest.notes[0]


def test_a_busy_desk_is_asked_again_and_a_closed_one_gives_up():
    assert (desk("busy").heights == desk().heights).all()
    with pytest.raises(SurveyRefused, match="too busy"):
        desk("closed")


def test_places_that_are_missing_become_gaps_and_are_said():
    for west in range(0, 120000, 8000):
        square = Square(float(west), 61000, 8000, 257)
        try:
            found = survey(SurveyService(POOL, "patchy"), square, pool=POOL)
        except MeadowError:
            continue
        if found.missing:
            assert np.isnan(found.heights).any()
            assert "missing" in found.notes[-1]
            return
    pytest.fail("no square of a patchy survey lacked a tile")


def test_practice_pictures_have_their_known_mistake():
    right = desk().aerial
    assert (desk(practice="north_south").aerial == right[::-1]).all()
    assert (desk(practice="quarter").aerial == np.rot90(right)).all()
    assert (desk(practice="shifted").aerial == np.roll(right, (1, 2), (0, 1))).all()


def test_squares_that_cannot_be_surveyed_are_refused():
    for square, words in (
        (Square(-1, 0, 4000, 65), "beyond the survey"),
        (Square(0, 0, 4000, 5), "8 to 4097"),
        (Square(0, 0, 50, 65), "100 to"),
    ):
        with pytest.raises(BadNumber, match=words):
            survey(SurveyService(POOL), square, pool=POOL)


def test_the_aerial_image_shows_sea_where_heights_are_below_it():
    heights, colours = height_tile(3, 2, 5, POOL), aerial_tile(3, 2, 5, POOL).astype(int)
    deep = heights < -20
    assert deep.any()
    assert (colours[deep][:, 2] > colours[deep][:, 0]).mean() > 0.99


def test_a_square_that_ends_where_a_tile_ends_is_part_of_a_larger_one():
    """Tiles of 8192 m, 32 m a sample: at its border it needs what lies beyond."""
    service = SurveyService(POOL)
    small = survey(service, Square(3 * 8192, 4 * 8192, 8192, 257), pool=POOL)
    large = survey(service, Square(3 * 8192 - 320, 4 * 8192 - 320, 8192 + 640, 277), pool=POOL)
    assert small.heights == pytest.approx(large.heights[10:267, 10:267], abs=1e-2)
    assert np.abs(small.aerial.astype(int) - large.aerial[10:267, 10:267]).max() <= 1
