"""Recipes: ordered lines, each a sentence with a verb, that make a mask."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from zigzag_meadow.core.project.parts import AssetId, Id, Name, Part, Told, Unit, UnitPair
from zigzag_meadow.core.project.sources import Band, FeatureUse, MaskUse, Plain, ReadingUse, Source

__all__ = [
    "COMBINING", "LINES", "Add", "Band", "Bend", "Blend", "Blur", "Contrast", "Cut", "Difference", "Drift", "Equalise",
    "FeatureUse", "FillHoles", "Fray", "Gamma", "KeepWithin", "LeaveOut", "Levels", "Line", "Mask", "MaskUse",
    "Multiply", "Narrow", "Piece", "PieceLine", "Plain", "ReadingUse", "RemoveSpecks", "Sharpen", "Source", "Stretch",
    "Strongest", "Take", "Threshold", "TouchUp", "Trickle", "TurnOver", "Weakest", "Widen", "sources_of",
]  # fmt: skip

MOST_LINES = 200


class BaseLine(Part):
    """What all lines have. ``title``, ``family`` and ``hint`` are for choosing; ``sentence`` is how a line reads,
    with its numbers in braces."""

    title: ClassVar[str]
    family: ClassVar[Literal["combine", "tone", "area", "breakup", "hand", "reuse"]]
    hint: ClassVar[str]
    sentence: ClassVar[str]

    id: Id
    muted: bool = False
    note: Annotated[str, Field(max_length=400)] = ""


class _Combining(BaseLine):
    family: ClassVar[Literal["combine"]] = "combine"
    source: Source
    strength: Annotated[Unit, Told("Strength", "%")] = 1.0


class Take(_Combining):
    title, hint = "Take", "ground by a reading, a mask, a drawn line"
    sentence = "**Take** {source} at {strength}"
    verb: Literal["take"] = "take"


class Add(_Combining):
    title, hint = "Add", "lay more on, up to full"
    sentence = "**Add** {source} at {strength}"
    verb: Literal["add"] = "add"


class LeaveOut(_Combining):
    title, hint = "Leave out", "where something else is strong"
    sentence = "**Leave out** {source} at {strength}"
    verb: Literal["leave_out"] = "leave_out"


class KeepWithin(_Combining):
    title, hint = "Keep only within", "what something else holds"
    sentence = "**Keep only within** {source} at {strength}"
    verb: Literal["keep_within"] = "keep_within"


class Strongest(_Combining):
    title, hint = "Strongest of", "this and something else"
    sentence = "**Strongest of** this and {source} at {strength}"
    verb: Literal["strongest"] = "strongest"


class Weakest(_Combining):
    title, hint = "Weakest of", "this and something else"
    sentence = "**Weakest of** this and {source} at {strength}"
    verb: Literal["weakest"] = "weakest"


class Multiply(_Combining):
    title, hint = "Multiply", "by a reading, a mask or a number"
    sentence = "**Multiply** by {source} at {strength}"
    verb: Literal["multiply"] = "multiply"


class Difference(_Combining):
    title, hint = "Difference", "where this and something else disagree"
    sentence = "**Difference** to {source} at {strength}"
    verb: Literal["difference"] = "difference"


class Blend(_Combining):
    title, hint = "Blend by", "towards something else where a map says so"
    sentence = "**Blend** towards {source} by {by} at {strength}"
    verb: Literal["blend"] = "blend"
    by: Source


class TurnOver(BaseLine):
    title, family, hint = "Turn over", "tone", "in becomes out"
    sentence = "**Turn over** what is there so far"
    verb: Literal["turn_over"] = "turn_over"


class Levels(BaseLine):
    title, family, hint = "Levels", "tone", "lift, clean, clamp"
    sentence = "**Levels** from {in_low} to {in_high}, middle {middle}, onto {out_low} to {out_high}"
    verb: Literal["levels"] = "levels"
    in_low: Annotated[Unit, Told("Darkest input")] = 0.0
    in_high: Annotated[Unit, Told("Brightest input")] = 1.0
    middle: Annotated[float, Field(ge=0.05, le=20), Told("Middle", step=0.05)] = 1.0
    out_low: Annotated[Unit, Told("Darkest output")] = 0.0
    out_high: Annotated[Unit, Told("Brightest output")] = 1.0


class Gamma(BaseLine):
    title, family, hint = "Gamma", "tone", "lift or sink the middle"
    sentence = "**Gamma** {gamma}: above 1 lifts the middle"
    verb: Literal["gamma"] = "gamma"
    gamma: Annotated[float, Field(ge=0.05, le=20), Told("Gamma", step=0.05)] = 1.4


class Contrast(BaseLine):
    title, family, hint = "Contrast and brightness", "tone", "about the middle, then lighter or darker"
    sentence = "**Contrast** {contrast}, **brightness** {brightness}"
    verb: Literal["contrast"] = "contrast"
    contrast: Annotated[float, Field(ge=-1, le=1), Told("Contrast", "%")] = 0.2
    brightness: Annotated[float, Field(ge=-1, le=1), Told("Brightness", "%")] = 0.0


class Bend(BaseLine):
    title, family, hint = "Bend", "tone", "by a curve with points"
    sentence = "**Bend** by the curve {points}"
    verb: Literal["bend"] = "bend"
    points: Annotated[tuple[UnitPair, ...], Field(min_length=2, max_length=16)] = (
        (0.0, 0.0), (0.35, 0.2), (0.65, 0.8), (1.0, 1.0),
    )  # fmt: skip


class Stretch(BaseLine):
    title, family, hint = "Stretch", "tone", "to all of black to white; makes faint maps readable"
    sentence = "**Stretch** to black and white, clipping {clip} at each end"
    verb: Literal["stretch"] = "stretch"
    clip: Annotated[float, Field(ge=0, le=0.45), Told("Clipped share", "%", step=0.001, decimals=1)] = 0.01


class Equalise(BaseLine):
    title, family, hint = "Equalise", "tone", "every strength equally often"
    sentence = "**Equalise** by {amount}"
    verb: Literal["equalise"] = "equalise"
    amount: Annotated[Unit, Told("Amount", "%")] = 1.0


class Threshold(BaseLine):
    title, family, hint = "Threshold", "tone", "in or out, as soft as you like"
    sentence = "**Threshold** at {at}, soft over {softness}"
    verb: Literal["threshold"] = "threshold"
    at: Annotated[Unit, Told("Threshold")] = 0.5
    softness: Annotated[Unit, Told("Softness")] = 0.1


Length = Annotated[float, Field(ge=0, le=20000)]
Area = Annotated[float, Field(ge=0, le=1e9)]
Seed = Annotated[int, Field(ge=0, le=999999), Told("Seed", step=1, decimals=0)]


class Blur(BaseLine):
    title, family, hint = "Blur", "area", "softer by metres"
    sentence = "**Blur** over {radius}"
    verb: Literal["blur"] = "blur"
    radius: Annotated[Length, Told("Radius", "m", step=0.5, decimals=1, of="spacing", first=2)] = 8.0


class Sharpen(BaseLine):
    title, family, hint = "Sharpen", "area", "harder edges"
    sentence = "**Sharpen** by {amount} over {radius}"
    verb: Literal["sharpen"] = "sharpen"
    amount: Annotated[float, Field(ge=0, le=5), Told("Amount", "%", step=0.05)] = 1.0
    radius: Annotated[Length, Told("Radius", "m", step=0.5, decimals=1, of="spacing", first=2)] = 8.0


class Widen(BaseLine):
    title, family, hint = "Widen", "area", "outwards by metres"
    sentence = "**Widen** by {by}, fading over {fade}"
    verb: Literal["widen"] = "widen"
    by: Annotated[Length, Told("Width", "m", step=0.5, decimals=1, of="spacing", first=3)] = 12.0
    fade: Annotated[Length, Told("Fade", "m", step=0.5, decimals=1, of="spacing", first=1)] = 4.0


class Narrow(BaseLine):
    title, family, hint = "Narrow", "area", "inwards by metres"
    sentence = "**Narrow** by {by}, fading over {fade}"
    verb: Literal["narrow"] = "narrow"
    by: Annotated[Length, Told("Width", "m", step=0.5, decimals=1, of="spacing", first=3)] = 12.0
    fade: Annotated[Length, Told("Fade", "m", step=0.5, decimals=1, of="spacing", first=1)] = 4.0


class RemoveSpecks(BaseLine):
    title, family, hint = "Remove specks", "area", "areas that are too small"
    sentence = "**Remove specks** smaller than {area}"
    verb: Literal["remove_specks"] = "remove_specks"
    area: Annotated[Area, Told("Area", "m²", step=10, decimals=0, of="cell", first=20)] = 400.0


class FillHoles(BaseLine):
    title, family, hint = "Fill holes", "area", "gaps that are too small"
    sentence = "**Fill holes** smaller than {area}"
    verb: Literal["fill_holes"] = "fill_holes"
    area: Annotated[Area, Told("Area", "m²", step=10, decimals=0, of="cell", first=20)] = 400.0


class Fray(BaseLine):
    title, family, hint = "Fray", "breakup", "ragged edges by noise"
    sentence = "**Fray** its edges by {reach} in patches of {size}, seed {seed}"
    verb: Literal["fray"] = "fray"
    reach: Annotated[Length, Told("Reach", "m", step=0.5, decimals=1, of="spacing", first=4)] = 14.0
    size: Annotated[float, Field(gt=0, le=20000), Told("Patch size", "m", decimals=1, of="spacing", first=15)] = 60.0
    seed: Seed = 1


class Drift(BaseLine):
    title, family, hint = "Drift", "breakup", "slides down or up the slope"
    sentence = "**Drift** it {way} for {by}, as strongly as {steered}"
    verb: Literal["drift"] = "drift"
    way: Annotated[Literal["down", "up"], Told("Way", choices=(("down", "downhill"), ("up", "uphill")))] = "down"
    by: Annotated[Length, Told("Distance", "m", decimals=1, of="spacing", first=6)] = 25.0
    steered: Source | None = None


class Trickle(BaseLine):
    title, family, hint = "Trickle", "breakup", "runs on along the flow"
    sentence = "**Trickle** along the flow, fading over {by}, at {strength}"
    verb: Literal["trickle"] = "trickle"
    by: Annotated[float, Field(gt=0, le=100000), Told("Distance", "m", decimals=0, of="spacing", first=30)] = 120.0
    strength: Annotated[Unit, Told("Strength", "%")] = 1.0


class Cut(BaseLine):
    """Bands of the strength so far. ``edges``: the inner ones, used when ``how`` is *own*."""

    title, family, hint = "Cut into bands", "tone", "each band a mask of its own"
    sentence = "**Cut into** {count} bands, {how} {edges}"
    verb: Literal["cut"] = "cut"
    count: Annotated[int, Field(ge=2, le=16), Told("Bands", step=1, decimals=0)] = 5
    how: Annotated[
        Literal["even", "quantiles", "own"],
        Told("How", choices=(("even", "evenly"), ("quantiles", "each covering as much"), ("own", "at own edges"))),
    ] = "even"
    edges: Annotated[tuple[Unit, ...], Field(max_length=15)] = ()


class TouchUp(BaseLine):
    """Strokes of a brush, kept as strokes in metres in a file of their own."""

    title, family, hint = "Touch up", "hand", "by brush, kept as its own line"
    sentence = "**Touch up** by hand, {count}, {only}"
    verb: Literal["touch_up"] = "touch_up"
    asset: AssetId | None = None
    count: Annotated[int, Field(ge=0, le=100000)] = 0
    only: Source | None = None


class PieceLine(BaseLine):
    """A piece with numbers of its own; ``how`` says whether its lines go on from what is there or are put to it."""

    title, family, hint = "Use a piece", "reuse", "lines kept under a name"
    sentence = "**Use the piece** {piece}"
    verb: Literal["piece"] = "piece"
    piece: Id
    how: Literal[
        "follow", "take", "add", "leave_out", "keep_within", "strongest", "weakest", "multiply", "difference"
    ] = "follow"
    numbers: dict[Id, float] = Field(default_factory=dict)
    strength: Annotated[Unit, Told("Strength", "%")] = 1.0


LINES: tuple[type[BaseLine], ...] = (
    Take, Add, LeaveOut, KeepWithin, Strongest, Weakest, Multiply, Difference, Blend, TurnOver, Levels, Gamma,
    Contrast, Bend, Stretch, Equalise, Threshold, Cut, Blur, Sharpen, Widen, Narrow, RemoveSpecks, FillHoles, Fray,
    Drift, Trickle, TouchUp, PieceLine,
)  # fmt: skip
"""Every kind of line, in the order in which they are offered."""

COMBINING = (Take, Add, LeaveOut, KeepWithin, Strongest, Weakest, Multiply, Difference, Blend)

Line = Annotated[
    Take | Add | LeaveOut | KeepWithin | Strongest | Weakest | Multiply | Difference | Blend | TurnOver | Levels
    | Gamma | Contrast | Bend | Stretch | Equalise | Threshold | Cut | Blur | Sharpen | Widen | Narrow | RemoveSpecks
    | FillHoles | Fray | Drift | Trickle | TouchUp | PieceLine,
    Field(discriminator="verb"),
]  # fmt: skip


def sources_of(line: Line) -> Iterator[Source]:
    """Every source that a line reads."""
    for name in ("source", "by", "steered", "only"):
        value = getattr(line, name, None)
        if isinstance(value, Band | MaskUse | ReadingUse | Plain | FeatureUse):
            yield value


class Mask(Part):
    id: Id
    name: Name
    lines: Annotated[tuple[Line, ...], Field(max_length=MOST_LINES)] = ()


class Exposed(Part):
    """A number of a piece's line that whoever uses the piece may set: ``field`` of the line, or of its source."""

    id: Id
    title: Name
    line: Id
    field: Annotated[str, Field(pattern=r"^(source\.)?[a-z_]{1,20}$")]


class Piece(Part):
    """A few lines under a name, with the numbers that its users may set."""

    id: Id
    name: Name
    note: Annotated[str, Field(max_length=400)] = ""
    lines: Annotated[tuple[Line, ...], Field(min_length=1, max_length=40)]
    exposed: Annotated[tuple[Exposed, ...], Field(max_length=16)] = ()
