"""How any map lies on any height: orientation, scale and shift, and whether the two belong together at all."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.alignment import ORIENTATIONS
from zigzag_meadow.core.fit.foreign.placing import FARTHEST, Placing
from zigzag_meadow.core.fit.foreign.search import COARSE, Matching, smaller
from zigzag_meadow.core.fit.registering import Fitting, in_bands, sampled
from zigzag_meadow.core.stripes import Cancel, Stripes

__all__ = ["Alignment", "align", "laid_out", "lean"]

F64 = NDArray[np.float64]
MEDIUM = 128
FINE = 320
MOST = 1536
"""Samples a side of what is looked at: what is larger is reduced first."""
TRIES = 4
SURE = 100.0
PLAIN = 250.0
"""Evidence beyond which nothing is left to doubt."""
AHEAD = 2.2
"""How many times as much must be explained in detail as by any other orientation for nothing to be left to doubt."""
BY_CHANCE, USUAL_DETAIL = 0.02, 0.5
"""What is explained in detail by chance, where about half of what a map shares with the ground is detail; where less
is, fewer places count, and chance does more."""
BROADLY, PLAINLY_BROAD, BROAD_AHEAD = 450.0, 600.0, 2.5
"""Evidence from which on broad forms begin to tell, and tell by themselves: on soft ground there is hardly any detail
to share. Of two that have nothing to do with each other no orientation stands out of all others by so many times."""
BELONG = 0.6
PLAINLY = 0.02
"""How much more may be left (as a logarithm) by a map that lies exactly over the whole ground, as most do."""
FEW, OFTEN = 2.0, 0.1
"""Maps are often off by a few samples. More than that speaks for a part, which is told by far: by such a share."""
NEARLY = 0.35
"""Samples of the finer of both that are nothing."""
TOLD = 0.25
"""Samples of the height from which on a shift is told: half a sample is what is most often meant."""
WHOLE = Fitting(0.0, 0.0, 1.0, 1.0)


@dataclass(frozen=True, slots=True)
class Alignment:
    """``orientation``: what happened to the map, by its id in :data:`ORIENTATIONS`, in words, and what mends it.

    Put right, it covers the part of the height that begins ``top`` and ``left`` of its north-west corner and is
    ``down`` × ``across`` in size, all as shares of the height's extent. ``south``, ``east``: samples of the height by
    which its own corner lies off the height's; ``scale``: samples of the height to one of the map (down, across).
    ``confidence``: 0–1; ``belong``: whether they belong together. ``same_kind``: of two heights, (factor, offset, share
    explained): the height is factor · map + offset in stored values.
    """

    orientation: str
    happened: str
    cure: str
    top: float
    left: float
    down: float
    across: float
    south: float
    east: float
    scale: tuple[float, float]
    confidence: float
    belong: bool
    says: str
    same_kind: tuple[float, float, float] | None = None

    @property
    def fitting(self) -> Fitting:
        return Fitting(self.top, self.left, self.down, self.across)

    def as_json(self) -> dict[str, Any]:
        return asdict(self)


def align(
    heights: NDArray[Any],
    values: NDArray[Any],
    further: NDArray[Any] | None = None,
    *,
    stripes: Stripes | None = None,
    cancel: Cancel | None = None,
) -> Alignment:
    """How a map lies on a height.

    ``heights``: (rows, columns) in any unit; ``values``: (rows, columns) or (rows, columns, channels); ``further``:
    planes on the height's grid that the map may have been made from, too (weights of a project); ``stripes``: threads
    to work on (the caller's alone without). Raises :class:`BadFile` where either is the same everywhere or too small,
    :class:`Cancelled` when ``cancel()`` turns true.
    """
    planes = values if values.ndim == 3 else values[:, :, None]
    z, v = _clean(heights[:, :, None], "height"), _clean(planes, "map")
    if further is not None:
        z = np.concatenate([z, lean(np.nan_to_num(further))], axis=2)
    match = Matching(z, v, stripes or Stripes(1), cancel)
    firsts, confidence = _best(match)
    best = firsts[0]
    if confidence >= BELONG:
        near = match.refined(match.refined(firsts, MEDIUM, 24, close=True), FINE, 12, close=True)
        best = _tidied(match, max(near, key=lambda item: item.gain))
    return _told(match, best, confidence, heights.shape, planes.shape)


def lean(values: NDArray[Any]) -> F64:
    """(rows, columns, channels) as float64, large ones as means over fewer cells: nothing here looks any closer."""
    rows, cols = values.shape[:2]
    step = max(rows, cols) / MOST
    if step <= 1:
        return values.astype(np.float64)
    return in_bands(lambda a, b: values[a:b], rows, max(round(rows / step), 2), max(round(cols / step), 2))


def _clean(values: NDArray[Any], what: str) -> F64:
    made = lean(values)
    there = np.isfinite(made)
    if min(made.shape[:2]) < 16:
        raise BadFile(f"The {what} has fewer than 16 samples on a side: nothing can be told from it.")
    if not there.any() or float(np.ptp(made[there])) == 0:
        raise BadFile(f"The {what} is the same everywhere: it lies alike in any way.")
    made[~there] = float(made[there].mean())
    return made


def _best(match: Matching) -> tuple[list[Placing], float]:
    """(the best placing and another one that comes near it, how sure its orientation is): the best of every orientation
    is looked at more closely, and one must stand out of the others, which had as many places and scales to choose
    from."""
    starts = _starts(match.searched())
    if not starts:
        return [Placing(ORIENTATIONS[0], WHOLE, 0.0)], 0.0
    coarse = match.refined(starts, COARSE, 4)
    firsts: list[Placing] = []
    for item in sorted(coarse, key=_evidence, reverse=True):
        # Of one orientation two, so that others are there to be held against.
        if sum(other.orientation is item.orientation for other in firsts) < 2:
            firsts.append(item)
    # What is far behind need not be looked at again; some is, to be held against.
    near = [item for item in firsts if item.evidence > 0.3 * firsts[0].evidence]
    order = firsts[: max(min(len(near), 6), 3)]
    if firsts[0].evidence < PLAIN:
        order += match.whole()[:2]
    looked = sorted(match.refined(order, MEDIUM, 10), key=_evidence, reverse=True)
    return [looked[0], *_second(looked)], _confidence(match, looked)


def _starts(found: list[Placing]) -> list[Placing]:
    """The likeliest of every orientation, and further ones at other scales that are not far behind all."""
    by_turn: dict[str, list[Placing]] = {}
    for item in found:
        mine = by_turn.setdefault(item.orientation.id, [])
        whole = item.fitting.down == 1.0 == item.fitting.across
        apart = all(abs(item.fitting.down / other.fitting.down - 1) > 0.1 for other in mine)
        near = not mine or item.evidence > 0.2 * found[0].evidence
        if near and ((apart and len(mine) < TRIES) or (whole and len(mine) < TRIES + 1)):
            mine.append(item)
    return [item for mine in by_turn.values() for item in mine]


def _second(looked: list[Placing]) -> list[Placing]:
    """Another place with the orientation of the best, where there is one nearly as likely."""
    best = looked[0]
    for item in looked[1:]:
        apart = np.abs(np.subtract(item.fitting.corners, best.fitting.corners)).max()
        if item.orientation is best.orientation and item.evidence > 0.5 * best.evidence and apart > 0.01:
            return [item]
    return []


def _confidence(match: Matching, looked: list[Placing]) -> float:
    """0–1: how far the best placing stands out of those of other orientations, by what both share: detail, or, where
    there is little of it, broad forms."""
    by_turn: dict[str, Placing] = {}
    for item in looked:
        by_turn.setdefault(item.orientation.id, item)
    best, *after = list(by_turn.values())[:3]
    mine, *others = match.detailed([best, *after], FINE)
    less = USUAL_DETAIL / max(match.share_of_detail(best.orientation, FINE), 0.05)
    ahead = mine / max([*others, BY_CHANCE * max(1.0, less**2)])
    by_detail = np.clip(best.evidence / SURE, 0, 1) * np.clip((ahead - 1) / (AHEAD - 1), 0, 1)
    times = best.evidence / max(after[0].evidence, 1.0) if after else BROAD_AHEAD
    broad = np.clip((best.evidence - BROADLY) / (PLAINLY_BROAD - BROADLY), 0, 1)
    by_forms = broad * np.clip((times - 1) / (BROAD_AHEAD - 1), 0, 1)
    return float(max(by_detail, by_forms))


def _evidence(item: Placing) -> float:
    return item.evidence


def _tidied(match: Matching, found: Placing) -> Placing:
    """Exactly over the whole extent, where that leaves hardly more unexplained."""
    corners = np.array(found.fitting.corners)
    off = float(np.abs(corners - (0, 0, 1, 1)).max())
    if off > FARTHEST:
        return found
    whole = Placing(found.orientation, WHOLE, found.gain, found.terms, found.side)
    if off * max(match.heights.shape[:2] + match.values.shape[:2]) < NEARLY:
        return whole
    plain = match.refined([whole], FINE, 1, close=True)[0]
    few = off * min(match.heights.shape[:2] + match.values.shape[:2]) < FEW
    return plain if found.gain - plain.gain < PLAINLY + (0.0 if few else OFTEN * found.gain) else found


def _told(
    match: Matching, found: Placing, confidence: float, height: tuple[int, ...], shape: tuple[int, ...]
) -> Alignment:
    """``height``, ``shape``: of the height and of the map as they came."""
    turn, f = found.orientation, found.fitting
    upright = (shape[1], shape[0]) if turn.swaps else shape[:2]
    belong = confidence >= BELONG
    kind = _same_kind(match.heights, turn.mend(match.values), f) if belong else None
    f = Fitting(*(float(x) for x in (f.top, f.left, f.down, f.across)))
    made = (
        turn.id,
        turn.happened,
        turn.cure,
        f.top,
        f.left,
        f.down,
        f.across,
        f.top * height[0],
        f.left * height[1],
        (f.down * height[0] / upright[0], f.across * height[1] / upright[1]),
        round(confidence, 3),
        belong,
    )
    return Alignment(*made, _words(found, height[0], height[1], belong), kind)


def _words(found: Placing, rows: int, cols: int, belong: bool) -> str:
    """What was found, as a sentence."""
    if not belong:
        return "These do not belong together: nothing of the map follows the height, however it is turned and moved."
    f, turn = found.fitting, found.orientation
    parts = ["It lies as it is" if turn.id == "plain" else f"It is {turn.happened}"]
    whole = max(abs(f.down - 1), abs(f.across - 1)) < 3e-3
    if not whole and max(f.down, f.across) < 1.003:
        parts.append(f"covers {f.across:.1%} by {f.down:.1%} of the ground")
    elif not whole:
        parts.append(f"is laid over {f.across:.1%} by {f.down:.1%} of the ground")
    south, east = f.top * rows, f.left * cols
    if max(abs(south), abs(east)) >= TOLD:
        way = [f"{abs(south):.1f} samples of the height {'south' if south > 0 else 'north'}"] * int(abs(south) >= TOLD)
        way += [f"{abs(east):.1f} samples {'east' if east > 0 else 'west'}"] * int(abs(east) >= TOLD)
        parts.append(f"begins {' and '.join(way)} of its north-west corner")
    elif whole:
        parts.append("over the whole ground")
    return f"{', '.join(parts)}."


def _same_kind(z: F64, upright: F64, found: Fitting) -> tuple[float, float, float] | None:
    """Of two heights: what makes the one of the other."""
    if upright.shape[2] > 1 and float(np.ptp(upright - upright[:, :, :1])) > 0:
        return None
    mine, theirs = laid_out(smaller(z[:, :, :1], FINE), smaller(upright[:, :, :1], FINE), found)
    there = np.isfinite(theirs)
    if np.count_nonzero(there) < 100:
        return None
    x, y = theirs[there], mine[there]
    spread = float(((x - x.mean()) ** 2).sum())
    if spread <= 0:
        return None
    a = float(((x - x.mean()) * (y - y.mean())).sum()) / spread
    b = float(y.mean()) - a * float(x.mean())
    share = 1 - float(((y - a * x - b) ** 2).sum()) / max(float(((y - y.mean()) ** 2).sum()), 1e-12)
    return (a, b, share) if share > 0.97 else None


def laid_out(heights: F64, upright: F64, found: Fitting) -> tuple[F64, F64]:
    """(heights, map) on the height's grid: (rows, columns) each, the map NaN where it does not reach."""
    rows, cols = heights.shape[:2]
    h, w = upright.shape[:2]
    y = (((np.arange(rows) + 0.5) / rows - found.top) / found.down) * h - 0.5
    x = (((np.arange(cols) + 0.5) / cols - found.left) / found.across) * w - 0.5
    inside = np.outer((y >= -0.5) & (y <= h - 0.5), (x >= -0.5) & (x <= w - 0.5))
    made = sampled(upright, y, x)[:, :, 0]
    return heights[:, :, 0], np.where(inside, made, np.nan)
