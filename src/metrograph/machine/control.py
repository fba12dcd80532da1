"""Asks a machine what it does, over its control protocol: what happened is known to the moment, and never guessed."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable, Coroutine
from concurrent.futures import Future
from contextlib import suppress
from pathlib import Path
from threading import Event, Thread
from typing import TYPE_CHECKING, Any

import msgspec

from metrograph.core.errors import MetrographError

if TYPE_CHECKING:
    from qemu.qmp import QMPClient

_PATIENCE = 20.0  # seconds for a machine to come up, or to answer
_EACH = 1.0  # seconds between two looks at what the disk does
_TOLD = ("RESET", "SHUTDOWN", "DEVICE_TRAY_MOVED")


class Happened(msgspec.Struct, frozen=True):
    """Something that a machine told.

    at: seconds on this computer's clock that never goes back; by_guest: whether its system did it; opened: a drive.
    """

    at: float
    what: str
    by_guest: bool = False
    opened: bool = False


class WrittenBytes(msgspec.Struct, frozen=True):
    """What a machine wrote to its disk until a moment: bytes since it was started."""

    at: float
    bytes: int


class Control:
    """The connection to a machine, in a thread of its own."""

    def __init__(self, socket: Path, is_there: Callable[[], bool]) -> None:
        """Raises MetrographError when the machine does not come up, or does not speak as expected.

        is_there: whether its process still runs, so that one that ended at once is not waited for.
        """
        self.happened: list[Happened] = []
        self.written: list[WrittenBytes] = []
        self.accelerated = False
        self._gone = Event()
        self._loop = asyncio.new_event_loop()
        self._thread = Thread(target=self._loop.run_forever, daemon=True)
        self._thread.start()
        self._tasks: list[Future[None]] = []
        self._client: QMPClient | None = None
        try:
            self._client = client = self._wait(self._connect(socket, is_there))
        except MetrographError:
            self.close()
            raise
        self._tasks = [
            asyncio.run_coroutine_threadsafe(each, self._loop)
            for each in (self._listen(client), self._watch_disk(client))
        ]

    @property
    def is_gone(self) -> bool:
        """Whether the machine has ended."""
        return self._gone.is_set()

    def ask(self, command: str, **arguments: object) -> Any:
        """What the machine answers; raises MetrographError when it refuses or does not in time."""
        if self._client is None:
            raise MetrographError("the machine is not there")
        return self._wait(self._client.execute(command, arguments or None))

    def close(self) -> None:
        """Ends the connection; the machine goes on."""
        for task in self._tasks:
            task.cancel()
        if self._client is not None:
            with suppress(MetrographError):
                self._wait(self._client.disconnect())
        self._wait(asyncio.sleep(0))  # so that what was cancelled comes to its end
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(_PATIENCE)
        if not self._loop.is_running():
            self._loop.close()

    def _wait(self, doing: Coroutine[Any, Any, Any]) -> Any:
        future = asyncio.run_coroutine_threadsafe(doing, self._loop)
        try:
            return future.result(_PATIENCE)
        except MetrographError:
            raise
        except Exception as error:
            future.cancel()
            raise MetrographError(f"the machine does not answer: {str(error) or type(error).__name__}") from error

    async def _connect(self, socket: Path, is_there: Callable[[], bool]) -> QMPClient:
        from qemu.qmp import QMPClient

        client, until = QMPClient("metrograph"), time.monotonic() + _PATIENCE
        while not socket.exists():
            if time.monotonic() > until or not is_there():
                raise MetrographError("the machine did not come up")
            await asyncio.sleep(0.05)
        await client.connect(str(socket))
        found = await client.execute("query-kvm")
        self.accelerated = isinstance(found, dict) and bool(found.get("enabled"))
        return client

    async def _listen(self, client: QMPClient) -> None:
        """Notes what the machine tells, when it tells it."""
        with client.listener(_TOLD) as told:
            async for event in told:
                data = event.get("data") or {}
                by_guest, opened = (isinstance(data, dict) and bool(data.get(key)) for key in ("guest", "tray-open"))
                self.happened.append(Happened(time.monotonic(), str(event["event"]), by_guest, opened))

    async def _watch_disk(self, client: QMPClient) -> None:
        """Asks how much was written; when nobody answers any more, the machine has ended."""
        try:
            while True:
                stats = await client.execute("query-blockstats")
                devices = [each for each in stats if isinstance(each, dict)] if isinstance(stats, list) else []
                self.written.append(WrittenBytes(time.monotonic(), sum(map(_bytes_written, devices))))
                await asyncio.sleep(_EACH)
        except Exception:  # noqa: BLE001 - whatever it is, nothing more can be asked
            self._gone.set()


def _bytes_written(device: dict[str, Any]) -> int:
    stats = device.get("stats")
    return int(stats.get("wr_bytes", 0)) if isinstance(stats, dict) else 0
