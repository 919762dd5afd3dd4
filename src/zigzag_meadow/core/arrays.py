"""How arrays are handed to compiled kernels."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["readable"]


def readable(values: NDArray[Any]) -> NDArray[Any]:
    """The same values, contiguous and read-only.

    A kernel is compiled anew for every combination of layout and writability. Inputs all pass through here, so
    that each kernel has one form and the warm-up compiles all of them.
    """
    view = np.ascontiguousarray(values).view()
    view.flags.writeable = False
    return view
