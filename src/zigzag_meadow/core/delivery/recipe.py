"""The shading recipe: how to sample the sheets and put the grounds together, in words, GLSL and MaterialX.

It is made of the import note alone.
"""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass

from zigzag_meadow.core.srgb import linear_of
from zigzag_meadow.core.targets.note import FileNote, ImportNote, LegendNote

__all__ = ["recipe_glsl", "recipe_materialx", "recipe_words"]

WEIGHTS = ("weight", "base", "step")
_DEFAULT_ACROSS = 4.0


@dataclass(frozen=True, slots=True)
class _Share:
    """Where a ground's weight is; ``file`` None: what is left of the others."""

    ground: LegendNote
    file: FileNote | None
    channel: str
    turned: bool


def _files(note: ImportNote) -> list[FileNote]:
    """Sheets with weights that are one file, in order."""
    return [f for f in note.files if f.tile is None and any(c.kind in WEIGHTS for c in f.channels)]


def _shares(note: ImportNote) -> list[_Share]:
    made = []
    for ground in note.legend:
        found = next(
            ((f, c) for f in _files(note) for c in f.channels if c.layer == ground.layer and c.kind in WEIGHTS), None
        )
        if found is None:
            made.append(_Share(ground, None, "", False))
        else:
            made.append(_Share(ground, found[0], found[1].channel, found[1].turned))
    return made


def _name(text: str, taken: set[str]) -> str:
    plain = re.sub(r"[^a-z0-9]+", "_", text.lower()).strip("_") or "map"
    plain = plain if plain[0].isalpha() else f"m_{plain}"
    name, k = plain, 2
    while name in taken:
        name, k = f"{plain}_{k}", k + 1
    taken.add(name)
    return name


def _samplers(note: ImportNote) -> dict[str, str]:
    """A name by file that is no word of a language and none of the other names in a recipe."""
    taken: set[str] = set()
    return {file.file: _name(f"sheet_{file.file.rsplit('.', 1)[0]}", taken) for file in _files(note)}


def recipe_words(note: ImportNote) -> str:
    """The recipe in words."""
    e = note.ground.extent
    lines = [
        f"Shading recipe: {note.project} for {note.target.title}", "",
        "1. Where on a sheet. Take a place in metres (east, north) there.",
        f"   x = (east − {e.west:g}) / {e.width:g}, y = (north − {e.south:g}) / {e.length:g}: both run from 0 to 1.",
    ]  # fmt: skip
    for file in _files(note):
        if file.registration == "vertex":
            how = (f"its samples are points: u = (x · {file.columns - 1} + 0.5) / {file.columns}, "
                   f"v = (y · {file.rows - 1} + 0.5) / {file.rows}")  # fmt: skip
        else:
            how = "its samples are cells: u = x, v = y"
        turn = (
            "" if file.first_row == "south" else "; its first row is north: read it at 1 − v where v runs with the rows"
        )
        lines.append(f"   {file.file}: {how}{turn}.")
    lines += ["   Filter linearly, clamp at the border, and read it as data: no sRGB, straight alpha.", "",
              "2. Shares."]  # fmt: skip
    for share in _shares(note):
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
        lines.append(f"   {g.title}: {wears}, {g.size or _DEFAULT_ACROSS:g} m across, turned by {g.turn:g}°{rough}")
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

// A ground that repeats every so many metres, turned clockwise.
vec3 tiled(sampler2D map, float across, float degrees) {{
    float a = radians(degrees);
    vec2 at = mat2(cos(a), sin(a), -sin(a), cos(a)) * (ground - vec2({west}, {south}));
    return texture(map, at / across).rgb;
}}

