"""Channels exchanged, or one in the place of another."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case, left_over
from zigzag_meadow.core.fit.faults.base import Explained, Fault

__all__ = ["Permuted"]


class Permuted(Fault):
    kind = "channels"
    title = "Channels exchanged"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        many = len(case.letters)
        if many < 2:
            return None
        left = np.zeros((many, many))
        for pair in case.near:
            for i in range(many):
                for j in range(many):
                    left[i, j] += left_over(pair.seen[:, :, i], pair.meant[:, :, j], pair.tolerance)
        # A channel is where it belongs unless another explains it better.
        source = [i if left[i, i] <= left[i].min() * 1.0001 + 1e-12 else int(left[i].argmin()) for i in range(many)]
        if source == list(range(many)):
            return None
        before, after = float(np.trace(left)), float(sum(left[i, j] for i, j in enumerate(source)))
        if before <= 0 or any(self._flat(case, j) for i, j in enumerate(source) if i != j):
            return None
        return Explained(
            1 - after / before,
            f"{case.file}: {_words(case, source)}.",
            "Write it again, or put the channels back into their order.",
            tuple((case.letters[i], case.letters[j]) for i, j in enumerate(source) if i != j),
        )

    @staticmethod
    def _flat(case: Case, channel: int) -> bool:
        return not any(pair.textured(channel) for pair in (*case.near, case.whole))


def _words(case: Case, source: list[int]) -> str:
    moved = [i for i, j in enumerate(source) if i != j]
    up = [letter.upper() for letter in case.letters]
    if len(moved) == 2 and source[moved[0]] == moved[1] and source[moved[1]] == moved[0]:
        return f"{up[moved[0]]} and {up[moved[1]]} are exchanged"
    return " and ".join(f"{up[i]} holds what belongs in {up[source[i]]}" for i in moved)
