"""Grounds and maps made from them, turned, cropped, resized, recoloured and made noisy: what comes from elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import imagecodecs
import numpy as np

from zigzag_meadow.core.fit.alignment import ORIENTATIONS
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.survey.world import aerial_tile, height_tile
from zigzag_meadow.core.terrain.flow import flow

DEMO = Path(__file__).resolve().parents[2] / "demo"
SIDE = 1024


@dataclass(frozen=True)
class Pair:
    """``part``: (top, left, down, across) of the height that the map shows once it is put right, as shares; None where
    the two have nothing to do with each other."""

    name: str
    height: np.ndarray
    map: np.ndarray
    orientation: str
    part: tuple[float, float, float, float] | None


def fresh(seed: int, side: int = SIDE) -> np.ndarray:
    """Hills by the sum of many waves, cut by valleys."""
    rng = np.random.default_rng(seed)
    spectrum = rng.normal(size=(side, side)) + 1j * rng.normal(size=(side, side))
    fy, fx = np.fft.fftfreq(side)[:, None] * side, np.fft.fftfreq(side)[None] * side
    f = np.hypot(fy, fx)
    f[0, 0] = 1
    z = np.real(np.fft.ifft2(spectrum * f ** -float(rng.uniform(1.9, 2.4)) * (f > 1.5)))
    z = z / z.std()
    return (z + 0.8 * np.abs(z)).astype(np.float64) * 100


def demo(name: str) -> np.ndarray:
    z = imagecodecs.png_decode((DEMO / name).read_bytes()).astype(np.float64)
    n = min(z.shape)
    return cv2.resize(z[:n, :n], (SIDE, SIDE), interpolation=cv2.INTER_LINEAR) / 65535 * 500


def surveyed(column: int, row: int, level: int = 7) -> tuple[np.ndarray, np.ndarray]:
    """Heights and aerial picture of four by four tiles of the survey."""
    pool = Stripes(1)
    tiles = [(row + r, column + c) for r in range(4) for c in range(4)]
    z = [height_tile(level, c, r, pool) for r, c in tiles]
    a = [aerial_tile(level, c, r, pool) for r, c in tiles]
    join = lambda t: np.concatenate([np.concatenate(t[4 * k : 4 * k + 4], axis=1) for k in range(4)])  # noqa: E731
    return join(z).astype(np.float64), join(a)


def slope_of(z: np.ndarray) -> np.ndarray:
    dy, dx = np.gradient(z)
    return np.hypot(dy, dx)


def mask(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """A band of slope or height, fading at its edges."""
    of = slope_of(z) if rng.random() < 0.6 else z
    low, high = np.quantile(of, sorted(rng.uniform(0.15, 0.95, 2)))
    wide = max(high - low, 0.1 * float(of.std()))
    return np.clip(1.5 - np.abs(of - (low + high) / 2) / wide, 0, 1)[:, :, None]


def splat(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    parts = [mask(z, rng)[:, :, 0] for _ in range(3)]
    left = np.maximum(1 - sum(parts), 0)
    whole = np.stack([*parts, left], axis=-1)
    return whole / np.maximum(whole.sum(axis=2, keepdims=True), 1e-9)


def colour(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Painted by height and slope, with a random palette and blotches that have nothing to do with the ground."""
    palette = rng.uniform(0, 1, (5, 3))
    t = (z - z.min()) / np.ptp(z) * 3.999
    k = t.astype(int)
    u = (t - k)[:, :, None]
    base = palette[k] * (1 - u) + palette[k + 1] * u
    steep = np.clip(slope_of(z) / np.quantile(slope_of(z), 0.9), 0, 1)[:, :, None]
    blotch = cv2.GaussianBlur(rng.normal(size=z.shape).astype(np.float32), (0, 0), 12)
    return base * (1 - 0.6 * steep) + 0.3 * steep + 0.05 * (blotch / blotch.std())[:, :, None]


