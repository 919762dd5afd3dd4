"""Edits of the ground: its measures, its preparation, and the heightmap itself."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, ValidationError

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.formats.codes import code_ends
from zigzag_meadow.core.parts import Id, Part
from zigzag_meadow.core.project.edits.ops_base import Index, Op, inserted, moved, replaced, with_changes, without
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.ground import Ground, KnownPoints
from zigzag_meadow.core.project.model.left import leavings
from zigzag_meadow.core.project.model.steps import Step
from zigzag_meadow.core.project.model.uses import words_for
from zigzag_meadow.core.project.model.wrong import told

__all__ = [
    "AddStep",
    "DeleteStep",
    "HeightmapFile",
    "HeldHeights",
    "MoveStep",
    "ReplaceHeightmap",
    "SetGround",
    "SetStep",
    "held_heights",
]

_TITLES = {
    "low": "low",
    "high": "high",
    "water": "water level",
    "spacing_x": "spacing",
    "spacing_y": "spacing",
    "heights": "heights",
    "points": "known points",
    "metres_a_step": "metres a step",
    "at_zero": "metres at stored 0",
    "at_black": "metres at black",
    "at_white": "metres at white",
    "on_replace": "what stays when the file is replaced",
    "nodata": "no-data value",
    "ratio_locked": "the ratio",
    "samples": "what samples stand for",
    "cells_reach": "how far cells reach",
}


def _ground(project: Project, changes: dict[str, Any]) -> Ground:
    """The ground with changes, checked field by field (a copy alone would not be)."""
    try:
        return Ground.model_validate({**project.ground.model_dump(), **changes})
    except ValidationError as error:
        raise told(error, "The ground") from None


class SetGround(Op):
    """Change measures of the ground; what is left out stays."""

    op: Literal["set_ground"] = "set_ground"
    replaces: ClassVar = "ground"
    heights: Literal["stored", "range", "points", "step", "ends"] | None = None
    low: float | None = None
    high: float | None = None
    points: KnownPoints | None = None
    metres_a_step: float | None = None
    at_zero: float | None = None
    at_black: float | None = None
    at_white: float | None = None
    on_replace: Literal["codes", "ends"] | None = None
    spacing_x: float | None = None
    spacing_y: float | None = None
    ratio_locked: bool | None = None
    samples: Literal["border", "cells"] | None = None
    cells_reach: bool | None = None
    water: float | None = None
    no_water: bool = False

    def apply(self, project: Project) -> tuple[Project, str]:
        changes = self.model_dump(exclude={"op", "no_water"}, exclude_none=True)
        if self.no_water:
            changes["water"] = None
        if changes.get("samples", project.ground.samples) != project.ground.samples:
            # Whoever says now what samples are means it: only what was said long ago is held to.
            changes.setdefault("cells_reach", True)
        ground = _ground(project, changes)
        named = [_TITLES[key] for key in _TITLES if key in changes]
        return with_changes(project, ground=ground), f"change {named[0] if named else 'the ground'}"


@dataclass(frozen=True, slots=True)
class HeldHeights:
    """Fields of the ground that change with the file, and what becomes of its heights, in a sentence."""

    changes: dict[str, Any]
    says: str


class HeightmapFile(Part):
    """A file that was looked at: how it is read and what it holds."""

    asset: str
    file_name: str
    file_format: str
    depth: str
    byte_order: Literal["little", "big"] | None = None
    header: int = 0
    sample: str | None = None
    channel: str | None = None
    code: str | None = None
    nodata: float | None = None
    rows: Annotated[int, Field(ge=8, le=8193)]
    cols: Annotated[int, Field(ge=8, le=8193)]
    stored_low: float
    stored_high: float
    voids: int = 0


def held_heights(old: Ground, file: HeightmapFile, hold: Literal["codes", "ends"]) -> HeldHeights:
    """What heights are under another file, in the ground's fields and in a sentence."""
    coded = hold == "codes"
    if old.heights == "stored":
        return HeldHeights({}, "Its numbers are metres, as they were.")
    was, now = code_ends(old.depth), code_ends(file.depth)
    # Floats beyond 0 and 1 are no codes between black and white.
    fits = file.depth == old.depth or not (
        file.depth.endswith("f") and (file.stored_low < -0.01 or file.stored_high > 1.01)
    )
    if coded and was is not None and now is not None and fits:
        text = "Every stored number keeps its metres"
        changes: dict[str, Any] = {}
        if was != now:
            black, white = old.format_ends or old.file_ends
            changes = {"heights": "ends", "at_black": black, "at_white": white, "points": None}
            text = f"It is stored otherwise ({file.depth} instead of {old.depth}): black and white keep their metres"
        elif old.heights in ("range", "points"):
            step, zero = old.coding
            changes = {"heights": "step", "metres_a_step": step, "at_zero": zero, "points": None}
        return HeldHeights(changes, f"{text}, so a new highest or lowest place moves nothing else.")
    low, high = old.file_ends
    ends = {"heights": "range", "low": low, "high": high, "points": None}
    why = f"Its numbers ({file.depth}) cannot be laid over those before ({old.depth}): its" if coded else "Its"
    return HeldHeights(
        ends if old.heights != "range" else {},
        f"{why} lowest sample stands for {low:g} m and its highest for {high:g} m: a new extreme rescales all others.",
    )


