"""One run in Markdown, for those who publish elsewhere."""

from __future__ import annotations

from metrograph.language.times import show_duration
from metrograph.model.runs import Run
from metrograph.views.markdown import plain, table
from metrograph.views.run_text import show_choice, show_reading
from metrograph.views.safe import readable

_NOTHING = "—"


def render_run_markdown(run: Run) -> str:
    """Where the time went, screens with answers, issues, readings, trials, verdict."""
    run = readable(run)
    parts = [
        f"# {plain(run.run)}",
        _about(run),
        _times(run),
        _screens(run),
        _issues(run),
        _readings(run),
        _checks(run),
    ]
    if run.verdict is not None:
        parts.append(f"## Verdict\n\n{plain(run.verdict.text)}")
    return "\n\n".join(part for part in parts if part) + "\n"


def _about(run: Run) -> str:
    begun = f", begun {run.begun:%Y-%m-%d}" if run.begun else ""
    ended = run.ended or "still open"
    return f"{plain(run.release)} on {plain(run.rig)}{begun}, {ended}. Times on the clock, pauses left out."


def _times(run: Run) -> str:
    rows = [[plain(each.name), *map(show_duration, (each.on_clock, each.person, each.machine))] for each in run.phases]
    clock = run.clock
    rows.append(["**all together**", *map(show_duration, (clock.on_clock, clock.person, clock.machine))])
    return table("Where the time went", ["phase", "time", "hands-on", "waiting"], rows)


def _screens(run: Run) -> str:
    rows = [
        [show_duration(each.start), plain(each.title), plain(each.kind), show_duration(each.on_clock),
         plain("; ".join(map(show_choice, each.choices)))]
        for each in run.screens
    ]  # fmt: skip
    return table("Screens", ["at", "screen", "kind", "time", "answers"], rows)


def _issues(run: Run) -> str:
    rows = [
        [show_duration(each.at), plain(each.summary), plain(each.severity or ""), plain(each.screen or each.phase),
         show_duration(each.lost) if each.lost is not None else _NOTHING, plain(each.fix or "")]
        for each in run.issues
    ]  # fmt: skip
    return table("Issues", ["at", "issue", "severity", "where", "cost", "what helped"], rows)


def _readings(run: Run) -> str:
    rows = [[plain(each.name), plain(show_reading(each)), each.state] for each in run.readings]
    return table("Readings", ["what", "figure", "state"], rows)


def _checks(run: Run) -> str:
    rows = [[plain(each.name), plain(each.result), plain(each.detail or "")] for each in run.checks]
    return table("Trials", ["trial", "result", "detail"], rows)