def running(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    wet, _ = flow(z.astype(np.float32), Grid(*z.shape, 4.0, 4.0))
    return np.clip(np.log2(np.maximum(wet, 16)) / 20, 0, 1)[:, :, None].astype(np.float64)


def normals(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    dy, dx = np.gradient(z / 4)
    n = np.stack([-dx, dy, np.ones_like(z)], axis=-1)
    return n / np.linalg.norm(n, axis=2, keepdims=True) * 0.5 + 0.5


def height(z: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    return ((z - z.min()) / np.ptp(z))[:, :, None]


KINDS = {"mask": mask, "splat": splat, "colour": colour, "flow": running, "normals": normals, "height": height}


def _resized(a: np.ndarray, rows: int, cols: int) -> np.ndarray:
    less = rows < a.shape[0]
    how = cv2.INTER_AREA if less else cv2.INTER_LINEAR
    return cv2.resize(a.astype(np.float32), (cols, rows), interpolation=how).reshape(rows, cols, -1).astype(np.float64)


def pair(name: str, z: np.ndarray, made: np.ndarray, rng: np.random.Generator) -> Pair:
    """A height and a map of the same ground, as somebody else would have saved them."""
    n = z.shape[0]
    top, left, down, across = 0, 0, n, n
    way = rng.random()
    part, of = made, z
    if way < 0.4:
        down, across = (int(n * rng.uniform(0.55, 0.95)) for _ in range(2))
        top, left = int(rng.integers(0, n - down + 1)), int(rng.integers(0, n - across + 1))
        if way < 0.3:
            part = made[top : top + down, left : left + across]
        else:
            across = down
            top, left = int(rng.integers(0, n - down + 1)), int(rng.integers(0, n - down + 1))
            of = z[top : top + down, left : left + down]
    h = int(rng.choice([256, 512, 1009, 1024, 2048])) if rng.random() < 0.8 else int(rng.integers(300, 1100))
    of = _resized(of, h, h)[:, :, 0]
    # A crop keeps its samples square.
    side = int(rng.choice([256, 512, 1024])) if rng.random() < 0.7 else int(rng.integers(256, 1300))
    rows = max(round(side * part.shape[0] / n), 64)
    cols = max(round(rows * part.shape[1] / part.shape[0]), 64)
    part = _resized(part, rows, cols)
    part = part + rng.normal(0, float(rng.choice([0, 0.02, 0.06])) * part.std(), part.shape)
    part = np.clip(part, 0, 1) ** float(rng.choice([1.0, 1.0, 0.7, 1.6]))
    turn = ORIENTATIONS[int(rng.integers(8))]
    where = (top / n, left / n, down / n, across / n)
    if way < 0.4 and way >= 0.3:
        where = (-top / down, -left / down, n / down, n / down)
    stored = np.floor(np.ascontiguousarray(turn.harm(part)) * 255 + 0.5).astype(np.uint8)
    return Pair(name, of, stored, turn.id, where)


def pairs(count: int, seed: int, unrelated: float = 0.25) -> list[Pair]:
    """Pairs of many kinds; some of them do not belong together."""
    rng = np.random.default_rng(seed)
    grounds: list[tuple[str, np.ndarray, np.ndarray | None]] = [
        ("lantern moor", demo("lantern_moor.png"), None),
        ("skerry sound", demo("skerry_sound.png"), None),
        *((f"survey {c} {r}", *surveyed(c, r)) for c, r in ((88, 30), (70, 90), (25, 100), (100, 70))),
        *((f"fresh {k}", fresh(k), None) for k in range(4)),
    ]
    # Of a survey that is mostly sea nothing can be told.
    grounds = [item for item in grounds if (item[1] > np.quantile(item[1], 0.02) + 5).mean() > 0.6]
    made = []
    for k in range(count):
        name, z, aerial = grounds[int(rng.integers(len(grounds)))]
        kind = str(rng.choice(list(KINDS)))
        if rng.random() < unrelated:
            others = [item for item in grounds if item[0] != name]
            _, z2, _ = others[int(rng.integers(len(others)))]
            found = pair(f"{k} {kind}, unrelated", z2, KINDS[kind](z2, rng), rng)
            side = found.height.shape[0]
            made.append(Pair(found.name, _resized(z, side, side)[:, :, 0], found.map, "", None))
        elif aerial is not None and rng.random() < 0.4:
            made.append(pair(f"{k} aerial of {name}", z, aerial / 255.0, rng))
        else:
            made.append(pair(f"{k} {kind} of {name}", z, KINDS[kind](z, rng), rng))
    return made


def off_by(found: tuple[float, float, float, float], pair: Pair) -> float:
    """How far corners lie off where they should, in samples of the coarser of the two."""
    if pair.part is None:
        return np.inf
    rows = [pair.height.shape[0], pair.map.shape[0] / pair.part[2]]
    cols = [pair.height.shape[1], pair.map.shape[1] / pair.part[3]]
    if next(turn.swaps for turn in ORIENTATIONS if turn.id == pair.orientation):
        rows[1], cols[1] = pair.map.shape[1] / pair.part[2], pair.map.shape[0] / pair.part[3]
    a, b = np.array(found), np.array(pair.part)
    ends = [a[0] - b[0], a[0] + a[2] - b[0] - b[2]], [a[1] - b[1], a[1] + a[3] - b[1] - b[3]]
    return max(max(np.abs(ends[0])) * min(rows), max(np.abs(ends[1])) * min(cols))
