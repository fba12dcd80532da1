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
from textual_image.renderable import Image as Renderable
from textual_image.renderable import SixelImage, TGPImage
from textual_image.widget import (
    Image,  # asks the terminal what it can show, so that it is loaded before the screen is taken
)

from metrograph.core.errors import MetrographError
from metrograph.faces.recorder.confirm_texts import keys, listed, told
from metrograph.faces.recorder.helpers import QuietApp
from metrograph.faces.recorder.page_texts import laid_out
from metrograph.faces.recorder.player import play
from metrograph.log.reader import parse_line
from metrograph.log.writer import format_words
from metrograph.show.safe import visible
from metrograph.watch.drafts import confirming
from metrograph.watch.drafts.heard_proposals import ANOTHER, as_next_kind, of_another, said_of
from metrograph.watch.drafts.review import Review
from metrograph.watch.drafts.seen import SURE
from metrograph.words.figure_words import counted

_PLACEHOLDERS = {
    "title": "the title as it is shown", "kind": "what the screen is for", "words": "as it would stand in a run log",
}  # fmt: skip
_OFFERS, _READ = 5, 5  # titles that are offered, and lines of a page that are shown: as many as fit beside a picture


class Confirmer(QuietApp):
    """Goes through one draft: what is sure stands there, what is not is asked, the rest is shown when asked for.

    film, player: the recording, and the command that shows it from a moment on.
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

    def __init__(self, review: Review, film: Path | None = None, player: str | None = None) -> None:
        super().__init__()
        self.review, self.film, self.player = review, film, player
        self.listening = False  # whether what nobody is asked about is shown too
        self.place = 0
        self.bound: float | None = None
        self.asked = ""  # what is typed on the line: title or kind
        self.pictures = Renderable in (SixelImage, TGPImage)  # whether the terminal shows any
        self._shown: Path | int | None = None

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
        self.query_one("#keys", Static).update(keys())
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
            "enter": self.take, "t": self.ask_title, "k": self.ask_kind, "e": self.ask_words, "r": self.other_release,
            "j": self.join, "n": self.no_screen, "o": self.play, "l": self.listen, "u": self.unsure,
            "z": self.take_back, "w": self.write, "q": self.leave,
        }.get(key)  # fmt: skip
        if deed is not None:
            event.stop()
            try:
                deed()
            except MetrographError as error:
                self.say(str(error))
                return
            if not self.asked:
                self.say("")
            await self.show()

    async def action_go(self, by: int) -> None:
        """Moves along the list."""
        places = self._places()
        at = next((number for number, place in enumerate(places) if place >= self.place), len(places) - 1)
        self.place = places[min(max(at + by, 0), len(places) - 1)] if places else 0
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

    def other_release(self) -> None:
        """Says that the proposal in front is of another release, or, where it is taken to be, that it is not."""
        if self.review.cues:
            cue = self.review.cues[self.place]
            self.review.decide(self.place, confirming.taken(said_of(cue, "" if of_another(cue) else ANOTHER)))
            self._on()

    def play(self) -> None:
        """Shows the moment in the person's player."""
        cue = self.review.cues[self.place] if self.review.cues else None
        film = self.review.recording(self.film)
        play(self.player, film, self.review.header.other("source") or "", 0 if cue is None else cue.at)

    def listen(self) -> None:
        """Shows what nobody is asked about as well, or leaves it out again."""
        self.listening = not self.listening

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
        self.place = next((place for place in self._places() if place > self.place), self.place)

    def _places(self) -> list[int]:
        """The places of the proposals that are shown: without what is hardly heard, unless a person wants to listen."""
        cues = self.review.cues
        return [place for place, cue in enumerate(cues) if self.listening or not confirming.is_unasked(cue)]

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
        """Another kind: of a screen it is asked for, anything else becomes the next that the words may mean."""
        cue = self.review.cues[self.place] if self.review.cues else None
        other = None if cue is None or cue.verb == "screen" else as_next_kind(cue)
        if other is None:
            self._ask("kind")
        else:
            self.review.decide(self.place, confirming.taken(other))

    def ask_words(self) -> None:
        """Asks for what the proposal in front should say, in the words of a run log."""
        self._ask("words")

    def _ask(self, what: str) -> None:
        if not self.review.cues:
            return
        cue = self.review.cues[self.place]
        if cue.verb != "screen" and what != "words":
            raise MetrographError(f"“{cue.verb}” has no {what}; j drops it, Enter takes it, e says it otherwise")
        self.asked = what
        line = self.query_one("#line", Input)
        line.value = {"title": cue.text, "words": format_words(confirming.as_run([cue], {})[0])}.get(what, "")
        line.placeholder = _PLACEHOLDERS[what]
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
        known = {"title": self.review.titles, "kind": list(self.review.lexicon.kinds)}.get(self.asked, [])
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
        if self.asked == "words" and typed:
            try:
                self.review.decide(self.place, confirming.reworded(cue, parse_line(typed)))
            except MetrographError as error:
                self.say(str(error))
                return
        elif typed:
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
        unasked = review.unasked()
        title = f"{review.name}   {counted(len(review.cues), 'proposal')}, {left or 'none'} to look at"
        title += f", {unasked} more may have been said" if unasked else ""
        self.query_one("#title", Static).update(Text(title))
        self.query_one("#list", Static).update(self._list())
        self.query_one("#what", Static).update(self._what())
        lines = self.review.lines(self.review.cues[self.place])[:_READ] if self.review.cues and self.pictures else []
        self.query_one("#read", Static).update(Text("\n".join(map(visible, lines)), no_wrap=True, overflow="ellipsis"))
        await self._show_picture()

    def _list(self) -> Text:
        rows = max(self.query_one("#middle").size.height - 1, 5)
        return listed(self.review.cues, self._places(), self.place, rows)

    def _what(self) -> Text:
        if not self.review.cues:
            return Text("Nothing is proposed any more; w writes the run")
        cue = self.review.cues[self.place]
        kind = cue.field("kind") or self.review.lexicon.kind_of(cue.text)
        return told(cue, kind, self.review.picture(cue) is not None)

    async def _show_picture(self) -> None:
        cue = self.review.cues[self.place] if self.review.cues else None
        path = None if cue is None else self.review.picture(cue)
        page = None if cue is None or self.pictures else self.review.words_in_front(cue)
        shown = path if page is None else page.number
        if shown == self._shown:
            return
        self._shown = shown
        frame = self.query_one("#picture", Vertical)
        await frame.remove_children()
        if page is not None:
            await frame.mount(
                Static(laid_out(page.words, max(frame.size.width - 2, 20), max(frame.size.height - 3, 5)), id="page")
            )
        elif path is not None:
            await frame.mount(Image(path))
