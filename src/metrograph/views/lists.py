"""The short ones: lists of runs and cards, a card, a status, faults."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import msgspec

from metrograph.analysis.status import Status, missing_pause
from metrograph.language.sizes import show_size
from metrograph.language.times import format_time, show_duration
from metrograph.model.cues import Fault
from metrograph.model.ranges import exactly
from metrograph.model.runs import Run
from metrograph.views.palette import CARE, WORSE
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.sentences import deviation
from metrograph.views.table import Column, render_lines, render_table

_LABEL = 15  # columns in front of a value
_NOW = {"person": "hands-on", "machine": "waiting", "paused": "paused, off the clock"}


def render_runs(runs: Sequence[Run], paper: Paper) -> str:
    """A line a run."""
    columns = [
        Column("run", gives=True),
        Column("rig", gives=True),
        Column("begun"),
        Column("ended"),
        *(Column(name, right=True) for name in ("clock", "hands-on", "waiting", "screens", "issues")),
    ]
    return paper.finish(render_table(columns, [_run_row(readable(run)) for run in runs], paper))


def _run_row(run: Run) -> list[str]:
    clock = run.clock
    return [
        run.run,
        run.rig,
        run.begun.strftime("%Y-%m-%d") if run.begun else "?",
        run.ended or "open",
        *(show_duration(part) for part in (clock.on_clock, clock.person, clock.machine)),
        str(len(run.screens)),
        str(len(run.issues)),
    ]


def render_cards(cards: Mapping[str, msgspec.Struct], fields: Sequence[str], paper: Paper) -> str:
    """A line a card, with some of its fields."""
    columns = [Column("id", gives=True), *(Column(field.replace("_", " "), gives=True) for field in fields)]
    rows = [[name, *(_value(field, getattr(card, field)) for field in fields)] for name, card in cards.items()]
    return paper.finish(render_table(columns, readable(tuple(tuple(row) for row in rows)), paper))


def render_card(name: str, said: Mapping[str, Any], paper: Paper) -> str:
    """All that a card says, a line a value. said: values by dotted path."""
    labels = [path.replace("_", " ").replace(".", " ") for path in said]
    widest = max(map(len, labels), default=0)
    lines = [
        f"  {label:{widest}}  {_value(path, value)}" for label, (path, value) in zip(labels, said.items(), strict=True)
    ]
    return paper.finish("\n".join([paper.heading(name), *readable(tuple(lines))]) + "\n")


def _value(path: str, value: Any) -> str:
    if value is None:
        return ""
    key = path.rpartition(".")[2]
    if isinstance(value, bool):
        return "yes" if value else "no"
    if key in {"installation", "boot"}:
        return show_duration(exactly(round(value * 1000)))
    if isinstance(value, tuple):
        return ", ".join(value)
    return show_size(value) if key in {"memory", "disk", "image_size"} else str(value)


def render_status(status: Status, paper: Paper) -> str:
    """The clocks, what is in front, what is open, what comes next."""
    status = readable(status)
    clock = status.clock
    front = f"“{status.screen}” for {show_duration(status.this_screen)}" if status.screen else "no screen yet"
    attempt = f", attempt {status.attempt}" if status.attempt > 1 else ""
    hands, machine = show_duration(clock.person), show_duration(clock.machine)
    rows = [
        ("on the clock", f"{show_duration(clock.on_clock)}, hands-on {hands}, waiting {machine}"),
        ("in front", f"{front}, phase {status.phase}{attempt}"),
        *([("lost", show_duration(clock.lost))] if clock.lost.high != 0 else []),
        *([("paused", show_duration(clock.paused))] if clock.paused.high != 0 else []),
        *(("open issue", issue) for issue in status.open_issues),
        *([("next", _upcoming(status))] if status.next else []),
        *(("off the plan", deviation(change)) for change in status.deviations),
        *([("to try", ", ".join(status.to_try))] if status.to_try else []),
        *([("to read", ", ".join(status.to_read))] if status.to_read else []),
        *(("silence", offer) for offer in _offer_pause(status)),
    ]
    state = f"ended: {status.ended}" if status.ended else _NOW[status.now]
    title = f"{paper.heading(status.run)} on {status.rig}, {paper.ink(state, bold=True)}\n"
    return paper.finish(title + "".join(_row(label, value, paper) for label, value in rows))


def _row(label: str, value: str, paper: Paper) -> str:
    """A label with its value behind it, which goes on below itself where the line is too short."""
    lines = render_lines([value], paper, indent=_LABEL)
    return f"  {label:{_LABEL - 2}}{lines[_LABEL:]}"


def _upcoming(status: Status) -> str:
    took = f"; it took {show_duration(status.next_took)}" if status.next_took is not None else ""
    return f"“{status.next}”, as in {status.like}{took}"


def _offer_pause(status: Status) -> list[str]:
    since = missing_pause(status)
    if since is None:
        return []
    return [
        f"nothing was noted for {show_duration(exactly(round(status.quiet * 1000)))}; if you were away:"
        f" metrograph cue --at {format_time(since)} pause, then metrograph cue resume"
    ]


def render_faults(faults: Iterable[Fault], paper: Paper) -> str:
    """A line a fault: where, how bad, what is wrong, what could stand there."""
    return paper.finish("".join(_fault_lines(readable(fault), paper) for fault in faults))


def _fault_lines(fault: Fault, paper: Paper) -> str:
    expected = f"; expected: {fault.expected}" if fault.expected else ""
    text = f"{fault.file}:{fault.line}:{fault.column}: {fault.level}: {fault.message}{expected}"
    level = paper.ink(fault.level, WORSE if fault.level == "error" else CARE)
    return render_lines([text], paper, indent=0).replace(f": {fault.level}:", f": {level}:", 1)
