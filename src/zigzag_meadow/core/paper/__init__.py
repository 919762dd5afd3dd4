"""Pages to print or send: one look, with fonts and pictures inside, so that they stand alone."""

from __future__ import annotations

import base64
from functools import cache
from pathlib import Path

from jinja2 import Environment, FileSystemLoader, StrictUndefined

__all__ = ["address", "fonts", "pages"]

_HERE = Path(__file__).parent


def pages(templates: Path) -> Environment:
    """Templates of a folder, which may extend ``paper.html``; what they are given is escaped."""
    loader = FileSystemLoader([templates, _HERE])
    return Environment(loader=loader, autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)


def address(data: bytes, kind: str) -> str:
    """Data as an address that a page can hold, such as of ``image/png``."""
    return f"data:{kind};base64,{base64.b64encode(data).decode('ascii')}"


@cache
def fonts() -> dict[str, str]:
    """Addresses of the fonts that ``paper.html`` asks for."""
    return {
        name: address((_HERE / "fonts" / f"{name}.woff2").read_bytes(), "font/woff2")
        for name in ("text", "heading", "numbers")
    }
