"""Test cases with a run that has just begun, a clock that a test sets, and the recorder on it."""

import asyncio
import tempfile
import unittest
from collections.abc import AsyncIterator, Callable, Coroutine
from contextlib import asynccontextmanager
from datetime import UTC, datetime
from functools import wraps
from pathlib import Path
from typing import Any
from unittest import mock

from rich.text import Text
from textual.pilot import Pilot
from textual.widgets import Static

from metrograph.faces.recorder.app import Recorder
from metrograph.log.cues import Cue, Header
from metrograph.services.live.session import Session
from metrograph.store.clock import Instant, When
from metrograph.store.local.logbook import Logbook, make_logbook

START = Instant(datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), "aaaa", 1000.0)


class RecorderCase(unittest.TestCase):
    """A run that has just begun, with a clock that a test sets."""

    plan: str | None = None

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)
        others: tuple[tuple[str, str], ...] = ()
        if self.plan is not None:
            earlier = "metrograph 1\nrelease: larkmoor-7.0-heron\nrig: bench-vm\nbegun: 2026-01-02T10:00:00Z\n\n"
            self.book.log("larkmoor-7.0-heron-1").write_text(earlier + self.plan)
            others = (("like", "larkmoor-7.0-heron"),)
        self.run_name = self.book.begin(Header("larkmoor-8.0-heron", "bench-vm", START.wall, others), START)
        self.seconds = 0.0
        self.session = Session(self.book, self.run_name, self.clock)

    def clock(self) -> Instant:
        return START.earlier(-self.seconds)

    def write_elsewhere(self, cue: Cue) -> None:
        """Writes a cue as another process would."""
        self.book.append(self.run_name, [cue], When(START, given=True))

    def cues(self) -> str:
        """The log below its header."""
        return self.book.log(self.run_name).read_text().partition("\n\n")[2]

    def full_disk(self) -> "mock._patch[mock.MagicMock]":
        return mock.patch("metrograph.store.local.files._write_all", side_effect=OSError(28, "No space left on device"))


def driven(test: Callable[[Any], Coroutine[Any, Any, None]]) -> Callable[[Any], None]:
    """A test that is a coroutine, in a loop of its own."""

    @wraps(test)
    def run(case: Any) -> None:
        asyncio.run(test(case))

    return run


class AppCase(RecorderCase):
    @asynccontextmanager
    async def recorder(self, width: int = 80, height: int = 24) -> AsyncIterator[Pilot[None]]:
        self.app = Recorder(Session(self.book, self.run_name, self.clock))
        async with self.app.run_test(size=(width, height)) as pilot:
            await pilot.pause()
            self.pilot = pilot
            yield pilot

    async def type(self, *texts: str) -> None:
        """Types texts; a name of a key stands in angle brackets."""
        for text in texts:
            keys = [text[1:-1]] if text.startswith("<") else ["space" if key == " " else key for key in text]
            await self.pilot.press(*keys)
        await self.pilot.pause()

    async def until(self, panel: str, text: str) -> None:
        """Waits until a panel shows a text."""
        for _ in range(200):
            if text in self.shown(panel):
                return
            await self.pilot.pause(0.1)
        self.assertIn(text, self.shown(panel))

    def shown(self, panel: str) -> str:
        content = self.app.query_one(f"#{panel}", Static).content
        return content.plain if isinstance(content, Text) else str(content)
