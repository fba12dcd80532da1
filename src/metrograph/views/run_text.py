"""One run in the terminal: its timeline, where the time went, screens with answers, issues, readings."""

from __future__ import annotations

from metrograph.analysis.lanes import lay_lanes
from metrograph.analysis.layouts import differences
from metrograph.language.sizes import show_size
from metrograph.language.times import show_duration
from metrograph.model.layouts import Layout
from metrograph.model.runs import Choice, Reading, Run, Screen
from metrograph.views.lanes_text import render_lanes
from metrograph.views.layout_text import render_layout
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.table import Column, render_lines, render_table

_HOW = {"kept": "kept", "chosen": "chose", "typed": "typed"}


def render_run(run: Run, paper: Paper) -> str:
    """Everything that is known of a run, most asked for first."""
    run = readable(run)
    parts = [
        _title(run, paper),
        render_lanes(lay_lanes([run]), paper),
        _section("Where the time went", _time_table(run, paper), paper),
        _section("Screens", _screen_table(run, paper), paper) if run.screens else "",
        _section("Disk layout", render_layout(run.layout, paper), paper) if run.layout else "",
        _section("Found there", _found(run, run.found, paper), paper) if run.found else "",
        _section("Issues", render_lines(_issue_lines(run), paper), paper) if run.issues else "",
        _section("Readings", _reading_table(run, paper), paper) if run.readings else "",
        _lists(run, paper),
    ]
    return paper.finish("\n".join(part for part in parts if part))


def show_reading(reading: Reading) -> str:
    """A figure with its unit."""
    return show_value(reading.value, reading.unit)


def show_value(value: float, unit: str) -> str:
    """A figure with its unit; bytes in the binary family."""
    if unit == "bytes":
        return show_size(round(value))
    return f"{value:g} {unit}".strip()


def _section(heading: str, body: str, paper: Paper) -> str:
    return f"{paper.heading(heading)}\n{body}"


def _title(run: Run, paper: Paper) -> str:
    begun = run.begun.strftime("%Y-%m-%d %H:%M") if run.begun else "at an unknown time"
    way = "" if run.way == "fresh" else f", {run.way}"
    ended = run.ended or "still open"
    return f"{paper.heading(run.run)} on {run.rig or 'an unknown rig'}, begun {begun}{way}, {ended}\n"


def _time_table(run: Run, paper: Paper) -> str:
    columns = [Column("", gives=True), *(Column(name, right=True) for name in ("on the clock", "hands-on", "waiting"))]
    rows = [
        [phase.name, *(show_duration(part) for part in (phase.on_clock, phase.person, phase.machine))]
        for phase in run.phases
    ]
    clock = run.clock
    rows.append(["all together", *(show_duration(part) for part in (clock.on_clock, clock.person, clock.machine))])
    extra = [f"paused {show_duration(clock.paused)}"] if clock.paused.high != 0 else []
    extra += [f"lost to trouble {show_duration(clock.lost)}"] if clock.lost.high != 0 else []
    moments = {"first question": run.milestones.first_question, "installed": run.milestones.installed}
    moments |= {"desktop": run.milestones.desktop, "updated": run.milestones.updated}
    extra += [f"{name} at {show_duration(moment)}" for name, moment in moments.items() if moment is not None]
    return render_table(columns, rows, paper) + (render_lines([", ".join(extra)], paper, indent=0) if extra else "")


def _screen_table(run: Run, paper: Paper) -> str:
    columns = [
        Column("at", right=True),
        Column("screen", gives=True),
        Column("kind"),
        Column("time", right=True),
        Column("answers", gives=True),
    ]
    rows = [
        [show_duration(each.start), each.title, each.kind, show_duration(each.on_clock), _answers(each)]
        for each in run.screens
    ]
    if len(run.attempts) > 1:
        columns.insert(0, Column("attempt", right=True))
        rows = [[str(screen.attempt), *row] for screen, row in zip(run.screens, rows, strict=True)]
    return render_table(columns, rows, paper)


def _answers(screen: Screen) -> str:
    back = [f"come back to {screen.returns}×"] if screen.returns else []
    return "; ".join([*(show_choice(choice) for choice in screen.choices), *back])


def show_choice(choice: Choice) -> str:
    """An answer: ``swap: none → file`` when it was changed, ``swap: file (kept)`` when it was left as it stood."""
    if choice.how == "typed":
        return f"{choice.key} typed" if choice.value is None else f"{choice.key}: {choice.value} (typed)"
    if choice.how == "kept":
        return f"{choice.key}: {choice.value} (kept)"
    return f"{choice.key}: {choice.preset or '?'} → {choice.value}"


def _issue_lines(run: Run) -> list[str]:
    lines = []
    for issue in run.issues:
        where = f"“{issue.screen}”" if issue.screen else issue.phase
        severity = f" {issue.severity}" if issue.severity else ""
        cost = f"; cost {show_duration(issue.lost)}" if issue.lost is not None else "; not fixed"
        name = f"{issue.name}: " if issue.name else ""
        cure = f"; fix: {issue.fix}" if issue.fix else ""
        lines.append(f"{show_duration(issue.at)}{severity} on {where}: {name}{issue.summary}{cost}{cure}")
    return lines


def _reading_table(run: Run, paper: Paper) -> str:
    columns = [Column("what", gives=True), Column("figure", right=True), Column("state"), Column("load")]
    rows = [[each.name, show_reading(each), each.state, each.load or ""] for each in run.readings]
    return render_table(columns, rows, paper)


def _lists(run: Run, paper: Paper) -> str:
    """What is short enough for a line each."""
    lists = {
        "Facts": [f"{fact.name}: {fact.value}" for fact in run.facts],
        "Checks": [f"{check.name}: {check.result}" + _behind(check.detail) for check in run.checks],
        "Tweaks": [tweak.what + _behind(tweak.why) for tweak in run.tweaks],
        "Added": [each.software + _behind(_weight(each.download)) for each in run.added],
        "Notes": [note.text for note in run.notes],
        "Verdict": [run.verdict.text] if run.verdict else [],
    }
    sections = [_section(name, render_lines(lines, paper), paper) for name, lines in lists.items() if lines]
    return "\n".join(sections)


def _behind(text: str | None) -> str:
    return f" ({text})" if text else ""


def _weight(download: int | None) -> str | None:
    return None if download is None else f"{show_size(download)} downloaded"


def _found(run: Run, found: Layout, paper: Paper) -> str:
    """The layout that a probe found, and where it is not what the installer said."""
    wrong = differences(run.layout, found) if run.layout is not None else []
    return render_layout(found, paper) + (render_lines(wrong, paper) if wrong else "")
