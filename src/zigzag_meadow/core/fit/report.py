"""What a fit check says: facts it measured, findings with their fix."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

__all__ = ["Fact", "Finding", "FitReport"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One fault: a stable kind, the file, a sentence and the fix."""

    kind: str
    severity: Literal["error", "attention"]
    file: str
    message: str
    fix: str


@dataclass(frozen=True, slots=True)
class Fact:
    """One thing measured: whether it is right, the short result and the detail."""

    title: str
    good: bool
    result: str
    detail: str


@dataclass
class FitReport:
    """The whole result. ``compared_in_full`` is false when only summaries of the project were at hand."""

    files: int = 0
    compared_in_full: bool = False
    findings: list[Finding] = field(default_factory=list)
    facts: list[Fact] = field(default_factory=list)
    check_points: list[dict[str, Any]] = field(default_factory=list)
    height_step: float = 0.0
    height_error_steps: float | None = None

    @property
    def fits(self) -> bool:
        return not any(finding.severity == "error" for finding in self.findings)

    def has(self, file: str) -> bool:
        """Whether something is already said about a file."""
        return any(finding.file == file for finding in self.findings)

    def as_json(self) -> dict[str, Any]:
        return {"fits": self.fits, **asdict(self)}
