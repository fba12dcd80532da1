"""Screenshots as frames: those that lie in a folder by their times, or those that come into it while it is watched."""

from __future__ import annotations

import time
from collections.abc import Generator, Iterator
from contextlib import suppress
from pathlib import Path

from metrograph.core.bare_pictures import pixels_of
from metrograph.core.errors import MetrographError
from metrograph.store.local.files import read_own
from metrograph.watch.inputs.frames import LOOKS, Colour, Frame, grey_of

_ENDINGS = frozenset({".png", ".jpg", ".jpeg", ".webp", ".bmp", ".ppm", ".gif"})
_STANDS = 1000  # milliseconds that a picture is taken to have stood: whoever made it, looked


class Pictures:
    """The pictures of a folder, each at the time of its file."""

    def __init__(self, folder: Path) -> None:
        """Raises MetrographError when there is no picture in it."""
        self._files = sorted(_files(folder), key=lambda file: (file[0], file[1].name))
        if not self._files:
            raise MetrographError(f"{folder} has no picture in it; expected: PNG, JPEG, WebP, BMP, PPM or GIF")
        self._begun = self._files[0][0]
        self.length = self._files[-1][0] - self._begun + _STANDS

    def frames(self, since: int = 0) -> Iterator[Frame]:
        """Frames from a moment on; raises MetrographError when not one of the pictures can be read."""
        readable = False
        for at, path in self._files:
            if at - self._begun <= since and since:
                continue
            picture = read_picture(path)
            if picture is not None:
                readable = True
                yield from standing(at - self._begun, picture)
        if not readable and not since:
            raise MetrographError("not one of the pictures can be read; they are damaged or too large")


def watch_folder(folder: Path, poll: float = 1 / LOOKS) -> Generator[Frame]:
    """Frames of the pictures that come into a folder from now on, for as long as somebody asks for them."""
    if not folder.is_dir():
        raise MetrographError(f"{folder} is no folder to watch")
    # What is there already is known at once, and not only when the first frame is asked for.
    return _coming(folder, {path for _, path in _files(folder)}, poll)


def _coming(folder: Path, seen: set[Path], poll: float) -> Generator[Frame]:
    begun = time.monotonic()

    def now() -> int:
        return round((time.monotonic() - begun) * 1000)

    last: Frame | None = None
    while True:
        for _, path in sorted(_files(folder)):
            if path not in seen and (picture := read_picture(path)) is not None:
                seen.add(path)
                for frame in standing(now(), picture):
                    time.sleep(max(frame.at - now(), 0) / 1000)  # what comes next is not before it
                    yield frame
                    last = frame
        time.sleep(poll)
        if last is not None:
            last = Frame(max(now(), last.at), last.grey, last.colour)
            yield last


def standing(at: int, picture: Colour) -> Iterator[Frame]:
    """A picture as three looks at it, so that it stands."""
    grey = grey_of(picture)
    for number in range(3):
        yield Frame(at + number * _STANDS // LOOKS, grey, lambda: picture)


def read_picture(path: Path) -> Colour | None:
    """A picture in colours; None where it cannot be read, or is being written."""
    with suppress(MetrographError, ValueError):
        return pixels_of(read_own(path, "picture"))
    return None


def _files(folder: Path) -> list[tuple[int, Path]]:
    """Pictures with the times of their files in milliseconds."""
    found = []
    for path in folder.iterdir():
        with suppress(OSError):
            if path.suffix.lower() in _ENDINGS and path.is_file():
                found.append((path.stat().st_mtime_ns // 1_000_000, path))
    return found
