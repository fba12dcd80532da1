"""Opens whatever a person names to be watched or gone through, and says in one line what has to be installed for it."""

from __future__ import annotations

import time
from collections.abc import Callable, Generator, Iterator
from functools import partial
from importlib.util import find_spec
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.frames import Frame
from metrograph.watch.pages.watching import FoundPage, Going, found_in_frames, found_live
from metrograph.watch.reading.text_reader import LineReader, Tesseract

if TYPE_CHECKING:
    from metrograph.watch.inputs.terminal_sources import Output

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


class Input(Protocol):
    """Something that can be watched while it happens, or gone through afterwards: it gives pages."""

    @property
    def length(self) -> int | None:
        """Milliseconds; None where it does not say, as it goes on."""

    def found(self, since: int, going: Going) -> Iterator[FoundPage]:
        """Its pages, later than a moment in milliseconds, for as long as it is to go on."""


class PictureInput:
    """Pictures that are there already: a film, a folder of them.

    frames: gives those from a moment on, in milliseconds.
    """

    def __init__(self, frames: Callable[[int], Iterator[Frame]], length: int | None = None) -> None:
        self._frames, self.length = frames, length

    def found(self, since: int, going: Going) -> Iterator[FoundPage]:
        """Its pages, each read once it stands."""
        return found_in_frames(self._frames(since), LineReader(Tesseract()), going)


class LiveInput:
    """A display, a device or a folder that is watched as it happens: it is looked at while its pages are read."""

    length = None

    def __init__(self, frames: Generator[Frame]) -> None:
        self._frames = frames

    def found(self, since: int, going: Going) -> Iterator[FoundPage]:  # noqa: ARG002 - it has no past
        """Its pages from now on, each read once it stands."""
        return found_live(self._frames, LineReader(Tesseract()), going)


class TextInput:
    """A terminal: recorded, or as it speaks. output: gives what it wrote, with its times."""

    length = None

    def __init__(self, output: Callable[[], Iterator[Output]]) -> None:
        self._output = output

    def found(self, since: int, going: Going) -> Iterator[FoundPage]:
        """Its pages; of a recording, those that are later than the moment."""
        from metrograph.watch.pages.terminal_pages import found_in_text

        return (found for found in found_in_text(self._output(), going) if not since or found.page.at > since)


EXPECTED = "rfb://HOST:PORT, v4l2:DEVICE, x11:DISPLAY, folder:DIR or serial:PATH"
_DEVICES = {"v4l2": "v4l2", "x11": "x11grab"}


def open_live(address: str, password: str | None, told: Callable[[str], None]) -> Input:
    """What an address means, checked and connected; raises MetrographError when it cannot be watched.

    told: is called with what a person should know: that a connection dropped, and that it is back.
    """
    kind, _, rest = address.partition(":")
    if kind == "rfb":
        return LiveInput(_display(address, password, told))
    if kind in _DEVICES and rest:
        return LiveInput(_device(kind, rest))
    if kind == "folder" and rest:
        from metrograph.watch.inputs.folder import watch_folder

        return LiveInput(watch_folder(Path(rest)))
    if kind == "serial" and rest:
        from metrograph.watch.inputs.terminal_sources import watch_line

        return TextInput(partial(watch_line, Path(rest)))
    raise MetrographError(f"“{address}” cannot be watched; expected: {EXPECTED}")


def _display(address: str, password: str | None, told: Callable[[str], None]) -> Generator[Frame]:
    from metrograph.watch.inputs.display import Display, display_address, watch_display

    host, port = display_address(address)
    first = [Display(host, port, password)]  # so that what is wrong is said at once
    return watch_display(lambda: first.pop() if first else Display(host, port, password), told)


def machine_frames(display: Path, begun: float) -> Generator[Frame]:
    """Frames of a machine of ours, whose display is there as long as it is.

    display: its socket; begun: when it was switched on, by the clock of ``time``.
    """
    from metrograph.watch.inputs.display import Display, watch_display

    return watch_display(lambda: Display(display), begun=begun)


def _device(kind: str, rest: str) -> Generator[Frame]:
    """A device counts its own time, which may begin anywhere."""
    from metrograph.watch.inputs.video import Film

    film, begun = Film(rest, _DEVICES[kind], {"framerate": "5"}), time.monotonic()
    return (Frame(round((time.monotonic() - begun) * 1000), frame.grey, frame.colour) for frame in film.frames())


def open_recording(path: Path, timing: Path | None = None) -> Input:
    """The recording at a path; raises MetrographError when it is none. timing: what lies beside one of ``script``."""
    if path.is_dir():
        from metrograph.watch.inputs.folder import Pictures

        pictures = Pictures(path)
        return PictureInput(pictures.frames, pictures.length)
    if not path.exists():
        raise MetrographError(f"there is no recording {path}")
    for file in (path, timing):
        if file is not None and not file.is_file():
            raise MetrographError(f"{file} is no recording: it is no ordinary file")
    if timing is not None or is_terminal_recording(path):
        from metrograph.watch.inputs.terminal_sources import read_recording

        return TextInput(partial(read_recording, path, timing))
    from metrograph.watch.inputs.video import Film

    film = Film(str(path))
    seconds = film.facts.seconds
    return PictureInput(film.frames, None if seconds is None else round(seconds * 1000))


def is_terminal_recording(path: Path) -> bool:
    """Whether a file begins like a terminal's recording."""
    with path.open("rb") as file:
        start = file.read(400).lstrip()
    return path.suffix == ".cast" or (start.startswith(b"{") and b'"version"' in start)
