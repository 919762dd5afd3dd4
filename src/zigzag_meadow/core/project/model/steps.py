"""Preparation: what is done to the ground before anything is measured on it, in order."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from zigzag_meadow.core.ground.steps.base import BaseStep
from zigzag_meadow.core.ground.steps.catalogue import STEPS

__all__ = ["Step"]

if TYPE_CHECKING:
    Step = BaseStep
else:
    Step = Annotated[Union[tuple(STEPS)], Field(discriminator="kind")]  # noqa: UP007 (made of a list)
