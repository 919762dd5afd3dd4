"""How a target mixes the grounds of its layers where several meet."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.targets.rule import Rule

__all__ = ["LerpChain", "MixingRule", "Mixings", "WeightedSum"]


class WeightedSum(Rule):
    title: ClassVar[str] = "Weighted sum"
    sentence: ClassVar[str] = "Every ground times its weight, added up; weights add up to one."
    kind: Literal["sum"] = "sum"


class LerpChain(Rule):
    title: ClassVar[str] = "One laid over the other"
    sentence: ClassVar[str] = (
        "From the base up, each ground is laid over what is below it, as far as its blend step says."
    )
    kind: Literal["chain"] = "chain"


Mixings = (WeightedSum, LerpChain)
MixingRule = Annotated[WeightedSum | LerpChain, Field(discriminator="kind")]
