"""For pytest (``-p tests.mutant``): one module of the application is loaded with a mistake in it.

``MUTANT_FILE``: the module's file; ``MUTANT_TEXT``: the file with its text. Nothing on the disk is changed.
"""

from __future__ import annotations

import os
from importlib.machinery import SourceFileLoader
from pathlib import Path
from types import CodeType

_file, _text = os.environ["MUTANT_FILE"], Path(os.environ["MUTANT_TEXT"]).read_text()
_get_code = SourceFileLoader.get_code


def _with_mistake(self: SourceFileLoader, name: str) -> CodeType | None:
    if os.path.realpath(self.path) == _file:
        return compile(_text, self.path, "exec")
    return _get_code(self, name)


SourceFileLoader.get_code = _with_mistake  # type: ignore[method-assign]
