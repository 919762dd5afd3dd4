"""The legend of an import note: every ground, what it wears, and the channel that it is in."""

from __future__ import annotations

from zigzag_meadow.core.delivery.plan import Plan
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.project.model.document import Outcome, Project
from zigzag_meadow.core.targets.note import FileNote, LegendNote

__all__ = ["legend_notes"]


def _wears(project: Project, outcome: Outcome) -> tuple[str, float | None, float, float | None]:
    """(texture, metres across, degrees, how much rougher) of what a layer wears."""
    layer = project.layer(outcome.members[0])
    dressing = project.base.dressing if layer is None else layer.dressing
    if dressing.look is None:
        return "", None, 0.0, None
    own = project.look(dressing.look)
    name = own.name if own is not None else next((x.title for x in LOOKS if x.id == dressing.look), dressing.look)
    size = own.size if own is not None else next((x.size for x in LOOKS if x.id == dressing.look), None)
    return name, project.mixing.one_size or dressing.size or size, dressing.turn, dressing.roughness


def legend_notes(plan: Plan, files: list[FileNote]) -> list[LegendNote]:
    """Every ground, with the channel that it is in; a base in none is what is left."""
    made = []
    for outcome in plan.project.outcomes:
        texture, size, turn, rough = _wears(plan.project, outcome)
        place = next(
            (
                (file.file, c.channel.upper())
                for file in files
                for c in file.channels
                if c.layer == outcome.id and c.kind in ("weight", "base", "step")
            ),
            ("", ""),
        )
        made.append(
            LegendNote(
                layer=outcome.id,
                title=outcome.name,
                colour=outcome.colour,
                file=place[0],
                channel=place[1],
                texture=texture,
                size=size,
                turn=turn,
                roughness=rough,
            )
        )
    return made
