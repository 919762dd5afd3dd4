"""The project that deliveries are measured with: five masks, two sheets of four weights, colours of plain layers."""

from __future__ import annotations

from typing import Any

import numpy as np

SIDE = 4081
SPACING = 2.0
LOW, HIGH = 20.0, 620.0
BANDS = (
    ("slope", 32.0, 90.0, 6.0),
    ("slope", 0.0, 8.0, 4.0),
    ("height", 350.0, 620.0, 60.0),
    ("height", 20.0, 80.0, 25.0),
    ("slope", 12.0, 28.0, 5.0),
    ("height", 180.0, 320.0, 40.0),
    ("slope", 40.0, 90.0, 5.0),
)
COLOURS = ("#6d7a4a", "#8a8c86", "#5a4733", "#b8b4a8", "#3f6f6a", "#8a5c7d", "#9c9a92", "#c4bfb4")
FLOW = (400.0, 4e6)


def heights(side: int = SIDE) -> np.ndarray:
    """A rolling ground as uint16 over its whole range."""
    rng = np.random.default_rng(11)
    y, x = np.mgrid[0:side, 0:side].astype(np.float32) / side
    z = np.zeros((side, side), np.float32)
    for k in range(9):
        a, b, c = [*rng.uniform(3, 60 / (1 + 0.1 * k), 2).tolist(), rng.uniform(0, 6)]
        z += (np.sin(a * x + b * y + c) / (k + 1)).astype(np.float32)
    z += 1.5 * x - 0.9 * y
    return np.round((z - z.min()) / (z.max() - z.min()) * 65535).astype(np.uint16)


def document(asset: str, side: int = SIDE) -> dict[str, Any]:
    """The same as a project document."""
    masks = [
        {
            "id": f"m{k}",
            "name": f"Mask {k}",
            "lines": [
                {
                    "id": "a",
                    "verb": "take",
                    "source": {
                        "kind": "band",
                        "reading": reading,
                        "low": low,
                        "high": high,
                        "fade_low": fade,
                        "fade_high": fade,
                    },
                }
            ],
        }
        for k, (reading, low, high, fade) in enumerate(BANDS)
    ]
    layers = [{"id": f"l{k}", "name": f"Layer {k}", "mask": f"m{k}", "colour": COLOURS[k + 1]} for k in range(7)]
    weights: list[dict[str, str]] = [{"kind": "weight", "layer": f"l{k}"} for k in range(7)]
    weights.append({"kind": "base"})
    sheets = [
        {
            "id": f"s{n}",
            "name": f"splat_{n}",
            "layout": "rgba",
            **dict(zip("rgba", weights[4 * n : 4 * n + 4], strict=True)),
        }
        for n in range(2)
    ]
    items = [{"of": of, "deliver": True} for of in ("colour", "surface:normal", "surface:occlusion")]
    items.append({"of": "reading:flow", "deliver": True, "form": "png16", "black": FLOW[0], "white": 2e4})
    return {
        "name": "Bench",
        "ground": {
            "asset": asset,
            "file_name": "bench.png",
            "file_format": "png",
            "depth": "16",
            "rows": side,
            "cols": side,
            "stored_low": 0,
            "stored_high": 65535,
            "low": LOW,
            "high": HIGH,
            "spacing_x": SPACING,
            "spacing_y": SPACING,
        },
        "masks": masks,
        "layers": layers,
        "base": {"name": "Base", "colour": COLOURS[0]},
        "sheets": sheets,
        "coats": [{"kind": "layers", "id": "c", "how": "plain"}],
        "delivery": {"target": "block-grid", "rows": side, "cols": side, "items": items},
    }
