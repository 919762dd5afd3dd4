"""A fit check as a page to print or send, with its pictures inside."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.fit.seen_maps import shown_map
from zigzag_meadow.core.paper import address, fonts, pages

__all__ = ["fit_page", "verdict"]

SIDE = 240


def verdict(report: dict[str, Any]) -> str:
    """What came of it, in one sentence that claims no more than was done."""
    faults = [item["file"] for item in report["findings"] if item["severity"] == "error"]
    wrong = set(faults)
    if wrong:
        told = "One thing does not fit" if len(wrong) == 1 else f"{len(wrong)} things do not fit"
        return f"{told}, with {len(faults)} faults." if len(faults) > len(wrong) else f"{told}."
    by_samples = sum(1 for item in report["maps"] if item["compared"] == "samples")
    if by_samples:
        return (
            f"Everything fits: {by_samples} of {len(report['maps'])} maps line up with the project, sample by sample."
        )
    if report["maps"] and all(item["compared"] == "no" for item in report["maps"]):
        return "Every file can be read; there was nothing to hold them against."
    return "Everything is as it was delivered; it was not compared with the project."


def fit_page(report: dict[str, Any], project: str, number: int | None, folder: Path) -> str:
    """The page of a report (as :meth:`FitReport.as_json` gives it) whose pictures lie in ``folder``; ``number``: of the
    delivery, where it has one."""
    pictures: dict[tuple[str, str], str] = {}
    for item in report["maps"]:
        for part in ("rebuilt", "difference"):
            try:
                values = shown_map(folder, f"{item['shown']}-{part}")
            except NotFound:
                continue
            if part == "rebuilt" or item["state"] == "wrong":
                pictures |= {(file, part): _picture(values, part) for file in item["files"]}
    template = pages(Path(__file__).parent / "templates").get_template("fit_check.html")
    return str(
        template.render(
            report=report,
            project=project,
            number=number,
            pictures=pictures,
            fonts=fonts(),
            verdict=verdict(report),
        )
    )


def _picture(values: NDArray[Any], part: str) -> str:
    step = max(1, -(-max(values.shape[:2]) // SIDE))
    small = values[::step, ::step].astype(np.float64)
    if part == "difference":
        plane = small.reshape(*small.shape[:2], -1)
        plane = np.take_along_axis(plane, np.abs(plane).argmax(axis=2)[:, :, None], 2)[:, :, 0]
        most = float(np.abs(plane).max()) or 1.0
        grey = 0.5 + 0.5 * plane / most
    else:
        grey = small if small.shape[2] == 3 else small[:, :, 0]
        low, high = float(np.nanmin(grey)), float(np.nanmax(grey))
        grey = (grey - low) / (high - low) if high > low else np.zeros_like(grey)
    pixels = np.floor(np.clip(np.nan_to_num(grey), 0, 1) * 255 + 0.5).astype(np.uint8)
    return address(bytes(imagecodecs.png_encode(pixels)), "image/png")
