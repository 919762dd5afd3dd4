"""Readings that steps of preparation leave: "scour of Erode". They are there as long as the step is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from zigzag_meadow.core.ground.steps.base import Left
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.steps import Step
from zigzag_meadow.core.readings.declare import Reading

__all__ = ["Leaving", "leaving", "leavings"]

_OF = "-of-"


@dataclass(frozen=True, slots=True)
class Leaving:
    """One map that the step at ``index`` (from 0) leaves; ``step_title``: what the step is called among others."""

    index: int
    step: Step
    left: Left
    step_title: str

    @property
    def id(self) -> str:
        return f"{self.left.name}{_OF}{self.step.id}"

    @property
    def title(self) -> str:
        return f"{self.left.like.title} of {self.step_title}"

    @property
    def kind(self) -> Reading:
        """Its declaration: that of its kind, without numbers of its own."""
        like = self.left.like
        return replace(like, name=self.id, title=self.title, params=(), numbers_of="", pointing=None, ready=True)

    @property
    def trouble(self) -> str | None:
        """Why it is empty."""
        if self.step.muted:
            return f"Step {self.index + 1}, {self.step_title}, is muted: it left nothing."
        return f"Step {self.index + 1}, {self.step_title}, has a strength of 0 %." if self.step.amount == 0 else None


def leavings(project: Project) -> Iterator[Leaving]:
    """Every map that a step leaves, in the order of the steps."""
    count: dict[str, int] = {}
    for index, step in enumerate(project.ground.steps):
        if not step.leaves:
            continue
        count[step.kind] = count.get(step.kind, 0) + 1
        title = step.title if count[step.kind] == 1 else f"{step.title} {count[step.kind]}"
        yield from (Leaving(index, step, left, title) for left in step.leaves)


def leaving(project: Project, reading_id: str) -> Leaving | None:
    """What a reading is, where a step leaves it."""
    if _OF not in reading_id:
        return None
    return next((item for item in leavings(project) if item.id == reading_id), None)
