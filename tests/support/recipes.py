"""Every kind of line once, and projects whose mask is made by lines."""

from __future__ import annotations

import json
from typing import Any

from tests.support.ground import band, document, hills, png16
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.stripes import Stripes

STROKES = "5" * 64
PATH = {"kind": "feature", "feature": "path", "width": 30, "fade": 20}
GLADE = {"kind": "feature", "feature": "glade", "width": 0, "fade": 25}
MAPPED = {"kind": "reading", "reading": "slope", "black": 5, "white": 40}
FEATURES = [
    {"id": "path", "name": "Path", "points": [[40, 60], [300, 200], [520, 90]]},
    {
        "id": "glade",
        "name": "Glade",
        "kind": "clearing",
        "closed": True,
        "points": [[100, 300], [350, 280], [250, 450]],
    },
]
PIECE = {
    "id": "worn",
    "name": "Worn",
    "lines": [{"id": "p", "verb": "fray", "reach": 20, "size": 60}, {"id": "q", "verb": "contrast", "contrast": 0.3}],
    "exposed": [{"id": "reach", "title": "Reach", "line": "p", "field": "reach"}],
}
EVERY: list[dict[str, Any]] = [
    {"verb": "take", "source": {"kind": "mask", "mask": "wet"}, "strength": 0.5},
    {"verb": "add", "source": PATH},
    {"verb": "leave_out", "source": GLADE},
    {"verb": "keep_within", "source": MAPPED, "strength": 0.6},
    {"verb": "strongest", "source": {"kind": "plain", "value": 0.6}},
    {"verb": "weakest", "source": MAPPED},
    {"verb": "multiply", "source": {"kind": "plain", "value": 0.7}},
    {"verb": "difference", "source": PATH},
    {"verb": "blend", "source": GLADE, "by": MAPPED},
    {"verb": "turn_over"},
    {"verb": "levels", "in_low": 0.2, "in_high": 0.9, "middle": 1.3},
    {"verb": "gamma", "gamma": 2.0},
    {"verb": "contrast", "contrast": 0.4, "brightness": 0.1},
    {"verb": "bend"},
    {"verb": "stretch", "clip": 0.02},
    {"verb": "equalise", "amount": 0.8},
    {"verb": "threshold", "at": 0.4, "softness": 0.6},
    {"verb": "cut", "count": 4},
    {"verb": "blur", "radius": 45},
    {"verb": "sharpen", "radius": 30},
    {"verb": "widen", "by": 25, "fade": 20},
    {"verb": "narrow", "by": 15, "fade": 20},
    {"verb": "remove_specks", "area": 2500},
    {"verb": "fill_holes", "area": 2500},
    {"verb": "fray", "reach": 25, "size": 80, "seed": 3},
    {"verb": "drift", "way": "down", "by": 40, "steered": MAPPED},
    {"verb": "trickle", "by": 150},
    {"verb": "touch_up", "asset": STROKES, "count": 3, "only": band("slope", 0, 30, fade_high=20)},
    {"verb": "piece", "piece": "worn", "numbers": {"reach": 8}},
]
STROKE_LIST = [
    {"mode": "add", "size": 40, "fade": 20, "points": [[100, 100, 1], [260, 180, 0.6]]},
    {"mode": "soften", "size": 90, "fade": 30, "points": [[250, 250, 1], [400, 260, 1]]},
    {
        "mode": "take_away",
        "shape": "area",
        "size": 1,
        "fade": 15,
        "strength": 0.8,
        "points": [[300, 80, 1], [420, 120, 1], [330, 240, 1]],
    },
]


def recipe(*lines: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A project whose mask *made* takes slope and goes on with ``lines``."""
    data = document(features=FEATURES, pieces=[PIECE], **more)
    first = {"id": "first", "verb": "take", "source": band("slope", 44, 90, fade_low=12)}
    data["masks"].append(
        {"id": "made", "name": "Made", "lines": [first, *({"id": f"n{i}", **line} for i, line in enumerate(lines))]}
    )
    return data


def evaluated(folder, data, strokes=STROKE_LIST):
    project = parse_project(data)
    (folder / "hills.png").write_bytes(png16(hills(project.ground.rows, project.ground.cols)))
    (folder / "strokes.json").write_text(json.dumps(strokes))
    paths = {STROKES: folder / "strokes.json"}
    return Engine(Stripes(1), TileCache(), lambda a: paths.get(a, folder / "hills.png")).evaluation(project)
