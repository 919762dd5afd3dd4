"""Places, heights and layers that were read off in the real thing, against what the files hold there."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from zigzag_meadow.core.fit.registering import sampled
from zigzag_meadow.core.fit.run import Run

__all__ = ["ReadOff", "check_read_off"]

F64 = NDArray[np.float64]
Made = tuple[str, str, tuple[dict[str, Any], ...], dict[str, float]]
FILE = "what was read off"
NEAR = np.array([-0.1, 0.0, 0.1])
"""Samples: nobody reads a place off more closely."""
LEAST = 0.06
"""Metres: nobody reads off more digits."""


class ReadOff(BaseModel):
    """A place in the target's own coordinates (metres east and north) and what is there: its height in metres and, if
    it was looked at, the strongest layer."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)

    east: float
    north: float
    height: float
    strongest: Annotated[str, Field(max_length=80)] = ""


def check_read_off(run: Run, points: tuple[ReadOff, ...]) -> None:
    """Name what makes heights there differ from those of the files."""
    heights = run.heights
    if not points or heights is None:
        return
    _layers(run, points)
    at = np.array([[p.east, p.north] for p in points])
    read = np.array([p.height for p in points])
    plain, slack = _looked_up(run, at)
    within = np.maximum(np.maximum(run.report.height_step, LEAST), slack)
    outside = ~np.isfinite(plain)
    moved = _spaced(run, at, read, plain, within) if outside.any() else None
    if moved is not None:
        _say(run, moved)
        return
    if outside.any():
        run.say(
            "read-off",
            FILE,
            f"{int(outside.sum())} of the places lie outside the ground: the note gives its "
            "extent in the target's own coordinates.",
            "Check the position, or read the places off again.",
            title="Places outside",
            remedy="outside",
            typed=True,
        )
        at, read, plain, within = at[~outside], read[~outside], plain[~outside], within[~outside]
    if not read.size or bool((np.abs(read - plain) <= within).all()):
        return
    for try_one in (_offset, _turned, _scaled, _spaced):
        made = try_one(run, at, read, plain, within)
        if made is not None:
            _say(run, made)
            return
    worst = int(np.abs(read - plain).argmax())
    run.say(
        "read-off",
        FILE,
        f"{read[worst]:.2f} m was read off at {at[worst, 0]:g} m east, {at[worst, 1]:g} m north; "
        f"the file holds {plain[worst]:.2f} m there. No one number explains all {read.size} places.",
        "Read three places off again, far apart and of different heights.",
        title="Read off otherwise",
        remedy="outside",
        typed=True,
    )


def _say(run: Run, made: Made) -> None:
    text, fix, steps, numbers = made
    run.say(
        "read-off",
        FILE,
        text,
        fix,
        title="Read off otherwise",
        remedy="steps" if steps else "outside",
        typed=True,
        steps=steps,
        numbers=numbers,
    )


def _looked_up(run: Run, at: F64) -> tuple[F64, F64]:
    """(heights of the files at places, metres in the target's own; how much they vary within a tenth of a sample); NaN
    outside."""
    extent = run.rehearsal.note.ground.extent
    heights = run.heights
    if heights is None:
        return np.full(len(at), np.nan), np.zeros(len(at))
    rows, cols = heights.shape
    vertex = run.rehearsal.note.ground.registration == "vertex"
    u = (at[:, 0] - extent.west) / extent.width
    v = 1 - (at[:, 1] - extent.south) / extent.length
    y, x = (v * (rows - 1), u * (cols - 1)) if vertex else (v * rows - 0.5, u * cols - 0.5)
    found, slack = np.full(len(at), np.nan), np.zeros(len(at))
    planes = heights[:, :, None]
    for k in range(len(at)):
        if -1e-6 <= u[k] <= 1 + 1e-6 and -1e-6 <= v[k] <= 1 + 1e-6:
            around = sampled(planes, y[k] + NEAR, x[k] + NEAR)[:, :, 0]
            found[k], slack[k] = around[1, 1], float(np.ptp(around)) / 2
    return found, slack


def _offset(run: Run, at: F64, read: F64, plain: F64, within: F64) -> Made | None:
    by = float(np.median(read - plain))
    if bool((np.abs(read - plain - by) > within).any()):
        return None
    way = "high" if by > 0 else "low"
    text = f"Heights there are {abs(by):.4g} m too {way}, at all {read.size} places: the ground was moved up or down."
    return (
        text,
        "Type the base height of the note, or take the change into the preparation.",
        ({"kind": "raise", "by": round(by, 3)},),
        {"offset": round(by, 4)},
    )


_TURNS: tuple[tuple[str, Callable[[F64, F64], tuple[F64, F64]]], ...] = (
    ("flipped north–south", lambda u, v: (u, 1 - v)),
    ("mirrored east–west", lambda u, v: (1 - u, v)),
    ("turned by 180°", lambda u, v: (1 - u, 1 - v)),
    ("transposed", lambda u, v: (1 - v, 1 - u)),
    ("turned by 90° clockwise", lambda u, v: (1 - v, u)),
    ("turned by 90° counter-clockwise", lambda u, v: (v, 1 - u)),
    ("transposed about the other diagonal", lambda u, v: (v, u)),
)


