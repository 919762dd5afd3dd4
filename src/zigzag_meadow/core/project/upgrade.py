"""Documents of earlier versions, brought up to this one."""

from __future__ import annotations

from typing import Any

__all__ = ["made_by_another", "upgraded"]

NEWEST = 5


def upgraded(data: Any) -> Any:
    """``data`` (plain JSON) in the newest version; anything that is no document of an earlier one as it is.

    1 → 2: the width of slope was a measure of the ground and became a number of the reading; raw files name their
    sample type. 2 → 3: layers got strength, bands and what they wear, and coats came; nothing that was there changed.
    3 → 4: where a step of preparation acts was a list of bands and became a recipe. 4 → 5: what is chosen of the height
    file became a choice like that of any other file.
    """
    if not isinstance(data, dict) or data.get("version", NEWEST) not in range(1, NEWEST):
        return data
    second = _first(data) if data["version"] == 1 else data
    third = _third(second) if data["version"] < 4 else second
    return {**_fourth(third), "version": NEWEST}


def _fourth(data: dict[str, Any]) -> dict[str, Any]:
    delivery = data.get("delivery")
    if not isinstance(delivery, dict):
        return data
    form = delivery.get("height_format", "png16")
    kept = {name: value for name, value in delivery.items() if name != "height_format"}
    items = [] if form == "png16" else [{"of": "height", "form": form}]
    return {**data, "delivery": {"pattern": "{project}_{map}", **kept, "items": items}}


def _third(data: dict[str, Any]) -> dict[str, Any]:
    ground = data.get("ground")
    if not isinstance(ground, dict) or not isinstance(ground.get("steps"), list):
        return data
    steps = [{**step, "where": _lines(step.get("where"))} if isinstance(step, dict) else step
             for step in ground["steps"]]  # fmt: skip
    return {**data, "ground": {**ground, "steps": steps}}


def _lines(bands: Any) -> Any:
    """Bands that all had to hold, as lines: the first is taken, the others keep only within."""
    if not isinstance(bands, list):
        return bands or []
    return [{"id": f"where-{at}", "verb": "keep_within" if at else "take", "source": band}
            for at, band in enumerate(bands)]  # fmt: skip


def _first(data: dict[str, Any]) -> dict[str, Any]:
    ground = dict(data.get("ground") or {})
    readings = list(data.get("readings") or [])
    width = ground.pop("slope_width", None)
    if width is not None:
        readings.append({"id": "slope", "kind": "slope", "numbers": {"width": width}})
    if ground.get("file_format") == "raw16":
        ground |= {"file_format": "raw", "sample": "u16"}
    return {**data, "ground": ground, "readings": readings}


def made_by_another(data: Any) -> str | None:
    """A sentence when a document says that it was made by a version that this one does not know; None otherwise."""
    version = data.get("version") if isinstance(data, dict) else None
    if not isinstance(version, int) or version <= NEWEST:
        return None
    return f"It was saved by a newer version of the application (document {version}; this one reads up to {NEWEST})."
