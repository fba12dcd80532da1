"""Recordings, capture cards and screens through FFmpeg: frames, and where a recording was stopped for a while."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
import numpy as np
from numpy.typing import NDArray

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.frames import LOOKS, Colour, Frame, Grey

_REGULAR = 0.9  # of the distances between frames that are as usual; a film that keeps what changes only has fewer
_AS_USUAL = 0.25  # part of the usual distance that one may be off: players round times of frames
_SLOWEST = 1100  # milliseconds: a film of less than a frame a second says nothing by its distances
_LEAST = 5000  # milliseconds: less is a machine that was busy, and no hand on a button


class Pauses:
    """The pauses of a film, as they lie on its own time, in milliseconds."""

    def __init__(self, times: NDArray[np.int64]) -> None:
        """times: of all frames, in milliseconds, in any order."""
        found = pauses_in(times)
        self._at = np.array([at for at, _ in found], np.int64)
        self._before = np.concatenate([[0], np.cumsum([length for _, length in found])]).astype(np.int64)

    def seen(self, at: int) -> int:
        """A moment of the film without the pauses before it."""
        return at - int(self._before[np.searchsorted(self._at, at, side="left")])

    def in_film(self, seen: int) -> int:
        """The moment of the film for one that is counted without pauses."""
        return seen + int(self._before[np.searchsorted(self._at - self._before[:-1], seen, side="left")])

    def ended(self, before: int, now: int) -> int | None:
        """How long the pause was that lies between two moments of the film, in milliseconds; None where none does."""
        first, last = np.searchsorted(self._at, [before, now], side="left")
        return int(self._before[last] - self._before[first]) if last > first else None


def pauses_in(times: NDArray[np.int64]) -> list[tuple[int, int]]:
    """Where a film was paused, and for how long, in milliseconds; nothing of one whose frames never were regular."""
    distances = np.diff(np.sort(times).astype(np.float64))
    if len(distances) < 10:  # of a few frames nobody can say what is usual
        return []
    usual = float(np.median(distances))
    if not 0 < usual <= _SLOWEST or np.mean(np.abs(distances - usual) <= max(_AS_USUAL * usual, 2)) < _REGULAR:
        return []
    places = np.flatnonzero(distances > max(_LEAST, 10 * usual))
    return [(int(np.sort(times)[place]), int(distances[place] - usual)) for place in places]


if TYPE_CHECKING:
    from av.container import InputContainer
    from av.video.frame import VideoFrame
    from av.video.stream import VideoStream

_LARGEST = 8192  # pixels each way
_MANY = 12  # frames a second from which those are skipped that nothing refers to


class FilmFacts(msgspec.Struct, frozen=True):
    """The facts that a film gives of itself. seconds: its length, None where it does not say; size: in pixels."""

    seconds: float | None
    size: tuple[int, int]


class Film:
    """A recording that can be gone through once."""

    def __init__(self, path: str, form: str | None = None, options: dict[str, str] | None = None) -> None:
        """Raises MetrographError when there is no film in it. form, options: what FFmpeg is told about a device."""
        import av

        self.name = Path(path).name or path
        self._path, self._live = path, form is not None
        try:
            self._container: InputContainer = av.open(path, "r", format=form, options=options or {})
        except (av.FFmpegError, OSError, ValueError) as error:
            raise MetrographError(f"{self.name} cannot be opened as a film: {_reason(error)}") from error
        if not self._container.streams.video:
            self._container.close()
            raise MetrographError(f"{self.name} has no picture in it; expected a film of the screen")
        self._stream: VideoStream = self._container.streams.video[0]
        size = self._stream.codec_context.width, self._stream.codec_context.height
        if not all(0 < side <= _LARGEST for side in size):
            self._container.close()
            raise MetrographError(f"{self.name} is {size[0]} x {size[1]} pixels; expected 1 to {_LARGEST} each way")
        length = self._container.duration
        self.facts = FilmFacts(None if length is None else length / 1e6, size)
        self._stream.thread_type = "AUTO"
        if (self._stream.average_rate or 0) > _MANY:
            self._stream.codec_context.skip_frame = "NONREF"

    def frames(self, since: int = 0) -> Iterator[Frame]:
        """A frame for every look, from a moment in milliseconds on; the last one of each slot.

        Raises MetrographError when not a single frame can be read.
        """
        try:
            yield from self._steady(since)
        finally:
            self._container.close()

    def _steady(self, since: int) -> Iterator[Frame]:
        """Where a film says nothing because nothing changes, the picture is given once more, so that it stands."""
        slot, last = 1000 // LOOKS, None
        for frame in self._slots(since):
            if last is not None and frame.at - last.at > 2 * slot:
                for number in (1, 2, 3):
                    if last.at + number * slot < frame.at:
                        yield msgspec.structs.replace(last, at=last.at + number * slot, again=True)
            yield frame
            last = frame
        if last is None:
            raise MetrographError(f"no picture of {self.name} can be read; it is damaged or empty")
        for number in (1, 2, 3):
            yield msgspec.structs.replace(last, at=last.at + number * slot, again=True)

    def _slots(self, since: int) -> Iterator[Frame]:
        kept: tuple[int, VideoFrame] | None = None
        pauses = self._pauses()
        before: int | None = None
        for picture in self._pictures(pauses.in_film(since) if since else 0):
            if picture.pts is None:
                continue
            film = self._time(picture.pts)
            at, missing = pauses.seen(film), None if before is None else pauses.ended(before, film)
            before = film
            if missing is not None and kept is not None:
                yield _frame(*kept)
                kept = None
                yield msgspec.structs.replace(_frame(at, picture), gap=True, missing=missing)
            if kept is None and missing is None:
                yield _frame(at, picture)  # what stands there at the beginning stands there from the beginning
            if kept is not None and at * LOOKS // 1000 != kept[0] * LOOKS // 1000:
                yield _frame(*kept)
            if kept is None or at >= kept[0]:
                kept = (at, picture)
        if kept is not None:
            yield _frame(*kept)

    def _time(self, pts: int) -> int:
        """Milliseconds since the film began."""
        return round((pts - (self._stream.start_time or 0)) * (self._stream.time_base or 0) * 1000)

    def _pauses(self) -> Pauses:
        """Where the recording was stopped, by the times of all its frames; a device has none."""
        import av

        times: list[int] = []
        if not self._live:
            with suppress(av.FFmpegError, OSError), av.open(self._path) as container:
                stream = container.streams.video[0]
                times = [self._time(packet.pts) for packet in container.demux(stream) if packet.pts is not None]
        return Pauses(np.array(times, np.int64))

    def _pictures(self, since: int) -> Iterator[VideoFrame]:
        """Frame by frame; what is damaged is left out, and the rest goes on."""
        import av

        if since:
            self._container.seek(since * 1000 + (self._container.start_time or 0))
        try:
            for packet in self._container.demux(self._stream):
                try:
                    yield from packet.decode()
                except av.FFmpegError:
                    continue
        except (av.FFmpegError, OSError):
            return


def _frame(at: int, picture: VideoFrame) -> Frame:
    return Frame(at, _shades(picture), lambda: _colours(picture))


def _shades(picture: VideoFrame) -> Grey:
    """The picture's luma as it lies in the film, without converting colours."""
    if not picture.format.name.startswith(("yuv4", "yuvj4", "nv12", "gray")) or picture.format.components[0].bits != 8:
        return picture.to_ndarray(format="gray").astype(np.uint8, copy=False)
    plane = picture.planes[0]
    rows: Grey = np.frombuffer(memoryview(plane), np.uint8).reshape(-1, plane.line_size)
    return rows[: picture.height, : picture.width]


def _colours(picture: VideoFrame) -> Colour:
    return picture.to_ndarray(format="rgb24").astype(np.uint8, copy=False)


def _reason(error: Exception) -> str:
    return getattr(error, "strerror", None) or str(error)
