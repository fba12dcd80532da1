"""Help on every key and verb, and an end without a traceback: shared by the recorder's screens."""

from __future__ import annotations

import asyncio
import codecs
import signal
from collections.abc import Callable
from contextlib import suppress
from functools import partial

from rich.text import Text
from textual.app import App, ComposeResult
from textual.binding import Binding
from textual.containers import VerticalScroll
from textual.drivers import linux_driver
from textual.events import Key
from textual.screen import ModalScreen
from textual.widgets import Static

from metrograph.log.verbs import VERBS

BINDINGS = (
    Binding("f1", "help"),
    Binding("f2,ctrl+n", "next"),
    Binding("f3,ctrl+t", "wait"),
    Binding("f4,ctrl+p", "pause"),
    Binding("f5,ctrl+z", "take_back"),
    Binding("f6,ctrl+b", "issue"),
    Binding("f7,ctrl+o", "moment"),
    Binding("f8,ctrl+k", "skip"),
    Binding("tab", "complete"),
    Binding("down", "choose(1)"),
    Binding("up", "choose(-1)"),
    Binding("escape", "clear"),
    Binding("pageup", "scroll(-1)"),
    Binding("pagedown", "scroll(1)"),
    Binding("ctrl+q", "leave"),
)
"""What the recorder does at each key; what they mean for a person stands below."""
KEYS = (
    ("Enter", "writes what the line says; on an empty line, what is offered"),
    ("Tab, ↑ ↓", "completes; goes to another way to go on"),
    ("F2 ^N", "the plan's next screen, with the choices of last time"),
    ("F3 ^T", "the machine works, or is done"),
    ("F4 ^P", "pause, or resume"),
    ("F5 ^Z", "undo: takes the last cue back; its words come to the line"),
    ("F6 ^B", "an issue, at this moment"),
    ("F7 ^O", "puts this moment in front of the line, then type at leisure"),
    ("F8 ^K", "skips what is offered: the next thing is"),
    ("PgUp PgDn", "turns the log's pages"),
    ("Esc", "empties the line"),
    ("^Q", "leaves; the run stays open"),
)
"""What every key does, for those who ask."""


def help_text() -> Text:
    """The keys, and for every verb a cue that is written with it."""
    text = Text("Keys\n", style="bold")
    for key, what in KEYS:
        text.append(f"  {key:<10}", style="bold").append(f"{what}\n", style="not bold")
    text.append("\nCues, such as\n", style="bold")
    for verb in VERBS.values():
        text.append(f"  {verb.example}\n", style="not bold")
    return text.append("\nAny key goes back.", style="not bold")


def _forgiving_decoder(encoding: str) -> Callable[[], codecs.IncrementalDecoder]:
    """Decodes what terminals send, whatever they send."""
    return partial(codecs.getincrementaldecoder(encoding), "replace")


# Else one byte that is not UTF-8 ends the reading of keys.
linux_driver.getincrementaldecoder = _forgiving_decoder  # type: ignore[attr-defined, assignment]


class Help(ModalScreen[None]):
    """What the keys do and how cues are written, over everything else until a key is pressed."""

    def compose(self) -> ComposeResult:
        """The text, which may be longer than the window."""
        with VerticalScroll(id="help"):
            yield Static(help_text())

    def on_key(self, event: Key) -> None:
        """Scrolls, or goes back."""
        if event.key not in {"up", "down", "pageup", "pagedown", "home", "end"}:
            event.stop()
            self.dismiss()


class QuietApp(App[None]):
    """A Textual program that ends quietly and says afterwards why."""

    ENABLE_COMMAND_PALETTE = False

    def on_load(self) -> None:
        """Whoever ends the program, or closes its terminal, ends it as a person would: what was typed is kept."""
        with suppress(NotImplementedError, RuntimeError, ValueError):  # signals are the main thread's
            for number in (signal.SIGTERM, signal.SIGHUP):
                asyncio.get_running_loop().add_signal_handler(number, self.exit)

    @property
    def failure(self) -> Exception | None:
        """What made it end that nobody had thought of; None when nothing did."""
        return self._exception

    def _fatal_error(self) -> None:
        """Ends without the traceback that would be printed, values of variables included; see ``failure``."""
        self._close_messages_no_wait()
