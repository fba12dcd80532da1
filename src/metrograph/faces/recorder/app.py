"""The recorder's screen: clocks, the way so far, what the plan has next, the log as it grows, a line to type on."""

from __future__ import annotations

from typing import ClassVar

from rich.text import Text
from textual.app import ComposeResult
from textual.binding import BindingType
from textual.containers import Horizontal, Vertical, VerticalScroll
from textual.widgets import Digits, Static

from metrograph.core.errors import MetrographError
from metrograph.faces.recorder import panels
from metrograph.faces.recorder.helpers import BINDINGS, Help, QuietApp
from metrograph.faces.recorder.typing_line import TypingLine, actions_of
from metrograph.log.cues import Cue
from metrograph.plan.completion import Completion
from metrograph.services.live.session import Session
from metrograph.words.change_words import deviation
from metrograph.words.figure_words import counted

_TICK = 0.25  # seconds between looks at the log, which somebody else may write to
_BARS = 10  # seconds between drawings of the bars, which hardly move meanwhile
_LARGE = 30  # columns of the large clock
_NARROWEST = 40  # columns that panels are made for; a window of fewer shows their beginnings
_LOW, _LOWEST = 16, 5  # lines of a window in which not all panels have room, or none but the line


class Recorder(QuietApp):
    """Records one run."""

    CSS_PATH = "recorder.tcss"
    BINDINGS: ClassVar[list[BindingType]] = list(BINDINGS)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.marked = ("", 0)  # which completion of which text Tab takes; of any other text the first
        self.offer = session.offer()
        self.deviations = session.settled.deviations
        self.leaving = False
        self.line: TypingLine  # that a person types on; read once more when the screen is gone
        self.second = -1  # the last that was shown
        self.shown: dict[str, Text] = {}

    def compose(self) -> ComposeResult:
        """The panels from top to bottom."""
        yield Static(id="title")
        with Horizontal(id="clocks"):
            with Vertical(id="large"):
                yield Static(id="label")
                yield Digits(id="clock")
            yield Static(id="small")
        yield Static(id="front")
        yield Static(id="bars")
        with Horizontal(id="middle"):
            yield Static(id="plan")
            with VerticalScroll(id="log", can_focus=False):
                yield Static(id="cues")
        yield Static(id="message")
        yield Static(id="offer")
        actions = actions_of(self.BINDINGS, "app.")
        self.line = TypingLine(self._enter, actions, placeholder="verb and what it needs, as in the log")
        yield self.line
        yield Static(id="completions")
        yield Static(id="keys")

    def on_mount(self) -> None:
        """Shows the run and starts the clocks."""
        self.set_class(panels.HUES.get() is panels.LIGHT, "light")
        self.line.cursor_blink = False
        self.line.focus()
        self._show_run()
        self.set_interval(_TICK, self._tick)
        self.line.refused = self.session.kept_lines()
        if self.line.offer_refused():
            self._say("typed before, and not written", "wrong")

    def on_resize(self) -> None:
        """Fits the panels to the window; in a low one the line is what has to be seen."""
        self.set_class(self.size.height < _LOW, "low")
        self.set_class(self.size.height < _LOWEST, "lowest")
        self.call_after_refresh(self._show_run)

    # -- the line ------------------------------------------------------------------------------------------------------

    def on_input_changed(self) -> None:
        """Says at every key what the line would write, or what is wrong with it."""
        self.leaving = False
        if self.line.value == "?":
            self._set_line("")
            self.action_help()
        self._show_line()

    def _enter(self, text: str) -> None:
        """Writes what was typed; on an empty line, what was offered."""
        if not text.strip():
            self._accept()
            return
        typed = self.session.read(text)
        if typed.cue is not None and self._write([typed.cue]):
            self.line.offer_after_burst()
        elif typed.cue is not None:
            self.line.refuse(text)
        elif typed.instead is not None:
            self.line.refuse(typed.instead)  # what was typed must not stay on the screen either
            self._say(typed.wrong, "wrong")
        else:
            self.line.refuse(text)
            self._say(f"{panels.fault(typed)} Nothing was written.", "wrong")

    def action_help(self) -> None:
        """Shows the keys and the verbs."""
        if not isinstance(self.screen, Help):
            self.push_screen(Help())

    def action_complete(self) -> None:
        """Takes the chosen completion; on an empty line, the words of what is offered, to be changed."""
        line = self.line
        if not line.value.strip():
            if self.offer is not None and self.offer.away is None:
                self._set_line(*self.offer.words)
            return
        before, after = line.value[: line.cursor_position], line.value[line.cursor_position :]
        ways, chosen = self._ways_on()
        if ways:
            taken = ways[chosen]
            self._set_line(before[: taken.start] + taken.text + after, taken.start + len(taken.text))

    def action_choose(self, by: int) -> None:
        """Goes to another completion."""
        ways, chosen = self._ways_on()
        if ways:
            self.marked = self.line.value[: self.line.cursor_position], (chosen + by) % len(ways)
            self._show_line()

    def _ways_on(self) -> tuple[tuple[Completion, ...], int]:
        """The completions after the cursor, and which of them is marked."""
        before = self.line.value[: self.line.cursor_position]
        return self.session.completions(before), self.marked[1] if self.marked[0] == before else 0

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Under the help no key writes anything; Escape takes it away."""
        return action == "clear" if isinstance(self.screen, Help) else super().check_action(action, parameters)

    def action_clear(self) -> None:
        """Empties the line, or takes the help away."""
        if isinstance(self.screen, Help):
            self.pop_screen()
            return
        self._set_line("")
        self.line.offer_refused()

    def action_moment(self) -> None:
        """Puts this moment in front of the line, so that there is time to type."""
        now = panels.moment(self.session.now())
        self._set_line(f"{now} {self.line.value}", len(now) + 1 + self.line.cursor_position)

    def action_skip(self) -> None:
        """Puts what is offered aside, and offers the next thing."""
        skipped = self.offer is not None and self.session.skip(self.offer)
        self._show_clocks() if skipped else self._say("there is nothing else to offer", "wrong")

    def action_issue(self) -> None:
        """Begins an issue at this moment; what was typed already becomes its summary."""
        now = panels.moment(self.session.now())
        self._set_line(f"{now} issue {self.line.value}")

    def action_next(self) -> None:
        """Writes the plan's next screen with the choices of last time."""
        if self.session.step is None:
            self._say("the plan has no screen after this one" if self.session.plan else "this run has no plan", "wrong")
        else:
            self._did(self.session.write_next)

    def action_wait(self) -> None:
        """The machine's turn, or the person's again."""
        self._toggle("machine", "wait", "ready")

    def action_pause(self) -> None:
        """Off the clock, or on it again."""
        self._toggle("paused", "pause", "resume")

    def action_take_back(self) -> None:
        """Takes the last cue back and puts its words on the line, which has to be empty for it."""
        if self.line.value.strip():
            self._say("the line is not empty; Escape empties it, then the last cue can be taken back", "wrong")
            return
        try:
            words = self.session.take_back()
        except MetrographError as error:
            self._say(str(error), "wrong")
            return
        self._show_run()
        self._set_line(words)
        self._say(f"taken back: {words}", "done")

    def action_scroll(self, pages: int) -> None:
        """Turns the log's pages."""
        log = self.query_one("#log", VerticalScroll)
        (log.scroll_page_down if pages > 0 else log.scroll_page_up)(animate=False)

    def action_leave(self) -> None:
        """Leaves; the run stays open. Twice, when that would lose cues that the disk has not taken."""
        self._retry()
        if self.session.unwritten and not self.leaving:
            self.leaving = True
            count = counted(len(self.session.unwritten), "cue")
            self._say(f"{count} not saved yet; once more leaves and prints what is missing", "wrong")
        else:
            self.exit()

    def _toggle(self, whose: str, on: str, off: str) -> None:
        verb = off if self.session.status().now == whose else on
        self._did(lambda: self._stamp(Cue(0, verb, None, "")))

    def _stamp(self, cue: Cue) -> list[Cue]:
        now = Cue(self.session.now(), cue.verb, cue.name, cue.text, cue.fields)
        self.session.write([now])
        return [now]

    def _accept(self) -> None:
        """Does what was offered."""
        offer = self.offer
        if offer is None:
            self._say("nothing is likely here; type a cue", "wrong")
        elif offer.line:
            self._set_line(offer.line, offer.cursor)
        else:
            self._did(lambda: self.session.accept(offer))

    def _write(self, cues: list[Cue]) -> bool:
        """Writes cues and says so; whether the log took them or they are kept."""
        return self._did(lambda: (self.session.write(cues), cues)[1])

    def _did(self, work: panels.Work) -> bool:
        try:
            cues = work()
        except MetrographError as error:
            self._say(str(error), "wrong")
            return False
        self._show_run()
        self._acknowledge(cues)
        return True

    def _acknowledge(self, cues: list[Cue]) -> None:
        if self.session.unwritten:
            return  # what is shown of the trouble matters more
        known, self.deviations = self.deviations, self.session.settled.deviations
        new = [change for change in self.deviations if change not in known]
        if new:
            self._say(f"off the plan: {' '.join(map(deviation, new))}", "off")
        elif cues:
            lacks = self.session.lacks() if cues[-1].verb == "end" else []
            more = f"; still lacking: {'; '.join(lacks)}" if lacks else ""
            self._say(panels.acknowledgement(cues) + more, "done")

    def _retry(self) -> None:
        """Tries again to write what the disk did not take."""
        if not self.session.unwritten:
            return
        waiting = len(self.session.unwritten)
        try:
            written = self.session.write([])
        except MetrographError as error:  # the run was ended meanwhile, or its log is gone
            self._say(str(error), "wrong")
            return
        if written:
            self._show_run()
            self._say(f"saved now: {counted(waiting, 'cue')} that had to wait", "done")

    def _tick(self) -> None:
        if not self.query("#keys"):
            return  # the screen is being taken down
        self._retry()
        second = self.session.now() // 1000
        if self.session.refresh():
            self._show_run()
        elif second != self.second:
            self._show_clocks()
            if second % _BARS == 0:
                self._show_bars()
        self.second = second

    @property
    def columns(self) -> int:
        """The width that panels are made for."""
        return max(self.size.width, _NARROWEST)

    def _show_run(self) -> None:
        """Everything that a new cue changes."""
        if not self.query("#middle"):
            return  # it is under the help
        half = self.columns // 2
        rows = max(self.query_one("#middle").size.height, 1)
        self._put("plan", panels.plan(self.session, half - 3, rows))
        self.query_one("#cues", Static).update(panels.cues(self.session, self.columns - half - 3))
        self.query_one("#log", VerticalScroll).scroll_end(animate=False)
        self._show_clocks()
        self._show_bars()
        self._show_line()
        if self.session.unwritten:
            waiting = counted(len(self.session.unwritten), "cue")
            self._say(f"NOT SAVED YET: {waiting}. {self.session.trouble}; tried again until it works", "wrong")

    def _show_clocks(self) -> None:
        """Everything that a second changes; after an hour of silence, also what is likely."""
        self.offer = self.session.offer()
        status, columns = self.session.status(), self.columns - 2
        name, value = panels.clock(status)
        self._put("label", Text(name))
        if (clock := self.query_one("#clock", Digits)).value != value:
            clock.update(value)
        self._put("small", panels.small_clocks(status, columns - _LARGE))
        self.set_class(status.now == "machine", "machine")
        self.set_class(status.now == "paused", "paused")
        self._put("title", panels.title(status, columns))
        self._put("front", panels.front(self.session, status, columns))
        self._put("keys", panels.keys(status))
        self._show_offer()

    def _show_bars(self) -> None:
        self._put("bars", panels.bars(self.session, self.columns - 2))

    def _show_offer(self) -> None:
        offered = panels.offered(self.offer, self.session, self.line.value, self.session.status())
        offered.no_wrap, offered.overflow = True, "ellipsis"
        self._put("offer", offered)

    def _show_line(self) -> None:
        """Everything that a key changes."""
        self._put("completions", panels.completions(*self._ways_on()))
        self._show_offer()

    def _put(self, panel: str, content: Text) -> None:
        """Shows a text on a panel, unless it is there already: an idle recorder should cost nothing."""
        if self.shown.get(panel) != content:
            self.shown[panel] = content
            self.query_one(f"#{panel}", Static).update(content, layout=panel in {"bars", "plan"})

    def _set_line(self, text: str, cursor: int | None = None) -> None:
        self.line.value = text
        self.line.cursor_position = len(text) if cursor is None else cursor

    def _say(self, text: str, how: str) -> None:
        message = self.query_one("#message", Static)
        message.set_classes(how)
        message.update(Text(panels.harmless(text), no_wrap=True, overflow="ellipsis"))
