"""How a target wants weights packed: which channels a sheet has and whether the base is written."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.parts import Told
from zigzag_meadow.core.targets.rule import Rule

__all__ = ["Classes", "GreyFiles", "PackedChannels", "SheetLayouts", "SheetRule"]


class _SheetRule(Rule):
    @abstractmethod
    def groups(self, layers: Sequence[str], base: str) -> list[list[str]]:
        """Which weights go into one sheet, in the order of its channels."""

    @property
    def base_implied(self) -> bool:
        """Whether the base is what is left there, and is not written."""
        return False

    @property
    def most_channels(self) -> int:
        return 4


_BASE = {"written": "written too", "implied": "what is left of them"}


class GreyFiles(_SheetRule):
    title: ClassVar[str] = "A grey file a layer"
    sentence: ClassVar[str] = "Every weight is a grey file of its own; the base is {base}."
    kind: Literal["grey_files"] = "grey_files"
    base: Annotated[
        Literal["written", "implied"], Told("The base", choices=(("written", "written"), ("implied", "what is left")))
    ] = "written"

    def words(self) -> dict[str, str]:
        return {"base": _BASE[self.base]}

    def groups(self, layers: Sequence[str], base: str) -> list[list[str]]:
        return [[item] for item in ([base] if self.base == "written" else []) + list(layers)]

    @property
    def base_implied(self) -> bool:
        return self.base == "implied"

    @property
    def most_channels(self) -> int:
        return 1


class PackedChannels(_SheetRule):
    title: ClassVar[str] = "Several to a sheet"
    sentence: ClassVar[str] = "Up to {channels} weights in a sheet; the base is {base}."
    kind: Literal["packed"] = "packed"
    channels: Annotated[Literal[3, 4], Told("Channels", choices=(("3", "RGB"), ("4", "RGBA")))] = 4
    base: Annotated[
        Literal["written", "implied"], Told("The base", choices=(("written", "written"), ("implied", "what is left")))
    ] = "written"

    def words(self) -> dict[str, str]:
        return {"base": _BASE[self.base]}

    def groups(self, layers: Sequence[str], base: str) -> list[list[str]]:
        every = [*layers, *([] if self.base == "implied" else [base])]
        return [every[at : at + self.channels] for at in range(0, len(every), self.channels)]

    @property
    def base_implied(self) -> bool:
        return self.base == "implied"

    @property
    def most_channels(self) -> int:
        return self.channels


class Classes(_SheetRule):
    title: ClassVar[str] = "A map of classes"
    sentence: ClassVar[str] = "One file with the number of the strongest layer at each sample, the base 0."
    kind: Literal["classes"] = "classes"

    def groups(self, layers: Sequence[str], base: str) -> list[list[str]]:
        return []


SheetLayouts = (GreyFiles, PackedChannels, Classes)
SheetRule = Annotated[GreyFiles | PackedChannels | Classes, Field(discriminator="kind")]
