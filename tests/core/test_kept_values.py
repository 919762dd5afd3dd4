"""Every kind of map gives what it gave when its version was made, and what is said of it has not changed unseen."""

from __future__ import annotations

import json

import numpy as np
import pytest

from tests.support import kept_words
from tests.support.kept_values import GROUPS, KEPT, some

WITHIN = 2e-4
"""Of a map's range: what another processor's own functions may differ by."""


@pytest.mark.parametrize("group", GROUPS)
def test_every_map_is_what_it_was(tmp_path, group):
    kept = json.loads(KEPT.read_text())[group]
    made = GROUPS[group](tmp_path)
    assert made.keys() == kept.keys()
    other = []
    for name, values in made.items():
        now, then = (np.array(one, np.float64) for one in (some(values), kept[name]))
        span = max(np.nanmax(then) - np.nanmin(then), 1e-6)
        if not np.allclose(now, then, rtol=1e-4, atol=WITHIN * span, equal_nan=True):
            other.append(f"{name}: {now.tolist()}, not {then.tolist()}")
    assert not other, "\n".join(other)


@pytest.mark.parametrize("group", kept_words.GROUPS)
def test_what_is_said_is_what_was_said(tmp_path, group, warm):
    kept = json.loads(kept_words.KEPT.read_text())[group]
    other = kept_words.same(kept_words.plain(kept_words.GROUPS[group](tmp_path)), kept)
    assert not other, "\n".join(other)
