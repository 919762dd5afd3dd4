"""What is wrong with a document, an edit or a kit, as one sentence."""

from __future__ import annotations

from pydantic import ValidationError

from zigzag_meadow.core.errors import BadDocument

__all__ = ["told"]

_MANY = {
    "masks": "masks",
    "pieces": "pieces",
    "features": "drawn lines",
    "scatters": "scattered things",
    "layers": "layers",
    "sheets": "sheets",
    "readings": "readings with numbers of their own",
    "steps": "steps of preparation",
    "lines": "lines in one recipe",
    "points": "points in one line or curve",
    "exposed": "numbers of a piece for others to set",
    "where": "bands that limit one step",
    "edges": "inner edges",
    "keep_out": "masks that keep one thing out",
    "clear": "things that one thing keeps away from",
    "ids": "new lines",
    "coats": "coats",
    "stops": "colours in one ramp",
    "looks": "looks",
    "merges": "merged layers",
    "strokes": "strokes on layers",
    "coat_pieces": "pieces of coats",
    "shares": "shares of one merge",
}
"""Lists with a longest length, by their field, as an artist calls them."""


def told(error: ValidationError, what: str) -> BadDocument:
    """The first thing that is wrong, with its place; ``what`` begins the sentence ("The edit")."""
    first = error.errors(include_url=False)[0]
    place = ".".join(str(part) for part in first["loc"])
    named = next((str(part) for part in reversed(first["loc"]) if isinstance(part, str)), "")
    if first["type"] == "too_long" and named in _MANY:
        most, got = first["ctx"]["max_length"], first["ctx"]["actual_length"]
        count = f"this would make {got}" if isinstance(got, int) and got > most else "this would be more"
        return BadDocument(f"There can be at most {most} {_MANY[named]}; {count}.", field=place)
    return BadDocument(f"{what} is wrong at {place or 'its root'}: {first['msg']}.", field=place or None)
