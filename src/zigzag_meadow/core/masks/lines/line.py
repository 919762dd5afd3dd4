"""Any line of a recipe, told apart by its verb."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from zigzag_meadow.core.masks.lines.base import BaseLine
from zigzag_meadow.core.masks.lines.catalogue import LINES

__all__ = ["Line"]

if TYPE_CHECKING:
    Line = BaseLine
else:
    Line = Annotated[Union[tuple(LINES)], Field(discriminator="verb")]  # noqa: UP007 (made of a list)
