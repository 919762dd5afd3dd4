"""Pictures from elsewhere as masks: which mask a file is named like, what to know of its size, and level ground."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.readings.picture import Samples

__all__ = ["level_ground", "lie_as", "lying", "mask_named_like", "size_remark", "title_from"]


def size_remark(home: Grid, final: Grid, rows: int, cols: int) -> str | None:
    """What to know about a picture of another size than the ground; None where there is nothing."""
    if (rows, cols) in (home.shape, final.shape):
        return None
    if (cols, rows) == home.shape and rows != cols:
        return f"It is {cols} × {rows}, the ground {home.cols} × {home.rows}: rows and columns are swapped."
    proportion = (cols / rows) / (home.cols / home.rows)
    if abs(proportion - 1) > 0.02:
        return f"It is {cols} × {rows}, not of the ground's proportions ({home.cols} × {home.rows}): it is stretched."
    return f"It is {cols} × {rows}, the ground {home.cols} × {home.rows}: it is resampled onto the ground."


def _is_power(count: int) -> bool:
    return count & (count - 1) == 0


def lie_as(home: Grid, final: Grid, rows: int, cols: int) -> Samples:
    """What the samples of a picture for this ground most likely are: as many as the ground has are what the ground's
    are; one less than there are vertices, half of that, or a power of two are cells."""
    for grid in (home, final):
        if (rows, cols) == grid.shape:
            return "border" if grid.registration == "vertex" else "cells"
    for grid in (home, final):
        if any((rows, cols) == ((grid.rows - 1) // part, (grid.cols - 1) // part) for part in (1, 2, 4)):
            return "cells"
    return "cells" if _is_power(rows) and _is_power(cols) else "border"


def lying(home: Grid, rows: int, cols: int, samples: Samples) -> str:
    """What it means for a picture with so many samples to be taken one way and not the other, in a sentence."""
    metres = max(home.width / cols, home.length / rows) / 2
    own = metres / max(home.dx, home.dy)
    way = "are cells" if samples == "cells" else "reach to the border"
    return (
        f"It has {cols} × {rows} samples, which {way}. Taken the other way, its edges would lie {metres:.3g} m aside: "
        f"half a sample of its own, {own:.2g} of the ground's."
    )


def title_from(file_name: str) -> str:
    """What a mask made of a file is called."""
    title = re.sub(r"[_\-\s]+", " ", Path(file_name).stem).strip()[:60] or "Mask"
    return title[:1].upper() + title[1:]


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "", text.casefold())


def mask_named_like(project: Project, stem: str) -> str | None:
    """The mask a file is named like: as it is called, with the project's name before it or more behind it."""
    plain = _plain(stem).removeprefix(_plain(project.name))
    exact = next((m.id for m in project.masks if _plain(m.name) == plain), None)
    longest = sorted(project.masks, key=lambda m: -len(m.name))
    return exact or next((m.id for m in longest if len(_plain(m.name)) > 3 and _plain(m.name) in plain), None)


def level_ground(width: float, length: float, samples: int) -> dict[str, Any]:
    """The fields of a level ground of typed ``width`` and ``length`` in metres, but for its file: ``samples`` on the
    longer side, a grey PNG of zeros."""
    longest = max(width, length)
    rows, cols = (max(round((samples - 1) * side / longest), 64) + 1 for side in (length, width))
    return {
        "file_name": "level_ground.png",
        "file_format": "png",
        "depth": "16",
        "rows": rows,
        "cols": cols,
        "heights": "stored",
        "stored_low": 0,
        "stored_high": 1,
        "spacing_x": width / (cols - 1),
        "spacing_y": length / (rows - 1),
        "water": None,
    }
