"""How files are called: the pattern with its tokens, and names that were typed over it."""

from __future__ import annotations

from collections.abc import Sequence

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.names import allowed_ending, allowed_stem, file_stem
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import Deliverable

__all__ = ["TOKENS", "file_names"]

TOKENS = ("{project}", "{map}", "{size}", "{target}", "{format}")


def file_names(project: Project, items: Sequence[tuple[Deliverable, ItemChoice, Form, Grid]]) -> list[str]:
    """Names without endings, in the order of the items.

    Raises :class:`BadNumber` for braces that are no token, and for names and endings that no file should have.
    """
    for _, choice, _, _ in items:
        if choice.file is not None and not allowed_stem(choice.file):
            raise BadNumber(f"{choice.file} is the name of a device on some systems. Choose another.", field="file")
        if choice.ending is not None and not allowed_ending(choice.ending):
            raise BadNumber(
                f"Files that end in .{choice.ending} are run by some systems. Choose another ending.", field="ending"
            )
    pattern = project.delivery.pattern or project.target.names
    return [
        choice.file or _named(pattern, project, *rest)
        for rest, choice in (((thing, written, grid), choice) for thing, choice, written, grid in items)
    ]


def _named(pattern: str, project: Project, thing: Deliverable, written: Form, grid: Grid) -> str:
    size = f"{grid.cols}" if grid.cols == grid.rows else f"{grid.cols}x{grid.rows}"
    values = dict(zip(TOKENS, (project.name, thing.map, size, project.target.title, written.title), strict=True))
    text = pattern
    for token, value in values.items():
        text = text.replace(token, file_stem(value))
    if "{" in text or "}" in text:
        raise BadNumber(f"A name pattern may hold {', '.join(TOKENS)} and no other braces.", field="pattern")
    return file_stem(text)
