"""Whole maps, put together from their files, against the project's own: sample by sample."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.fit.alignment import best_shift, exact_turn
from zigzag_meadow.core.fit.report import Fact
from zigzag_meadow.core.fit.run import Run, Truth
from zigzag_meadow.core.targets.note import ChannelNote, FileNote

__all__ = ["compare", "compares"]

F64 = NDArray[np.float64]
ROUNDED = 0.5 + 1e-2
"""Half a step is what rounding costs; a little more is what 32 bits cost before it."""
CODED = 6e-6
"""How far colours may be off by the tables that code them, of full scale."""


def compares(file: FileNote) -> bool:
    """Whether a file can be held against the project sample by sample: not textures, what was reduced more sharply than
    by means, and what comes back otherwise than it was written."""
    return file.kind != "look" and "Lanczos" not in file.resampled and file.reads != "jpeg"


def compare(run: Run, file: FileNote, seen: NDArray[Any]) -> None:
    """Compare a whole map (rows, columns, channels), north up; ``file``: the first of those that it is made of."""
    if file.kind == "height":
        _heights(run, file, seen[:, :, 0])
        return
    if run.truth is None or run.report.has(file.file):
        return
    if file.kind == "sheet":
        run.compared.append(file.of)
        _sheet(run, file, seen, run.truth.sheet(file))
    elif compares(file):
        run.compared.append(file.of)
        _map(run, file, seen, _expected(run.truth, file))


def _heights(run: Run, file: FileNote, values: NDArray[Any]) -> None:
    rebuilt = run.rehearsal.metres(file, values)
    run.pictures.rebuilt = rebuilt.astype(np.float32)
    step = _step(file, rebuilt)
    if file.stored is not None:
        listed = abs(file.stored.step / step - 1)
        run.report.facts.append(
            Fact("Step", listed < 1e-6, f"{step * 1000:.4g} mm", "what is typed makes the step of the note")
        )
    if run.truth is None:
        return
    run.compared.append(file.of)
    expected = run.truth.heights(file)
    difference = rebuilt - expected
    run.pictures.difference = difference.astype(np.float32)
    worst = float(np.abs(difference).max()) / step
    run.report.height_error_steps = worst
    good = worst <= ROUNDED
    named = run.report.has(file.file)
    turned = None if good or named else exact_turn(rebuilt, expected, ROUNDED * step)
    if turned is not None:
        run.say_turned(file.file, turned)
        named = True
    dy, dx = (0, 0) if good or named else best_shift(rebuilt, expected)
    told = f"largest error {worst:.2f} steps, {worst * step * 1000:.3g} mm"
    run.report.facts.append(Fact("Height", good, "exact" if good else "off", told))
    if named and not good:
        run.report.facts.append(Fact("Position", False, "wrong", "the height file is not what was delivered"))
        return
    place = f"{abs(dy)} rows, {abs(dx)} columns off" if dy or dx else "samples off, on both axes"
    run.report.facts.append(Fact("Position", not (dy or dx), f"{np.hypot(dy, dx):.2f}", place))
    if not good:
        _say_heights(run, file, (dy, dx), worst, step)


def _step(file: FileNote, metres: F64) -> float:
    """One step in metres; of floats what their last digit is at the largest height."""
    if file.stored is not None:
        base, times = file.stored.base_step, file.stored.multiplier
        if base is not None and times is not None:
            return base * times
        return (file.stored.at_full - file.stored.at_zero) / file.stored.full
    most = float(np.abs(metres).max()) or 1.0
    return most * 2.0 ** (-10 if file.bits == 16 else -22)


def _say_heights(run: Run, file: FileNote, shift: tuple[int, int], worst: float, step: float) -> None:
    dy, dx = shift
    if dy or dx:
        way = [f"{abs(dy)} rows {'south' if dy > 0 else 'north'}"] * bool(dy)
        way += [f"{abs(dx)} columns {'east' if dx > 0 else 'west'}"] * bool(dx)
        run.say("shifted", file.file, f"{file.file} lies {' and '.join(way)} of where it belongs.")
        return
    text = f"{file.file} gives heights up to {worst:.1f} steps ({worst * step:.3g} m) off the project."
    run.say("height-off", file.file, text, "Check the metres a step and at stored 0, or deliver again.")


def _sheet(run: Run, file: FileNote, seen: NDArray[Any], expected: NDArray[Any]) -> None:
    if seen.dtype.kind == "f":
        seen = np.floor(seen.astype(np.float64) * np.iinfo(expected.dtype).max + 0.5).astype(expected.dtype)
    if np.array_equal(seen, expected) or _is_turned(run, file, seen, expected):
        return
    full = int(np.iinfo(expected.dtype).max)
    for index, channel in enumerate(file.channels):
        off = np.abs(seen[:, :, index].astype(np.int64) - expected[:, :, index])
        if not off.any():
            continue
        name = channel.channel.upper()
        if file.channels[-1].channel == "a" and name != "A" and _is_premultiplied(seen, expected, index):
            run.say("premultiplied", file.file, f"{file.file}: {name} was multiplied by alpha.",
                    "Write it again with straight alpha.")  # fmt: skip
            return
        if _is_shifted(run, file, seen[:, :, index], expected[:, :, index]):
            return
        share = float((off > 0).mean())
        run.say("values-off", file.file,
                f"{file.file}: {name} ({channel.title}) differs at {share:.2%} of the samples, by up to "
                f"{int(off.max())} of {full}.")  # fmt: skip
        return


def _is_shifted(run: Run, file: FileNote, seen: NDArray[Any], expected: NDArray[Any]) -> bool:
    dy, dx = best_shift(seen.astype(np.float64), expected.astype(np.float64))
    if dy or dx:
        run.say("shifted", file.file, f"{file.file} lies {abs(dy)} rows and {abs(dx)} columns off.")
    return bool(dy or dx)


def _is_turned(run: Run, file: FileNote, seen: NDArray[Any], expected: NDArray[Any], within: float = 0) -> bool:
    """Whether all channels that say anything are the project's own in another orientation."""
    telling = [i for i in range(expected.shape[2]) if expected[:, :, i].std() > 0]
    turns = [
        exact_turn(seen[:, :, i].astype(np.float64), expected[:, :, i].astype(np.float64), within) for i in telling
    ]
    first = turns[0] if turns else None
    if first is None or any(turn is None or turn.happened != first.happened for turn in turns):
        return False
    run.say_turned(file.file, first)
    return True


