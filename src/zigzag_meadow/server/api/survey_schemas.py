"""What travels between the pages and the survey desk."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from zigzag_meadow.core.survey.desk import Practice
from zigzag_meadow.server.api.schemas import InspectionOut
from zigzag_meadow.server.survey_service import Weather


class WorldOut(Schema):
    """The survey's world: metres a side and levels of tiles."""

    side: float
    levels: int


class SquareIn(Schema):
    """A square of the survey. ``practice``: an aerial image with a known mistake; ``weather``: troubles to try."""

    tab: Annotated[str, Field(max_length=64)]
    west: float
    north: float
    side: float
    samples: int
    practice: Practice = "right"
    weather: Weather = "fair"


class SurveyedOut(Schema):
    """What the survey desk sent: a heightmap with its measures, and an aerial image of the same place."""

    inspection: InspectionOut
    heights: Literal["stored", "range"]
    low: float
    high: float
    spacing: float
    aerial: str
    notes: list[str]
