"""Aerial image: a picture in true colour, laid where its reading lays it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from zigzag_meadow.core.colour.coats.base import Around, Begun, Painted
from zigzag_meadow.core.colour.coats.grain import grained
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Edited, Id, Told

__all__ = ["AerialImage"]


class AerialImage(Painted):
    title, family, hint = "Aerial image", "ground", "a picture of the ground, in true colour"
    sentence = (
        "**Image** {picture}, enlarged {enlarged} with {grain} of the layers' grain, laid on {mode} at {strength}, "
        "{within}, {seen}"
    )
    part = True
    kind: Literal["image"] = "image"
    picture: Annotated[Id, Edited("picture", "Picture")] = "picture"
    enlarged: Annotated[
        Literal["plainly", "sharply"], Told("Enlarged", choices=(("plainly", "plainly"), ("sharply", "sharply")))
    ] = "plainly"
    grain: Annotated[float, Field(ge=0, le=4), Told("Grain", "%", high=2)] = 0.0

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        return {"enlarged": "sharply", **({} if begun.picture is None else {"picture": begun.picture})}

    def top(self, around: Around) -> Node | None:
        image = around.picture(self.picture, self.enlarged == "sharply")
        if image is None or self.grain == 0:
            return image
        return grained(image, around.weights(), around.worn(), self.grain)

    def trouble(self, around: Around) -> str | None:
        if around.picture(self.picture) is None:
            return "There is no picture yet: bring one in among the readings, or here."
        if self.grain > 0 and all(one.texture is None for one in around.worn()):
            return "No layer wears a texture yet, so there is no grain to lay: give one a look among the layers."
        return None

    @property
    def picture_id(self) -> str:
        return self.picture
