"""The whole story as one page without network: styles, pictures, data and script inside; a policy forbids all else.

Everything from logs is escaped where it stands: as text, in attributes, in pictures, and in the data.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Sequence
from functools import cache
from importlib import resources
from typing import Any

import msgspec

from metrograph.analysis.lanes import Bar, Lane, Lanes, round_moments
from metrograph.language.times import show_duration, show_moment
from metrograph.model.comparison import Cell, Comparison, PhaseTime, ReadingRow, Row
from metrograph.model.figures import FIGURES
from metrograph.model.ledgers import ClaimLedger, FactLedger
from metrograph.views.brief import phrases
from metrograph.views.figures_text import NOTHING, conclusion_lines, show_spread
from metrograph.views.issues_text import cell_of, told
from metrograph.views.ledgers_text import claim_cells, fact_cell
from metrograph.views.palette import colours
from metrograph.views.run_text import show_choice, show_value
from metrograph.views.safe import readable
from metrograph.views.sentences import rests_on, sentence
from metrograph.views.table_cells import screen_time
from metrograph.views.text import shorten

_WIDTH, _LEFT, _RIGHT, _LANE = 1200.0, 190.0, 70.0, 30.0  # units of the timelines' picture
_ENOUGH = 300  # columns of a title; what is longer is left out in its middle


Ledgers = tuple[FactLedger, ClaimLedger]


class Picture(msgspec.Struct, frozen=True):
    """A figure on the page. name: of its kind; svg: its file; said: it in words."""

    title: str
    name: str
    caption: str
    svg: bytes
    said: str


def render_page(
    comparison: Comparison, lanes: Lanes, ledgers: Ledgers, pictures: Sequence[Picture], masked: int
) -> str:
    """The page. masked: in how many places personal values were masked."""
    import jinja2
    from markupsafe import Markup

    comparison, lanes = readable(comparison, _ENOUGH), readable(lanes, _ENOUGH)
    ledgers = readable(ledgers, _ENOUGH)
    style, script = _part("page.css"), _part("page.js")
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined, trim_blocks=True)
    template = environment.from_string(_part("page.html.j2"))
    text: str = template.render(
        title=_title(comparison.releases),
        style=Markup(style), script=Markup(script), style_hash=_hash(style), script_hash=_hash(script),
        baseline=comparison.baseline, releases=comparison.releases,
        answers=_answers(comparison), figures=[_figure(each) for each in pictures],
        tables=[*_tables(comparison), *_ledgers(comparison.releases, *ledgers)],
        changes=_changes(comparison), conclusions=_conclusions(comparison), care=_care(comparison),
        data=Markup(_data(comparison)), masked=_masked(masked), **_timelines(lanes, comparison),
    )  # fmt: skip
    return text


def _title(releases: Sequence[str]) -> str:
    return " against ".join(releases) if len(releases) < 5 else f"{releases[0]} to {releases[-1]}"


@cache
def _part(name: str) -> str:
    return resources.files("metrograph.views").joinpath("page", name).read_text("utf-8")


def _hash(text: str) -> str:
    """What the page's policy knows an inline style or script by."""
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()


def _data(comparison: Comparison) -> str:
    """The comparison as JSON that cannot end the element it stands in."""
    text = msgspec.json.encode(comparison).decode()
    return text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")


def _masked(count: int) -> str:
    if not count:
        return ""
    return f"Personal values are masked in {count} place{'s' * (count != 1)}."


def _figure(picture: Picture) -> dict[str, str]:
    data = "data:image/svg+xml;base64," + base64.b64encode(picture.svg).decode()
    return {"title": picture.title, "caption": picture.caption, "data": data, "said": picture.said}


# -- sentences ---------------------------------------------------------------------------------------------------------


def _answers(comparison: Comparison) -> list[dict[str, str]]:
    pairs = zip(comparison.releases, comparison.releases[1:], strict=False)
    return [
        {"release": later, "text": "; ".join(phrases(comparison, earlier, later)) or "nothing that was noted"}
        for earlier, later in pairs
    ]


