"""Tells a picture that stands from one that moves: frames in, stills out. Pointers and clocks do not count."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Iterator

import msgspec
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from metrograph.watch.inputs.frames import Colour, Frame, Grey

Blocks = NDArray[np.bool_]
"""For every block of the picture whether something holds there; rows x columns."""

BLOCK = 16
"""Pixels of a block each way: about a line of text, so that a word is several blocks and a caret is one."""
_STEP = 2  # every second pixel each way is looked at: strokes are wider, and a quarter of the work is left
_DIFFERS = (
    24  # of 255: coding at the lowest quality moves a flat colour by up to 15; the faintest text stands off by 40
)
_SPECKS = 2  # looked-at pixels of a block that must differ: a single one is noise
_POINTER = 3  # blocks each way: what is no larger is a pointer, a caret, a spinner, a letter that is typed
_CALM = 450  # milliseconds that a picture has to stand: longer than a page takes to be painted in parts
_PATIENCE = 1600  # milliseconds after which a picture is read though it moves: slides and consoles never stand
_MEMORY = 3500  # milliseconds of looks that are kept to find where a picture came up
_KEEPS = 0.8  # what a block remembers of its restlessness from look to look: about the last five looks count
_RESTLESS = 0.45  # a block that changed in about half of the last looks changes by itself
_ARRIVED = 0.7  # part of the blocks that changed which have to look as they do in the end
_NEARER = 0.5  # of what changes next: what differs more from the page before is the next one, painted in part


class Still(msgspec.Struct, frozen=True):
    """A picture that was read.

    start: when it came up, in milliseconds; at: when it was read; moving: whether it never stood.
    changed: where it differs from the still before; restless: where it changes by itself.
    gap: whether the source was away since the still before; missing: for how many milliseconds, None where unknown.
    """

    start: int
    at: int
    grey: Grey
    colour: Colour
    changed: Blocks
    restless: Blocks
    moving: bool
    gap: bool
    missing: int | None = None


class _Sample(msgspec.Struct, frozen=True):
    """A frame that was looked at. calm: whether it looks as the one before it, but for a pointer."""

    frame: Frame
    small: Grey
    calm: bool = False

    @property
    def at(self) -> int:
        return self.frame.at


class Motion:
    """Follows a source frame by frame."""

    def __init__(self) -> None:
        self._looks: deque[_Sample] = deque()
        self._read: Grey | None = None
        self._read_at = 0
        self._restlessness: NDArray[np.float32] | None = None
        self._calm_since = self._unrest_since = 0
        self._gap = False
        self._missing: int | None = None
        self._grey: Grey | None = None
        self._small: Grey | None = None

    def see(self, frame: Frame) -> list[Still]:
        """Takes the next frame; gives a still when one is to be read, and before it how the one before was left.

        A box that is ticked is no larger than a pointer, and a page may be left at once: only in hindsight it is known
        that this was the answer.
        """
        # At rest a display gives the same picture again, which is not compared with itself.
        small = self._small if frame.grey is self._grey and self._small is not None else frame.grey[::_STEP, ::_STEP]
        self._grey, self._small = frame.grey, small
        seen = self._looks[-1].small if self._looks else self._read
        if seen is not None and seen.shape != small.shape:
            self._forget()  # also where the size changes twice before anything was read
        if frame.gap:
            self._gap, self._missing = True, frame.missing
        before = self._looks[-1] if self._looks else None
        moving = before is not None and self._moves(before.small, small, frame.at)
        if not frame.again or before is None:
            self._look(_Sample(frame, small, before is not None and not moving))
        elif not moving:
            self._looks[-1] = msgspec.structs.replace(self._looks[-1], calm=True)
        if before is None:
            self._calm_since = self._unrest_since = frame.at
            return []
        differs = self._differs(small)
        if differs is None:
            self._unrest_since = frame.at
            return []
        calm = not moving and frame.at - self._calm_since >= _CALM
        if not calm and frame.at - self._unrest_since < _PATIENCE:
            return []
        return self._stills(frame, differs, not calm)

    def _forget(self) -> None:
        self._looks.clear()
        self._read = self._restlessness = None

    def _look(self, look: _Sample) -> None:
        self._looks.append(look)
        while self._looks[0].at < look.at - _MEMORY and len(self._looks) > 2:
            self._looks.popleft()

    def _moves(self, before: Grey, now: Grey, at: int) -> bool:
        delta = changed_blocks(before, now) if before is not now else None
        if self._restlessness is None:
            self._restlessness = np.zeros(_grid(now), np.float32)
        self._restlessness *= _KEEPS
        if delta is None:
            return False
        calm = delta & ~self._restless()
        self._restlessness[delta] += 1 - _KEEPS
        moved = bool(larger_than_pointer(calm).any())
        if moved:
            self._calm_since = at
        return moved

    def _restless(self) -> Blocks:
        if self._restlessness is None:
            return np.zeros(_grid(self._looks[-1].small), np.bool_)
        return self._restlessness > _RESTLESS * (1 - _KEEPS**5)

    def _differs(self, small: Grey) -> Blocks | None:
        """Where the picture differs from the one that was read last; None where by no more than a pointer."""
        if self._read is None:
            return np.ones(_grid(small), np.bool_)
        blocks = changed_blocks(self._read, small)
        large = larger_than_pointer(blocks & ~self._restless())
        return blocks if large.any() else None

    def _stills(self, frame: Frame, differs: Blocks, moving: bool) -> list[Still]:
        start = self._came_up(self._looks[-1].small, differs)
        left = None if self._gap else self._left(start)
        found = [] if left is None else [self._still(left.frame, left.at, left.small, False)]
        found.append(self._still(frame, start, self._looks[-1].small, moving))
        self._gap, self._missing = False, None
        self._unrest_since = frame.at
        return found

    def end(self) -> list[Still]:
        """Ends the source, and tells how the last picture was left."""
        last = self._looks[-1] if self._looks else None
        if last is None or self._read is None or not last.calm or not changed_blocks(self._read, last.small).any():
            return []
        return [self._still(last.frame, last.at, last.small, False)]

    def _left(self, until: int) -> _Sample | None:
        """The last look at which the picture stood before it changed; None where it was the one that was read."""
        looks = [look for look in self._looks if self._read_at < look.at < until and look.calm]
        if self._read is None or not looks:
            return None
        changed = changed_blocks(self._read, looks[-1].small).sum()
        new = changed_blocks(looks[-1].small, self._looks[-1].small).sum()
        return looks[-1] if 0 < changed <= _NEARER * new else None

    def _still(self, frame: Frame, start: int, small: Grey, moving: bool) -> Still:
        differs = np.ones(_grid(small), np.bool_) if self._read is None else changed_blocks(self._read, small)
        self._read, self._read_at = small, frame.at
        return Still(
            start,
            frame.at,
            frame.grey,
            frame.colour(),
            differs,
            self._restless(),
            moving,
            self._gap,
            self._missing,
        )

    def _came_up(self, small: Grey, differs: Blocks) -> int:
        """The first of the recent looks that shows what has changed as it is now."""
        start = self._looks[-1].at
        wanted = _ARRIVED * differs.sum()
        for look in reversed(self._looks):
            if (differs & ~changed_blocks(look.small, small)).sum() < wanted:
                return (look.at + start) // 2  # it came up between two looks
            start = look.at
        return start


def stills(frames: Iterable[Frame]) -> Iterator[Still]:
    """The stills of a source, in order."""
    motion = Motion()
    for frame in frames:
        yield from motion.see(frame)
    yield from motion.end()


def _grid(small: Grey) -> tuple[int, int]:
    side = BLOCK // _STEP
    return -(-small.shape[0] // side), -(-small.shape[1] // side)


def changed_blocks(before: Grey, now: Grey) -> Blocks:
    """The blocks in which two looks differ by more than coding does."""
    rows, columns = _grid(now)
    side = BLOCK // _STEP
    apart = np.zeros((rows * side, columns * side), np.bool_)
    # Of unsigned bytes, the larger less the smaller is the difference without a wider type.
    apart[: now.shape[0], : now.shape[1]] = (np.maximum(before, now) - np.minimum(before, now)) > _DIFFERS
    # Eight points that lie in a row are one number; times this one, its highest byte is their sum.
    in_rows = (apart.view(np.uint64) * np.uint64(0x0101010101010101)) >> np.uint64(56)
    blocks: Blocks = in_rows.reshape(rows, side, columns).sum(1) >= _SPECKS
    return blocks


def larger_than_pointer(blocks: Blocks) -> Blocks:
    """Without groups of blocks that are no larger than a pointer."""
    if not blocks.any():
        return blocks
    groups, _ = ndimage.label(blocks, np.ones((3, 3)))
    kept = np.zeros(groups.max() + 1, np.bool_)
    for number, (tall, wide) in enumerate(ndimage.find_objects(groups), 1):
        kept[number] = tall.stop - tall.start > _POINTER or wide.stop - wide.start > _POINTER
    large: Blocks = kept[groups]
    return large
