"""From the lines of recipes to operations."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.evaluate.stages import Stage
from zigzag_meadow.core.project.document import Project
from zigzag_meadow.core.project.pieces import lines_with
from zigzag_meadow.core.project.readings import kind_of
from zigzag_meadow.core.project.recipe import (
    Bend,
    Blend,
    Blur,
    Contrast,
    Cut,
    Drift,
    Equalise,
    FillHoles,
    Fray,
    Gamma,
    Levels,
    Line,
    Narrow,
    PieceLine,
    RemoveSpecks,
    Sharpen,
    Stretch,
    Threshold,
    TouchUp,
    Trickle,
    TurnOver,
    Widen,
)
from zigzag_meadow.core.project.sources import Band, FeatureUse, MaskUse, Plain, ReadingUse, Source

__all__ = ["Recipes"]

STARTS_EMPTY = ("take", "add", "strongest", "difference", "blend", "touch_up", "trickle")
"""Verbs that bring something: a recipe that begins with one starts from 0, any other cuts and starts from 1."""


class _Maps(Protocol):
    """What recipes need of the graph they are part of."""

    project: Project

    def stage(self, steps: int | None = None) -> Stage: ...
    def reading(self, reading_id: str, stage: Stage | None = None) -> Node: ...


class Recipes:
    """Nodes of masks, of what lines read, and of the bands that masks are cut into."""

    def __init__(self, maps: _Maps) -> None:
        self._maps = maps
        self._masks: dict[str, Node] = {}

    def mask(self, mask_id: str, lines: int | None = None) -> Node:
        """The mask of a recipe, or what it is after its first ``lines`` lines."""
        if lines is None and mask_id in self._masks:
            return self._masks[mask_id]
        mask = self._maps.project.mask(mask_id)
        if mask is None:
            raise NotFound(f"There is no mask with the id {mask_id!r}.", field="mask")
        node = self._after(self._start(mask.lines[:lines]), mask.lines[:lines])
        if lines is None:
            self._masks[mask_id] = node
        return node

    def cut_of(self, mask_id: str) -> tuple[Node, Cut]:
        """(what a mask is before it is cut into bands, the last line that cuts it). Raises :class:`NotFound`."""
        mask = self._maps.project.mask(mask_id)
        if mask is None:
            raise NotFound(f"There is no mask with the id {mask_id!r}.", field="mask")
        for at in range(len(mask.lines) - 1, -1, -1):
            line = mask.lines[at]
            if isinstance(line, Cut) and not line.muted:
                return self.mask(mask_id, at), line
        raise NotFound(f"{mask.name} is not cut into bands any more: add a line “Cut into bands”.", field="band")

    def band(self, mask_id: str, band: int) -> Node:
        """1 where a mask lies in one of the bands (from 0) it is cut into."""
        before, line = self.cut_of(mask_id)
        if band >= line.count:
            raise NotFound(f"There are {line.count} bands, not {band + 1}.", field="band")
        return Node("in_band", {**_cut(line), "band": band}, (before,))

    def constant(self, value: float) -> Node:
        return Node("constant", {"value": value}, home=self._maps.stage().home)

    def _start(self, lines: tuple[Line, ...]) -> Node:
        """Nothing, or all of the ground where the first line only cuts. An empty recipe is nothing."""
        return self.constant(0.0 if self._first_verb(lines) in STARTS_EMPTY else 1.0)

    def _first_verb(self, lines: tuple[Line, ...]) -> str:
        first = next((line for line in lines if not line.muted), None)
        if not isinstance(first, PieceLine):
            return first.verb if first is not None else "take"
        piece = self._maps.project.piece(first.piece)
        return self._first_verb(piece.lines) if first.how == "follow" and piece is not None else first.how

    def _after(self, before: Node, lines: tuple[Line, ...]) -> Node:
        for line in lines:
            if not line.muted:
                before = self._line(before, line)
        return before

    def source(self, source: Source, stage: Stage | None = None) -> Node:
        """What a line reads, 0–1."""
        if isinstance(source, MaskUse):
            return self.mask(source.mask) if source.band is None else self.band(source.mask, source.band)
        if isinstance(source, Plain):
            return self.constant(source.value)
        if isinstance(source, FeatureUse):
            return self._feature(source)
        kind = kind_of(self._maps.project, source.reading)
        node = self._maps.reading(source.reading, stage)
        if isinstance(source, ReadingUse):
            numbers: dict[str, Any] = {"black": source.black, "white": source.white, "log": kind.scale == "log"}
            return Node("stretched", numbers, (node,))
        numbers = source.model_dump(include={"low", "high", "fade_low", "fade_high", "smooth"})
        return Node("band", {**numbers, "log": kind.scale == "log", "wraps": kind.wraps}, (node,))

    def where(self, bands: tuple[Band, ...], stage: Stage) -> Node | None:
        """Bands on one stage of the ground, each keeping only within the last; None without any."""
        node: Node | None = None
        for band in bands:
            made = self.source(band, stage)
            node = made if node is None else _combined("keep_within", 1.0, node, made)
        return node

    def _feature(self, use: FeatureUse) -> Node:
        feature = self._maps.project.feature(use.feature)
        if feature is None:
            raise NotFound("A line reads a drawn line that is no longer there.", field="feature")
        numbers = {"points": [list(p) for p in feature.points], "closed": feature.closed}
        numbers |= use.model_dump(include={"width", "fade", "smooth"})
        return Node("feature", numbers, home=self._maps.stage().home)

    def _line(self, before: Node, line: Line) -> Node:
        if type(line) in _BUILDERS:
            return _BUILDERS[type(line)](self, before, line)
        return _combined(line.verb, getattr(line, "strength", 1.0), before, self.source(line.source))  # type: ignore[union-attr]

    def piece(self, before: Node, line: PieceLine) -> Node:
        piece = self._maps.project.piece(line.piece)
        if piece is None:
            raise NotFound("A line uses a piece that is no longer there.", field="piece")
        lines = lines_with(piece, line.numbers)
        if line.how == "follow":
            made = self._after(before, lines)
            return made if line.strength == 1 else _combined("take", line.strength, before, made)
        return _combined(line.how, line.strength, before, self._after(self._start(lines), lines))

    def drift(self, before: Node, line: Drift) -> Node:
        stage = self._maps.stage()
        way = Node("downhill", {"width": max(line.by / 4, stage.home.dy, stage.home.dx)}, (stage.solid,))
        steered = (self.source(line.steered),) if line.steered is not None else ()
        by = line.by if line.way == "down" else -line.by
        return Node("drift", {"reach": line.by}, (before, Node("drift_way", {"by": by}, (way, *steered))))

    def fray(self, before: Node, line: Fray) -> Node:
        ways = (
            Node(
                "noise",
                {"kind": "gradient", "size": line.size, "octaves": 3.0, "seed": line.seed * 2 + k, "stretch": 1.0,
                 "direction": 0.0},
                (self._maps.stage().solid,),
            )
            for k in (0, 1)
        )  # fmt: skip
        return Node("fray", {"reach": line.reach}, (before, *ways))

    def trickle(self, before: Node, line: Trickle) -> Node:
        run = Node("trickle", {"by": line.by}, (before, Node("drain", {}, (self._maps.stage().solid,))))
        carried = Node("plane", {"plane": "carried", "how": "linear"}, (run,))
        return _combined("strongest", line.strength, before, carried)

    def touch_up(self, before: Node, line: TouchUp) -> Node:
        if line.asset is None:
            return before
        made = Node("touch_up", {"asset": line.asset, "groups": None}, (before,))
        if line.only is None:
            return made
        return Node("blend", {"strength": 1.0}, (before, made, self.source(line.only)))


def _combined(verb: str, strength: float, before: Node, taken: Node) -> Node:
    if verb == "take" and strength == 1:
        return taken
    return Node("combine", {"verb": verb, "strength": strength}, (before, taken))


def _cut(line: Cut) -> dict[str, Any]:
    return {"count": line.count, "how": line.how, "edges": list(line.edges) if line.how == "own" else []}


def _numbers(op: str, *names: str) -> Callable[[Recipes, Node, Any], Node]:
    """An operation on what came before with some of the line's numbers."""
    return lambda recipes, before, line: Node(op, {name: getattr(line, name) for name in names}, (before,))