def _turned(run: Run, at: F64, read: F64, plain: F64, within: F64) -> Made | None:
    extent = run.rehearsal.note.ground.extent
    u, v = (at[:, 0] - extent.west) / extent.width, (at[:, 1] - extent.south) / extent.length
    if read.size < 2:
        return None
    for words, turn in _TURNS:
        a, b = turn(u, v)
        places = np.stack([extent.west + a * extent.width, extent.south + b * extent.length], axis=1)
        there, slack = _looked_up(run, places)
        if bool((np.abs(read - there) <= np.maximum(within, slack)).all()):
            return (
                f"The ground lies {words} there: all {read.size} heights are those of the other place.",
                ("Switch the flip on import to what the note says."),
                (),
                {},
            )
    return None


def _scaled(run: Run, at: F64, read: F64, plain: F64, within: F64) -> Made | None:
    """Heights multiplied: about what the numbers of the note turn about, or about any height with three places."""
    note = run.rehearsal.note
    stored = note.height.stored if note.height is not None else None
    abouts = (
        [("multiplier of the step", stored.at_middle)] if stored is not None and stored.multiplier is not None else []
    )
    abouts += (
        [("metres at full scale", stored.at_zero), ("metres at stored 0", stored.at_full)] if stored is not None else []
    )
    for words, about in [*abouts, ("factor of the heights", 0.0)]:
        x, y = plain - about, read - about
        size = float(x @ x)
        a = float(x @ y) / size if size > 1e-9 else 0.0
        if a > 0 and float(np.ptp(plain)) > 2 * float(within.max()) and bool((np.abs(y - a * x) <= within).all()):
            right = {
                "multiplier of the step": stored.multiplier if stored is not None else None,
                "metres at full scale": stored.at_full if stored is not None else None,
                "metres at stored 0": stored.at_zero if stored is not None else None,
            }.get(words)
            fix = f"The {words} is at fault. Type {right:.9g}" if right is not None else "Set heights to a factor of 1"
            guess = f" (it looks like {right * a:.6g})" if right is not None and words.startswith("mult") else ""
            return (
                f"Heights there are {a:.4g} times those of the files, about {about:g} m.",
                f"{fix}{guess}.",
                ({"kind": "multiply", "factor": round(a, 6), "about": round(about + note.ground.zero, 3)},),
                {"factor": round(a, 6)},
            )
    if read.size < 3 or float(np.ptp(plain)) < 4 * float(within.max()):
        return None
    a, b = (float(x) for x in np.polyfit(plain, read, 1))
    if a <= 0 or bool((np.abs(read - a * plain - b) > within).any()):
        return None
    about = b / (1 - a) if abs(1 - a) > 1e-9 else 0.0
    return (
        f"Heights there are scaled by {a:.4g}, offset {b:.4g} m: both ends of the range are at fault.",
        ("Type the low and the high end of the note."),
        ({"kind": "multiply", "factor": round(a, 6), "about": round(about + note.ground.zero, 3)},),
        {"factor": round(a, 6), "offset": round(b, 4)},
    )


def _spaced(run: Run, at: F64, read: F64, plain: F64, within: F64) -> Made | None:
    """The ground wider or longer than it should be: heights of the file at the place that lies there."""
    note = run.rehearsal.note
    extent = note.ground.extent
    if read.size < 3:
        return None
    origin = np.array([extent.west, extent.south] if note.ground.anchor == "corner" else extent.centre)
    best: tuple[float, float] | None = None
    for factor in np.exp(np.linspace(np.log(0.25), np.log(4), 1109)):
        there, slack = _looked_up(run, origin + (at - origin) / factor)
        if np.isfinite(there).all():
            off = float((np.abs(read - there) / np.maximum(within, slack)).max())
            if off <= 1 and (best is None or off < best[1]):
                best = (float(factor), off)
    if best is None:
        return None
    return (
        f"The ground is about {best[0]:.3g} times as wide and long there: the spacing that was typed is at fault.",
        (f"Type {note.ground.spacing_x:.9g} m east and {note.ground.spacing_y:.9g} m north."),
        (),
        {"across": round(best[0], 3)},
    )


def _layers(run: Run, points: tuple[ReadOff, ...]) -> None:
    """The strongest layer, where a place is one of the note's check points."""
    ground = run.rehearsal.note.ground
    for point in points:
        for known in run.rehearsal.note.check_points:
            near = (
                abs(point.east - known.east) <= ground.spacing_x and abs(point.north - known.north) <= ground.spacing_y
            )
            if near and point.strongest and known.strongest and point.strongest != known.strongest:
                run.say(
                    "read-off-layer",
                    FILE,
                    f"At {known.title} {point.strongest} is strongest there, and "
                    f"{known.strongest} in the project: masks lie elsewhere, or channels are exchanged.",
                    "Hold the channels against the note's legend, and the masks' orientation against the height's.",
                    title="Another layer",
                    remedy="outside",
                    typed=True,
                )
                return
