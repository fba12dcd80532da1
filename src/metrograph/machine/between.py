"""Stands between a person's viewer and a machine's display: passes everything on, and knows when what was done."""

from __future__ import annotations

import socket
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from threading import Thread

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.machine.viewer_speech import Act, ViewerSpeech

_PIECE = 1 << 16  # bytes that are passed on at once
_HOME = "127.0.0.1"


class ActAt(msgspec.Struct, frozen=True):
    """What a person did, and when: seconds on this computer's clock that never goes back."""

    at: float
    act: Act


class Between:
    """A port of this computer alone that leads to a machine's display. acts: what was done through it so far."""

    def __init__(self, display: Path, port: int, told: Callable[[str], None]) -> None:
        """Raises MetrographError when the port is taken.

        port: any that is free, where it is 0; told: is called with why a viewer was sent away.
        """
        self._display, self._told = display, told
        self.acts: list[ActAt] = []
        try:
            self._door = socket.create_server((_HOME, port))
        except OSError as error:
            raise MetrographError(f"port {port} cannot be opened for a viewer: {error.strerror}") from error
        self.port: int = self._door.getsockname()[1]
        Thread(target=self._receive, daemon=True).start()

    def close(self) -> None:
        """Lets nobody in any more; who is there goes with the machine."""
        with suppress(OSError):
            self._door.shutdown(socket.SHUT_RDWR)  # also wakes who waits at it
        self._door.close()

    def _receive(self) -> None:
        with suppress(OSError):
            while True:
                viewer, _ = self._door.accept()
                Thread(target=self._lead, args=(viewer,), daemon=True).start()

    def _lead(self, viewer: socket.socket) -> None:
        with viewer, socket.socket(socket.AF_UNIX) as machine, suppress(OSError):
            machine.connect(str(self._display))
            viewer.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
            Thread(target=_pass_on, args=(machine, viewer), daemon=True).start()
            speech = ViewerSpeech()
            while data := viewer.recv(_PIECE):
                at = time.monotonic()
                try:
                    said, acts = speech.take(data)
                except MetrographError as error:
                    self._told(str(error))
                    return
                machine.sendall(said)
                self.acts += [ActAt(at, act) for act in acts]


def _pass_on(machine: socket.socket, viewer: socket.socket) -> None:
    """What the machine shows, as it comes."""
    with suppress(OSError):
        while data := machine.recv(_PIECE):
            viewer.sendall(data)
    for link in (machine, viewer):
        with suppress(OSError):
            link.shutdown(socket.SHUT_RDWR)
