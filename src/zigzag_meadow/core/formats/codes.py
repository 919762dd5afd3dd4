"""What the numbers that are stored in a file reach from and to: its black and its white."""

from __future__ import annotations

import re

__all__ = ["code_ends"]


def code_ends(depth: str) -> tuple[float, float] | None:
    """(black, white) of samples of a depth as the register names it ("8", "16", "16 signed", "32f" …): whole numbers by
    their bits, floats 0 and 1. None where a file tells heights in a code of its own, which has no black or white.
    """
    found = re.fullmatch(r"(\d+)(f| signed)?", depth)
    if found is None:
        return None
    bits, kind = int(found[1]), found[2]
    if kind == "f":
        return 0.0, 1.0
    if kind == " signed":
        return -float(2 ** (bits - 1)), float(2 ** (bits - 1) - 1)
    # Fewer bits than a byte are read as a byte.
    return 0.0, float(2 ** max(bits, 8) - 1)
