"""Every hypothesis that is tried."""

from __future__ import annotations

from zigzag_meadow.core.fit.faults.another import Another
from zigzag_meadow.core.fit.faults.base import Fault
from zigzag_meadow.core.fit.faults.blurred import Blurred, Sharpened
from zigzag_meadow.core.fit.faults.classes import Renumbered
from zigzag_meadow.core.fit.faults.constant import AlphaLost, Constant
from zigzag_meadow.core.fit.faults.curve import Curve
from zigzag_meadow.core.fit.faults.eight_bits import EightBits
from zigzag_meadow.core.fit.faults.exchanged import Exchanged
from zigzag_meadow.core.fit.faults.gamma import Gamma
from zigzag_meadow.core.fit.faults.half_a_sample import AtTheBorders
from zigzag_meadow.core.fit.faults.levels import Levels, Threshold
from zigzag_meadow.core.fit.faults.median import Median
from zigzag_meadow.core.fit.faults.noise import Noise
from zigzag_meadow.core.fit.faults.part_shifted import PartShifted
from zigzag_meadow.core.fit.faults.part_turned import PartTurned
from zigzag_meadow.core.fit.faults.patched import Border, Patched
from zigzag_meadow.core.fit.faults.permuted import Permuted
from zigzag_meadow.core.fit.faults.premultiplied import Premultiplied
from zigzag_meadow.core.fit.faults.scaled import Scaled
from zigzag_meadow.core.fit.faults.seam import Line, Seam
from zigzag_meadow.core.fit.faults.shifted import Shifted
from zigzag_meadow.core.fit.faults.signed import Signed
from zigzag_meadow.core.fit.faults.stitched import Stitched
from zigzag_meadow.core.fit.faults.stretched import Repeated, Stretched
from zigzag_meadow.core.fit.faults.stripes import Stripes
from zigzag_meadow.core.fit.faults.swapped_bytes import SwappedBytes
from zigzag_meadow.core.fit.faults.turned import Turned
from zigzag_meadow.core.fit.faults.turned_over import TurnedOver
from zigzag_meadow.core.fit.faults.warped import Warped

__all__ = ["FAULTS"]

FAULTS: tuple[Fault, ...] = (
    AlphaLost(),
    Constant(),
    Turned(),
    Permuted(),
    SwappedBytes(),
    Signed(),
    TurnedOver(),
    EightBits(),
    Premultiplied(),
    Another(),
    Shifted(),
    Repeated(),
    Scaled(),
    Gamma(),
    Border(),
    Line(),
    Seam(),
    Blurred(),
    Sharpened(),
    Stretched(),
    Patched(),
    Noise(),
    PartTurned(),
    PartShifted(),
    Levels(),
    Threshold(),
    Exchanged(),
    Renumbered(),
    Stripes(),
    Median(),
    AtTheBorders(),
    Stitched(),
    Warped(),
    Curve(),
)
