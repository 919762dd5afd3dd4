"""A small project that is painted: layers that wear looks, and one of every kind of coat."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from tests.support.ground import document, hills, png16
from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine, Evaluation
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.edits.operations import apply_operations, parse_operations
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.kinds import coat_kinds
from zigzag_meadow.core.stripes import Stripes

STROKES, PICTURE = "5" * 64, "6" * 64
STROKE_LIST = [{"mode": "add", "size": 90, "fade": 40, "points": [[150, 120, 1], [380, 300, 1]]}]
DRESSED = {"look": "sand", "size": 90.0, "turn": 30.0}


def every_coat() -> list[dict[str, Any]]:
    """One of each kind of coat as it is offered on the test ground; pieces apart."""
    project = parse_project(document())
    begun = Begun(20.0, 320.0, 630.0, "aerial")
    coats = [{**kind.fresh, "id": f"c{n}"} for n, kind in enumerate(coat_kinds(project.ground.home, begun))]
    return [coat for coat in coats if coat["kind"] != "piece"]


def painted_document(rows: int = 127, cols: int = 127, **more: Any) -> dict[str, Any]:
    """Two dressed layers over a dressed base, a picture, and one of every kind of coat."""
    data = document(rows, cols)
    data["base"] = {"name": "Grass", "colour": "#7f9457", "dressing": {"look": "sand", "size": 60.0}}
    data["layers"][0]["dressing"] = DRESSED
    data["readings"] = [{"id": "aerial", "kind": "picture", "name": "Aerial", "numbers": {"asset": PICTURE}}]
    data["coats"] = every_coat()
    return {**data, **more}


def aerial(rows: int = 90, cols: int = 120) -> bytes:
    """A picture of the ground: red rises eastward, green southward."""
    y, x = np.mgrid[0:rows, 0:cols]
    pixels = np.stack([x * 200 // cols + 30, y * 200 // rows + 30, np.full_like(x, 60)], axis=2).astype(np.uint8)
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    return file.getvalue()


def painted(folder: Path, data: dict[str, Any], threads: int = 1) -> tuple[Project, Evaluation]:
    """A painted project, ready to evaluate."""
    project = parse_project(data)
    (folder / "hills.png").write_bytes(png16(hills(project.ground.rows, project.ground.cols)))
    (folder / "strokes.json").write_text(json.dumps(STROKE_LIST))
    (folder / "aerial.png").write_bytes(aerial())
    paths = {STROKES: folder / "strokes.json", PICTURE: folder / "aerial.png"}
    engine = Engine(Stripes(threads), TileCache(), lambda asset: paths.get(asset, folder / "hills.png"))
    return project, engine.evaluation(project)


def edited(project: Project, *operations: dict[str, Any]) -> Project:
    return apply_operations(project, parse_operations(list(operations)))[0]


def data_of(part) -> dict:
    return part.model_dump(mode="json")
