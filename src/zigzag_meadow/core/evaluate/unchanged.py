"""Which masks an edit left alone, with all that they are made of."""

from __future__ import annotations

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.uses import thing, uses
from zigzag_meadow.core.remembered import same_objects

__all__ = ["unchanged_masks"]

_ROUND_ABOUT = ("readings", "pieces", "features", "scatters")
"""What masks may read besides masks and the ground."""


def unchanged_masks(before: Project, after: Project) -> list[str]:
    """The ids of masks that are made of the very same objects in two documents: what is merely equal counts as changed,
    so that looking takes no longer than an edit may."""
    if before.ground is not after.ground:
        return []
    if not all(same_objects(getattr(before, name), getattr(after, name)) for name in _ROUND_ABOUT):
        return []
    was = {mask.id: mask for mask in before.masks}
    changed = [f"mask:{mask.id}" for mask in after.masks if was.get(mask.id) is not mask]
    users: dict[str, list[str]] = {}
    for use in uses(after):
        users.setdefault(use.used, []).append(use.user)
    reached = set(changed)
    for name in changed:
        new = [user for user in users.get(name, ()) if user not in reached]
        reached.update(new)
        changed += new
    if any(thing(name)[0] == "step" for name in reached):
        # A step of preparation acts elsewhere: the ground below all of them is another.
        return []
    return [mask.id for mask in after.masks if f"mask:{mask.id}" not in reached]
