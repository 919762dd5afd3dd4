"""The shading recipe: how to sample the sheets and put the grounds together, in words and GLSL.

It is made of the import note alone.
"""

from __future__ import annotations

import re

from zigzag_meadow.core.delivery.shading_parts import (
    DEFAULT_ACROSS,
    Share,
    free_name,
    sampler_names,
    shares_of,
    tiles_like,
    weight_files,
)
from zigzag_meadow.core.srgb import linear_of
from zigzag_meadow.core.targets.note import Extent, ImportNote, LegendNote

__all__ = ["recipe_glsl", "recipe_words"]


def recipe_words(note: ImportNote) -> str:
    """The recipe in words."""
    e = note.ground.extent
    lines = [
        f"Shading recipe: {note.project} for {note.target.title}",
        "",
        "1. Where on a sheet. Take a place in metres (east, north) there.",
        f"   x = (east − {e.west:g}) / {e.width:g}, y = (north − {e.south:g}) / {e.length:g}: both run from 0 to 1.",
    ]
    for file in weight_files(note):
        if file.registration == "vertex":
            how = (
                f"its samples are points: u = (x · {file.columns - 1} + 0.5) / {file.columns}, "
                f"v = (y · {file.rows - 1} + 0.5) / {file.rows}"
            )
        else:
            how = "its samples are cells: u = x, v = y"
        turn = (
            "" if file.first_row == "south" else "; its first row is north: read it at 1 − v where v runs with the rows"
        )
        lines.append(f"   {file.file}: {how}{turn}.")
        if file.tile is not None:
            many = len(tiles_like(note, file))
            lines.append(
                f"   It is one of {many} tiles, which are read alike: take the one over the place, and let x and y run "
                "from 0 to 1 over that tile, by its own extent on the import note."
            )
    lines += [
        "   Filter linearly, clamp at the border, and read it as data: no sRGB, straight alpha.",
        "",
        "2. Shares.",
    ]
    for share in shares_of(note):
        place = "what is left" if share.file is None else f"{share.file.file}, {share.channel.upper()}"
        lines.append(f"   {share.ground.title}: {place}{', turned over' if share.turned else ''}")
    lines += ["", f"3. Together. {note.weights.sentence}"]
    if note.weights.mixing == "chain":
        lines.append("   colour = base; then for every ground above it: colour = colour + (ground − colour) · step.")
    else:
        lines.append("   colour = sum of ground · weight; divide by the sum of weights, which filtering keeps at 1.")
    lines += ["", "4. Grounds lie from the south-west corner of the whole on, repeating:"]
    for g in note.legend:
        rough = f", roughness × {g.roughness:g}" if g.roughness is not None else ""
        wears = g.texture or f"plain {g.colour}"
        lines.append(f"   {g.title}: {wears}, {g.size or DEFAULT_ACROSS:g} m across, turned by {g.turn:g}°{rough}")
    return "\n".join(lines) + "\n"


_GLSL = """#version 330 core
// {title}
// How the grounds come together. {mixing}
in vec2 ground;   // metres east and north, as on the import note
out vec4 colour;
{uniforms}
// The place on a sheet. Points lie on the border of the ground, cells inside it; v runs with the rows of the file.
vec2 on_sheet(vec2 samples, bool points, bool from_south) {{
    vec2 share = (ground - vec2({west}, {south})) / vec2({width}, {length});
    share.y = from_south ? share.y : 1.0 - share.y;
    return points ? (share * (samples - 1.0) + 0.5) / samples : share;
}}

{on_tile}// A ground that repeats every so many metres, turned clockwise.
vec3 tiled(sampler2D map, float across, float degrees) {{
    float a = radians(degrees);
    vec2 at = mat2(cos(a), sin(a), -sin(a), cos(a)) * (ground - vec2({west}, {south}));
    return texture(map, at / across).rgb;
}}

void main() {{
{body}
}}
"""


