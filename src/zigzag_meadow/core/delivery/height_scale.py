"""How heights become what is stored: by the target's coding, by ends that are typed, or by the ground's own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.ground import Ground
from zigzag_meadow.core.targets.codings import FULL, Scale, over_range
from zigzag_meadow.core.targets.model import Target

__all__ = ["HeightScale", "Levels", "ends_by_code", "height_scale"]


@dataclass(frozen=True, slots=True)
class Levels:
    """Lowest, highest and mean height of the prepared ground, in the target's metres."""

    low: float
    high: float
    mean: float


@dataclass(frozen=True, slots=True)
class HeightScale:
    """``scale``: None where metres are written. ``by``: where its ends come from: the *target*, *typed* ends, the
    ground's own *codes*, or its *extremes*: a new highest or lowest place rescales all others then."""

    scale: Scale | None
    by: Literal["target", "typed", "codes", "extremes"]


def ends_by_code(ground: Ground, levels: Levels, zero: float) -> tuple[float, float] | None:
    """Metres at black and white that stored heights bring along, counted from ``zero``; None where they bring none, or
    where the prepared ground reaches beyond them."""
    ends = ground.format_ends if ground.by_code else None
    if ends is None:
        return None
    black, white = ends[0] - zero, ends[1] - zero
    # Half a step of 16 bits: what rounds to an end lies within it.
    room = (white - black) / FULL / 2
    return (black, white) if black - room <= levels.low and levels.high <= white + room else None


def height_scale(
    target: Target, ground: Ground, choice: ItemChoice, written: Form, levels: Levels, zero: float
) -> HeightScale:
    """What stored heights stand for. ``zero``: the height of the project that is 0 m there; all others are the
    target's metres. Raises :class:`BadNumber` for ends that are turned about or that the target fixes, and for a
    way of storing that goes with another form."""
    typed = None if choice.black is None or choice.white is None else (choice.black, choice.white)
    coding = target.height.coding
    if written.floats:
        return _floats(target, ground, choice, typed, levels, zero)
    if choice.stored not in (None, "unit"):
        raise BadNumber(
            f"{written.title} holds whole numbers from black to white: {_WAYS[choice.stored or 'metres']} are floating "
            "numbers. Choose a form of floats.",
            field="stored",
        )
    full = 2**written.bits - 1
    if typed is not None:
        if coding.kind not in ("range", "metres"):
            raise BadNumber(f"{target.title} fixes its steps: black and white cannot be chosen.", field="black")
        return HeightScale(over_range(*typed, full), "typed")
    own = coding.scale(levels.low, levels.high)
    if coding.kind in ("fixed_step", "whole_metres") and full == FULL:
        return HeightScale(own, "target")
    codes = ends_by_code(ground, levels, zero)
    if codes is not None:
        return HeightScale(over_range(*codes, full), "codes")
    return HeightScale(over_range(levels.low, levels.high, full) if own is None or full != FULL else own, "extremes")


_WAYS = {
    "metres": "metres",
    "unit": "numbers from 0 to 1",
    "signed": "numbers from −1 to 1",
    "mean": "metres about the mean",
}


def _floats(
    target: Target,
    ground: Ground,
    choice: ItemChoice,
    typed: tuple[float, float] | None,
    levels: Levels,
    zero: float,
) -> HeightScale:
    way = choice.stored or ("unit" if typed is not None else "metres")
    if way in ("metres", "mean") and typed is not None:
        raise BadNumber(
            f"{_WAYS[way].capitalize()} have no black and white. Take both ends away, or store numbers from 0 to 1 or "
            "from −1 to 1 between them.",
            field="black",
        )
    if way == "metres":
        return HeightScale(None, "target")
    if way == "mean":
        return HeightScale(Scale(1.0, levels.mean, 1, -1), "extremes")
    codes = ends_by_code(ground, levels, zero)
    black, white = typed or codes or (levels.low, levels.high)
    by: Literal["typed", "codes", "extremes"] = "typed" if typed else "codes" if codes else "extremes"
    between = over_range(black, white, 1)
    if way == "unit":
        return HeightScale(between, by)
    return HeightScale(Scale((white - black) / 2, (black + white) / 2, 1, -1), by)
