"""Opens whatever a person names to be gone through: a film, a folder of pictures, what a terminal recorded."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Protocol

from metrograph.errors import MetrographError
from metrograph.sources.watch.reading.reader import Reader, Tesseract
from metrograph.sources.watch.reading.watching import Found, Going, found_in_frames


class Recording(Protocol):
    """Something that was recorded and can be gone through once."""

    @property
    def length(self) -> int | None:
        """Milliseconds; None where it does not say."""

    def found(self, since: int, going: Going) -> Iterator[Found]:
        """Its pages from a moment on, in milliseconds."""


class _Film:
    def __init__(self, path: Path) -> None:
        from metrograph.sources.watch.inputs.video import Film

        self._film = Film(str(path))
        seconds = self._film.facts.seconds
        self.length = None if seconds is None else round(seconds * 1000)

    def found(self, since: int, going: Going) -> Iterator[Found]:
        return found_in_frames(self._film.frames(since), Reader(Tesseract()), going)


class _Folder:
    def __init__(self, path: Path) -> None:
        from metrograph.sources.watch.inputs.folder import Pictures

        self._pictures = Pictures(path)
        self.length = self._pictures.length

    def found(self, since: int, going: Going) -> Iterator[Found]:
        return found_in_frames(self._pictures.frames(since), Reader(Tesseract()), going)


class _Terminal:
    length = None

    def __init__(self, path: Path, timing: Path | None) -> None:
        self._path, self._timing = path, timing

    def found(self, since: int, going: Going) -> Iterator[Found]:
        from metrograph.sources.watch.inputs.terminal.pages import found_in_text
        from metrograph.sources.watch.inputs.terminal.recordings import read_recording

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
