"""Opens whatever a person names to be gone through or watched, and says in one line what has to be installed for it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial
from importlib.util import find_spec
from pathlib import Path
from typing import Protocol

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.frames import Frame
from metrograph.watch.pages.reader import Reader, Tesseract
from metrograph.watch.pages.watching import Found, Going, found_in_frames

PACKAGES = ("av", "PIL", "tesserocr", "pyte", "cryptography", "textual_image")


def is_there() -> bool:
    """Whether everything is there."""
    return not _missing()


def check_watch() -> None:
    """Raises MetrographError when a package of the extra is missing."""
    missing = _missing()
    if missing:
        raise MetrographError(
            "to read recordings and displays, the extra has to be installed: pip install 'metrograph[watch]'"
            f" (missing: {', '.join(missing)})"
        )


def _missing() -> list[str]:
    return [name for name in PACKAGES if find_spec(name) is None]


EXPECTED = "rfb://HOST:PORT, v4l2:DEVICE, x11:DISPLAY, folder:DIR or serial:PATH"
_DEVICES = {"v4l2": "v4l2", "x11": "x11grab"}
Live = Callable[[Going], Iterator[Found]]
"""Gives pages for as long as it is to go on."""


def open_live(address: str, password: str | None, told: Callable[[str], None]) -> Live:
    """What an address means, checked and connected; raises MetrographError when it cannot be watched.

    told: is called with what a person should know: that a connection dropped, and that it is back.
    """
    kind, _, rest = address.partition(":")
    if kind == "rfb":
        return _frames(_display(address, password, told))
    if kind in _DEVICES and rest:
        return _frames(_device(kind, rest))
    if kind == "folder" and rest:
        from metrograph.watch.inputs.folder import watch_folder

        if not Path(rest).is_dir():
            raise MetrographError(f"{rest} is no folder to watch")
        return _frames(watch_folder(Path(rest)))
    if kind == "serial" and rest:
        return partial(_line, Path(rest))
    raise MetrographError(f"“{address}” cannot be watched; expected: {EXPECTED}")


def _frames(frames: Iterator[Frame]) -> Live:
    reader = Reader(Tesseract())
    return lambda going: found_in_frames(frames, reader, going)


def _display(address: str, password: str | None, told: Callable[[str], None]) -> Iterator[Frame]:
    from metrograph.watch.inputs.display import Display, display_address, watch_display

    host, port = display_address(address)
    first = [Display(host, port, password)]  # so that what is wrong is said at once
    return watch_display(lambda: first.pop() if first else Display(host, port, password), told)


def _device(kind: str, rest: str) -> Iterator[Frame]:
    from metrograph.watch.inputs.video import Film

    film = Film(rest, _DEVICES[kind], {"framerate": "5"})
    return _live(film.frames())


def _live(frames: Iterator[Frame]) -> Iterator[Frame]:
    """A device counts its own time, which may begin anywhere."""
    begun = time.monotonic()
    for frame in frames:
        yield Frame(round((time.monotonic() - begun) * 1000), frame.grey, frame.colour)


def _line(path: Path, going: Going) -> Iterator[Found]:
    from metrograph.watch.inputs.terminal import found_in_text
    from metrograph.watch.inputs.terminal_sources import watch_line

    return found_in_text(watch_line(path), going)


class Recording(Protocol):
    """Something that was recorded and can be gone through once."""

    @property
    def length(self) -> int | None:
        """Milliseconds; None where it does not say."""

    def found(self, since: int, going: Going) -> Iterator[Found]:
        """Its pages from a moment on, in milliseconds."""


class _Film:
    def __init__(self, path: Path) -> None:
        from metrograph.watch.inputs.video import Film

        self._film = Film(str(path))
        seconds = self._film.facts.seconds
        self.length = None if seconds is None else round(seconds * 1000)

    def found(self, since: int, going: Going) -> Iterator[Found]:
        return found_in_frames(self._film.frames(since), Reader(Tesseract()), going)


class _Folder:
    def __init__(self, path: Path) -> None:
        from metrograph.watch.inputs.folder import Pictures

        self._pictures = Pictures(path)
        self.length = self._pictures.length

    def found(self, since: int, going: Going) -> Iterator[Found]:
        return found_in_frames(self._pictures.frames(since), Reader(Tesseract()), going)


class _Terminal:
    length = None

    def __init__(self, path: Path, timing: Path | None) -> None:
        self._path, self._timing = path, timing

    def found(self, since: int, going: Going) -> Iterator[Found]:
        from metrograph.watch.inputs.terminal import found_in_text
        from metrograph.watch.inputs.terminal_sources import read_recording

        return (
            found for found in found_in_text(read_recording(self._path, self._timing), going) if found.page.at > since
        )


def open_source(path: Path, timing: Path | None = None) -> Recording:
    """The recording at a path; raises MetrographError when it is none."""
    if path.is_dir():
        return _Folder(path)
    if not path.exists():
        raise MetrographError(f"there is no recording {path}")
    if not path.is_file():
        raise MetrographError(f"{path} is no recording: it is no ordinary file")
    if timing is not None or is_terminal_recording(path):
        return _Terminal(path, timing)
    return _Film(path)


def is_terminal_recording(path: Path) -> bool:
    """Whether a file begins like a terminal's recording."""
    with path.open("rb") as file:
        start = file.read(400).lstrip()
    return path.suffix == ".cast" or (start.startswith(b"{") and b'"version"' in start)
