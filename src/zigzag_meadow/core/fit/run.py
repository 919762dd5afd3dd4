"""What a fit check holds while it runs."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import Orientation
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.report import Finding, FitReport
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["AGAIN", "Pictures", "Run", "Truth"]

AGAIN = "Deliver again, or put the delivered file back."


class Truth(Protocol):
    """The project's own maps where the files lie, for a comparison in full."""

    def heights(self, file: FileNote) -> NDArray[np.float64]:
        """Metres, float64 (rows, columns)."""
        ...

    def sheet(self, file: FileNote) -> NDArray[Any]:
        """Whole numbers in the file's depth, (rows, columns, channels)."""
        ...

    def values(self, file: FileNote) -> NDArray[Any]:
        """A map in its own unit, colours in linear light: (rows, columns, parts)."""
        ...


@dataclass
class Pictures:
    """Maps to look at: height rebuilt from the files, and rebuilt − project (float32 metres)."""

    rebuilt: NDArray[np.float32] | None = None
    difference: NDArray[np.float32] | None = None


@dataclass
class Run:
    rehearsal: Rehearsal
    truth: Truth | None
    manifest: dict[str, dict[str, Any]]
    report: FitReport = field(default_factory=FitReport)
    pictures: Pictures = field(default_factory=Pictures)
    sums: NDArray[np.int64] | None = None
    summed_all: bool = True
    compared: list[str] = field(default_factory=list)

    def say(self, kind: str, file: str, message: str, fix: str = AGAIN, severity: Any = "error") -> None:
        self.report.findings.append(Finding(kind, severity, file, message, fix))

    def say_turned(self, file: str, turned: Orientation) -> None:
        self.say(
            "orientation", file,
            f"{file} is {turned.happened}. It matches {turned.likeness:.2f} when put right, "
            f"{max(turned.as_it_is, 0):.2f} as it is.",
            f"Write it again, or {turned.cure}.",
        )  # fmt: skip