class ReplaceHeightmap(Op):
    """Another file under the same project: everything downstream is made anew from it.

    ``keep`` *extent*: the ground stays as wide and long as it was, so that another size changes the spacing;
    *spacing*: samples stay as far apart, so that another size changes the extent. ``hold``: what keeps its metres, the
    stored *codes* or the lowest and highest sample (*ends*); left out, as the ground has it.
    """

    op: Literal["replace_heightmap"] = "replace_heightmap"
    changes: ClassVar = ("ground",)
    file: HeightmapFile
    keep: Literal["extent", "spacing"] = "extent"
    hold: Literal["codes", "ends"] | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        old = project.ground
        changes: dict[str, Any] = self.file.model_dump()
        if self.keep == "extent":
            grid = old.file_grid.resized(self.file.rows, self.file.cols)
            changes |= {"spacing_x": grid.dx, "spacing_y": grid.dy}
        if self.hold is not None:
            changes["on_replace"] = self.hold
        changes |= held_heights(old, self.file, self.hold or old.holds).changes
        return with_changes(
            project, ground=_ground(project, changes)
        ), f"replace the heightmap by {self.file.file_name}"


def _named(step: Step) -> str:
    return step.title.lower()


def _find(project: Project, step_id: str) -> Step:
    for step in project.ground.steps:
        if step.id == step_id:
            return step
    raise NotFound("That step is no longer there. Undo brings it back.", field="step")


def _with_steps(project: Project, steps: tuple[Step, ...]) -> Project:
    return with_changes(project, ground=project.ground.model_copy(update={"steps": steps}))


class AddStep(Op):
    op: Literal["add_step"] = "add_step"
    changes: ClassVar = ("ground/steps",)
    step: Step
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        steps = inserted(project.ground.steps, self.step, self.at)
        return _with_steps(project, steps), _named(self.step)


class SetStep(Op):
    op: Literal["set_step"] = "set_step"
    replaces: ClassVar = "ground/steps/{step}"
    step: Step

    def apply(self, project: Project) -> tuple[Project, str]:
        before = _find(project, self.step.id)
        label = f"change {_named(self.step)}"
        if before.muted != self.step.muted:
            label = f"{'mute' if self.step.muted else 'unmute'} {_named(self.step)}"
        return _with_steps(project, replaced(project.ground.steps, self.step)), label


class MoveStep(Op):
    op: Literal["move_step"] = "move_step"
    changes: ClassVar = ("ground/steps",)
    step: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        step = _find(project, self.step)
        return _with_steps(project, moved(project.ground.steps, self.step, self.to)), f"move {_named(step)}"


class DeleteStep(Op):
    op: Literal["delete_step"] = "delete_step"
    changes: ClassVar = ("ground/steps",)
    step: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        step = _find(project, self.step)
        left = [item for item in leavings(project) if item.step.id == self.step]
        for item in left:
            used = words_for(project, f"reading:{item.id}")
            if used:
                raise BadDocument(
                    f"{item.title} is used by {', '.join(used)}. Take it out there first, or mute the step.",
                    field="step",
                )
        return _with_steps(project, without(project.ground.steps, self.step)), f"delete {_named(step)}"
