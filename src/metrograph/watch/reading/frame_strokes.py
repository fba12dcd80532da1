"""Finds the strokes of frames around fields, buttons and dialogs, so that no letter is glued to them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

_ACROSS, _DOWN = 45, 45  # pixels: a stroke of a letter is shorter, also in headings, and a short button is as wide
_STUB = 20  # pixels: longer than the bars of letters
_UPRIGHT = 10  # pixels: the sides of a low button, which lie between two strokes across
_THICK = 3  # pixels: what is thicker is an area
_TOUCH = 4  # pixels between the end of an upright and a stroke across: corners are round

Ink = NDArray[np.bool_]


def frame_strokes(ink: Ink) -> Ink:
    """The points of ink that belong to frames."""
    across, short = _thin_runs(ink, _ACROSS, 1), _thin_runs(ink, _STUB, 1)
    down = _thin_runs(ink, _DOWN, 0)
    uprights = _uprights(ink & ~down, across, short)
    return across | down | uprights | _stubs(short, uprights)


def edges_of(strokes: Ink) -> NDArray[np.int32]:
    """Upright strokes as rows of left, top, right, bottom in pixels."""
    groups, count = ndimage.label(strokes & _runs(strokes, _UPRIGHT, 0))
    boxes = [(wide.start, tall.start, wide.stop, tall.stop) for tall, wide in ndimage.find_objects(groups)]
    upright = [box for box in boxes if box[2] - box[0] <= _THICK]
    return np.array(upright, np.int32).reshape(-1, 4) if count else np.zeros((0, 4), np.int32)


def _runs(ink: Ink, length: int, axis: int) -> Ink:
    """The points that lie in a row of at least so many, by steps that double."""
    starts = _joined(ink, length, axis, np.logical_and)
    shape = list(ink.shape)
    shape[axis] += length - 1
    padded = np.zeros(shape, np.bool_)
    inner = [slice(None), slice(None)]
    inner[axis] = slice(length - 1, length - 1 + starts.shape[axis])
    padded[tuple(inner)] = starts
    return _joined(padded, length, axis, np.logical_or)


def _joined(ink: Ink, length: int, axis: int, join: np.ufunc) -> Ink:
    """For every point, whether so many from it on hold, or any of them does; shorter by one less than these."""
    found, reach = ink, 1
    while reach < length:
        step = min(reach, length - reach)
        found = join(found[:-step], found[step:]) if axis == 0 else join(found[:, :-step], found[:, step:])
        reach += step
    return found


def _thin_runs(ink: Ink, length: int, axis: int) -> Ink:
    """Rows of at least so many points that are no thicker than a stroke."""
    runs = _runs(ink, length, axis)
    return runs & ~_runs(runs, _THICK + 1, 1 - axis)


def _stubs(short: Ink, uprights: Ink) -> Ink:
    """Short strokes across that end at an upright: what is left of a frame beside a title that fills it."""
    groups, count = ndimage.label(short, np.ones((3, 3)))
    if not count or not uprights.any():
        return np.zeros_like(short)
    kept = np.zeros(count + 1, np.bool_)
    for number, (tall, wide) in enumerate(ndimage.find_objects(groups), 1):
        kept[number] = uprights[tall, max(wide.start - _TOUCH, 0) : wide.stop + _TOUCH].any()
    return kept[groups]


def _uprights(ink: Ink, across: Ink, short: Ink) -> Ink:
    """Short upright strokes between two strokes across, or at the end of one."""
    runs = _runs(ink, _UPRIGHT, 0)
    groups, count = ndimage.label(runs, np.ones((3, 3)))
    if not count or not short.any():
        return np.zeros_like(ink)
    kept = np.zeros(count + 1, np.bool_)
    for number, (tall, wide) in enumerate(ndimage.find_objects(groups), 1):
        if wide.stop - wide.start > _THICK:
            continue
        columns = slice(max(wide.start - _TOUCH, 0), wide.stop + _TOUCH)
        above = across[max(tall.start - _TOUCH, 0) : tall.start + _TOUCH, columns].any()
        below = across[max(tall.stop - _TOUCH, 0) : tall.stop + _TOUCH, columns].any()
        # Or that a stroke across runs into, as at the sides of a title in its frame.
        inner = short[tall.start + _TOUCH : max(tall.stop - _TOUCH, 0), columns].any()
        kept[number] = (above and below) or inner
    return kept[groups]