void main() {{
{body}
}}
"""


def _real(value: float) -> str:
    text = f"{value:.9g}"
    return text if any(c in text for c in ".e") else f"{text}.0"


def recipe_glsl(note: ImportNote) -> str:
    """The recipe as a fragment shader (GLSL 3.30)."""
    samplers = _samplers(note)
    taken: set[str] = set()
    albedos = {g.layer: _name(f"albedo_{g.title}", taken) for g in note.legend if g.texture}
    uniforms = [f"uniform sampler2D {samplers[f.file]};   // {f.file}, data, no sRGB" for f in _files(note)]
    uniforms += [f"uniform sampler2D {albedos[g.layer]};   // {_plain(g.texture)}, sRGB" for g in note.legend
                 if g.layer in albedos]  # fmt: skip
    body = []
    for file in _files(note):
        vertex, south = file.registration == "vertex", file.first_row == "south"
        at = f"on_sheet(vec2({file.columns}.0, {file.rows}.0), {str(vertex).lower()}, {str(south).lower()})"
        body.append(f"    vec4 on_{samplers[file.file]} = texture({samplers[file.file]}, {at});")
    body += _body(note, samplers, albedos)
    e = note.ground.extent
    return _GLSL.format(
        title=_plain(f"{note.project} for {note.target.title}"), mixing=note.weights.sentence,
        uniforms="\n".join(uniforms) + "\n", body="\n".join(body), west=_real(e.west), south=_real(e.south),
        width=_real(e.width), length=_real(e.length),
    )  # fmt: skip


def _plain(text: str) -> str:
    return re.sub(r"[^\x20-\x7e]|\\", " ", text)


def _body(note: ImportNote, samplers: dict[str, str], albedos: dict[str, str]) -> list[str]:
    def weight(share: _Share) -> str:
        assert share.file is not None
        read = f"on_{samplers[share.file.file]}.{share.channel}"
        return f"(1.0 - {read})" if share.turned else read

    def look(ground: LegendNote) -> str:
        if ground.layer in albedos:
            return f"tiled({albedos[ground.layer]}, {_real(ground.size or _DEFAULT_ACROSS)}, {_real(ground.turn)})"
        return "vec3({}, {}, {})".format(*(_real(part) for part in linear_of(ground.colour)))

    shares = _shares(note)
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


def _node(parent: ET.Element, kind: str, name: str, type_: str, **inputs: tuple[str, str]) -> ET.Element:
    """A node with inputs: (type, value), or (type, "@node") for what comes from another."""
    made = ET.SubElement(parent, kind, name=name, type=type_)
    for title, (of, value) in inputs.items():
        told = {"name": title, "type": of, "nodename" if value[0] == "@" else "value": value.removeprefix("@")}
        ET.SubElement(made, "input", told)
    return made


def recipe_materialx(note: ImportNote) -> str:
    """The recipe as a MaterialX document: a surface whose texture coordinates run over the ground from 0 to 1."""
    root = ET.Element("materialx", version="1.38", colorspace="lin_rec709")
    graph = ET.SubElement(root, "nodegraph", name="grounds")
    _node(graph, "texcoord", "place", "vector2")
    samplers = _samplers(note)
    for file in _files(note):
        _sheet_nodes(graph, file, samplers[file.file])
    last = _mixed(graph, note, samplers)
    ET.SubElement(graph, "output", name="out", type="color3", nodename=last)
    surface = ET.SubElement(root, "standard_surface", name="surface", type="surfaceshader")
    ET.SubElement(surface, "input", name="base_color", type="color3", nodegraph="grounds", output="out")
    ET.SubElement(surface, "input", name="specular", type="float", value="0")
    material = ET.SubElement(root, "surfacematerial", name="ground_material", type="material")
    ET.SubElement(material, "input", name="surfaceshader", type="surfaceshader", nodename="surface")
    ET.indent(root)
    return '<?xml version="1.0"?>\n' + ET.tostring(root, encoding="unicode") + "\n"


def _sheet_nodes(graph: ET.Element, file: FileNote, name: str) -> None:
    """A sheet, read where it lies. What is derived of it is named before it (``r_of_…``): no two sheets can meet. Its v
    runs north, against the rows of a file that begins there."""
    at = "place"
    if file.first_row == "south":
        # Pictures are read with their first row on top: this one lies upside down in them.
        _node(graph, "multiply", f"down_of_{name}", "vector2", in1=("vector2", f"@{at}"), in2=("vector2", "1, -1"))
        _node(graph, "add", f"up_of_{name}", "vector2", in1=("vector2", f"@down_of_{name}"), in2=("vector2", "0, 1"))
        at = f"up_of_{name}"
    if file.registration == "vertex":
        share = (1 - 1 / file.columns, 1 - 1 / file.rows)
        half = (0.5 / file.columns, 0.5 / file.rows)
        _node(graph, "multiply", f"scaled_of_{name}", "vector2", in1=("vector2", f"@{at}"),
              in2=("vector2", f"{share[0]:.9g}, {share[1]:.9g}"))  # fmt: skip
        _node(graph, "add", f"at_of_{name}", "vector2", in1=("vector2", f"@scaled_of_{name}"),
              in2=("vector2", f"{half[0]:.9g}, {half[1]:.9g}"))  # fmt: skip
        at = f"at_of_{name}"
    many = len(file.channels)
    kind = {1: "float", 2: "vector2", 3: "vector3", 4: "vector4"}[many]
    made = _node(graph, "image", name, kind, texcoord=("vector2", f"@{at}"), uaddressmode=("string", "clamp"),
                 vaddressmode=("string", "clamp"))  # fmt: skip
    ET.SubElement(made, "input", name="file", type="filename", value=file.file, colorspace="none")
    for at_, channel in enumerate(file.channels):
        out = f"{channel.channel}_of_{name}"
        whole = f"@{name}"
        if many > 1:
            _node(graph, "extract", out, "float", **{"in": (kind, whole), "index": ("integer", str(at_))})
        else:
            _node(graph, "multiply", out, "float", in1=("float", whole), in2=("float", "1"))
        if channel.turned:
            _node(graph, "subtract", f"turned_{out}", "float", in1=("float", "1"), in2=("float", f"@{out}"))


def _mixed(graph: ET.Element, note: ImportNote, samplers: dict[str, str]) -> str:
    """Nodes that put the grounds together; the name of the last."""
    shares = _shares(note)
    written = [s for s in shares if s.file is not None]
    left = next((s for s in shares if s.file is None), None)
    names = {s.ground.layer: f"ground_{at}" for at, s in enumerate(shares)}
    for share in shares:
        _ground_node(graph, note, share.ground, names[share.ground.layer])

    def weight(share: _Share) -> str:
        assert share.file is not None
        return f"@{'turned_' if share.turned else ''}{share.channel}_of_{samplers[share.file.file]}"

    if note.weights.mixing == "chain":
        last = names[(left or shares[0]).ground.layer]
        for at, share in enumerate(written):
            _node(graph, "mix", f"laid_{at}", "color3", fg=("color3", f"@{names[share.ground.layer]}"),
                  bg=("color3", f"@{last}"), mix=("float", weight(share)))  # fmt: skip
            last = f"laid_{at}"
        return last
    last, total = "", ""
    for at, share in enumerate(written):
        _node(graph, "multiply", f"part_{at}", "color3", in1=("color3", f"@{names[share.ground.layer]}"),
              in2=("float", weight(share)))  # fmt: skip
        last, total = _added(graph, at, last, f"part_{at}", total, weight(share))
    if left is None:
        return last
    _node(graph, "subtract", "left", "float", in1=("float", "1"), in2=("float", total or "0"))
    _node(graph, "multiply", "part_left", "color3", in1=("color3", f"@{names[left.ground.layer]}"),
          in2=("float", "@left"))  # fmt: skip
    if not last:
        return "part_left"
    _node(graph, "add", "all", "color3", in1=("color3", f"@{last}"), in2=("color3", "@part_left"))
    return "all"


def _added(graph: ET.Element, at: int, last: str, part: str, total: str, weight: str) -> tuple[str, str]:
    if not last:
        return part, weight
    _node(graph, "add", f"sum_{at}", "color3", in1=("color3", f"@{last}"), in2=("color3", f"@{part}"))
    _node(graph, "add", f"weights_{at}", "float", in1=("float", total), in2=("float", weight))
    return f"sum_{at}", f"@weights_{at}"


def _ground_node(graph: ET.Element, note: ImportNote, ground: LegendNote, name: str) -> None:
    """A ground: its albedo where that was delivered, else its plain colour."""
    albedo = next((f for f in note.files if f.kind == "look" and f.of.endswith(":albedo")
                   and f.title == f"{ground.texture}, albedo"), None)  # fmt: skip
    if albedo is None:
        colour = ", ".join(f"{part:.6g}" for part in linear_of(ground.colour))
        _node(graph, "constant", name, "color3", value=("color3", colour))
        return
    across = ground.size or _DEFAULT_ACROSS
    e = note.ground.extent
    at = f"metres_of_{name}"
    _node(
        graph, "multiply", at, "vector2", in1=("vector2", "@place"), in2=("vector2", f"{e.width:.9g}, {e.length:.9g}")
    )
    if ground.turn:
        # There, places turn against the clock; so the texture turns with it.
        _node(graph, "rotate2d", f"turned_{name}", "vector2", **{"in": ("vector2", f"@{at}")},
              amount=("float", f"{-ground.turn:.9g}"))  # fmt: skip
        at = f"turned_{name}"
    made = _node(graph, "tiledimage", name, "color3", texcoord=("vector2", f"@{at}"),
                 uvtiling=("vector2", f"{1 / across:.9g}, {1 / across:.9g}"))  # fmt: skip
    ET.SubElement(made, "input", name="file", type="filename", value=albedo.file, colorspace="srgb_texture")
