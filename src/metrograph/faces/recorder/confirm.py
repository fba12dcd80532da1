"""The screen on which a draft is gone through: proposals, the picture each rests on, a key for every decision."""

from __future__ import annotations

from pathlib import Path
from typing import ClassVar

from rich.text import Text
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical
from textual.events import Key
from textual.widgets import Input, Static
from textual_image.widget import (
    Image,  # asks the terminal what it can show, so that it is loaded before the screen is taken
)

from metrograph.core.errors import MetrographError
from metrograph.faces.recorder.helpers import QuietApp
from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_line, format_words
from metrograph.show.safe import visible
from metrograph.watch.drafts import confirming
from metrograph.watch.drafts.review import Review
from metrograph.watch.drafts.seen import SURE
from metrograph.words.figure_words import counted

_KEYS = (
    ("Enter", "take"), ("t", "title"), ("k", "kind"), ("j", "join with the one before"), ("n", "no screen"),
    ("u", "next unsure"), ("z", "undo"), ("w", "write the run"), ("q", "leave"),
)  # fmt: skip
_OFFERS, _READ = 5, 5  # titles that are offered, and lines of a page that are shown: as many as fit beside a picture


class Confirmer(QuietApp):
    """Goes through one draft.

    bound: how sure a proposal has to be to become part of the run; None where none is wanted.
    """

    AUTO_FOCUS = None  # keys decide; only where something is to be typed they are letters
    CSS_PATH = "confirm.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("up", "go(-1)", priority=True),
        Binding("down", "go(1)", priority=True),
        Binding("pageup", "go(-10)", priority=True),
        Binding("pagedown", "go(10)", priority=True),
        Binding("escape", "drop_line", priority=True),
    ]

    def __init__(self, review: Review) -> None:
        super().__init__()
        self.review = review
        self.place = 0
        self.bound: float | None = None
        self.asked = ""  # what is typed on the line: title or kind
        self._shown: Path | None = None

    def compose(self) -> ComposeResult:
        """The list, the picture, what is proposed, and the keys."""
        yield Static(id="title")
        with Horizontal(id="middle"):
            yield Static(id="list")
            with Vertical(id="shown"):
                yield Static(id="what")
                yield Vertical(id="picture")
                yield Static(id="read")
        yield Static(id="message")
        yield Input(id="line", select_on_focus=False)
        yield Static(id="offers")
        yield Static(id="keys")

    async def on_mount(self) -> None:
        """Begins at the first proposal that is unsure."""
        self.place = confirming.next_unsure(self.review.cues, -1, SURE) or 0
        self.query_one("#keys", Static).update(_keys())
        await self.show()

    async def on_resize(self) -> None:
        """Fits the list to the window."""
        self.call_after_refresh(self.show)

    # -- keys ----------------------------------------------------------------------------------------------------------

    async def on_key(self, event: Key) -> None:
        """A key that decides; on the line, keys are letters, those too that come before the line is in focus."""
        key, line = event.key, self.query_one("#line", Input)
        if self.asked:
            if not line.has_focus and event.is_printable:
                line.insert_text_at_cursor(event.character or "")
            elif not line.has_focus and key == "enter":
                await line.action_submit()
            return
        deed = {
            "enter": self.take, "t": self.ask_title, "k": self.ask_kind, "j": self.join, "n": self.no_screen,
            "u": self.unsure, "z": self.take_back, "w": self.write, "q": self.leave,
        }.get(key)  # fmt: skip
        if deed is not None:
            event.stop()
            try:
                deed()
            except MetrographError as error:
                self.say(str(error))
                return
            if key not in {"t", "k"}:
                self.say("")
            await self.show()

    async def action_go(self, by: int) -> None:
        """Moves along the list."""
        self.place = min(max(self.place + by, 0), max(len(self.review.cues) - 1, 0))
        await self.show()

    async def action_drop_line(self) -> None:
        """Types no more."""
        self._close_line()
        await self.show()

    def take(self) -> None:
        """Confirms the proposal in front."""
        if self.review.cues:
            self.review.decide(self.place, confirming.taken(self.review.cues[self.place]))
            self._on()

    def join(self) -> None:
        """Joins the proposal in front with the one before it."""
        if self.review.cues:
            self.review.decide(self.place, None)
            self.place = min(self.place, max(len(self.review.cues) - 1, 0))

    def no_screen(self) -> None:
        """Says that the proposal in front is no screen."""
        if self.review.cues:
            self.review.decide(self.place, confirming.no_screen(self.review.cues[self.place]))
            self._on()

    def unsure(self) -> None:
        """Goes to the next proposal that is unsure."""
        self.place = self._next_unsure()

    def take_back(self) -> None:
        """Takes the last decision back."""
        if not self.review.undo():
            raise MetrographError("there is nothing to undo")
        self.place = min(self.place, max(len(self.review.cues) - 1, 0))

    def write(self) -> None:
        """Makes the run of what is sure or decided, and leaves."""
        self.bound = SURE
        self.exit()

    def leave(self) -> None:
        """Leaves; what was decided stays decided."""
        self.exit()

    def _on(self) -> None:
        self.place = min(self.place + 1, len(self.review.cues) - 1)

    def _next_unsure(self) -> int:
        place = confirming.next_unsure(self.review.cues, self.place, SURE)
        if place is None:
            raise MetrographError("nothing is unsure any more; w writes the run")
        return place

    # -- the line ------------------------------------------------------------------------------------------------------

    def ask_title(self) -> None:
        """Another title is typed, or picked among those that are known."""
        self._ask("title")

    def ask_kind(self) -> None:
        """Asks for another kind of the screen in front."""
        self._ask("kind")

    def _ask(self, what: str) -> None:
        cue = self.review.cues[self.place]
        if cue.verb != "screen":
            raise MetrographError(f"“{cue.verb}” has no {what}; j drops it, Enter takes it")
        self.asked = what
        line = self.query_one("#line", Input)
        line.value = cue.text if what == "title" else ""
        line.placeholder = "the title as it is shown" if what == "title" else "what the screen is for"
        line.set_class(True, "asked")
        line.focus()
        line.cursor_position = len(line.value)

    def _close_line(self) -> None:
        self.asked = ""
        self.query_one("#line", Input).set_class(False, "asked")
        self.query_one("#offers", Static).update("")
        self.set_focus(None)

    def on_input_changed(self, event: Input.Changed) -> None:
        """Offers what begins like what is typed."""
        known = self.review.titles if self.asked == "title" else list(self.review.lexicon.kinds)
        typed = event.value.casefold()
        offers = [word for word in known if typed in word.casefold() and word != event.value][:_OFFERS]
        self.query_one("#offers", Static).update(Text("  ".join(map(visible, offers))))

    async def on_input_submitted(self, event: Input.Submitted) -> None:
        """Takes what was typed."""
        event.stop()
        if not self.asked:
            return
        typed, cue = event.value.strip(), self.review.cues[self.place]
        lexicon = self.review.lexicon
        if self.asked == "kind" and typed not in lexicon.kinds:
            self.say(f"there is no kind “{typed}”")
            return
        if typed:
            change = confirming.retitled if self.asked == "title" else confirming.of_kind
            self.review.decide(self.place, change(cue, typed, lexicon))
        self._close_line()
        self.say("")
        await self.show()

    # -- what is shown -------------------------------------------------------------------------------------------------

    def say(self, text: str) -> None:
        """Shows a sentence below the list."""
        self.query_one("#message", Static).update(Text(visible(text)))

    async def show(self) -> None:
        """Everything as it stands."""
        review = self.review
        left = review.open()
        title = f"{review.name}   {counted(len(review.cues), 'proposal')}, {left or 'none'} to look at"
        self.query_one("#title", Static).update(Text(title))
        self.query_one("#list", Static).update(self._list())
        self.query_one("#what", Static).update(self._what())
        lines = self.review.lines(self.review.cues[self.place])[:_READ] if self.review.cues else []
        self.query_one("#read", Static).update(Text("\n".join(map(visible, lines)), no_wrap=True, overflow="ellipsis"))
        await self._show_picture()

    def _list(self) -> Text:
        rows = max(self.query_one("#middle").size.height - 1, 5)
        first = min(max(self.place - rows // 2, 0), max(len(self.review.cues) - rows, 0))
        text = Text(no_wrap=True, overflow="ellipsis")
        for place, cue in enumerate(self.review.cues[first : first + rows], first):
            mark = "✓" if confirming.is_confirmed(cue) else " " if confirming.sure(cue) >= SURE else "?"
            words = cue.text if cue.verb == "screen" else format_words(cue)
            style = "reverse" if place == self.place else "" if cue.verb == "screen" else "dim"
            text.append(f"{mark} {format_time(cue.at // 1000 * 1000):>7}  {visible(words)}\n", style)
        return text

    def _what(self) -> Text:
        if not self.review.cues:
            return Text("Nothing is proposed any more; w writes the run")
        cue = self.review.cues[self.place]
        kind = cue.field("kind") or self.review.lexicon.kind_of(cue.text)
        text = Text(visible(format_line(confirming.as_run([cue], {})[0]).partition(" | ")[0]), style="bold")
        if cue.verb == "screen":
            text.append(f"\nfor: {'not known' if kind == OTHER else kind}", "not bold")
        sure = "decided" if confirming.is_confirmed(cue) else f"sure to {confirming.sure(cue):.2f}"
        text.append(f"\n{sure}", "not bold")
        if cue.verb == "screen" and self.review.picture(cue) is None:
            text.append("\nno picture was kept of it", "not bold dim")
        return text

    async def _show_picture(self) -> None:
        cue = self.review.cues[self.place] if self.review.cues else None
        path = None if cue is None else self.review.picture(cue)
        if path == self._shown:
            return
        self._shown = path
        frame = self.query_one("#picture", Vertical)
        await frame.remove_children()
        if path is not None:
            await frame.mount(Image(path))


def _keys() -> Text:
    text = Text()
    for key, deed in _KEYS:
        text.append(f" {key} ", "reverse")
        text.append(f" {deed}  ")
    return text
