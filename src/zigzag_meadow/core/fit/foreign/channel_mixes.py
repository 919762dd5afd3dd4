"""What follows what: mixes of a map's channels and of the height's traits, at a place.

How alike they are is told by canonical correlations (Hotelling 1936, Relations between two sets of variates): which
mix of the map's channels follows which mix of the height's traits best, so that forest on an aerial picture, or
anything else that has nothing to do with the ground, leaves alone what does.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.registering import Fitting, resized, sampled

__all__ = ["DETAIL", "Mix", "detail_in", "mixed", "seen_at", "sharp_even"]

F64 = NDArray[np.float64]
CALM = 10
DETAIL = 25
"""Parts of the longer side over which means are taken away: from what is searched, and to tell chance from more."""


def _sharp(planes: F64, longer: int, inside: NDArray[np.bool_] | None = None, calm: int = CALM) -> F64:
    """Without what varies slowly, over parts of ``longer`` samples, which is alike on any two grounds. Only what is
    ``inside`` counts."""
    rows, cols = planes.shape[:2]
    cells = [max(round(calm * n / longer), 2) for n in (rows, cols)]
    y, x = ((np.arange(n) + 0.5) * (k / n) - 0.5 for n, k in zip((rows, cols), cells, strict=True))
    if inside is None or inside.all():
        slow = resized(planes, *cells)
    else:
        # A border between what counts and what does not must not look like something of the ground.
        there = inside[:, :, None].astype(np.float64)
        weight = resized(there, *cells)
        slow = (resized(planes * there, *cells) + 1e-3 * planes[inside].mean(axis=0)) / (weight + 1e-3)
    out: F64 = planes - sampled(slow, y, x, "cubic")
    return out


def sharp_even(planes: F64, longer: int) -> F64:
    """The same with a spread of 1 for all."""
    out = _sharp(planes, longer)
    spread = out.std(axis=(0, 1))
    made: F64 = out / np.where(spread > 1e-9, spread, 1.0)
    return made


def detail_in(planes: F64) -> float:
    """How much of what varies within parts of the longer side varies over shorter distances yet, 0–1."""
    longer = max(planes.shape[:2])
    fine, all_of_it = (float(np.square(_sharp(planes, longer, calm=calm)).sum()) for calm in (DETAIL, CALM))
    return fine / all_of_it if all_of_it > 0 else 0.0


def seen_at(planes: F64, found: Fitting, shape: tuple[int, int]) -> tuple[F64, NDArray[np.bool_]]:
    """Planes of the height where the samples of an upright map of ``shape`` lie, and which of those lie on it."""
    rows, cols = planes.shape[:2]
    y = (found.top + (np.arange(shape[0]) + 0.5) / shape[0] * found.down) * rows - 0.5
    x = (found.left + (np.arange(shape[1]) + 0.5) / shape[1] * found.across) * cols - 0.5
    inside = np.outer((y > -0.5) & (y < rows - 0.5), (x > -0.5) & (x < cols - 0.5))
    return sampled(planes, y, x), inside


@dataclass(frozen=True, slots=True)
class Mix:
    """What follows what at a place: of ``values`` (samples, ways), mixed of a map's parts, ``shares`` are explained by
    ``weights`` (traits, ways) of the traits there, those explained best first.

    ``there``: (rows, columns, traits) on the map's grid, of which the samples ``inside`` count; ``products``: mean
    products about their means of traits with traits, parts with parts, traits with parts.
    """

    weights: F64
    shares: F64
    values: F64
    there: F64
    inside: NDArray[np.bool_]
    products: tuple[F64, F64, F64]

    @property
    def gain(self) -> float:
        return _gain(self.shares)

    def gain_without(self, traits: list[int]) -> float:
        """The gain without some of the traits."""
        xx, yy, xy = self.products
        kept = np.delete(np.arange(len(xx)), traits)
        return _gain(_canonical(xx[np.ix_(kept, kept)], yy, xy[kept])[2])


def _gain(shares: F64) -> float:
    """Minus the logarithm of Wilks' lambda."""
    return -float(np.log1p(-np.clip(shares, 0.0, 0.99999)).sum())


def _canonical(xx: F64, yy: F64, xy: F64) -> tuple[F64, F64, F64]:
    """(how parts are mixed, how traits are, shares explained) by mean products; those explained best come first."""
    weights = np.linalg.solve(xx, xy)
    root = np.linalg.inv(np.linalg.cholesky(yy)).T
    shares, turned = np.linalg.eigh(root.T @ xy.T @ weights @ root)
    own = root @ turned[:, ::-1]
    return own, weights @ own, np.clip(shares[::-1], 0.0, 1.0)


def _over(planes: F64, parts: F64, found: Fitting, calm: int = CALM) -> tuple[F64, F64, NDArray[np.bool_]]:
    """(planes of the height where a map lies, the map, where both are): on the map's grid, both without what varies
    slowly, which is taken away after they are laid on each other: so the same is taken from either."""
    there, inside = seen_at(planes, found, parts.shape[:2])
    if not inside.any():
        return there, parts, inside
    longer = max(parts.shape[:2])
    return _sharp(there, longer, inside, calm), _sharp(parts, longer, inside, calm), inside


def mixed(traits: F64, parts: F64, found: Fitting, calm: int = CALM) -> Mix:
    """Which mix of the map's parts follows which mix of traits at a place, in what varies within a part (one of
    ``calm`` along the longer side)."""
    there, upright, inside = _over(traits, parts, found, calm)
    many, ways = np.count_nonzero(inside), parts.shape[2]
    if many < 100:
        n = traits.shape[2]
        products = np.eye(n), np.eye(ways), np.zeros((n, ways))
        return Mix(products[2], np.zeros(ways), upright[inside], there, inside, products)
    x, y = there[inside], upright[inside]
    y = y - y.mean(axis=0)
    from_x = x.mean(axis=0)
    xx, yy, xy = x.T @ x / many - np.outer(from_x, from_x), y.T @ y / many, x.T @ y / many
    for product, least in ((xx, 1e-4), (yy, 1e-6)):
        product[np.diag_indices_from(product)] += least * max(float(np.trace(product)) / len(product), 1e-12)
    own, weights, shares = _canonical(xx, yy, xy)
    return Mix(weights, shares, y @ own, there, inside, (xx, yy, xy))
