"""What a fit check holds while it runs."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.fit.case import Box
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.report import Finding, FitReport, Remedy, Severity
from zigzag_meadow.core.fit.seen_maps import Keep
from zigzag_meadow.core.fit.truth import Truth
from zigzag_meadow.core.fit.two import Named
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["AGAIN", "Progress", "Run"]

AGAIN = "Deliver again, or put the delivered file back."
Progress = Callable[[float, str], None]


@dataclass
class Run:
    """``keep``: takes pictures; ``cancelled``: asked between files."""

    rehearsal: Rehearsal
    truth: Truth | None
    progress: Progress
    keep: Keep
    cancelled: Callable[[], bool]
    report: FitReport = field(default_factory=FitReport)
    rows: int = 1
    done: int = 0
    heights: NDArray[np.float32] | None = None
    """The height map as it was read back, in the target's metres, at most 1025 samples a side."""

    def tell(self, rows: int, text: str) -> None:
        """Some rows of files were read. Raises :class:`Cancelled` when asked to stop."""
        if self.cancelled():
            raise Cancelled()
        self.done += rows
        self.progress(min(self.done / self.rows, 1.0), text)

    def say(
        self,
        kind: str,
        file: str,
        message: str,
        fix: str = AGAIN,
        severity: Severity = "error",
        title: str = "",
        remedy: Remedy = "deliver",
        typed: bool = False,
        steps: Sequence[dict[str, Any]] = (),
        numbers: Mapping[str, Any] | None = None,
    ) -> None:
        self.report.findings.append(
            Finding(
                kind,
                severity,
                file,
                message,
                fix,
                title,
                numbers=dict(numbers or {}),
                remedy=remedy,
                typed=typed,
                steps=tuple(steps),
            )
        )

    def say_named(self, file: FileNote, found: Named, steps: Sequence[dict[str, Any]] = ()) -> None:
        """A fault that a hypothesis explains; where it is, is told on the whole map that a tile is a part of."""
        made = found.explained
        place = None if made.place is None else _on_whole(file, made.place)
        share = float(np.clip(made.share, 0, 1)) if found.kind != "changed" else None
        self.report.findings.append(
            Finding(
                found.kind,
                found.severity,  # type: ignore[arg-type]
                file.file,
                made.says,
                made.fix,
                found.title,
                share,
                dict(made.numbers),
                place,
                "deliver",
                tuple(steps),
            )
        )
        if found.second is not None:
            self.say_named(file, found.second)


def _on_whole(file: FileNote, box: Box) -> tuple[float, float, float, float]:
    row, col = (0, 0) if file.tile is None else (file.tile.first_row, file.tile.first_column)

    def down(share: float) -> float:
        return float((row + share * file.rows) / file.whole_rows)

    def across(share: float) -> float:
        return float((col + share * file.columns) / file.whole_columns)

    return down(box.top), across(box.left), down(box.bottom), across(box.right)
