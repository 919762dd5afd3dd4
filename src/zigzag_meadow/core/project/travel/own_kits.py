"""The kits that come with the application: moor, coast, high alp."""

from __future__ import annotations

from typing import Any

from zigzag_meadow.core.project.travel.kit import Kit, parse_kit

__all__ = ["OWN_KITS"]

MUCH = 1e9


def _band(reading: str, low: float, high: float, fade_low: float = 0, fade_high: float = 0, **more: Any) -> Any:
    return {
        "kind": "band",
        "reading": reading,
        "low": low,
        "high": high,
        "fade_low": fade_low,
        "fade_high": fade_high,
        **more,
    }


def _mask(mask_id: str, name: str, *lines: dict[str, Any]) -> dict[str, Any]:
    return {"id": mask_id, "name": name, "lines": [{"id": f"l{n}", **line} for n, line in enumerate(lines)]}


def _use(mask: str) -> dict[str, Any]:
    return {"kind": "mask", "mask": mask}


HANGING = {
    "id": "hanging",
    "name": "Hanging breakup",
    "note": "Slope, hollows and noise, each weighed, hung on the slope so that it runs down the gullies.",
    "lines": [
        {
            "id": "a",
            "verb": "take",
            "source": {"kind": "reading", "reading": "slope", "black": 4, "white": 42},
            "strength": 0.6,
        },
        {
            "id": "b",
            "verb": "add",
            "source": {"kind": "reading", "reading": "mean_curvature", "black": -0.004, "white": 0.012},
            "strength": 0.35,
        },
        {
            "id": "c",
            "verb": "multiply",
            "source": {"kind": "reading", "reading": "noise", "black": 0.25, "white": 0.7},
            "strength": 0.7,
        },
        {"id": "d", "verb": "drift", "way": "down", "by": 30},
        {"id": "e", "verb": "stretch", "clip": 0.02},
    ],
    "exposed": [
        {"id": "slope", "title": "Slope", "line": "a", "field": "strength"},
        {"id": "hollows", "title": "Hollows", "line": "b", "field": "strength"},
        {"id": "noise", "title": "Noise", "line": "c", "field": "strength"},
        {"id": "by", "title": "Hangs down", "line": "d", "field": "by"},
    ],
}

_HUNG = {"verb": "piece", "piece": "hanging", "how": "keep_within", "strength": 0.5}

_MOOR = {
    "kit": 1,
    "name": "Moor",
    "note": "Scree, a reed margin, peat, heather and the moor grass that neither takes.",
    "heights": {"low": 38, "high": 458, "water": 61},
    "pieces": [HANGING],
    "masks": [
        _mask(
            "scree",
            "Scree",
            {"verb": "take", "source": _band("slope", 32, 90, 6)},
            {"verb": "fray", "reach": 10, "size": 45},
        ),
        _mask(
            "reeds",
            "Reed margin",
            {"verb": "take", "source": _band("height_over_water", 0, 3, 0, 2)},
            {"verb": "keep_within", "source": _band("distance_to_water", 0, 40, 0, 25)},
            {"verb": "leave_out", "source": _use("scree")},
        ),
        _mask(
            "peat",
            "Peat",
            {"verb": "take", "source": _band("slope", 0, 8, 0, 5)},
            {"verb": "keep_within", "source": _band("height", 64, 190, 4, 60)},
            {"verb": "leave_out", "source": _use("reeds")},
        ),
        _mask(
            "heather",
            "Heather",
            {"verb": "take", "source": _band("height", 150, 460, 70)},
            {"verb": "leave_out", "source": _band("slope", 27, 90, 9), "strength": 0.8},
            dict(_HUNG),
        ),
        _mask(
            "grass",
            "Moor grass",
            {"verb": "take", "source": {"kind": "plain", "value": 1}},
            {"verb": "leave_out", "source": _use("scree")},
            {"verb": "leave_out", "source": _use("reeds")},
        ),
    ],
}

_COAST = {
    "kit": 1,
    "name": "Coast",
    "note": "Wet shore, dune, turf above the spray, bare cliffs.",
    "heights": {"low": -40, "high": 180, "water": 0},
    "pieces": [HANGING],
    "masks": [
        _mask("shore", "Wet shore", {"verb": "take", "source": _band("height", -60, 2, 0, 2)}),
        _mask("cliff", "Cliff", {"verb": "take", "source": _band("slope", 38, 90, 7)}, dict(_HUNG)),
        _mask(
            "dune",
            "Dune",
            {"verb": "take", "source": _band("height", 2, 12, 1, 4)},
            {"verb": "leave_out", "source": _band("slope", 24, 90, 8)},
            {"verb": "fray", "reach": 9, "size": 35},
        ),
        _mask(
            "turf",
            "Turf",
            {"verb": "take", "source": _band("height", 12, 400, 5)},
            {"verb": "leave_out", "source": _use("cliff")},
        ),
    ],
}

_ALP = {
    "kit": 1,
    "name": "High alp",
    "note": "Firn, rock, scree below it, alpine meadow, scrub in the shelter.",
    "heights": {"low": 1200, "high": 3100, "water": None},
    "pieces": [HANGING],
    "masks": [
        _mask("rock", "Rock face", {"verb": "take", "source": _band("slope", 42, 90, 6)}),
        _mask(
            "firn",
            "Firn",
            {"verb": "take", "source": _band("height", 2600, 3200, 180)},
            {"verb": "leave_out", "source": _band("slope", 45, 90, 8)},
            {"verb": "drift", "way": "down", "by": 20},
        ),
        _mask(
            "scree",
            "Scree",
            {"verb": "take", "source": _band("slope", 30, 42, 4, 5)},
            {"verb": "trickle", "by": 90, "strength": 0.6},
            {"verb": "leave_out", "source": _use("rock")},
        ),
        _mask(
            "meadow",
            "Alpine meadow",
            {"verb": "take", "source": _band("height", 1200, 2300, 0, 200)},
            {"verb": "leave_out", "source": _band("slope", 30, 90, 7)},
        ),
        _mask(
            "scrub",
            "Scrub",
            {"verb": "take", "source": _band("height", 1200, 2000, 0, 150)},
            {"verb": "keep_within", "source": _band("relative_height", -400, -10, 0, 25)},
            dict(_HUNG),
        ),
    ],
}

OWN_KITS: dict[str, Kit] = {
    "moor": parse_kit(_MOOR),
    "coast": parse_kit(_COAST),
    "high-alp": parse_kit(_ALP),
}
