"""One grey channel out of pictures that have more: heights are often saved as RGB, with alpha, or by a palette."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import WrongFormat
from zigzag_meadow.core.formats.stored import Remark

__all__ = ["one_channel"]

_ROWS = 256


def _apart(pixels: NDArray[Any], colours: int) -> int:
    """The most by which two colours of one sample differ; some rows at a time."""
    most = 0
    for at in range(0, len(pixels), _ROWS):
        block = pixels[at : at + _ROWS].astype(np.int64)
        for k in range(1, colours):
            most = max(most, int(np.abs(block[..., k] - block[..., 0]).max()))
    return most


def one_channel(
    pixels: NDArray[Any], name: str, letter: str | None, *, slack: int = 0, says: str = "a picture"
) -> tuple[NDArray[Any], str | None, tuple[str, ...], list[Remark]]:
    """(samples, which channel, those there are, what is to be told) of whole-number pixels of shape (rows, columns) or
    (rows, columns, 1 to 4): grey, grey with alpha, RGB or RGBA.

    Without ``letter`` the colours must be equal, or differ by no more than ``slack``. Raises :class:`WrongFormat`
    where they are not, or there is no such channel.
    """
    if pixels.ndim == 2 or pixels.shape[2] == 1:
        return pixels.reshape(pixels.shape[:2]), None, (), []
    count = pixels.shape[2]
    colours = count if count in (1, 3) else count - 1
    letters = ("R", "G", "B")[:colours] if colours == 3 else ("Grey",)
    names = (*letters, "A") if colours < count else letters
    remarks: list[Remark] = []
    if letter is not None:
        found = next((at for at, one in enumerate(names) if one.lower() == letter.lower()), None)
        if found is None:
            raise WrongFormat(f"{name} has no channel {letter}; there are {', '.join(names)}.", field="channel")
        return np.ascontiguousarray(pixels[..., found]), names[found], names, remarks
    apart = _apart(pixels, colours)
    if apart > slack:
        raise WrongFormat(
            f"{name} is {says} in colours: its channels differ by up to {apart}. A heightmap has one grey channel. "
            "Save it as grey, say which channel holds the heights, or how its colours stand for heights.",
            field="channel",
        )
    if colours == 3:
        how = "the same heights" if apart == 0 else f"nearly the same heights (up to {apart} apart)"
        remarks.append(Remark("equal-channels", "note", f"Its three colours hold {how}; red is taken."))
    if colours < count:
        full = 255 if pixels.dtype == np.uint8 else 65535
        alpha = pixels[..., -1]
        share = float((alpha < full).mean())
        tells = f"below full on {share:.1%} of the samples" if share else "full everywhere"
        remarks.append(Remark("alpha-unused", "note", f"Its alpha is {tells} and is not used."))
    return np.ascontiguousarray(pixels[..., 0]), names[0], names, remarks
