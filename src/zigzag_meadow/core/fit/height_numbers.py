"""What heights say of the numbers that are typed: step, ends, check points, position, and what resampling costs."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.registering import sampled, shift_between
from zigzag_meadow.core.fit.rehearsal import NOTE, Rehearsal, typed_scale
from zigzag_meadow.core.fit.report import Fact
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.fit.seen_maps import Shown
from zigzag_meadow.core.fit.two import Named
from zigzag_meadow.core.fit.visiting import Difference
from zigzag_meadow.core.grid import Window
from zigzag_meadow.core.targets.note import FileNote, StoredHeights

__all__ = ["HeightLook", "places_of", "say_heights", "taken_in"]

F64 = NDArray[np.float64]
WINDOW = 1024
"""Samples a side on which the cost of resampling is measured."""
IN_PLACE = 0.05
"""Samples: less than that is no shift."""


@dataclass
class HeightLook:
    """Heights on their way. ``step``: metres that one stored number more is; of floats that hold metres, one."""

    rehearsal: Rehearsal
    file: FileNote
    low: float = np.inf
    high: float = -np.inf
    at: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._scale = (1.0, 0.0) if self.file.stored is None else typed_scale(self.file.stored)
        self._places = places_of(self.rehearsal)

    @property
    def step(self) -> float:
        return self._scale[0]

    def metres(self, stored: NDArray[Any]) -> F64:
        """In the project's metres."""
        return self.rehearsal.metres(self.file, stored)

    def there(self, stored: float) -> float:
        """In the target's metres."""
        return self._scale[1] + stored * self._scale[0]

    def add(self, row: int, col: int, stored: NDArray[Any]) -> None:
        """A band that begins at (row, col) of the whole map, north up."""
        self.low, self.high = min(self.low, float(stored.min())), max(self.high, float(stored.max()))
        for title, (r, c) in self._places.items():
            if row <= r < row + stored.shape[0] and col <= c < col + stored.shape[1]:
                self.at[title] = self.there(float(stored[r - row, c - col]))


def places_of(rehearsal: Rehearsal) -> dict[str, tuple[int, int]]:
    """(row, column) of the note's check points on the whole height."""
    ground = rehearsal.note.ground
    half = 0.0 if ground.registration == "vertex" else 0.5
    north = ground.extent.south + ground.extent.length
    return {
        point.title: (
            round((north - point.north) / ground.spacing_y - half),
            round((point.east - ground.extent.west) / ground.spacing_x - half),
        )
        for point in rehearsal.note.check_points
    }


def say_heights(run: Run, look: HeightLook, off: Difference, shown: Shown, in_full: bool) -> None:
    """Facts of the height map, once all of it was read."""
    stored = look.file.stored
    whole = stored is not None and not look.file.floats
    run.report.height_step = look.step if whole else 0.0
    rebuilt = shown.plane("rebuilt")
    if rebuilt is not None:
        run.heights = rebuilt[:, :, 0] - np.float32(run.rehearsal.note.ground.zero)
        _against_note(run, look)
    if stored is not None:
        _step(run, look, stored)
    if not in_full:
        return
    metres, mean = off.worst * look.step, off.mean * look.step
    run.report.height_error_steps = off.worst if whole else 0.0
    steps = f"{off.worst:.2f} steps, " if whole else ""
    run.report.facts.append(
        Fact(
            "Height",
            not off.off,
            "off" if off.off else "exact",
            f"largest error {steps}{_length(metres)}, mean {_length(mean)}",
        )
    )
    _position(run, look, off, shown)
    _resampling(run, look)


def _step(run: Run, look: HeightLook, stored: StoredHeights) -> None:
    """All forms in which the note tells the scale must say the same."""
    full = stored.at_zero + stored.full * stored.step
    middle = stored.at_zero + stored.middle * stored.step
    forms = [look.step / stored.step - 1, (look.there(0) - stored.at_zero) / (stored.full * stored.step)]
    forms += [(full - stored.at_full) / (full - stored.at_zero), (middle - stored.at_middle) / (full - stored.at_zero)]
    good = max(abs(form) for form in forms) < 1e-6
    told = f"stored 0 is {look.there(0):.6g} m, {stored.full} is {look.there(stored.full):.6g} m"
    run.report.facts.append(Fact("Step", good, f"{look.step * 1000:.4g} mm", told))
    if not good and not any(finding.kind == "note-numbers" for finding in run.report.findings):
        run.say(
            "note-numbers",
            NOTE,
            "The note tells the scale of the heights in forms that do not go together: step, "
            "ends, middle and multiplier say different things.",
            title="Numbers of the note",
        )


def _length(metres: float) -> str:
    if metres == 0:
        return "0"
    return f"{metres * 1000:.3g} mm" if metres < 1 else f"{metres:.3g} m"


