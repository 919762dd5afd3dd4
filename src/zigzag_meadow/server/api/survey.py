"""The survey desk."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from zigzag_meadow.core.survey.desk import Square
from zigzag_meadow.core.survey.world import LEVELS, WORLD_SIDE
from zigzag_meadow.server.api.projects import inspected
from zigzag_meadow.server.api.schemas import ProblemOut
from zigzag_meadow.server.api.survey_schemas import SquareIn, SurveyedOut, WorldOut
from zigzag_meadow.server.survey import get_square, tile_picture
from zigzag_meadow.server.survey_service import Weather

router = Router(tags=["survey"])
Refused = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


@router.get("/survey", response=WorldOut, operation_id="survey_world")
def survey_world(request: HttpRequest) -> dict[str, Any]:
    return {"side": WORLD_SIDE, "levels": LEVELS}


@router.get("/survey/tiles/{level}/{column}/{row}", operation_id="survey_tile")
def survey_tile(request: HttpRequest, level: int, column: int, row: int, weather: Weather = "fair") -> HttpResponse:
    """A picture of one tile."""
    response = HttpResponse(tile_picture(level, column, row, weather), content_type="image/png")
    response["Cache-Control"] = "private, max-age=86400"
    return response


@router.post("/survey/squares", response={200: SurveyedOut, **Refused}, operation_id="survey_square")
def survey_square(request: HttpRequest, wanted: SquareIn) -> dict[str, Any]:
    """Heights and an aerial image of a square, kept aside until a project is made of them."""
    square = Square(wanted.west, wanted.north, wanted.side, wanted.samples)
    square_told = get_square(square, wanted.practice, wanted.weather, f"survey-{wanted.tab}")
    return {**square_told, "inspection": inspected(square_told["asset"], square_told["inspection"])}
