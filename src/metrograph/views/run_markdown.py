"""One run in Markdown, for those who publish elsewhere."""

from __future__ import annotations

import re
from collections.abc import Sequence

from metrograph.language.times import show_duration
from metrograph.model.runs import Run
from metrograph.views.run_text import show_choice, show_reading
from metrograph.views.safe import readable

_SIGNS = re.compile(r"([\\\\`*_{}\[\]()#+!|~<>&:.@-])")
_NOTHING = "—"


def render_run_markdown(run: Run) -> str:
    """Where the time went, screens with answers, issues, readings, trials, verdict."""
    run = readable(run)
    parts = [
        f"# {_plain(run.run)}",
        _about(run),
        _times(run),
        _screens(run),
        _issues(run),
        _readings(run),
        _checks(run),
    ]
    if run.verdict is not None:
        parts.append(f"## Verdict\n\n{_plain(run.verdict.text)}")
    return "\n\n".join(part for part in parts if part) + "\n"


def _about(run: Run) -> str:
    begun = f", begun {run.begun:%Y-%m-%d}" if run.begun else ""
    ended = run.ended or "still open"
    return f"{_plain(run.release)} on {_plain(run.rig)}{begun}, {ended}. Times on the clock, pauses left out."


def _times(run: Run) -> str:
    rows = [[_plain(each.name), *map(show_duration, (each.on_clock, each.person, each.machine))] for each in run.phases]
    clock = run.clock
    rows.append(["**all together**", *map(show_duration, (clock.on_clock, clock.person, clock.machine))])
    return _table("Where the time went", ["phase", "time", "hands-on", "waiting"], rows)


def _screens(run: Run) -> str:
    rows = [
        [show_duration(each.start), _plain(each.title), _plain(each.kind), show_duration(each.on_clock),
         _plain("; ".join(map(show_choice, each.choices)))]
        for each in run.screens
    ]  # fmt: skip
    return _table("Screens", ["at", "screen", "kind", "time", "answers"], rows)


def _issues(run: Run) -> str:
    rows = [
        [show_duration(each.at), _plain(each.summary), _plain(each.severity or ""), _plain(each.screen or each.phase),
         show_duration(each.lost) if each.lost is not None else _NOTHING, _plain(each.fix or "")]
        for each in run.issues
    ]  # fmt: skip
    return _table("Issues", ["at", "issue", "severity", "where", "cost", "what helped"], rows)


def _readings(run: Run) -> str:
    rows = [[_plain(each.name), _plain(show_reading(each)), each.state] for each in run.readings]
    return _table("Readings", ["what", "figure", "state"], rows)


def _checks(run: Run) -> str:
    rows = [[_plain(each.name), _plain(each.result), _plain(each.detail or "")] for each in run.checks]
    return _table("Trials", ["trial", "result", "detail"], rows)


def _table(title: str, headings: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table under its heading; nothing without rows."""
    if not rows:
        return ""
    lines = [headings, ["---"] * len(headings), *rows]
    return f"## {title}\n\n" + "\n".join("| " + " | ".join(cell or " " for cell in line) + " |" for line in lines)


def _plain(text: str) -> str:
    """A text in which no sign means anything."""
    return _SIGNS.sub(r"\\\1", text)
