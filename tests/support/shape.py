"""What a kind of document looks like, one line a field: kept beside the frozen samples of its version.

``python -m tests.support.shape`` writes the shapes of the newest versions into ``tests/samples/shapes``.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.kit import Kit
from zigzag_meadow.core.targets.model import Target

SHAPES = Path(__file__).parents[1] / "samples" / "shapes"
KEPT: dict[str, tuple[type[BaseModel], str]] = {
    "document": (Project, "version"),
    "kit": (Kit, "kit"),
    "target": (Target, "version"),
}
"""What is kept in files and read again by later versions, and the field with its version."""
# Words change nothing that is stored; which kinds there are grows without a new version.
_WORDS = ("title", "description", "examples", "discriminator")


def _plain(schema: Any) -> Any:
    if isinstance(schema, list):
        return [_plain(item) for item in schema]
    if not isinstance(schema, dict):
        return schema
    if "oneOf" in schema and all("$ref" in item for item in schema["oneOf"]):
        return "one of several kinds"
    return {key: _plain(value) for key, value in sorted(schema.items()) if key not in _WORDS}


def shape(kind: type[BaseModel]) -> list[str]:
    """``Model.field: what it holds`` for every field of a model and of all that it holds."""
    schema = kind.model_json_schema()
    models = {kind.__name__: schema, **schema.get("$defs", {})}
    return sorted(
        f"{name}.{field}: {json.dumps(_plain(told), ensure_ascii=False)}"
        for name, model in models.items()
        for field, told in model.get("properties", {}).items()
    )


def version_of(name: str) -> int:
    kind, field = KEPT[name]
    version: int = kind.model_fields[field].default
    return version


def kept_at(name: str) -> Path:
    return SHAPES / f"{name}_{version_of(name)}.txt"


if __name__ == "__main__":
    SHAPES.mkdir(exist_ok=True)
    for name, (kind, _) in KEPT.items():
        kept_at(name).write_text("\n".join(shape(kind)) + "\n")
