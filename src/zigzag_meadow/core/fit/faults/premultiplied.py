"""Colours multiplied by alpha."""

from __future__ import annotations

import numpy as np

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import Explained, Fault, by_channel, subject

__all__ = ["Premultiplied"]


class Premultiplied(Fault):
    kind = "premultiplied"
    title = "Multiplied by alpha"
    cost = 1.0

    def explain(self, case: Case) -> Explained | None:
        if not case.letters or case.letters[-1] != "a" or len(case.letters) < 2:
            return None
        last = len(case.letters) - 1
        if not any(self._varies(pair, last) for pair in case.near):
            return None

        def predict(pair: Pair, channel: int) -> np.ndarray | None:
            if channel == last or not self._varies(pair, channel):
                return None
            product = case.meant[channel].with_alpha if case.meant and not case.in_full else None
            if product is not None and product.shape == pair.meant.shape[:2]:
                return product
            return np.asarray(pair.meant[:, :, channel] * pair.meant[:, :, last])

        found = by_channel(case, predict)
        if found is None:
            return None
        share, used = found
        return Explained(
            share, f"{subject(case, used)} was multiplied by alpha.", "Write it again with straight alpha."
        )

    @staticmethod
    def _varies(pair: Pair, channel: int) -> bool:
        return float(np.ptp(pair.meant[:, :, channel])) > 0.02
