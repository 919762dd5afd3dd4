"""Every kind of line, in the order in which they are offered."""

from __future__ import annotations

from zigzag_meadow.core.masks.lines.base import BaseLine
from zigzag_meadow.core.masks.lines.bend import Bend
from zigzag_meadow.core.masks.lines.blur import Blur, Sharpen
from zigzag_meadow.core.masks.lines.combining import (
    Add,
    Blend,
    Difference,
    KeepWithin,
    LeaveOut,
    Multiply,
    Strongest,
    Take,
    Weakest,
)
from zigzag_meadow.core.masks.lines.contrast import Contrast
from zigzag_meadow.core.masks.lines.cut import Cut
from zigzag_meadow.core.masks.lines.drift import Drift
from zigzag_meadow.core.masks.lines.equalise import Equalise
from zigzag_meadow.core.masks.lines.fray import Fray
from zigzag_meadow.core.masks.lines.lay_over import LayOver
from zigzag_meadow.core.masks.lines.levels import Gamma, Levels
from zigzag_meadow.core.masks.lines.piece import PieceLine
from zigzag_meadow.core.masks.lines.specks import FillHoles, RemoveSpecks
from zigzag_meadow.core.masks.lines.stretch import Stretch
from zigzag_meadow.core.masks.lines.threshold import Threshold
from zigzag_meadow.core.masks.lines.touch_up import TouchUp
from zigzag_meadow.core.masks.lines.trickle import Trickle
from zigzag_meadow.core.masks.lines.turn_over import TurnOver
from zigzag_meadow.core.masks.lines.widen import Narrow, Widen

__all__ = ["LINES"]

LINES: list[type[BaseLine]] = [
    Take,
    Add,
    LeaveOut,
    KeepWithin,
    Strongest,
    Weakest,
    Multiply,
    Difference,
    Blend,
    TurnOver,
    Levels,
    Gamma,
    Contrast,
    Bend,
    Stretch,
    Equalise,
    Threshold,
    Cut,
    Blur,
    Sharpen,
    Widen,
    Narrow,
    RemoveSpecks,
    FillHoles,
    Fray,
    Drift,
    Trickle,
    TouchUp,
    LayOver,
    PieceLine,
]
