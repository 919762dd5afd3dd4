"""How each kind of reading is put together from operations."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from zigzag_meadow.core.evaluate.nodes import Node
from zigzag_meadow.core.evaluate.stages import Stage
from zigzag_meadow.core.project.readings import Resolved

__all__ = ["BUILDERS", "Asked"]


class Asked:
    """What a reading is built from: the ground, its numbers, and ways to reach other maps on the same ground."""

    def __init__(
        self,
        stage: Stage,
        resolved: Resolved,
        water: float | None,
        base: float,
        other: Callable[[str], Node],
        named: Callable[[str], Node],
    ) -> None:
        self.stage = stage
        self.kind = resolved.kind
        self.numbers = resolved.numbers
        self.given = resolved.given
        self.water = water
        self.base = base
        self.other = other
        self.named = named

    def number(self, name: str) -> float:
        return float(self.numbers[name])

    @property
    def width(self) -> dict[str, Any]:
        """±width (y, x), never below the spacing of the ground at hand (a draft's is wider).

        A default counts spacings, on each axis its own: between samples nothing need be interpolated.
        """
        home, true_home = self.stage.home, self.stage.true_home
        times = next(p.default for p in self.kind.params if p.name == "width")
        if "width" in self.given or isinstance(times, str):
            wy = wx = self.number("width")
        else:
            wy, wx = times * true_home.dy, times * true_home.dx
        return {"width": [max(wy, home.dy), max(wx, home.dx)]}

    @property
    def radius(self) -> float:
        home = self.stage.home
        return max(self.number("radius"), home.dy, home.dx)


def _plain(op: str) -> Callable[[Asked], Node]:
    return lambda a: Node(op, {}, (a.stage.solid,))


def _wide(op: str, **more: Any) -> Callable[[Asked], Node]:
    return lambda a: Node(op, {**a.width, **more}, (a.stage.solid,))


def _horizon(kind: str) -> Callable[[Asked], Node]:
    return lambda a: Node("horizon", {"kind": kind, "radius": a.radius}, (a.stage.solid,))


def _mix(a: Asked) -> Node:
    names = ("near", "mid", "far")
    parts = tuple(a.other(f"occlusion_{name}") for name in names)
    return Node("mix", {"weights": [a.number(name) for name in names]}, parts)


def _shade(a: Asked) -> Node:
    home = a.stage.home
    numbers = {"width": [home.dy, home.dx], "azimuth": a.number("azimuth"), "altitude": a.number("altitude")}
    return Node("shade", numbers, (a.stage.solid,))


def _sun(a: Asked) -> Node:
    lit = Node("lit", {"azimuth": a.number("azimuth"), "altitude": a.number("altitude")}, (a.stage.solid,))
    return Node("sun", {}, (_shade(a), _plane(lit, "lit", "linear")))


def _plane(run: Node, plane: str, how: str) -> Node:
    return Node("plane", {"plane": plane, "how": how}, (run,))


def _lifted(a: Asked, node: Node) -> Node:
    """Heights are held above a base: high ground would lose digits. Here they become metres above zero again."""
    return node if a.base == 0 else Node("lifted", {"by": a.base}, (node,))


def _drain(a: Asked) -> Node:
    return Node("drain", {}, (a.stage.solid,))


def _spread(a: Asked) -> Node:
    return Node("spread", {}, (_drain(a),))


def _wetness(a: Asked) -> Node:
    home = a.stage.home
    slope = Node("slope", {"width": [home.dy, home.dx]}, (a.stage.solid,))
    return Node("wetness", {}, (_plane(_spread(a), "area", "log"), slope))


def _direction(part: str) -> Callable[[Asked], Node]:
    return lambda a: Node("direction", {"part": part}, (_drain(a),))


def _water(plane: str) -> Callable[[Asked], Node]:
    def build(a: Asked) -> Node:
        level = None if a.water is None else a.water - a.base
        numbers = {"threshold": a.number("threshold"), "level": level}
        return _plane(Node("water", numbers, (_drain(a), a.stage.solid)), plane, "linear")

    return build


def _channel(plane: str) -> Callable[[Asked], Node]:
    def build(a: Asked) -> Node:
        numbers = {name: a.number(name) for name in ("threshold", "width", "depth")}
        return _plane(Node("channels", numbers, (_drain(a),)), plane, "linear")

    return build


def _eroded(plane: str, how: str = "linear") -> Callable[[Asked], Node]:
    def build(a: Asked) -> Node:
        numbers = {"rain": a.number("rain"), "strength": a.number("strength"), "seed": int(a.number("seed"))}
        hardness = str(a.numbers["hardness"])
        inputs = (a.stage.solid, a.named(hardness)) if hardness else (a.stage.solid,)
        return _plane(Node("erosion", numbers, inputs), plane, how)

    return build


def _talus(a: Asked) -> Node:
    return _plane(Node("slump", {"angle": a.number("angle")}, (a.stage.solid,)), "talus", "linear")


def _noise(a: Asked) -> Node:
    numbers = {name: a.number(name) for name in ("size", "octaves", "stretch", "direction")}
    numbers |= {"seed": int(a.number("seed"))}
    along = a.numbers["way"] == "slope" and a.number("stretch") > 1
    slope = (Node("aspect", {"width": _smear_width(a)}, (a.stage.solid,)),) if along else ()
    return Node("noise", {**numbers, "kind": a.numbers["kind"]}, (*slope, a.stage.solid) if along else (a.stage.solid,))


def _smear_width(a: Asked) -> list[float]:
    home = a.stage.home
    w = max(a.number("size") / 4, home.dy, home.dx)
    return [w, w]


def _strata(a: Asked) -> Node:
    numbers = {name: a.number(name) for name in ("thickness", "dip", "direction", "bend")}
    return Node("strata", {**numbers, "seed": int(a.number("seed")), "base": a.base}, (a.stage.solid,))


def _picture(a: Asked) -> Node:
    numbers = {name: value for name, value in a.numbers.items() if name not in ("asset", "channel")}
    pixels = Node("pixels", {name: a.numbers[name] for name in ("asset", "channel")}, home=a.stage.home)
    return Node("picture", numbers, (a.stage.solid, pixels))


BUILDERS: dict[str, Callable[[Asked], Node]] = {
    "height": lambda a: _lifted(a, Node("height", {}, (a.stage.solid,))),
    "altitude": _plain("altitude"),
    "slope": _wide("slope"),
    "aspect": _wide("aspect"),
    **{f"{kind}_curvature": _wide("curvature", kind=kind) for kind in ("profile", "plan", "tangential", "mean")},
    "relative_height": lambda a: Node("relative_height", {"radius": a.radius}, (a.stage.solid,)),
    "ruggedness": _wide("ruggedness"),
    "texture_stretch": _wide("stretch"),
    **{f"occlusion_{size}": _horizon("occlusion") for size in ("near", "mid", "far")},
    "occlusion": _mix,
    "sky_share": _horizon("sky"),
    "shade": _shade,
    "sun": _sun,
    "flow": lambda a: _plane(_drain(a), "area", "log"),
    "spreading_flow": lambda a: _plane(_spread(a), "area", "log"),
    "flow_east": _direction("east"),
    "flow_north": _direction("north"),
    "wetness": _wetness,
    "channel_depth": _channel("depth"),
    "channel_width": _channel("width"),
    "standing_water": lambda a: _plane(_drain(a), "standing", "linear"),
    "height_over_water": _water("over"),
    "distance_to_water": _water("distance"),
    "scour": _eroded("scour"),
    "deposition": _eroded("deposition"),
    "carried_load": _eroded("load"),
    "rain_flow": _eroded("water", "log"),
    "eroded_height": lambda a: _lifted(a, _eroded("ground")(a)),
    "talus": _talus,
    "noise": _noise,
    "strata": _strata,
    "picture": _picture,
}
