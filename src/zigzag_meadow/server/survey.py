"""Squares from the survey desk, kept as files that a project can be made of."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np

from zigzag_meadow.core.ground.diagnose import Inspection, inspect_file
from zigzag_meadow.core.survey.desk import Practice, Square, Surveyed, survey
from zigzag_meadow.server.assets import incoming, keep, taken_in
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.survey_service import SurveyService, Weather

__all__ = ["get_square", "tile_picture"]


def tile_picture(level: int, column: int, row: int, weather: Weather) -> bytes:
    """A tile of the aerial survey as a PNG, to look at."""
    tile = SurveyService(engine().stripes, weather).tile("aerial", level, column, row)
    return bytes(imagecodecs.png_encode(tile))


def get_square(square: Square, practice: Practice, weather: Weather, owner: str) -> dict[str, Any]:
    """Survey a square; its heights and its aerial image become assets."""
    shared = engine()
    key = f"survey-{square.west:.0f}-{square.north:.0f}-{square.side:.0f}-{square.samples}"
    with shared.board.task(key, owner, "Asking the survey desk", None) as (task, cancel):
        surveyed = survey(
            SurveyService(shared.stripes, weather), square, practice, pool=shared.stripes, tell=task.tell, cancel=cancel
        )
    asset, inspection = _kept_heights(surveyed)
    with taken_in(incoming()) as picture:
        picture.write_bytes(imagecodecs.png_encode(surveyed.aerial))
        aerial = keep(picture)
    return {
        "asset": asset,
        "inspection": inspection,
        "spacing": surveyed.spacing,
        "notes": list(surveyed.notes),
        "low": round(float(np.nanmin(surveyed.heights)), 3),
        "high": round(float(np.nanmax(surveyed.heights)), 3),
        "aerial": aerial,
        "heights": "range" if inspection.format == "png" else "stored",
    }


def _kept_heights(surveyed: Surveyed) -> tuple[str, Inspection]:
    """16 bits from low to high; floats where the survey has gaps."""
    with taken_in(incoming()) as path:
        inspection = inspect_file(path, _write_heights(surveyed, path))
        return keep(path), inspection


def _write_heights(surveyed: Surveyed, path: Path) -> str:
    """Write the heights; returns the name of the file, by whose ending it is read."""
    if surveyed.missing:
        with path.open("wb") as file:
            np.save(file, surveyed.heights)
        return "survey_square.npy"
    low, high = float(surveyed.heights.min()), float(surveyed.heights.max())
    scaled = (surveyed.heights.astype(np.float64) - low) / max(high - low, 1e-6) * 65535
    path.write_bytes(imagecodecs.png_encode(np.floor(scaled + 0.5).astype(np.uint16)))
    return "survey_square.png"
