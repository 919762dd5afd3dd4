"""The import note for people: plain text, and HTML with a picture legend of channels and layers."""

from __future__ import annotations

from html import escape
from typing import Any

__all__ = ["note_as_html", "note_as_text"]

_STYLE = """
body{font:15px/1.5 sans-serif;color:#24302b;background:#f4f1e8;margin:0;padding:32px}
main{max-width:880px;margin:auto}h1{margin:0 0 4px}h2{margin:28px 0 8px;font-size:18px}
table{border-collapse:collapse;width:100%;background:#fffdf7;border:1px solid #d9d4c5}
td,th{padding:7px 12px;border-bottom:1px solid #d9d4c5;text-align:left;vertical-align:middle}
td.n{font-family:monospace;text-align:right;white-space:nowrap;user-select:all}p.s{color:#5c665f;margin:0}
img{width:96px;height:96px;image-rendering:auto;background:#6f7371;display:block}
.c{display:inline-block;width:22px;height:22px;border:1px solid #24302b;border-radius:4px;vertical-align:middle}
.k{display:inline-block;min-width:22px;text-align:center;border:1px solid #24302b;border-radius:6px;font-weight:bold}
"""


def _number(value: float) -> str:
    return f"{value:.10g}"


def _rows(note: dict[str, Any]) -> list[tuple[str, str, str]]:
    """(what to type, the value, why) in the order of an import dialogue."""
    t, h = note["terrain"], note["height"]
    blocks = f"{t['blocks_x']} × {t['blocks_y']}"
    return [
        ("Columns × rows", f"{t['columns']} × {t['rows']}", "samples of the height file and of every sheet"),
        ("Cells per patch side", str(t["patch_cells"]), "and"),
        ("Patches per block side", str(t["patches_per_block_side"]), f"make {blocks} blocks"),
        ("Spacing east–west", f"{_number(t['spacing_x'])} m", f"so that it is {_number(t['width'])} m wide"),
        ("Spacing north–south", f"{_number(t['spacing_y'])} m", f"so that it is {_number(t['length'])} m long"),
        ("Vertical scale", _number(h["vertical_scale"]), f"of steps of {_number(h['base_step'])} m: one step is "
         f"{_number(h['step'] * 1000)} mm"),
        ("Vertical position", f"{_number(h['vertical_position'])} m", "where stored value 32768 lies"),
        ("Lowest and highest", f"{_number(h['low'])} to {_number(h['high'])} m", "what you should then see"),
        ("Water level", "none" if h["water"] is None else f"{_number(h['water'])} m", "if you place a water surface"),
    ]  # fmt: skip


def _carried(channel: dict[str, Any]) -> str:
    kind = channel["kind"]
    if kind == "weight":
        return f"{channel['title']}, weight"
    if kind == "base":
        return f"{channel['title']}, base weight"
    if kind == "mask":
        return f"{channel['title']}, mask"
    if kind == "density":
        return f"{channel['title']}, density: white is {_number(channel['white'])} on 100 m²"
    if kind == "reading":
        even = ", even on the logarithm" if channel["scale"] == "log" else ""
        return (
            f"{channel['title']}: black is {_number(channel['black'])} {channel['unit']}, "
            f"white is {_number(channel['white'])} {channel['unit']}{even}"
        )
    return str(channel["title"])


def _file_facts(file: dict[str, Any]) -> str:
    order = f", {file['byte_order']} endian, no header" if file.get("byte_order") else ""
    alpha = ", alpha is straight data" if file.get("alpha") == "straight data" else ""
    return f"{file['format'].upper()}, {file['bits']} bits, linear{order}{alpha}"


def note_as_text(note: dict[str, Any]) -> str:
    """The note in plain text."""
    lines = [f"Import note: {note['project']} for {note['target']['title']}", ""]
    lines += [f"{title:<24} {value:<26} {why}" for title, value, why in _rows(note)]
    lines += [
        "",
        "Row 0 of every file is north, column 0 is west; samples are vertices, edge samples lie on the border.",
    ]
    for file in note["files"]:
        lines += ["", f"{file['file']}  ({_file_facts(file)})"]
        lines += [f"  {c['channel'].upper()}  {_carried(c)}" for c in file.get("channels", [])]
    for points in note["points"]:
        lines += ["", f"{points['file']}  ({points['title']}: {points['columns']})"]
    if note["weights_add_up"]:
        lines += ["", "The weights of all sheets together add up to 255 at every sample."]
    lines += ["", "Leave alone"]
    lines += [f"  {item['setting']}: {item['to']}. {item['because']}" for item in note["leave_alone"]]
    lines += ["", "Read these off in the real thing"]
    lines += [
        f"  {p['title']}: {_number(p['east'])} m east, {_number(p['north'])} m north of the south-west corner: "
        f"{p['height']:.2f} m"
        for p in note["check_points"]
    ]
    return "\n".join(lines) + "\n"


def _legend_row(file: str, channel: dict[str, Any], picture: str | None) -> str:
    image = f'<img alt="" src="{picture}">' if picture else ""
    swatch = f'<span class="c" style="background:{escape(channel["colour"])}"></span>' if "colour" in channel else ""
    return (
        f"<tr><td>{image}</td><td>{escape(file)}</td><td><span class=k>{channel['channel'].upper()}</span></td>"
        f"<td>{swatch} {escape(_carried(channel))}</td></tr>"
    )


def note_as_html(note: dict[str, Any], pictures: dict[tuple[str, str], str]) -> str:
    """The note as one HTML page. ``pictures``: data addresses of thumbnails by (file, channel)."""
    title = f"{escape(note['project'])} for {escape(note['target']['title'])}"
    typed = "".join(
        f"<tr><td>{escape(a)}</td><td class=n>{escape(b)}</td><td>{escape(c)}</td></tr>" for a, b, c in _rows(note)
    )
    files = "".join(f"<tr><td>{escape(f['file'])}</td><td>{escape(_file_facts(f))}</td></tr>" for f in note["files"])
    files += "".join(
        f"<tr><td>{escape(p['file'])}</td><td>{escape(p['title'])}: {escape(p['columns'])}</td></tr>"
        for p in note["points"]
    )
    legend = "".join(
        _legend_row(file["file"], channel, pictures.get((file["file"], channel["channel"])))
        for file in note["files"]
        for channel in file.get("channels", [])
    )
    alone = "".join(
        f"<tr><td>{escape(i['setting'])}</td><td>{escape(i['to'])}</td><td>{escape(i['because'])}</td></tr>"
        for i in note["leave_alone"]
    )
    points = "".join(
        f"<tr><td>{escape(p['title'])}</td><td class=n>{_number(p['east'])} m east</td>"
        f"<td class=n>{_number(p['north'])} m north</td><td class=n>{p['height']:.2f} m</td></tr>"
        for p in note["check_points"]
    )
    adds = "<p>The weights of all sheets together add up to 255 at every sample.</p>" if note["weights_add_up"] else ""
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>Import note: {title}</title>'
        f"<style>{_STYLE}</style><main><h1>Import note</h1><p class=s>{title}</p>"
        f"<h2>Type these in</h2><table>{typed}</table>"
        f"<h2>Files</h2><table>{files}</table><p>Row 0 of every file is north and column 0 is west; samples are "
        f"vertices and edge samples lie on the border.</p>"
        f"<h2>Which channel is which ground</h2><table>{legend}</table>{adds}"
        f"<h2>Leave alone</h2><table>{alone}</table>"
        f"<h2>Read these off in the real thing</h2><table>{points}</table></main></html>\n"
    )
