"""Zigzag Meadow: terrain masks, weights and packed maps that line up with the imported terrain."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from zigzag_meadow.pipeline import Pipeline


class _BeforeKernels:
    """Says where compiled kernels are kept before the first one is defined, and only where any is: in the data folder
    (or in ZIGZAG_KERNELS), so that set-up compiles them once for server, worker and command line alike."""

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        if name != "numba":
            return
        sys.meta_path.remove(self)
        os.environ["NUMBA_CACHE_DIR"] = _kernels()


def _kernels() -> str:
    from zigzag_meadow.core.kernels import kernel_folder

    return str(kernel_folder(Path(os.environ.get("ZIGZAG_KERNELS") or DATA / "kernels")))


DATA = Path(os.environ.get("ZIGZAG_DATA") or Path(__file__).resolve().parents[2] / "data")
if "numba" in sys.modules:
    sys.modules["numba"].config.CACHE_DIR = os.environ["NUMBA_CACHE_DIR"] = _kernels()
else:
    sys.meta_path.insert(0, _BeforeKernels())
# One pool of threads for all that is computed: products of matrices must not bring threads of their own.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__all__ = ["open_project"]


def open_project(path: str | os.PathLike[str]) -> Pipeline:
    """A project file, ready to make maps of: see :class:`zigzag_meadow.pipeline.Pipeline`."""
    from zigzag_meadow.pipeline import open_project as opened  # only here: whoever asks for less need not load all

    return opened(path)