def _changes(comparison: Comparison) -> list[dict[str, Any]]:
    every = (*comparison.changes, *comparison.since_baseline)
    pairs = [*zip(comparison.releases, comparison.releases[1:], strict=False)]
    pairs += [pair for pair in dict.fromkeys((each.earlier, each.later) for each in every) if pair not in pairs]
    found = []
    for earlier, later in pairs:
        lines = [sentence(each) + rests_on(each) for each in every if (each.earlier, each.later) == (earlier, later)]
        found.append({"earlier": earlier, "later": later, "lines": lines or ["Nothing that was noted."]})
    return found


def _conclusions(comparison: Comparison) -> list[dict[str, Any]]:
    pairs = dict.fromkeys((each.earlier, each.later) for each in comparison.contrasts)
    return [
        {"earlier": earlier, "later": later, "lines": conclusion_lines(comparison, (earlier, later))}
        for earlier, later in pairs
    ]


def _care(comparison: Comparison) -> list[str]:
    return [f"{each.sentence} {' | '.join(value or 'not said' for value in each.values)}" for each in comparison.care]


# -- timelines ---------------------------------------------------------------------------------------------------------


def _timelines(lanes: Lanes, comparison: Comparison) -> dict[str, Any]:
    room = _WIDTH - _LEFT - _RIGHT
    scale = room / max(lanes.length, 1.0)
    hues = colours(lanes.phases)
    rows = {title: row.number for row in comparison.rows for title in row.titles}
    return {
        "width": _WIDTH, "height": _LANE * len(lanes.lanes) + 26, "left": _LEFT, "room": room,
        "phases": [{"name": phase, "fill": hues[phase]} for phase in lanes.phases],
        "moments": [
            {"x": round(_LEFT + moment * scale, 1), "text": show_moment(moment)}
            for moment in round_moments(lanes.length, 10)
        ],
        "lanes": [_lane(lane, place, scale, hues, rows) for place, lane in enumerate(lanes.lanes)],
        "issues": lanes.issues,
    }  # fmt: skip


def _lane(lane: Lane, place: int, scale: float, hues: dict[str, str], rows: dict[str, int]) -> dict[str, Any]:
    phases = {mark.label: round(mark.at * scale, 1) for mark in lane.phases}
    total = show_duration(lane.total)
    return {
        "name": shorten(lane.name, 26), "y": _LANE * place, "total": total, "said": f"{lane.name}: {total}",
        "end": round(lane.end * scale, 1), "phases": msgspec.json.encode(phases).decode(),
        "bars": [
            {"x": round(bar.start * scale, 1), "width": max(round((bar.end - bar.start) * scale, 1), 0.2),
             "fill": hues[bar.phase], "look": _look(bar),
             "said": f"{bar.phase}, {'waiting' if bar.who == 'machine' else 'hands-on'}"}
            for bar in lane.bars
        ],
        "screens": [
            {"x": round(mark.at * scale - 1, 1), "row": rows.get(mark.label, 0),
             "said": f"{mark.label}, {show_moment(mark.at)}"}
            for mark in lane.screens
        ],
        "issues": [{"x": round(mark.at * scale, 1), "text": mark.label} for mark in lane.issues],
    }  # fmt: skip


def _look(bar: Bar) -> str:
    """The classes of a bar."""
    words = ("waiting", bar.who == "machine"), ("failed attempt", bar.failed)
    return " ".join(word for word, said in words if said)


# -- tables ------------------------------------------------------------------------------------------------------------


def _tables(comparison: Comparison) -> list[dict[str, Any]]:
    names = comparison.releases
    screens = [_screen(row, comparison) for row in comparison.rows]
    marks = "The time spent there; ● all pre-set values kept, ○ one changed or typed."
    figures = [
        _row(each.words, [_spread_cell(own.get(name), each.unit) for own in comparison.figures])
        for name, each in FIGURES.items()
        if any(name in own for own in comparison.figures)
    ]
    figures += _phase_rows(comparison)
    found = [_table("Screens, aligned", ["screen", "kind"], names, screens, marks)]
    spread = "In brackets the least and the most of the runs; of phases, what was hands-on."
    found.append(_table("Times and effort", ["median of runs"], names, figures, spread))
    if comparison.issues:
        cells = [[_text(cell_of(row, cell)) for cell in row.cells] for row in comparison.issues]
        rows = [_row(row.name or row.summary, own) for row, own in zip(comparison.issues, cells, strict=True)]
        found.append(
            _table("Issues", ["issue"], names, rows, "", [line for row in comparison.issues for line in told(row)])
        )
    if comparison.readings:
        rows = [_row(f"{row.name}, {row.state}", _reading_cells(row)) for row in comparison.readings]
        found.append(_table("Readings", ["reading"], names, rows, ""))
    if comparison.checks:
        rows = [_row(row.name, [_text(NOTHING if each == "not tried" else each) for each in row.results])
                for row in comparison.checks]  # fmt: skip
        found.append(_table("Trials", ["trial"], names, rows, ""))
    return found


