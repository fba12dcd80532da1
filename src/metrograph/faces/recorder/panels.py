"""Makes the texts of the recorder's panels from a session and a status. Text from logs is made harmless here."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextvars import ContextVar

import msgspec
from rich.color import ColorSystem
from rich.text import Text

from metrograph.log.cues import Cue
from metrograph.log.quantities.ranges import ZERO, Range, exactly, total
from metrograph.log.quantities.times import format_time, show_duration, show_moment
from metrograph.log.verbs import VERBS, Trait
from metrograph.log.writer import format_line, format_words
from metrograph.plan.completion import Completion
from metrograph.plan.plan import Step
from metrograph.plan.prediction import Offer
from metrograph.plan.status import Status, missing_pause
from metrograph.run.records import Run
from metrograph.services.live.session import Session, Typed
from metrograph.show.charts.layouts.lanes_layout import lay_lanes, up_to
from metrograph.show.palette import CARE, WORSE, colours, pale
from metrograph.show.safe import visible
from metrograph.show.terminal.terminal_lanes import render_bars, render_below
from metrograph.show.terminal.text import Medium, shorten, width
from metrograph.words.figure_words import counted
from metrograph.words.others_words import usual
from metrograph.words.runs import NOW

Work = Callable[[], list[Cue]]


class Hues(msgspec.Struct, frozen=True):
    """The colours that the recorder writes in, on dark terminals or on light ones."""

    paper: str
    soft: str
    done: str
    care: str
    wrong: str
    towards: str
    mixed: float


DARK = Hues("#14181d", "#8b95a1", "#5fb98a", CARE, WORSE, "#ffffff", 0.3)
LIGHT = Hues("#ffffff", "#5b6570", "#1f7a4d", "#8a5a00", "#b03a12", "#000000", 0.35)
_LIGHT_GROUNDS = frozenset({"7", "15"})  # of a terminal that tells its colours: white, and bright white


def hues_of(theme: str | None, told: str) -> Hues:
    """As the person has set it, or else as the terminal tells of itself (``COLORFGBG``); dark where neither says."""
    light = theme == "light" if theme else told.rpartition(";")[2] in _LIGHT_GROUNDS
    return LIGHT if light else DARK


HUES: ContextVar[Hues] = ContextVar("hues", default=DARK)
"""What is written in at the moment: of the terminal that a recorder runs on."""


_WIDEST = 400  # columns; no panel is wider
_OFFERED = 40  # columns of a completion
_TIME = 8  # columns in front of a cue
_TROUBLE = 12  # columns of an open issue; the log below has all of it
_LABEL = 5  # columns in front of a bar
_SMALL = 40  # columns of a small clock with its name


def harmless(text: str, columns: int = _WIDEST) -> str:
    """Text that a terminal shows and does not obey, and no more of it than a line has room for."""
    return visible(shorten(text, columns))


def moment(milliseconds: int) -> str:
    """A moment as it stands in front of a line."""
    return format_time(milliseconds // 100 * 100)


def title(status: Status, columns: int) -> Text:
    """Which run, where, and whose time it is."""
    state = f"ended: {status.ended}" if status.ended else NOW[status.now]
    attempt = f", attempt {status.attempt}" if status.attempt > 1 else ""
    left = f"{status.run} on {status.rig}{attempt}"
    room = columns - width(state) - 2
    text = Text(shorten(harmless(left), room).ljust(room), style="bold", no_wrap=True)
    return text.append(f"  {state}", style=f"bold {HUES.get().care if status.now == 'paused' else HUES.get().done}")


def clock(status: Status) -> tuple[str, str]:
    """The large clock: what it is called, and what it shows."""
    on_clock = status.clock.on_clock
    return f"on the clock{_how_sure(on_clock)}", show_moment(int(on_clock.low))


def small_clocks(status: Status, columns: int) -> Text:
    """The others, a line each: of this screen, and whose time it was; the one that runs stands out."""
    parts = {"this screen": status.this_screen, "hands-on": status.clock.person, "waiting": status.clock.machine}
    running = {"person": "hands-on", "machine": "waiting"}.get(status.now)
    lines = []
    for name, part in parts.items():
        style = "bold" if name == running else "" if name == "this screen" else HUES.get().soft
        lines.append(_line(name + _how_sure(part), show_moment(int(part.low)), min(columns, _SMALL), style))
    return Text("\n").join(lines)


def _how_sure(duration: Range) -> str:
    if duration.exact:
        return ""
    return ", at least" if duration.high is None else f", up to {show_moment(int(duration.high))}"


def front(session: Session, status: Status, columns: int) -> Text:
    """The screen in front and how long it took last time, where the plan was left, open issues."""
    known = None if session.others is None else session.others.on(status.screen, status.phase)
    # What others take gives way to one's own trouble, of which so much has to be seen.
    spare = max(width(status.open_issues[-1]) - _TROUBLE, 0) if status.open_issues else 0
    ways = ("",) if known is None else (f", {usual(known)}", f", {usual(known, brief=True)}", "")
    texts = [_front(session, status, others) for others in ways]
    text = next((text for text in texts if text.cell_len <= columns + spare), texts[-1])
    text.truncate(columns, overflow="ellipsis")
    return text


def _front(session: Session, status: Status, others: str) -> Text:
    """What stands beside the clock of a screen, however long it is. others: what is said of them."""
    screen = f"“{status.screen}”, {status.phase}" if status.screen else f"no screen, {status.phase}"
    text = Text(no_wrap=True).append(harmless(screen), style="bold")
    if session.front is not None:
        text.append(f", {show_duration(session.front.screen.on_clock)} last time", style=HUES.get().soft)
    text.append(others, style=HUES.get().soft)
    if session.settled.deviations:
        text.append(f"   {len(session.settled.deviations)} off the plan", style=HUES.get().care)
    if session.faults:
        text.append(f"   line {session.faults[0].line} of the log cannot be read", style=HUES.get().wrong)
    if status.open_issues:
        text.append(f"   {counted(len(status.open_issues), 'open issue')}: ", style=HUES.get().wrong)
        text.append(harmless(status.open_issues[-1]), style=HUES.get().wrong)
    return text


def bars(session: Session, columns: int) -> Text:
    """The run so far to scale, under the run that its plan was made from; below them the phases, and the minutes."""
    runs = [*(session.plan.side.runs[-1:] if session.plan else ()), session.run_until(session.now())]
    lanes, paper = (
        up_to(lay_lanes(runs), _LATEST * max(map(_of_installation, runs))),
        Medium(width=columns - _LABEL, colours=ColorSystem.TRUECOLOR),
    )
    lines = [*render_bars(lanes, paper), *render_below(lanes, paper)]
    names = [*["last", "now"][-len(runs) :], "", ""]
    labelled = [
        Text(name.ljust(_LABEL), style=HUES.get().soft) + Text.from_ansi(line)
        for name, line in zip(names, lines, strict=True)
    ]
    return Text("\n").join(labelled)


_LATEST = 1.25  # of the way to the desktop: what is looked at there for hours would leave no room for the way


def _of_installation(run: Run) -> float:
    """Seconds to the desktop that was installed; all of a run that is not there yet, or installs nothing."""
    desktop = run.milestones.desktop
    return run.clock.on_clock.low if desktop is None or desktop.low <= 0 else desktop.low


def plan(session: Session, columns: int, rows: int) -> Text:
    """What comes next and how long it took last time; without a plan, the screens so far."""
    if session.plan is None:
        return _so_far(session, columns, rows)
    steps = session.ahead
    left = total([*(step.screen.on_clock for step in steps), _rest_of_front(session)])
    lines = [_line(f"next, as in {session.plan.name}", f"about {show_duration(left)} left", columns, HUES.get().soft)]
    shown = steps[: rows - 2] if len(steps) > rows - 1 else steps
    lines += [_step(step, columns, first=index == 0) for index, step in enumerate(shown)]
    hidden = len(steps) - len(shown)
    if hidden:
        lines.append(Text(f"  and {hidden} more", style=HUES.get().soft))
    if not steps:
        lines.append(Text("the plan is at its end", style=HUES.get().soft))
    return Text("\n").join(lines)


def _rest_of_front(session: Session) -> Range:
    """What the screen in front would still take, if it takes as long as last time."""
    if session.front is None or session.run.ended:
        return ZERO
    rest = session.front.screen.on_clock.low - session.status().this_screen.low
    return exactly(round(1000 * max(rest, 0.0)))


def _step(step: Step, columns: int, first: bool) -> Text:
    """One line of the plan, in the colour of its phase."""
    hue = pale(colours([step.screen.phase])[step.screen.phase], HUES.get().towards, HUES.get().mixed)
    mark = Text("▌ " if first else "▏ ", style=hue)
    return mark + _line(
        step.screen.title, show_duration(step.screen.on_clock), columns - 2, f"bold {hue}" if first else hue
    )


def _so_far(session: Session, columns: int, rows: int) -> Text:
    latest = session.run.screens[-(rows - 1) :] if rows > 1 else ()
    lines = [_line(screen.title, show_duration(screen.on_clock), columns, "") for screen in latest]
    return Text("\n").join([Text("screens so far", style=HUES.get().soft), *lines])


def _line(left: str, right: str, columns: int, style: str) -> Text:
    """A text with a figure at the end of its line."""
    room = max(columns - width(right) - 1, 1)
    short = shorten(harmless(left), room)
    return Text(short + " " * (room - width(short)) + " " + right, style=style, no_wrap=True)


def cues(session: Session, columns: int) -> Text:
    """The log as it grows, a line a cue; what the disk has not taken is marked."""
    kept = len(session.log.cues)
    lines = [_cue(cue, columns, waiting=index >= kept) for index, cue in enumerate(session.whole.cues)]
    return Text("\n").join(lines) if lines else Text("nothing recorded yet", style=HUES.get().soft)


def _cue(cue: Cue, columns: int, waiting: bool) -> Text:
    time = show_moment(cue.at // 1000).rjust(_TIME - 1) + ("!" if waiting else " ")
    body = harmless(format_line(cue))
    if width(body) > columns - _TIME and Trait.CHOICE in VERBS[cue.verb].traits:
        body = harmless(f"{cue.name} = {cue.text}")  # what was picked matters more than how
    if width(body) > columns - _TIME:  # what happened matters more than its fields
        body = shorten(harmless(format_words(cue)), columns - _TIME - 2) + (" …" if cue.fields else "")
    text = Text(no_wrap=True).append(time, style=HUES.get().wrong if waiting else HUES.get().soft)
    return text.append(body, style=HUES.get().wrong if waiting else "bold" if cue.verb == "screen" else "")


def offered(offer: Offer | None, session: Session, line: str, status: Status) -> Text:
    """What Enter does now: the offer on an empty line, otherwise what the line says, or what is wrong with it."""
    if line.strip():
        typed = session.read(line)
        if typed.cue is None:
            template = "" if typed.instead is not None else session.template(line)
            return (
                Text(template, style=HUES.get().soft)
                if template
                else Text(harmless(fault(typed)), style=HUES.get().care)
            )
        return Text(
            f"Enter writes  {show_moment(typed.cue.at // 1000)}  {harmless(format_line(typed.cue))}",
            style=HUES.get().done,
        )
    away = missing_pause(status)
    if away is not None and (offer is None or offer.away is None):
        since = show_duration(exactly(round(status.quiet * 1000)))
        return Text(f"nothing was noted for {since}; if you were away:  {moment(away)} pause", style=HUES.get().care)
    return Text("Enter: ", style=HUES.get().soft) + _offer(offer)


def _offer(offer: Offer | None) -> Text:
    if offer is None:
        return Text("nothing is likely here; type a cue", style=HUES.get().soft)
    if offer.away is not None:
        return Text(f"you were away? pause at {show_moment(offer.away // 1000)}, resume now", style=HUES.get().care)
    if offer.cue is not None and offer.at is not None:
        seen = f"{offer.sense} {show_moment(offer.at // 1000)}, sure to {offer.sure or 0:.2f}:  "
        return Text(seen, style=HUES.get().soft) + Text(f"writes  {harmless(format_line(offer.cue))}", style="bold")
    if offer.cue is not None:
        return Text(f"writes  {harmless(format_line(offer.cue))}", style="bold")
    return Text("puts on the line  ") + Text(
        harmless(f"{offer.line[: offer.cursor]}…{offer.line[offer.cursor :]}"), style="bold"
    )


def fault(typed: Typed) -> str:
    """What is wrong with a line, in a sentence."""
    return f"{typed.wrong}; expected: {typed.expected}." if typed.expected else f"{typed.wrong}."


def acknowledgement(written: Sequence[Cue]) -> str:
    """What was written, on one line."""
    first, *others = [format_line(cue) for cue in written]
    more = f", and {', '.join(others)}" if others else ""
    return f"saved: {show_moment(written[0].at // 1000)} {first}{more}"


def completions(ways: Sequence[Completion], chosen: int) -> Text:
    """The ways to go on, the chosen one marked."""
    text = Text(no_wrap=True, overflow="ellipsis")
    for index, completion in enumerate(ways):
        text.append(
            f" {harmless(completion.text.strip(), _OFFERED)} ", style="reverse" if index == chosen else HUES.get().soft
        )
        text.append(" ")
    return text


def keys(status: Status) -> Text:
    """The line of keys at the bottom, with those that do something at the moment."""
    names = {
        "F1": "help",
        "F2": "next",
        "F3": "ready" if status.now == "machine" else "wait",
        "F4": "resume" if status.now == "paused" else "pause",
        "F5": "undo",
        "F6": "issue",
        "F7": "now",
        "F8": "skip",
        "^Q": "leave",
    }
    text = Text(no_wrap=True, overflow="ellipsis")
    for key, word in names.items():
        text.append(key, style="bold").append(f" {word} ", style=HUES.get().soft)
    text.rstrip()
    return text
