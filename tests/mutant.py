"""For pytest (``-p tests.mutant``): one module of the application is loaded with a mistake in it.

``MUTANT_FILE``: the module's file; ``MUTANT_TEXT``: the file with its text; ``MUTANT_FRESH``: files whose kernels are
compiled anew, as what is kept of them was made without the mistake. Nothing on the disk is changed.
"""

from __future__ import annotations

import os
from importlib.machinery import SourceFileLoader
from pathlib import Path
from types import CodeType

_file, _text = os.environ["MUTANT_FILE"], Path(os.environ["MUTANT_TEXT"]).read_text()
_fresh = os.environ.get("MUTANT_FRESH", "").split(os.pathsep)
_get_code = SourceFileLoader.get_code


def _with_mistake(self: SourceFileLoader, name: str) -> CodeType | None:
    path = os.path.realpath(self.path)
    if path != _file and path not in _fresh:
        return _get_code(self, name)
    text = _text if path == _file else Path(path).read_text()
    return compile(text.replace("cache=True", "cache=False") if path in _fresh else text, self.path, "exec")


SourceFileLoader.get_code = _with_mistake  # type: ignore[method-assign]
