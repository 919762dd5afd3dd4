"""A project that uses every kind of step, line, coat, channel and reading: what is run to compile every kernel, and to
see that none reads beyond its arrays."""

from __future__ import annotations

from typing import Literal

from zigzag_meadow.core.colour.blend import MODES
from zigzag_meadow.core.colour.coats.base import Begun
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.masks.strokes import parse_strokes, strokes_as_bytes
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.kinds import coat_kinds, line_kinds, step_kinds

__all__ = ["HEIGHTS", "STROKES", "every_stroke", "project_of_every_kind"]

HEIGHTS, STROKES = "0" * 64, "1" * 64
"""The files it asks for: a heightmap in 16 bits, and :func:`every_stroke`."""


def _every_line(home: Grid) -> list[dict[str, object]]:
    """One of each kind of line as it is offered, reading in turn what has kernels of its own."""
    sources: list[dict[str, object]] = [
        {"kind": "feature", "feature": "f"},
        {"kind": "feature", "feature": "g"},
        {"kind": "reading", "reading": "slope", "black": 0, "white": 30},
    ]
    lines: list[dict[str, object]] = []
    for number, kind in enumerate(line_kinds(home)):
        if any(slot.kind == "piece" for slot in kind.slots) or not kind.offered:
            continue
        read = {slot.name: sources[number % 3] for slot in kind.slots if slot.kind == "source" and slot.start}
        strokes = {"asset": STROKES} if any(slot.kind == "strokes" for slot in kind.slots) else {}
        lines.append({**kind.fresh, **read, **strokes, "id": f"x{number}", "muted": False})
    return lines


def _every_coat(home: Grid) -> list[dict[str, object]]:
    """One of each kind of coat as it is offered, and one colour laid on in every way."""
    within = {"kind": "mask", "mask": "m"}
    coats = [
        {**kind.fresh, "id": f"c{number}", "strength": 0.5, "within": within}
        for number, kind in enumerate(coat_kinds(home, Begun(0.0, 1.0, 60.0)))
        if all(slot.kind != "piece" for slot in kind.slots)
    ]
    return coats + [{"kind": "plain", "id": f"d{mode}", "mode": mode, "strength": 0.5} for mode, _ in MODES]


def _every_step(home: Grid) -> list[dict[str, object]]:
    """One of each kind of step as it is offered, and once more what takes a number that may be left out."""
    steps: list[dict[str, object]] = []
    for number, kind in enumerate(step_kinds(home, 0.0)):
        # What reads another heightmap reads the project's own once more.
        file = {"asset": HEIGHTS, "file_name": "warm.png", "rows": home.rows, "cols": home.cols}
        steps.append({**(file if kind.tool == "heightmap" else {}), **kind.fresh, "id": f"s{number}"})
        some = {slot.name: slot.value for slot in kind.slots if slot.kind == "optional"}
        if some:
            steps.append({**kind.fresh, **some, "id": f"t{number}"})
    return steps


def every_stroke() -> bytes:
    """Strokes of every mode, as a file."""
    stroke = {"size": 9.0, "fade": 4.0, "points": [[5, 5, 1], [40, 40, 0.5]]}
    modes: tuple[Literal["add", "take_away", "soften"], ...] = ("add", "take_away", "soften")
    return strokes_as_bytes(parse_strokes([{"mode": mode, **stroke} for mode in modes]))


def project_of_every_kind(home: Grid, final: Grid) -> Project:
    """A project on a ground like ``home`` (no lines of it are longer than its metres), delivered like ``final``."""

    def band(reading: str, low: float) -> dict[str, object]:
        return {"kind": "band", "reading": reading, "low": low, "high": 1e6, "fade_low": 1.0, "smooth": True}

    lines = [
        {"id": "a", "verb": "take", "source": band("slope", 5)},
        {"id": "b", "verb": "leave_out", "source": band("flow", 20), "strength": 0.5},
        {"id": "c", "verb": "keep_within", "source": band("height", 3)},
        {"id": "d", "verb": "turn_over"},
        {"id": "e", "verb": "levels", "middle": 1.5},
        *_every_line(home),
    ]
    channels = {
        "r": {"kind": "weight", "layer": "l"},
        "g": {"kind": "base"},
        "b": {"kind": "mask", "mask": "m"},
        "a": {"kind": "rest"},
    }
    grey = {"kind": "reading", "reading": "standing_water", "black": 0, "white": 1}
    limit = {"id": "w", "verb": "take", "source": band("slope", 1)}
    return parse_project(
        {
            "name": "warm",
            "ground": {
                "asset": HEIGHTS,
                "file_name": "warm.png",
                "file_format": "png",
                "depth": "16",
                "rows": home.rows,
                "cols": home.cols,
                "stored_low": 0,
                "stored_high": 1,
                "spacing_x": home.dx,
                "spacing_y": home.dy,
                "voids": 1,
                "water": 0.5,
                "steps": [
                    {"id": "a", "kind": "fill_voids", "where": [limit]},
                    *_every_step(home),
                    {"id": "h", "kind": "resample", "rows": home.rows, "cols": home.cols},
                ],
            },
            "masks": [{"id": "m", "name": "m", "lines": lines}],
            "features": [
                {"id": "f", "name": "f", "points": [[2, 3], [30, 40], [60, 5]]},
                {"id": "g", "name": "g", "closed": True, "points": [[2, 3], [30, 40], [60, 5]]},
            ],
            "scatters": [{"id": "s", "name": "s", "mask": "m", "size_by": "mask:m", "steepest": 80}],
            "base": {"dressing": {"look": "snow", "middle": "sand"}},
            "layers": [
                {"id": "l", "name": "l", "mask": "m", "colour": "#000000", "dressing": {"look": "sand"}},
                {"id": "k", "name": "k", "mask": "m", "colour": "#000000", "strength": 0.5},
            ],
            "mixing": {"sharing": "relief_led"},
            "strokes": [{"id": "s", "layer": "l", "asset": STROKES, "count": 3}],
            "coats": _every_coat(home),
            "readings": [
                {"id": "slope_2", "kind": "slope", "numbers": {"width": 4.3}},
                {"id": "aspect_2", "kind": "aspect", "numbers": {"width": 4.3}},
                {"id": "picture", "kind": "picture", "numbers": {"asset": HEIGHTS}},
                {"id": "noise_2", "kind": "noise", "numbers": {"way": "slope", "stretch": 4}},
            ],
            "sheets": [
                {"id": "s", "name": "s", "layout": "rgba", **channels},
                {"id": "t", "name": "t", "layout": "grey", "r": grey},
            ],
            "delivery": {"rows": final.rows, "cols": final.cols},
        }
    )
