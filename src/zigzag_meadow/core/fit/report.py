"""What a fit check says: every map with its state, facts it measured, findings with their fix."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

__all__ = ["Fact", "Finding", "FitReport", "MapState", "Severity"]

Severity = Literal["error", "attention"]
Remedy = Literal["deliver", "steps", "outside"]
State = Literal["exact", "unchanged", "wrong", "unread"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One fault: a stable kind with its title, the file, a sentence and the fix.

    ``share``: of the difference that the named fault explains; ``numbers``: by name; ``place``: (top, left, bottom,
    right) as shares of the map from its north-west corner; ``remedy``: whether delivering again mends it, or ``steps``
    of preparation take it into the project, or only who reads it can; ``typed``: what was typed is at fault.
    """

    kind: str
    severity: Severity
    file: str
    message: str
    fix: str
    title: str = ""
    share: float | None = None
    numbers: dict[str, Any] = field(default_factory=dict)
    place: tuple[float, float, float, float] | None = None
    remedy: Remedy = "deliver"
    steps: tuple[dict[str, Any], ...] = ()
    typed: bool = False


@dataclass(frozen=True, slots=True)
class Fact:
    """One thing measured: whether it is right, the short result and the detail."""

    title: str
    good: bool
    result: str
    detail: str


@dataclass(frozen=True, slots=True)
class MapState:
    """One map and its files. ``compared``: sample by sample, by what the manifest knows of it, or not at all.

    Of samples: ``exact``: share that is as meant (to the rounding); ``worst``, ``mean``: largest and mean difference in
    stored steps (floats: in their unit); ``metres``: the same in metres, of heights. ``shown``: under which name its
    pictures are kept; ``full``: stored full scale.
    """

    of: str
    title: str
    kind: str
    files: tuple[str, ...]
    state: State
    words: str
    compared: Literal["samples", "manifest", "no"]
    exact: float | None = None
    worst: float | None = None
    mean: float | None = None
    metres: tuple[float, float] | None = None
    channels: tuple[str, ...] = ()
    shown: str = ""
    full: float = 1.0


@dataclass
class FitReport:
    """The whole result. ``compared_in_full`` is false when only the manifest was at hand; ``target``: the title of the
    one that was delivered to, by the note."""

    files: int = 0
    compared_in_full: bool = False
    findings: list[Finding] = field(default_factory=list)
    facts: list[Fact] = field(default_factory=list)
    maps: list[MapState] = field(default_factory=list)
    check_points: list[dict[str, Any]] = field(default_factory=list)
    typed: list[dict[str, Any]] = field(default_factory=list)
    typed_in: dict[str, Any] = field(default_factory=dict)
    height_step: float = 0.0
    height_error_steps: float | None = None
    target: str = ""

    @property
    def fits(self) -> bool:
        return not any(finding.severity == "error" for finding in self.findings)

    def has(self, file: str) -> bool:
        """Whether something is already said about a file."""
        return any(finding.file == file for finding in self.findings)

    def as_json(self) -> dict[str, Any]:
        return {"fits": self.fits, **asdict(self)}
