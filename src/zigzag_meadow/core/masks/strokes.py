"""Touch up: strokes of a brush, kept in metres, painted at whatever size is asked for."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
import orjson
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError, WithJsonSchema

from zigzag_meadow.core.errors import BadFile, TooLarge
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.masks.shapes import cover_of

__all__ = ["MOST_STROKES", "Stroke", "parse_strokes", "read_strokes", "stroke_cover", "strokes_as_bytes", "touched"]

F32 = NDArray[np.float32]
MOST_STROKES = 5000
_Metres = Annotated[float, Field(ge=-1e6, le=1e6)]
_Point = Annotated[
    tuple[_Metres, _Metres, Annotated[float, Field(ge=0, le=1)]],
    WithJsonSchema({"type": "array", "items": {"type": "number"}, "minItems": 3, "maxItems": 3}),
]


class Stroke(BaseModel):
    """One stroke: ``points`` are metres east and south of the north-west corner, and the pen's pressure (0–1).

    ``size``: metres across where it is full; ``fade``: metres beyond. *area*: what the line goes round.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)

    mode: Literal["add", "take_away", "soften"]
    shape: Literal["brush", "line", "area"] = "brush"
    size: Annotated[float, Field(gt=0, le=20000)]
    fade: Annotated[float, Field(ge=0, le=20000)] = 0.0
    strength: Annotated[float, Field(ge=0, le=1)] = 1.0
    points: Annotated[tuple[_Point, ...], Field(min_length=1, max_length=4000)]

    def turned(self, numbers: Sequence[float]) -> Stroke:
        """The stroke on ground that lay otherwise; see :class:`zigzag_meadow.core.masks.turning.Turning`."""
        a, b, c, d, e, f = numbers
        points = tuple((a * x + b * y + c, d * x + e * y + f, pressure) for x, y, pressure in self.points)
        return self.model_copy(update={"points": points})


_ADAPTER: TypeAdapter[tuple[Stroke, ...]] = TypeAdapter(tuple[Stroke, ...])


def parse_strokes(data: Any) -> tuple[Stroke, ...]:
    """Strokes from plain JSON data. Raises :class:`BadFile` with the place, :class:`TooLarge` for too many."""
    if isinstance(data, list) and len(data) > MOST_STROKES:
        raise TooLarge(f"A touch-up holds at most {MOST_STROKES} strokes, got {len(data)}. Begin another line.")
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise BadFile(f"The strokes are wrong at {place}: {first['msg']}.", field=place) from None


@lru_cache(maxsize=16)
def read_strokes(path: Path) -> tuple[Stroke, ...]:
    """The strokes of a stored file; files are named by their content, so they never change."""
    try:
        data = orjson.loads(path.read_bytes())
    except orjson.JSONDecodeError:
        raise BadFile("The strokes of a touch-up cannot be read: their file is damaged.") from None
    return parse_strokes(data)


def strokes_as_bytes(strokes: tuple[Stroke, ...]) -> bytes:
    """The file that holds ``strokes``; the same strokes give the same bytes."""
    return orjson.dumps([stroke.model_dump(mode="json") for stroke in strokes])


def stroke_cover(stroke: Stroke, grid: Grid, window: Window) -> F32:
    """How strongly a stroke acts at each sample of the window, float32 0–1."""
    points = np.array(stroke.points, np.float64)
    closed = stroke.shape == "area" and len(points) > 2
    cover = cover_of(points, grid, window, 0.0 if closed else stroke.size / 2, stroke.fade, closed)
    cover *= np.float32(stroke.strength)
    return cover


def touched(mask: F32, stroke: Stroke, cover: F32, soft: F32 | None = None) -> F32:
    """``mask`` after one stroke with that ``cover``: *add* towards 1, *take_away* towards 0, *soften* towards
    ``soft`` (the mask blurred); float32 of the same shape."""
    if stroke.mode == "add":
        return mask + cover * (np.float32(1) - mask)
    if stroke.mode == "take_away":
        return mask * (np.float32(1) - cover)
    assert soft is not None  # whoever softens brings what it softens towards
    return mask + cover * (soft - mask)
