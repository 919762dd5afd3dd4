"""Readings of surfaces whose derivatives are known: plane, cone, paraboloid and sine ridge, with unequal spacing, in
all eight orientations. Expected values come from calculus, not from any code of ours."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import pytest

from tests.support.ground import document, evaluation, lay

ROWS, COLS, DY, DX = 81, 97, 1.5, 2.0
QUARTERS = [np.array([[c, -s], [s, c]], float) for c, s in ((1, 0), (0, 1), (-1, 0), (0, -1))]
ORIENTATIONS = [m @ flip for m in QUARTERS for flip in (np.eye(2), np.diag([-1.0, 1.0]))]
Parts = tuple[np.ndarray, ...]


@dataclass(frozen=True)
class Surface:
    """z, its gradient (two) and its second derivatives (uu, uv, vv) at metres u, v from the middle."""

    at: Callable[[np.ndarray, np.ndarray], Parts]
    within: float
    """How far readings in degrees may be off: differences are taken over metres, not over nothing."""


def plane(u: np.ndarray, v: np.ndarray) -> Parts:
    o = np.zeros_like(u)
    return 0.4 * u + 0.25 * v, o + 0.4, o + 0.25, o, o, o


def cone(u: np.ndarray, v: np.ndarray) -> Parts:
    u, v = u + 400, v + 300
    r = np.hypot(u, v)
    return -0.6 * r, -0.6 * u / r, -0.6 * v / r, -0.6 * v**2 / r**3, 0.6 * u * v / r**3, -0.6 * u**2 / r**3


def paraboloid(u: np.ndarray, v: np.ndarray) -> Parts:
    u, v = u + 140, v + 110
    o = np.zeros_like(u)
    return (
        u**2 / 600 + v**2 / 400 + u * v / 900,
        u / 300 + v / 900,
        v / 200 + u / 900,
        o + 1 / 300,
        o + 1 / 900,
        o + 1 / 200,
    )


def sine_ridge(u: np.ndarray, v: np.ndarray) -> Parts:
    k, o = 2 * math.pi / 260, np.zeros_like(u)
    wave = 25 * np.sin(k * u + 0.5)
    return wave + 0.2 * v, 25 * k * np.cos(k * u + 0.5), o + 0.2, -k * k * wave, o, o


SURFACES = {
    "plane": Surface(plane, 1e-3),
    "cone": Surface(cone, 0.02),
    "paraboloid": Surface(paraboloid, 0.05),
    "sine ridge": Surface(sine_ridge, 0.05),
}


def turned(surface: Surface, m: np.ndarray) -> Parts:
    """The surface seen after turning or mirroring the map: z, p, q, r, s, t with x east and y north."""
    x = (np.arange(COLS) - (COLS - 1) / 2)[None, :] * DX + np.zeros((ROWS, 1))
    y = ((ROWS - 1) / 2 - np.arange(ROWS))[:, None] * DY + np.zeros((1, COLS))
    z, a, b, aa, ab, bb = surface.at(m[0, 0] * x + m[0, 1] * y, m[1, 0] * x + m[1, 1] * y)
    p, q = m[0, 0] * a + m[1, 0] * b, m[0, 1] * a + m[1, 1] * b
    second = np.einsum("ki,kl...,lj->ij...", m, np.array([[aa, ab], [ab, bb]]), m)
    return z, p, q, second[0, 0], second[0, 1], second[1, 1]


@pytest.fixture(scope="module")
def ground(tmp_path_factory):
    data = document(ROWS, COLS, masks=[], layers=[], sheets=[])
    data["ground"] |= {
        "spacing_x": DX,
        "spacing_y": DY,
        "heights": "stored",
        "stored_low": 0,
        "stored_high": 1,
        "water": None,
    }
    _, ev = evaluation(tmp_path_factory.mktemp("known"), data)
    return ev


@pytest.mark.parametrize("m", ORIENTATIONS, ids=range(8))
@pytest.mark.parametrize("name", SURFACES)
def test_readings_of_a_known_surface(ground, name, m):
    surface = SURFACES[name]
    z, p, q, r, s, t = turned(surface, m)
    ev = ground.engine.evaluation(ground.project)
    ev.engine.cache._held.clear()
    lay(ev, ev.graph.stage().ground, z.astype(np.float32))
    inner = np.s_[8:-8, 8:-8]

    def measured(reading: str) -> np.ndarray:
        return ev.map(f"reading:{reading}").astype(np.float64)[inner]

    g = p * p + q * q
    steep = np.degrees(np.arctan(np.sqrt(g)))[inner]
    assert np.abs(measured("slope") - steep).max() < surface.within
    falls = np.degrees(np.arctan2(-p, -q))[inner]
    assert np.abs((measured("aspect") - falls + 180) % 360 - 180).max() < 5 * surface.within
    assert measured("texture_stretch") == pytest.approx(np.sqrt(1 + g)[inner], abs=0.002)
    # The rate at which the fall line steepens, the bend of contours, of the section across, and the mean of all.
    along, across = p * p * r + 2 * p * q * s + q * q * t, q * q * r - 2 * p * q * s + p * p * t
    bends = {
        "profile_curvature": -along / (g * (1 + g) ** 1.5),
        "plan_curvature": -across / g**1.5,
        "tangential_curvature": -across / (g * np.sqrt(1 + g)),
        "mean_curvature": -((1 + q * q) * r - 2 * p * q * s + (1 + p * p) * t) / (2 * (1 + g) ** 1.5),
    }
    for reading, expected in bends.items():
        off = np.abs(measured(reading) - expected[inner]).max()
        assert off < max(0.02 * np.abs(expected[inner]).max(), 2e-5), (reading, off)
    # Neighbours three spacings away: the root of the mean square of how far they lie above or below.
    wy, wx = 3 * DY, 3 * DX
    steps = [(i * wx, j * wy) for i in (-1, 0, 1) for j in (-1, 0, 1) if i or j]
    rises = [p * i + q * j + (r * i * i + 2 * s * i * j + t * j * j) / 2 for i, j in steps]
    rough = np.sqrt(np.mean(np.square(rises), axis=0))[inner]
    assert measured("ruggedness") == pytest.approx(rough, rel=0.02, abs=0.01)


@pytest.mark.parametrize("m", ORIENTATIONS, ids=range(8))
def test_light_and_shelter_of_a_plane(ground, m):
    """A plane hides nothing of itself, and is as bright everywhere as its angle to the sun says."""
    z, p, q, *_ = turned(SURFACES["plane"], m)
    ev = ground.engine.evaluation(ground.project)
    ev.engine.cache._held.clear()
    lay(ev, ev.graph.stage().ground, z.astype(np.float32))
    assert ev.map("reading:occlusion_far")[8:-8, 8:-8] == pytest.approx(0, abs=1e-3)
    az, al = math.radians(315), math.radians(45)
    sun = np.array([math.sin(az) * math.cos(al), math.cos(az) * math.cos(al), math.sin(al)])
    facing = float(sun @ np.array([-p[0, 0], -q[0, 0], 1]) / math.sqrt(1 + p[0, 0] ** 2 + q[0, 0] ** 2))
    assert ev.map("reading:shade") == pytest.approx(np.full(z.shape, 1 + 254 * facing), abs=0.5)
    assert ev.map("reading:sun") == pytest.approx(np.full(z.shape, facing), abs=0.01)
    radius = float(ev.graph.reading("relative_height").params["radius"])
    far = int(radius / DY) + 2
    assert np.abs(ev.map("reading:relative_height")[far:-far, far:-far]).max() < 0.02
    low, high = z.min(), z.max()
    assert ev.map("reading:altitude") == pytest.approx((z - low) / (high - low), abs=1e-5)