def _levels(low: float, high: float, middle: float, out_low: float, out_high: float, before: Node) -> Node:
    numbers = {"in_low": low, "in_high": high, "middle": middle, "out_low": out_low, "out_high": out_high}
    return Node("levels", numbers, (before,))


def _contrast(recipes: Recipes, before: Node, line: Contrast) -> Node:
    gain = (1 + line.contrast) / max(1 - line.contrast, 1e-2)
    return Node("gain", {"gain": gain, "offset": 0.5 - 0.5 * gain + line.brightness}, (before,))


def _threshold(recipes: Recipes, before: Node, line: Threshold) -> Node:
    half = line.softness / 2
    return Node("ramp", {"low": line.at - half, "high": line.at + half}, (before,))


_BUILDERS: dict[type[Any], Callable[[Recipes, Node, Any], Node]] = {
    Blend: lambda r, before, line: Node(
        "blend", {"strength": line.strength}, (before, r.source(line.source), r.source(line.by))
    ),
    TurnOver: _numbers("turn_over"),
    Levels: _numbers("levels", "in_low", "in_high", "middle", "out_low", "out_high"),
    Gamma: lambda r, before, line: _levels(0.0, 1.0, line.gamma, 0.0, 1.0, before),
    Contrast: _contrast,
    Bend: lambda r, before, line: Node("bend", {"points": [list(p) for p in line.points]}, (before,)),
    Stretch: _numbers("stretch_tone", "clip"),
    Equalise: _numbers("equalise", "amount"),
    Threshold: _threshold,
    Cut: lambda r, before, line: Node("cut", _cut(line), (before,)),
    # A blur that reaches about its radius: two standard deviations.
    Blur: lambda r, before, line: Node("blur", {"sigma": line.radius / 2}, (before,)),
    Sharpen: lambda r, before, line: Node("sharpen", {"sigma": line.radius / 2, "amount": line.amount}, (before,)),
    Widen: _numbers("widen", "by", "fade"),
    Narrow: _numbers("narrow", "by", "fade"),
    RemoveSpecks: _numbers("remove_specks", "area"),
    FillHoles: _numbers("fill_holes", "area"),
    Fray: Recipes.fray,
    Drift: Recipes.drift,
    Trickle: Recipes.trickle,
    TouchUp: Recipes.touch_up,
    PieceLine: Recipes.piece,
}
