"""Lists of runs and cards, one card, how an open run stands, what was seen and heard in a recording, as reports."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from metrograph.hearing.heard import TalkDocument
from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.quantity import Quantity
from metrograph.log.quantities.ranges import exactly
from metrograph.log.quantities.times import format_time, show_duration, show_moment
from metrograph.log.quantities.units import show_size
from metrograph.measures.catalogue import figures_of
from metrograph.plan.status import Status, missing_pause
from metrograph.run.records import RECORDING, Run
from metrograph.show.report import model as m
from metrograph.watch.drafts.seen import Seen, SeenSpan
from metrograph.words.change_words import deviation
from metrograph.words.figure_words import duration_or_nothing
from metrograph.words.grammar import NOTHING
from metrograph.words.heard_words import heard_answer, heard_cue
from metrograph.words.runs import NOW, seen_answer, seen_marks, seen_title

_RUN_COLUMNS = ("run", "rig", "begun", "ended", "clock", "issues", "hands-on", "waiting", "screens")


def runs_report(runs: Sequence[Run], room: int | None = None) -> m.Report:
    """A line a run, its name whole, as it has to be typed. room: columns that there are; None for any number."""
    texts = [_run_texts(run) for run in runs]
    widths = [max(map(len, (name, *cells))) for name, *cells in zip(_RUN_COLUMNS, *texts, strict=True)]
    most = len(_RUN_COLUMNS)
    while room is not None and most > 1 and sum(widths[:most]) + 2 * (most - 1) > room:
        most -= 1
    columns = [m.Column(name, right=place > 3, gives=place == 1) for place, name in enumerate(_RUN_COLUMNS[:most])]
    rows = tuple(m.Row(m.texts(*row[:most])) for row in texts)
    return m.Report(parts=(m.Section("", (m.Table(tuple(columns), rows),)),))


def _run_texts(run: Run) -> list[str]:
    begun = run.begun.strftime("%Y-%m-%d") if run.begun else "?"
    figures = figures_of(run)
    person, machine = (duration_or_nothing(figures.get(name)) for name in ("hands-on", "waiting"))
    issues, screens = str(sum(issue.area != RECORDING for issue in run.issues)), str(len(run.screens))
    total = show_duration(run.clock.on_clock)
    return [run.run, run.rig, begun, run.ended or "open", total, issues, person, machine, screens]


def cards_report(cards: Mapping[str, msgspec.Struct], fields: Sequence[str]) -> m.Report:
    """A line a card, with some of its fields."""
    columns = [m.Column("id", gives=True), *(m.Column(field.replace("_", " "), gives=True) for field in fields)]
    rows = [
        m.Row(m.texts(name, *(_value(field, getattr(card, field)) for field in fields))) for name, card in cards.items()
    ]
    return m.Report(parts=(m.Section("", (m.Table(tuple(columns), tuple(rows)),)),))


def card_report(name: str, values: Mapping[str, Any]) -> m.Report:
    """All that a card says, a line a value. values: by dotted path."""
    labels = [path.replace("_", " ").replace(".", " ") for path in values]
    widest = max(map(len, labels), default=0)
    lines = tuple(
        f"  {label:{widest}}  {_value(path, value)}"
        for label, (path, value) in zip(labels, values.items(), strict=True)
    )
    return m.Report(name, lines=lines)


def _value(path: str, value: Any) -> str:
    key = path.rpartition(".")[2]
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Quantity):
        return value.text
    if isinstance(value, dict):
        return ", ".join(f"{name} {version}" for name, version in value.items())
    if isinstance(value, tuple):
        return ("; " if key == "news" else ", ").join(value)
    return show_size(value) if key in {"memory", "disk", "image_size"} and isinstance(value, int) else str(value)


def status_report(status: Status) -> m.Report:
    """The clocks, what is in front, what is open, what comes next."""
    rows = [*_clock_rows(status), *(("open issue", issue) for issue in status.open_issues)]
    if status.next:
        rows.append(("next", _upcoming(status)))
    rows += [("off the plan", deviation(change)) for change in status.deviations]
    wanted = {
        "to try": status.to_try, "to read": status.to_read, "to tweak": status.to_tweak, "to add": status.to_add,
    }  # fmt: skip
    rows += [(label, ", ".join(names)) for label, names in wanted.items() if names]
    rows += [("silence", offer) for offer in _offer_pause(status)]
    state = f"ended: {status.ended}" if status.ended else NOW[status.now]
    return m.Report(status.run, f" on {status.rig},", f" {state}", head=(m.Section("", (m.Labels(tuple(rows)),)),))


def _clock_rows(status: Status) -> list[tuple[str, str]]:
    clock = status.clock
    front = f"“{status.screen}” for {show_duration(status.this_screen)}" if status.screen else "no screen yet"
    attempt = f", attempt {status.attempt}" if status.attempt > 1 else ""
    hands_on, waiting = show_duration(clock.person), show_duration(clock.machine)
    rows = [
        ("on the clock", f"{show_duration(clock.on_clock)}, hands-on {hands_on}, waiting {waiting}"),
        ("in front", f"{front}, phase {status.phase}{attempt}"),
    ]
    spans = {"lost": clock.lost, "paused": clock.paused}
    return rows + [(label, show_duration(span)) for label, span in spans.items() if span.high != 0]


def _upcoming(status: Status) -> str:
    took = f"; it took {show_duration(status.next_took)}" if status.next_took is not None else ""
    return f"“{status.next}”, as in {status.like}{took}"


def _offer_pause(status: Status) -> list[str]:
    since = missing_pause(status)
    if since is None:
        return []
    quiet = show_duration(exactly(round(status.quiet * 1000)))
    return [
        f"nothing was noted for {quiet}; if you were away:"
        f" metrograph cue --at {format_time(since)} pause, then metrograph cue resume"
    ]


_SEEN_COLUMNS = (
    m.Column("at", right=True),
    m.Column("for", right=True),
    m.Column("screen", gives=True),
    m.Column("kind"),
    m.Column("sure", right=True),
    m.Column("", gives=True),
)


def settings_report(settings: Sequence[tuple[str, str | None, str]]) -> m.Report:
    """Settings, each with its value and where that comes from."""
    columns = (m.Column("setting"), m.Column("value", gives=True), m.Column("from", gives=True))
    rows = tuple(m.Row(m.texts(name, value or NOTHING, origin)) for name, value, origin in settings)
    return m.Report(parts=m.section("", m.Table(columns, rows)))


def seen_report(seen: Seen) -> m.Report:
    """Answer and table of what was seen."""
    rows = tuple(map(_seen_row, seen.spans))
    answer = m.Section("", (m.Lines((seen_answer(seen),), indent=0),), plain=True)
    return m.Report(
        title=seen.source, head=(answer,), parts=(m.Section("", (m.Table(_SEEN_COLUMNS, rows),)),) if rows else ()
    )


def _seen_row(span: SeenSpan) -> m.Row:
    words = (
        show_moment(span.start),
        show_moment(span.end - span.start),
        seen_title(span),
        NOTHING if span.kind == OTHER else span.kind,
        f"{span.sure:.2f}",
        seen_marks(span),
    )
    return m.Row(tuple(m.Cell(word) for word in words))


_HEARD_COLUMNS = (
    m.Column("at", right=True), m.Column("sure", right=True), m.Column("understood"), m.Column("words", gives=True),
)  # fmt: skip


def heard_report(talk: TalkDocument) -> m.Report:
    """Answer and table of what was heard, the words beside what was understood."""
    rows = tuple(
        m.Row(m.texts(show_moment(each.at), f"{each.sure:.2f}", heard_cue(each), each.said)) for each in talk.statements
    )
    answer = m.Section("", (m.Lines((heard_answer(talk),), indent=0),), plain=True)
    parts = (m.Section("", (m.Table(_HEARD_COLUMNS, rows),)),) if rows else ()
    return m.Report(title=talk.source, head=(answer,), parts=parts)
