"""One run as a report: its timeline, verdict and trouble, where the time went, screens, answers, all the rest."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.log.quantities.times import show_duration, show_tenths
from metrograph.measures.catalogue import figures_of
from metrograph.run.disks import layout_differences
from metrograph.run.records import Run, Screen
from metrograph.show.report import model as m
from metrograph.words import noted_words as noted
from metrograph.words import runs
from metrograph.words.figure_words import counted


def run_report(run: Run, drawing: m.Drawing | None = None) -> m.Report:
    """Everything that is known of a run, most asked for first. drawing: its timeline, laid out."""
    return m.Report(
        title=run.run,
        rest=f" {about(run)}",
        parts=(
            *(m.section("", drawing) if drawing is not None else ()),
            *_section("Verdict", (line for verdict in run.verdicts for line in noted.verdict(verdict))),
            *trouble(run),
            *m.section("Where the time went", *phase_times(run)),
            *m.section("Screens", screens_table(run)),
            *particulars(run),
        ),
    )


def particulars(run: Run) -> list[m.Section]:
    """What was answered, found and read, one by one."""
    return [
        *_section("Answers", answers_given(run)),
        *(m.section("Disk layout", m.Disk(run.layout)) if run.layout else ()),
        *_found(run),
        *m.section("Readings", _readings(run)),
        *(part for heading, told in noted.ALL for part in _section(heading, told(run))),
    ]


def tried_again(run: Run) -> tuple[m.Section, ...]:
    """Attempts, where there are several."""
    return _section("Attempts", map(noted.attempt, run.attempts if len(run.attempts) > 1 else ()))


def trouble(run: Run) -> list[m.Section]:
    """Attempts where there are several, and issues with what was tried against them."""
    issues = [block for issue in run.issues for block in (
        m.Lines((noted.issue(issue),)), m.Lines(tuple(noted.cures(issue)), 4))]  # fmt: skip
    return [*tried_again(run), *m.section("Issues", *issues)]


def _section(heading: str, lines: Iterable[str]) -> tuple[m.Section, ...]:
    return m.section(heading, m.Lines(tuple(lines)))


def about(run: Run) -> str:
    """Where and when it was, by whom, and how it ended."""
    begun = run.begun.strftime("%Y-%m-%d %H:%M") if run.begun else "at an unknown time"
    way = "" if run.way == "fresh" else f", {run.way}"
    like = f", like {run.like}" if run.like else ""
    reviewer = f", by {run.reviewer}" if run.reviewer else ""
    return f"on {run.rig or 'an unknown rig'}, begun {begun}{way}{like}{reviewer}, {run.ended or 'still open'}"


_SHORT = 60.0  # seconds


def phase_times(run: Run) -> tuple[m.Block, ...]:
    """The time of each phase, and in words what else there is to say of the clock."""
    columns = [m.Column("", gives=True)]
    columns += [m.Column(name, right=True) for name in ("on the clock", "hands-on", "waiting")]
    parts = [(phase.name, phase.on_clock, phase.person, phase.machine) for phase in run.phases]
    parts.append(("all together", run.clock.on_clock, run.clock.person, run.clock.machine))
    figures = figures_of(run)
    if {"desktop", "hands-on", "waiting"} <= figures.keys():
        parts.append(("until the desktop", figures["desktop"], figures["hands-on"], figures["waiting"]))
    # Whole seconds of a short run would not add up on paper.
    shown = show_tenths if (run.clock.on_clock.high or _SHORT) < _SHORT else show_duration
    rows = tuple(m.Row(m.texts(name, *map(shown, times))) for name, *times in parts)
    moments = _moments(run)
    return m.Table(tuple(columns), rows), m.Lines((", ".join(moments),) if moments else (), 0)


def _moments(run: Run) -> list[str]:
    clock, reached = run.clock, run.milestones
    told = [f"paused {show_duration(clock.paused)}"] if clock.paused.high != 0 else []
    told += [f"lost to trouble {show_duration(clock.lost)}"] if clock.lost.high != 0 else []
    moments = {
        "first question": reached.first_question,
        "installed": reached.installed,
        "desktop": reached.desktop,
        "updated": reached.updated,
    }
    return told + [f"{name} at {show_duration(moment)}" for name, moment in moments.items() if moment is not None]


def screens_table(run: Run) -> m.Table:
    """Every screen, when it came up, for how long, and what was answered on it."""
    columns = [
        m.Column("at", right=True), m.Column("screen", gives=True), m.Column("kind"), m.Column("time", right=True),
        m.Column("answers", gives=True),
    ]  # fmt: skip
    rows = [
        [show_duration(screen.start), screen.title, screen.kind, show_duration(screen.on_clock), _in_short(screen)]
        for screen in run.screens
    ]
    if len(run.attempts) > 1:
        columns.insert(0, m.Column("attempt", right=True))
        rows = [[str(screen.attempt), *row] for screen, row in zip(run.screens, rows, strict=True)]
    return m.Table(tuple(columns), tuple(m.Row(m.texts(*row)) for row in rows))


def _in_short(screen: Screen) -> str:
    """How many answers a screen was given, and what became of it."""
    kept = sum(choice.how == "kept" for choice in screen.choices)
    answers = f"{counted(len(screen.choices), 'answer')}, {kept} kept" if screen.choices else None
    back = f"come back to {screen.returns}×" if screen.returns else None
    return noted.joined(answers, back, None if screen.kept else "in vain")


def answers_given(run: Run) -> list[str]:
    """What was answered on each screen, and what else stood there, in full."""
    lines = []
    for screen in run.screens:
        told = [*map(runs.choice_in_full, screen.choices), *([f"“{screen.text}”"] if screen.text else [])]
        lines += [f"“{screen.title}”: {'; '.join(told)}"] if told else []
    return lines + [f"on no screen: {runs.choice_in_full(choice)}" for choice in run.choices]


def _found(run: Run) -> tuple[m.Section, ...]:
    """The layout that a probe found, and where it is not what the installer said."""
    if run.found is None:
        return ()
    differing = layout_differences(run.layout, run.found) if run.layout is not None else []
    return m.section("Found there", m.Disk(run.found), m.Lines(tuple(map(runs.layout_difference, differing))))


def _readings(run: Run) -> m.Table:
    columns = (
        m.Column("what", gives=True), m.Column("figure", right=True), m.Column("state"), m.Column("said with it"),
    )  # fmt: skip
    rows = tuple(
        m.Row(m.texts(figure.name, noted.amount(figure), figure.state, noted.reading_told(figure)))
        for figure in run.readings
    )
    return m.Table(columns, rows)
