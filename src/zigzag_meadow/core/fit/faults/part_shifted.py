"""One channel of several shifted by whole samples or by parts of one."""

from __future__ import annotations

from dataclasses import replace

from zigzag_meadow.core.fit.case import Case, Pair
from zigzag_meadow.core.fit.faults.base import AGAIN, Explained, Fault, subject
from zigzag_meadow.core.fit.faults.shifted import found_shift, shift_words

__all__ = ["PartShifted"]


def _alone(pair: Pair, channel: int) -> Pair:
    part = slice(channel, channel + 1)
    return Pair(pair.seen[:, :, part], pair.meant[:, :, part], pair.per, pair.tolerance)


class PartShifted(Fault):
    kind = "shifted"
    title = "A channel is not in its place"
    cost = 1.55
    enough = 0.75

    def explain(self, case: Case) -> Explained | None:
        if len(case.letters) < 2 or not case.wrong or len(case.wrong) == len(case.letters):
            return None
        channel, total = case.wrong[0], 0.0
        for c in case.wrong:
            off = sum(_alone(pair, c).before for pair in case.near)
            channel, total = (c, off) if off > total else (channel, total)
        every = sum(pair.before for pair in case.near)
        single = replace(
            case,
            letters=case.letters[channel : channel + 1],
            titles=case.titles[channel : channel + 1],
            whole=_alone(case.whole, channel),
            close=tuple(_alone(pair, channel) for pair in case.close),
            seen=case.seen[channel : channel + 1],
            meant=case.meant[channel : channel + 1],
            scratch={},
        )
        found = found_shift(single)
        if found is None or every <= 0:
            return None
        pair, south, east, share = found
        down, across = south * pair.per[0], east * pair.per[1]
        return Explained(
            share * total / every,
            f"{subject(case, [channel])} lies {shift_words(down, across)} off its place, the other channels do not.",
            AGAIN,
            (("south", round(down, 3)), ("east", round(across, 3))),
        )