def _is_premultiplied(seen: NDArray[Any], expected: NDArray[Any], index: int) -> bool:
    full = float(np.iinfo(expected.dtype).max)
    product = expected[:, :, index].astype(np.float64) * expected[:, :, -1] / full
    return bool((np.abs(seen[:, :, index] - product) <= 1).mean() > 0.99)


def _expected(truth: Truth, file: FileNote) -> F64:
    """What should be stored, not rounded: (rows, columns, channels) from 0 to full scale."""
    values = truth.values(file).astype(np.float64)
    full = 1.0 if file.floats else 2.0**file.bits - 1
    if file.kind == "classes":
        return values
    if file.colour_space == "sRGB":
        # IEC 61966-2-1, written apart from what codes the delivered colours.
        light = np.clip(values, 0, 1)
        values = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    elif file.channels[0].kind == "reading":
        values = _mapped(file.channels[0], values)
    return np.clip(values, 0, 1) * full if not file.floats else values


def _mapped(channel: ChannelNote, values: F64) -> F64:
    """A reading between black and white, 0 where there is none; in its own unit where the note has no ends."""
    if channel.black is None or channel.white is None:
        return np.nan_to_num(values)
    ends = np.array([channel.black, channel.white])
    if channel.mapping == "log":
        values, ends = np.log2(values), np.log2(ends)
    unit: F64 = np.nan_to_num(np.clip((values - ends[0]) / (ends[1] - ends[0]), 0, 1))
    return unit


def _map(run: Run, file: FileNote, seen: NDArray[Any], expected: F64) -> None:
    if seen.shape != expected.shape:
        run.say("channels", file.file, f"{file.file} has {seen.shape[2]} channels, the project {expected.shape[2]}.")
        return
    full = 1.0 if file.floats else 2.0**file.bits - 1
    coded = full * CODED if file.colour_space == "sRGB" else 0.0
    within = (ROUNDED + full * 2e-7 + coded) if not file.floats else float(np.abs(expected).max()) * _last_digit(file)
    off = np.abs(seen.astype(np.float64) - expected)
    if bool((off <= within).all()) or _is_turned(run, file, seen, expected, within):
        return
    at = int(off.reshape(-1, off.shape[2]).max(axis=0).argmax())
    if _is_shifted(run, file, seen[:, :, at], expected[:, :, at]):
        return
    share = float((off[:, :, at] > within).mean())
    run.say("values-off", file.file,
            f"{file.file}: {file.channels[at].title} differs at {share:.2%} of the samples, by up to "
            f"{float(off.max()):.4g} of {full:g}.")  # fmt: skip


def _last_digit(file: FileNote) -> float:
    return 2.0 ** (-10 if file.bits == 16 else -20)
