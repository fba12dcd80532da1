"""Keeps looking at a machine while pages are read: what stands for a second while all cores are busy is not missed."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator
from queue import Empty, Full, Queue
from threading import Event, Thread
from types import TracebackType
from typing import Self

from metrograph.watch.inputs.frames import Frame
from metrograph.watch.reading.motion import Still, stills

_WAITING = 24  # stills that may wait to be read: four megabytes each at 1280x800
_LOOK = 0.3  # seconds until whoever reads is told that nothing has come
_LEAVES = 1.0  # seconds that the source has to end in


class Lookout:
    """Takes frames from a source in a thread of its own, and gives the stills among them to whoever reads.

    Where reading is behind by too much, slides and consoles that never stood are left out, and no page that stood.
    fitted: brings a frame to the size in which it is read.
    """

    def __init__(self, frames: Generator[Frame], fitted: Callable[[Frame], Frame]) -> None:
        self._frames, self._fitted = frames, fitted
        self._stills: Queue[Still] = Queue(_WAITING)
        self._stop, self._over = Event(), Event()
        self._failed: BaseException | None = None
        self._thread = Thread(target=self._look, daemon=True)
        self.at = 0

    def __enter__(self) -> Self:
        self._thread.start()
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, _: TracebackType | None) -> None:
        self.stop()
        self._thread.join(_LEAVES)

    def stop(self) -> None:
        """Ends looking; what was seen can still be read."""
        self._stop.set()

    def __iter__(self) -> Iterator[Still | None]:
        """Every still, in order; None where none has come for a moment. Raises what the source raised."""
        left = round(_LEAVES / _LOOK)  # looks for a source that does not end when it should
        while left:
            over = self._over.is_set()
            try:
                yield self._stills.get(timeout=_LOOK) if not over else self._stills.get_nowait()
            except Empty:
                if over:
                    break
                if self._stop.is_set():
                    left -= 1
                else:
                    yield None
        if self._failed is not None:
            raise self._failed

    def _look(self) -> None:
        try:
            for still in stills(self._until_stopped()):
                self._give(still)
        except BaseException as error:  # noqa: BLE001 - it is raised where the stills are read
            self._failed = error
        finally:
            self._frames.close()
            self._over.set()

    def _until_stopped(self) -> Iterator[Frame]:
        for frame in self._frames:
            if self._stop.is_set():
                return
            self.at = frame.at
            yield self._fitted(frame)

    def _give(self, still: Still) -> None:
        while True:
            try:
                # One that never stood gives way: the next look at it comes in a second.
                self._stills.put(still, timeout=0 if still.moving else _LOOK)
            except Full:
                if still.moving:
                    return
            else:
                return
