"""Aerial image: a picture in true colour, laid where its reading lays it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from zigzag_meadow.core.colour.coats.base import Around, Begun, Painted
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Edited, Id

__all__ = ["AerialImage"]


class AerialImage(Painted):
    title, family, hint = "Aerial image", "ground", "a picture of the ground, in true colour"
    sentence = "**Image** {picture}, laid on {mode} at {strength}, {within}, {seen}"
    part = True
    kind: Literal["image"] = "image"
    picture: Annotated[Id, Edited("picture", "Picture")] = "picture"

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        return {} if begun.picture is None else {"picture": begun.picture}

    def top(self, around: Around) -> Node | None:
        return around.picture(self.picture)

    def trouble(self, around: Around) -> str | None:
        none = around.picture(self.picture) is None
        return "There is no picture yet: bring one in among the readings, or here." if none else None

    @property
    def picture_id(self) -> str:
        return self.picture
