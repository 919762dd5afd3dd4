"""One way in which a map may lie on a height, and steps towards a better one nearby."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import Orientation
from zigzag_meadow.core.fit.foreign.channel_mixes import Mix, mixed, seen_at
from zigzag_meadow.core.fit.registering import Fitting

__all__ = ["FARTHEST", "Placing", "refined"]

F64 = NDArray[np.float64]
FARTHEST = 0.15
"""By which share steps may change a scale: beyond that another start is nearer."""
UNLIKELY = 20.0
"""Evidence that a map e times as large, or as small, as its ground must have more."""
BENT = [0, 3]
"""Height and slope among the traits."""
FALLS = [1, 2]
MOSTLY = 0.6
"""The ways the ground falls among them: they make up for a shift, which then is hard to find, and are left out where
so much of what is explained is explained without."""
BENDS = 64
DAMPED = 1e-3
SETTLED = 3e-4
"""What more is gained is not worth another step."""
TOGETHER = 9.0
"""Samples of the coarse grid that vary together: so many count as one."""


@dataclass(frozen=True, slots=True)
class Placing:
    """One way in which a map may lie: put upright by an orientation's ``mend``, it shows the part ``fitting`` of the
    height. ``gain``: how much less is left of the map once the height's traits explain what they can (minus the
    logarithm of Wilks' lambda); ``terms``: how many numbers could be chosen for that; ``side``: samples looked at."""

    orientation: Orientation
    fitting: Fitting
    gain: float
    terms: int = 0
    side: int = 64

    @property
    def evidence(self) -> float:
        """How much more likely this is than chance: what many terms explain of few samples proves little (the ratio of
        likelihoods, less something for every term)."""
        f = self.fitting
        tall = min(f.top + f.down, 1.0) - max(f.top, 0.0)
        wide = min(f.left + f.across, 1.0) - max(f.left, 0.0)
        # Most maps are as large as their ground; the further from that, the more must speak for it.
        prior = UNLIKELY * abs(float(np.log(max(f.down * f.across, 1e-3))))
        # Of a map that covers more than the height, fewer samples lie on it.
        samples = self.side**2 * max(tall, 0.0) * max(wide, 0.0) / max(f.down * f.across, 1.0)
        return samples / TOGETHER * self.gain - 1.5 * self.terms - prior


def _bent(traits: F64, parts: F64, found: Fitting) -> F64:
    """What parts of a map are on average at every height and at every slope, as traits on the height's grid: narrow
    bands of either are found that no trait knows of (the correlation ratio, Roche et al. 1998)."""
    there, inside = seen_at(traits[:, :, BENT], found, parts.shape[:2])
    values = parts[inside]
    made: list[F64] = []
    for k, trait in enumerate(BENT):
        at = there[:, :, k][inside]
        marks = np.unique(np.quantile(at[:: 1 + len(at) // 20000], np.linspace(0, 1, BENDS + 1)[1:-1]))
        cell = np.searchsorted(marks, at)
        many = np.bincount(cell, minlength=len(marks) + 1)
        full = many > 0
        middle = np.bincount(cell, at, len(many))[full] / many[full]
        for of in values.T:
            mean = np.bincount(cell, of, len(many))[full] / many[full]
            made.append(np.interp(traits[:, :, trait], middle, mean))
    return np.stack(made, axis=-1)


def refined(traits: F64, parts: F64, start: Placing, side: int, steps: int, close: bool = False) -> Placing:
    """A placing after some steps towards more that is explained (Lucas and Kanade 1981), longer ones as long as that
    helps.

    ``traits``: (rows, columns, traits) of the height, ``parts``: (rows, columns, parts) of the map put upright, both
    with at most ``side`` samples along a side; ``close``: with what the map is on average at every height and slope as
    further traits.
    """
    left_out: list[int] = []

    def mix_at(at: Fitting) -> Mix:
        if not close:
            return mixed(traits, parts, at)
        return mixed(np.delete(np.concatenate([traits, _bent(traits, parts, at)], axis=2), left_out, axis=2), parts, at)

    now, mix, stretch = start.fitting, mix_at(start.fitting), 1.0
    if close and mix.gain_without(FALLS) > MOSTLY * mix.gain > 0:
        left_out += FALLS
        mix = mix_at(now)
    there: Fitting | None = None
    for _ in range(steps - 1):
        if mix.gain <= 0:
            break
        there = there or _nearer(mix, now)
        if max(abs(a - b) for a, b in zip(there.corners, now.corners, strict=True)) < 0.02 / side:
            break
        on = _beyond(now, there, stretch)
        tried = mix_at(on)
        more = tried.gain - mix.gain
        if more > 0:
            now, mix, there, stretch = on, tried, None, min(2 * stretch, 16.0)
            if more < SETTLED:
                break
        elif stretch <= 0.5:
            break
        else:
            stretch = 1.0 if stretch > 1 else 0.5 * stretch
        if max(abs(now.down / start.fitting.down - 1), abs(now.across / start.fitting.across - 1)) > FARTHEST:
            break
    return Placing(start.orientation, now, mix.gain, traits.shape[2] * parts.shape[2], side)


def _beyond(a: Fitting, b: Fitting, stretch: float) -> Fitting:
    """From one fitting to another and on."""
    return Fitting(
        *(p + stretch * (q - p) for p, q in ((a.top, b.top), (a.left, b.left), (a.down, b.down), (a.across, b.across)))
    )


def _nearer(mix: Mix, now: Fitting) -> Fitting:
    """A fitting one step nearer to where most is explained, traits being mixed anew on the way (variable projection,
    Golub and Pereyra 1973, simplified as by Kaufman 1975)."""
    rows, cols = mix.inside.shape
    made = mix.there @ mix.weights
    down, across = (np.asarray(g) for g in np.gradient(made, axis=(0, 1)))
    gy, gx = down * (rows / now.down), across * (cols / now.across)
    ys, xs = ((np.arange(n) + 0.5) / n for n in (rows, cols))
    x = mix.there[mix.inside]
    x = x - x.mean(axis=0)
    moves = np.stack([gy, gx, gy * ys[:, None, None], gx * xs[None, :, None]], axis=-1)[mix.inside]
    flat = moves.reshape(len(x), -1)
    flat = flat - flat.mean(axis=0)
    # What a move does that a new mix would do as well tells nothing of the place.
    flat = flat - x @ np.linalg.solve(mix.products[0], x.T @ flat / len(x))
    # What is explained well tells the place best (generalised least squares).
    weigh = 1 / np.sqrt(1.03 - mix.shares)
    jac = (flat.reshape(len(x), len(weigh), 4) * weigh[:, None]).reshape(-1, 4)
    rest = ((mix.values - x @ mix.weights) * weigh).ravel()
    m = jac.T @ jac
    m[np.diag_indices_from(m)] *= 1 + DAMPED
    step = np.clip(np.linalg.lstsq(m, jac.T @ rest, rcond=None)[0], -0.03, 0.03)
    made_of = Fitting(now.top + step[0], now.left + step[1], now.down + step[2], now.across + step[3])
    return made_of if min(made_of.down, made_of.across) > 0.05 else now
