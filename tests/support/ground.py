"""Small grounds and projects to test with."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest

from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine, Evaluation
from zigzag_meadow.core.nodes.node import Node, held_key
from zigzag_meadow.core.nodes.operation import ALL
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.stripes import Stripes


def hills(rows: int, cols: int, seed: int = 5) -> np.ndarray:
    """A rolling uint16 heightmap without symmetry, using the whole range."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:rows, 0:cols] / max(rows, cols)
    z = sum(np.sin(rng.uniform(3, 22) * x + rng.uniform(3, 22) * y + rng.uniform(0, 6)) / (k + 1) for k in range(7))
    z = z + 1.5 * x - 0.9 * y + 0.02 * rng.random((rows, cols))
    return np.round((z - z.min()) / (z.max() - z.min()) * 65535).astype(np.uint16)


def png16(values: np.ndarray) -> bytes:
    return bytes(imagecodecs.png_encode(values))


def band(reading: str, low: float, high: float, **more: Any) -> dict[str, Any]:
    return {"kind": "band", "reading": reading, "low": low, "high": high, **more}


def limited(*bands: dict[str, Any]) -> list[dict[str, Any]]:
    """Lines of a recipe that holds where all of some bands do."""
    verbs = ["take", *["keep_within"] * len(bands)]
    return [{"id": f"w{at}", "verb": verbs[at], "source": source} for at, source in enumerate(bands)]


def document(rows: int = 127, cols: int = 127, **more: Any) -> dict[str, Any]:
    """A project of two layers over a base, packed into one sheet; 127 = 63 · 2 · 1 + 1 is a legal size."""
    data: dict[str, Any] = {
        "name": "Test Moor",
        "ground": {
            "asset": "0" * 64,
            "file_name": "hills.png",
            "file_format": "png",
            "depth": "16",
            "rows": rows,
            "cols": cols,
            "stored_low": 0,
            "stored_high": 65535,
            "low": 20,
            "high": 320,
            "spacing_x": 5.0,
            "spacing_y": 4.0,
            "water": 40,
        },
        "masks": [
            {
                "id": "steep",
                "name": "Steep",
                "lines": [
                    {"id": "a", "verb": "take", "source": band("slope", 25, 90, fade_low=8)},
                    {"id": "b", "verb": "leave_out", "source": {"kind": "mask", "mask": "wet"}, "strength": 0.7},
                ],
            },
            {
                "id": "wet",
                "name": "Wet",
                "lines": [
                    {"id": "c", "verb": "take", "source": band("flow", 2000, 1e9, fade_low=2)},
                    {"id": "d", "verb": "levels", "in_low": 0.1, "in_high": 0.9, "middle": 1.4},
                ],
            },
        ],
        "layers": [
            {"id": "rock", "name": "Rock", "mask": "steep", "colour": "#888888"},
            {"id": "mud", "name": "Mud", "mask": "wet", "colour": "#443322"},
        ],
        "sheets": [
            {
                "id": "splat",
                "name": "splat",
                "layout": "rgba",
                "proposed": True,
                "r": {"kind": "weight", "layer": "rock"},
                "g": {"kind": "weight", "layer": "mud"},
                "b": {"kind": "base"},
                "a": {"kind": "mask", "mask": "steep"},
            },
            {
                "id": "data",
                "name": "data",
                "layout": "rgb",
                "r": {"kind": "reading", "reading": "slope", "black": 0, "white": 60},
                "g": {"kind": "reading", "reading": "flow", "black": 20, "white": 1e6},
                "b": {"kind": "mask", "mask": "wet"},
            },
        ],
        "delivery": {"rows": rows, "cols": cols},
    }
    return {**data, **more}


def evaluation(folder: Path, data: dict[str, Any], threads: int = 1) -> tuple[Project, Evaluation]:
    """A project on :func:`hills`, ready to evaluate."""
    project = parse_project(data)
    path = folder / "hills.png"
    path.write_bytes(png16(hills(project.ground.rows, project.ground.cols)))
    return project, Engine(Stripes(threads), TileCache(), lambda _: path).evaluation(project)


def lay(ev: Evaluation, node: Node, heights: np.ndarray) -> None:
    """Heights (metres above the ground's base) in the place of a stage of the ground, for an evaluation to find."""
    ev.engine.cache.offer(held_key(node, node.grid, ALL), heights)


def small_tiles(monkeypatch: pytest.MonkeyPatch, side: int) -> None:
    """Tiles of so many samples a side, wherever they are counted."""
    for module in ("grid", "evaluate.engine", "evaluate.pieces"):
        monkeypatch.setattr(f"zigzag_meadow.core.{module}.TILE", side)
