"""What all rules of a target share: each is one class that says what it is called, how it reads, and what it does."""

from __future__ import annotations

from typing import ClassVar

from zigzag_meadow.core.parts import Part

__all__ = ["Rule"]


class Rule(Part):
    """``title`` is what it is called, ``sentence`` how it reads, with its fields in braces."""

    title: ClassVar[str]
    sentence: ClassVar[str]

    def read(self) -> str:
        """The sentence with its numbers in place."""
        values = {name: _plain(getattr(self, name)) for name in type(self).model_fields}
        return self.sentence.format(**{**values, **self.words()})

    def words(self) -> dict[str, str]:
        """Words for fields whose values are not read as they are."""
        return {}


def _plain(value: object) -> str:
    if isinstance(value, tuple):
        return ", ".join(str(item) for item in value)
    return f"{value:g}" if isinstance(value, float) else str(value)
