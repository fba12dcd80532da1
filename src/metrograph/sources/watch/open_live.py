"""Opens what is to be watched while it happens: a display, a camera or screen, a folder, a line."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from metrograph.errors import MetrographError
from metrograph.sources.watch.reading.frames import Frame
from metrograph.sources.watch.reading.reader import Reader, Tesseract
from metrograph.sources.watch.reading.watching import Found, Going, found_in_frames

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
        from metrograph.sources.watch.inputs.folder import watch_folder

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
    from metrograph.sources.watch.inputs.rfb.client import Display, display_address, watch_display

    host, port = display_address(address)
    first = [Display(host, port, password)]  # so that what is wrong is said at once
    return watch_display(lambda: first.pop() if first else Display(host, port, password), told)


def _device(kind: str, rest: str) -> Iterator[Frame]:
    from metrograph.sources.watch.inputs.video import Film

    film = Film(rest, _DEVICES[kind], {"framerate": "5"})
    return _live(film.frames())


def _live(frames: Iterator[Frame]) -> Iterator[Frame]:
    """A device counts its own time, which may begin anywhere."""
    begun = time.monotonic()
    for frame in frames:
        yield Frame(round((time.monotonic() - begun) * 1000), frame.grey, frame.colour)


def _line(path: Path, going: Going) -> Iterator[Found]:
    from metrograph.sources.watch.inputs.terminal.live import watch_line
    from metrograph.sources.watch.inputs.terminal.pages import found_in_text

    return found_in_text(watch_line(path), going)