def _phase_rows(comparison: Comparison) -> list[dict[str, Any]]:
    """Each phase with all its time, and in brackets the part that a person spent."""
    rows = []
    for phase in dict.fromkeys(phase for times in comparison.times for phase in times.phases):
        own = [times.phases.get(phase) for times in comparison.times]
        cells = [_number(_phase(time), time.on_clock.low) if time is not None else _number(None, None) for time in own]
        rows.append(_row(f"phase {phase}", cells))
    return rows


def _phase(time: PhaseTime) -> str:
    return f"{show_duration(time.on_clock)} ({show_duration(time.person)})"


def _ledgers(names: Sequence[str], facts: FactLedger, claims: ClaimLedger) -> list[dict[str, Any]]:
    """Facts with what became of them, and what is published against what was measured."""
    found = []
    if facts.rows:
        rows = [_row(row.name, [_text(fact_cell(*each)) for each in zip(row.values, row.verdicts, strict=True)])
                for row in facts.rows]  # fmt: skip
        found.append(_table("Facts", ["fact"], names, rows, "↑ raised, ↓ lowered, ≠ replaced, − dropped, + new."))
    if claims.rows:
        rows = [_row(first, list(map(_text, rest))) for first, *rest in map(claim_cells, claims.rows)]
        found.append(_table("Claims", ["release", "published", "figure", "measured", "runs", "holds"], (), rows, ""))
    return found


def _reading_cells(row: ReadingRow) -> list[dict[str, Any]]:
    return [_number(None if value is None else show_value(value, row.unit), value) for value in row.values]


def _table(
    title: str, first: Sequence[str], names: Sequence[str], rows: list[Any], lead: str, foot: Sequence[str] = ()
) -> dict[str, Any]:
    headings = [{"text": text, "number": False} for text in first]
    headings += [{"text": name, "number": title not in {"Issues", "Trials", "Facts"}} for name in names]
    return {"title": title, "headings": headings, "rows": rows, "lead": lead, "foot": foot}


def _screen(row: Row, comparison: Comparison) -> dict[str, Any]:
    """A row of the merged flow; what is said of it when it is pointed at are its times and answers in all releases."""
    titles = " → ".join(row.titles)
    times = [(screen_time(cell), cell.on_clock.low) if cell else (None, None) for cell in row.cells]
    cells = [_text(titles), _text(row.kind), *(_number(*time) for time in times)]
    own = (f"{name} {_said(cell)}" for name, cell in zip(comparison.releases, row.cells, strict=True))
    return {"number": row.number, "said": f"{titles}: {'; '.join(own)}", "cells": cells}


def _said(cell: Cell | None) -> str:
    if cell is None:
        return "has no such screen"
    answers = ", ".join(map(show_choice, cell.choices))
    return show_duration(cell.on_clock) + (f" ({answers})" if answers else "")


def _row(name: str, cells: list[dict[str, Any]]) -> dict[str, Any]:
    return {"number": None, "said": "", "cells": [_text(name), *cells]}


def _text(text: str) -> dict[str, Any]:
    return {"text": text, "look": "", "value": None}


def _number(text: str | None, value: float | None) -> dict[str, Any]:
    return {
        "text": NOTHING if text is None else text,
        "look": "number",
        "value": "" if value is None else f"{value:.3f}",
    }


def _spread_cell(spread: Any, unit: str) -> dict[str, Any]:
    return _number(show_spread(spread, unit, spread=True), spread.median.low if spread else None)
