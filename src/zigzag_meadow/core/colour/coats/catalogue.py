"""Every kind of coat, in the order in which they are offered."""

from __future__ import annotations

from zigzag_meadow.core.colour.coats.adjust import Adjust
from zigzag_meadow.core.colour.coats.base import BaseCoat
from zigzag_meadow.core.colour.coats.carry import Carry
from zigzag_meadow.core.colour.coats.layers import Layers
from zigzag_meadow.core.colour.coats.local_contrast import LocalContrast
from zigzag_meadow.core.colour.coats.match import Match
from zigzag_meadow.core.colour.coats.picture import AerialImage
from zigzag_meadow.core.colour.coats.piece import PieceCoat
from zigzag_meadow.core.colour.coats.plain import PlainColour
from zigzag_meadow.core.colour.coats.ramp import Ramp
from zigzag_meadow.core.colour.coats.vary import Vary
from zigzag_meadow.core.colour.coats.water import Water
from zigzag_meadow.core.colour.coats.wear import Bleach, Soil

__all__ = ["COATS"]

COATS: list[type[BaseCoat]] = [
    PlainColour,
    Ramp,
    Layers,
    AerialImage,
    Water,
    Adjust,
    Vary,
    LocalContrast,
    Match,
    Soil,
    Bleach,
    Carry,
    PieceCoat,
]