def _against_note(run: Run, look: HeightLook) -> None:
    """The numbers of the note against what the files hold: by the note's own scale, not by anything written apart."""
    note = run.rehearsal.note
    height = note.height
    if height is None:
        return
    whole = look.file.stored is not None and not look.file.floats
    within = 0.51 * look.step if whole else max(abs(height.highest), 1.0) * 2**-9
    wrong = [
        f"{words} is {told:.6g} m in the note, {found:.6g} m in the file"
        for words, told, found in (
            ("the lowest height", height.lowest, look.there(look.low)),
            ("the highest height", height.highest, look.there(look.high)),
            *((f"“{p.title}”", p.height, look.at[p.title]) for p in note.check_points if p.title in look.at),
        )
        if abs(told - found) > within
    ]
    if wrong and not any(finding.file == look.file.file for finding in run.report.findings):
        listed = run.rehearsal.listing.note is not None
        run.say(
            "note-numbers",
            NOTE if not listed else look.file.file,
            f"What the note says does not go with {look.file.file}: {'; '.join(wrong[:3])}.",
            title="Numbers of the note",
        )


def _position(run: Run, look: HeightLook, off: Difference, shown: Shown) -> None:
    """How far the height lies off its place, in samples: by registration where anything differs at all."""
    mine = [f for f in run.report.findings if f.file == look.file.file]
    if not off.off:
        run.report.facts.append(Fact("Position", True, "0.00", "samples off: every sample is where it belongs"))
        return
    if any(f.kind in ("orientation", "stretched", "extent", "swapped", "seam") for f in mine):
        run.report.facts.append(Fact("Position", False, "wrong", "the height file is not where it belongs"))
        return
    rebuilt, meant = (_middle(shown.plane(name)) for name in ("rebuilt", "meant"))
    found = shift_between(rebuilt, meant, 0.25)
    if found is None:
        run.report.facts.append(Fact("Position", False, "unknown", "it cannot be told from this height"))
        return
    per = (look.file.whole_rows / shown.shape[0], look.file.whole_columns / shown.shape[1])
    by = float(np.hypot(found[0] * per[0], found[1] * per[1]))
    run.report.facts.append(Fact("Position", by < IN_PLACE, f"{by:.2f}", "samples off, by registration"))


def _middle(plane: NDArray[Any] | None) -> F64:
    """At most 512² of a plane about its middle, about 0 with a spread of 1: a scale is no shift."""
    if plane is None:
        return np.zeros((1, 1, 1))
    r, c = (max(n - 512, 0) // 2 for n in plane.shape[:2])
    part = plane[r : r + 512, c : c + 512].astype(np.float64)
    made: F64 = (part - part.mean()) / (float(part.std()) or 1.0)
    return made


def _resampling(run: Run, look: HeightLook) -> None:
    """What the delivered grid cannot hold of the ground's own: heights at its samples, read between delivered ones."""
    home = run.truth.home_heights() if run.truth is not None else None
    file = look.file
    if home is None or run.truth is None or run.rehearsal.note.trial or file.tile is not None:
        return
    grid, heights = home
    if grid.shape == (file.rows, file.columns) and grid.registration == file.registration:
        run.report.facts.append(Fact("Resampling", True, "none", "the delivered grid is the ground's own"))
        return
    row, col = (max(n - WINDOW, 0) // 2 for n in (file.rows, file.columns))
    window = Window(row, min(row + WINDOW, file.rows), col, min(col + WINDOW, file.columns))
    there = look.metres(run.truth.part(file, window))
    half = 0.0 if file.registration == "vertex" else 0.5
    first = 0.0 if grid.registration == "vertex" else 0.5
    rows = (np.arange(grid.rows) + first) * grid.dy / file.spacing_y - half - row
    cols = (np.arange(grid.cols) + first) * grid.dx / file.spacing_x - half - col
    r, c = (np.flatnonzero((x >= -0.5) & (x <= n - 0.5)) for x, n in ((rows, window.rows), (cols, window.cols)))
    lost = np.abs(sampled(there, rows[r], cols[c])[:, :, 0] - heights[np.ix_(r, c)])
    where = (
        "" if window.shape == (file.rows, file.columns) else f" (in the middle {window.cols} × {window.rows} samples)"
    )
    run.report.facts.append(
        Fact(
            "Resampling",
            True,
            _length(float(lost.mean())),
            "on average between the ground's samples and the delivered "
            f"ones, at most {_length(float(lost.max()))}{where}",
        )
    )


def taken_in(found: Named, file: FileNote) -> tuple[dict[str, Any], ...]:
    """Steps of preparation that would make the project as a tuned height file is; none where it was not tuned."""
    if file.kind != "height":
        return ()
    numbers = dict(found.explained.numbers)
    if found.kind == "blurred" and "metres" in numbers:
        return ({"kind": "smooth", "radius": round(float(numbers["metres"]), 2)},)
    if found.kind == "scaled" and file.stored is not None:
        factor, offset = float(numbers["factor"]), float(numbers["offset"])
        if abs(factor - 1) < 5e-5:
            return ({"kind": "raise", "by": round(offset, 3)},)
        return ({"kind": "multiply", "factor": round(factor, 6), "about": round(offset / (1 - factor), 3)},)
    return ()
