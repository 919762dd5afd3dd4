"""The shading recipe as MaterialX, made of the import note alone."""

from __future__ import annotations

import xml.etree.ElementTree as ET

from zigzag_meadow.core.delivery.shading_parts import DEFAULT_ACROSS, Share, sampler_names, shares_of, weight_files
from zigzag_meadow.core.srgb import linear_of
from zigzag_meadow.core.targets.note import FileNote, ImportNote, LegendNote

__all__ = ["recipe_materialx"]


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
    if any(file.tile is not None for file in weight_files(note)):
        root.append(ET.Comment(" Of the first tile: texture coordinates run over the tile that is drawn. "))
    graph = ET.SubElement(root, "nodegraph", name="grounds")
    _node(graph, "texcoord", "place", "vector2")
    samplers = sampler_names(note)
    for file in weight_files(note):
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
        _node(
            graph,
            "multiply",
            f"scaled_of_{name}",
            "vector2",
            in1=("vector2", f"@{at}"),
            in2=("vector2", f"{share[0]:.9g}, {share[1]:.9g}"),
        )
        _node(
            graph,
            "add",
            f"at_of_{name}",
            "vector2",
            in1=("vector2", f"@scaled_of_{name}"),
            in2=("vector2", f"{half[0]:.9g}, {half[1]:.9g}"),
        )
        at = f"at_of_{name}"
    many = len(file.channels)
    kind = {1: "float", 2: "vector2", 3: "vector3", 4: "vector4"}[many]
    made = _node(
        graph,
        "image",
        name,
        kind,
        texcoord=("vector2", f"@{at}"),
        uaddressmode=("string", "clamp"),
        vaddressmode=("string", "clamp"),
    )
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
    shares = shares_of(note)
    written = [s for s in shares if s.file is not None]
    left = next((s for s in shares if s.file is None), None)
    names = {s.ground.layer: f"ground_{at}" for at, s in enumerate(shares)}
    for share in shares:
        _ground_node(graph, note, share.ground, names[share.ground.layer])

    def weight(share: Share) -> str:
        assert share.file is not None
        return f"@{'turned_' if share.turned else ''}{share.channel}_of_{samplers[share.file.file]}"

    if note.weights.mixing == "chain":
        last = names[(left or shares[0]).ground.layer]
        for at, share in enumerate(written):
            _node(
                graph,
                "mix",
                f"laid_{at}",
                "color3",
                fg=("color3", f"@{names[share.ground.layer]}"),
                bg=("color3", f"@{last}"),
                mix=("float", weight(share)),
            )
            last = f"laid_{at}"
        return last
    last, total = "", ""
    for at, share in enumerate(written):
        _node(
            graph,
            "multiply",
            f"part_{at}",
            "color3",
            in1=("color3", f"@{names[share.ground.layer]}"),
            in2=("float", weight(share)),
        )
        last, total = _added(graph, at, last, f"part_{at}", total, weight(share))
    if left is None:
        return last
    _node(graph, "subtract", "left", "float", in1=("float", "1"), in2=("float", total or "0"))
    _node(
        graph, "multiply", "part_left", "color3", in1=("color3", f"@{names[left.ground.layer]}"), in2=("float", "@left")
    )
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
    albedo = next(
        (
            f
            for f in note.files
            if f.kind == "look" and f.of.endswith(":albedo") and f.title == f"{ground.texture}, albedo"
        ),
        None,
    )
    if albedo is None:
        colour = ", ".join(f"{part:.6g}" for part in linear_of(ground.colour))
        _node(graph, "constant", name, "color3", value=("color3", colour))
        return
    across = ground.size or DEFAULT_ACROSS
    e = note.ground.extent
    at = f"metres_of_{name}"
    _node(
        graph, "multiply", at, "vector2", in1=("vector2", "@place"), in2=("vector2", f"{e.width:.9g}, {e.length:.9g}")
    )
    if ground.turn:
        # There, places turn against the clock; so the texture turns with it.
        _node(
            graph,
            "rotate2d",
            f"turned_{name}",
            "vector2",
            **{"in": ("vector2", f"@{at}")},
            amount=("float", f"{-ground.turn:.9g}"),
        )
        at = f"turned_{name}"
    made = _node(
        graph,
        "tiledimage",
        name,
        "color3",
        texcoord=("vector2", f"@{at}"),
        uvtiling=("vector2", f"{1 / across:.9g}, {1 / across:.9g}"),
    )
    ET.SubElement(made, "input", name="file", type="filename", value=albedo.file, colorspace="srgb_texture")