_ON_TILE = """// The same on the one of many tiles that is drawn.
vec2 on_tile(vec2 samples, bool points, bool from_south) {
    vec2 share = (ground - tile.xy) / tile.zw;
    share.y = from_south ? share.y : 1.0 - share.y;
    return points ? (share * (samples - 1.0) + 0.5) / samples : share;
}

"""


def _tile_uniform(first: Extent) -> str:
    place = ", ".join(_real(part) for part in (first.west, first.south, first.width, first.length))
    return f"uniform vec4 tile = vec4({place});   // the tile that is drawn: west, south, width and length in metres"


def _real(value: float) -> str:
    text = f"{value:.9g}"
    return text if any(c in text for c in ".e") else f"{text}.0"


def recipe_glsl(note: ImportNote) -> str:
    """The recipe as a fragment shader (GLSL 3.30)."""
    samplers = sampler_names(note)
    taken: set[str] = set()
    albedos = {g.layer: free_name(f"albedo_{g.title}", taken) for g in note.legend if g.texture}
    first = next((file.extent for file in weight_files(note) if file.tile is not None), None)
    uniforms = [] if first is None else [_tile_uniform(first)]
    uniforms += [f"uniform sampler2D {samplers[f.file]};   // {f.file}, data, no sRGB" for f in weight_files(note)]
    uniforms += [
        f"uniform sampler2D {albedos[g.layer]};   // {_plain(g.texture)}, sRGB"
        for g in note.legend
        if g.layer in albedos
    ]
    body = []
    for file in weight_files(note):
        vertex, south = file.registration == "vertex", file.first_row == "south"
        place = "on_sheet" if file.tile is None else "on_tile"
        at = f"{place}(vec2({file.columns}.0, {file.rows}.0), {str(vertex).lower()}, {str(south).lower()})"
        body.append(f"    vec4 on_{samplers[file.file]} = texture({samplers[file.file]}, {at});")
    body += _body(note, samplers, albedos)
    e = note.ground.extent
    return _GLSL.format(
        title=_plain(f"{note.project} for {note.target.title}"),
        mixing=note.weights.sentence,
        uniforms="\n".join(uniforms) + "\n",
        body="\n".join(body),
        on_tile="" if first is None else _ON_TILE,
        west=_real(e.west),
        south=_real(e.south),
        width=_real(e.width),
        length=_real(e.length),
    )


def _plain(text: str) -> str:
    return re.sub(r"[^\x20-\x7e]|\\", " ", text)


def _body(note: ImportNote, samplers: dict[str, str], albedos: dict[str, str]) -> list[str]:
    def weight(share: Share) -> str:
        assert share.file is not None
        read = f"on_{samplers[share.file.file]}.{share.channel}"
        return f"(1.0 - {read})" if share.turned else read

    def look(ground: LegendNote) -> str:
        if ground.layer in albedos:
            return f"tiled({albedos[ground.layer]}, {_real(ground.size or DEFAULT_ACROSS)}, {_real(ground.turn)})"
        return "vec3({}, {}, {})".format(*(_real(part) for part in linear_of(ground.colour)))

    shares = shares_of(note)
    written = [s for s in shares if s.file is not None]
    left = next((s for s in shares if s.file is None), None)
    lines = []
    if note.weights.mixing == "chain":
        lines.append(f"    vec3 sum = {look(left.ground if left is not None else shares[0].ground)};")
        lines += [f"    sum = mix(sum, {look(s.ground)}, {weight(s)});   // {_plain(s.ground.title)}" for s in written]
    else:
        lines += ["    vec3 sum = vec3(0.0);", "    float w = 0.0;"]
        for s in written:
            lines.append(f"    sum += {look(s.ground)} * {weight(s)}; w += {weight(s)};   // {_plain(s.ground.title)}")
        if left is not None:
            text = _plain(left.ground.title)
            lines.append(f"    sum += {look(left.ground)} * max(1.0 - w, 0.0); w = max(w, 1.0);   // {text}")
        lines.append("    sum /= max(w, 1e-4);")
    return [*lines, "    colour = vec4(sum, 1.0);"]


# MaterialX ----------------------------------------------------------------------------------------------------------
