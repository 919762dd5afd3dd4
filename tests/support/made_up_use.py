"""A made-up user of masks, as docs/adding.md says: a legend, which uses the mask east."""

from __future__ import annotations

from collections.abc import Iterator

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.uses import USERS, Use


def _legend_uses(project: Project) -> Iterator[Use]:
    if project.mask("east") is not None:
        yield Use("legend:made-up", "mask:east", "the legend of the map")


USERS.append(_legend_uses)
