"""The bytes of a display server: as many as were asked for, in time, or a sentence that says what is wrong."""

from __future__ import annotations

import socket
import struct
import time

from metrograph.core.errors import MetrographError

_PATIENCE = 20.0  # seconds for one message: a server that trickles its bytes is no display


class DisplayError(MetrographError):
    """A display server that cannot be watched, for a reason that its address does not mend."""


class DisplayLostError(DisplayError):
    """The connection broke; trying again may help."""


class Wire:
    """A connection to a display server.

    ``deadline`` bounds a whole message, so that a byte now and then does not keep it alive.
    """

    def __init__(self, link: socket.socket, patience: float = _PATIENCE) -> None:
        self._link = link
        self._patience = patience
        self._deadline = time.monotonic() + patience

    def begin_message(self) -> None:
        """From here on, a new message has its time."""
        self._deadline = time.monotonic() + self._patience

    def waiting(self, seconds: float) -> bool:
        """Whether something has come within so many seconds; what it is stays to be read."""
        self._link.settimeout(max(seconds, 0.001))
        try:
            return self._link.recv(1, socket.MSG_PEEK) != b"" or self._gone()
        except TimeoutError:
            return False
        except OSError as error:
            raise DisplayLostError(f"the display's connection broke: {error}") from error

    def exactly(self, count: int) -> bytes:
        """So many bytes; raises DisplayLostError when the connection ends first or they do not come in time."""
        parts: list[bytes] = []
        while count:
            left = self._deadline - time.monotonic()
            if left <= 0:
                raise DisplayLostError(f"the display sent only a part of a message in {self._patience:g} s")
            self._link.settimeout(left)
            try:
                part = self._link.recv(min(count, 1 << 20))
            except TimeoutError:
                continue
            except OSError as error:
                raise DisplayLostError(f"the display's connection broke: {error}") from error
            if not part:
                self._gone()
            parts.append(part)
            count -= len(part)
        return b"".join(parts)

    def numbers(self, form: str) -> tuple[int, ...]:
        """Numbers in network order, in the form that ``struct`` takes."""
        return struct.unpack(f">{form}", self.exactly(struct.calcsize(f">{form}")))

    def send(self, data: bytes) -> None:
        """Sends bytes; raises DisplayLostError when the connection is gone."""
        self._link.settimeout(self._patience)
        try:
            self._link.sendall(data)
        except OSError as error:
            raise DisplayLostError(f"the display's connection broke: {error}") from error

    @staticmethod
    def _gone() -> bool:
        raise DisplayLostError("the display closed the connection")
