"""Writes a report as one page without network: style, charts, data and script inside; a policy forbids all else.

Everything from logs is escaped where it stands: as text, in attributes, in charts, and in the data.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any

import msgspec

from metrograph.show.charts.sheets.paper import PHONE, WIDE
from metrograph.show.page.timelines import album_block, timelines
from metrograph.show.report.model import (
    Answers,
    Block,
    Disk,
    Drawing,
    Headlines,
    Lines,
    Report,
    Section,
    Sections,
    Table,
)
from metrograph.show.safe import readable
from metrograph.words.noted_words import disk_lines

_LONGEST_TEXT = 900  # letters; of what is longer the middle is left out


Form = tuple[int, bool]
"""A width in pixels, and whether it is dark."""

FORMS: tuple[Form, ...] = ((PHONE, True), (PHONE, False), (WIDE, True), (WIDE, False))
"""In which every chart stands on the page; the last is the usual one."""


class DrawnChart(msgspec.Struct, frozen=True):
    """A chart that was drawn. svgs: its files by form; told: it in words."""

    svgs: dict[Form, bytes]
    told: str


def write(report: Report, pictures: Mapping[str, DrawnChart], data: object, masked: int) -> str:
    """The page.

    pictures: by the key of their drawing; the timelines and the album are not among them, as they answer by themselves.
    data: what the page is made of, to be taken from it as JSON.
    masked: in how many places personal values were masked.
    """
    import jinja2
    from markupsafe import Markup

    report = readable(report, _LONGEST_TEXT)
    style, script = _part("page.css"), _part("page.js")
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined, trim_blocks=True)
    text: str = environment.from_string(_part("page.html.j2")).render(
        title=report.title,
        lines=report.lines,
        style=Markup(style),
        script=Markup(script),
        style_hash=_policy_hash(style),
        script_hash=_policy_hash(script),
        parts=[_shown(part, pictures) for part in (*report.head, *report.parts)],
        releases=_releases(report),
        data=Markup(_json(readable(data, _LONGEST_TEXT))),
        masked=_masked(masked),
    )
    return text


@cache
def _part(name: str) -> str:
    return resources.files("metrograph.show.page").joinpath(name).read_text("utf-8")


def _policy_hash(text: str) -> str:
    """What the page's policy knows an inline style or script by."""
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()


def _json(data: object) -> str:
    """JSON that cannot end the element it stands in."""
    text = msgspec.json.encode(data).decode()
    return text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")


def _masked(count: int) -> str:
    if not count:
        return ""
    return f"Personal values are masked in {count} place{'s' * (count != 1)}."


def _releases(report: Report) -> list[str]:
    """The releases that any section tells about."""
    sections = [
        section for part in report.parts for section in (part.sections if isinstance(part, Sections) else (part,))
    ]
    return list(dict.fromkeys(name for section in sections if section.pair for name in section.pair))


def _shown(part: Section | Sections, pictures: Mapping[str, DrawnChart]) -> dict[str, Any]:
    """A part for the template: a heading, and sections of blocks each of a kind that it knows."""
    sections = part.sections if isinstance(part, Sections) else (part,)
    shown = [_section(section, pictures, isinstance(part, Sections), part.heading) for section in sections]
    return {"heading": part.heading, "sections": shown, "folded": folded(part), "answer": answer_in(part)}


_OPEN = frozenset(
    {
        "", "In short", "At a glance", "Read with care", "Releases", "What changed", "What it is", "How it goes",
        "What was opened", "Trouble", "What works, and what does not", "On board", "Liked and not", "Verdicts",
        "Own questions", "Beside the release before", "Beside others, as said",
        "Beside its siblings", "How it was reviewed",
    }
)  # fmt: skip
"""Parts of which everything is seen at once; the rest is folded away."""


def folded(part: Section | Sections) -> bool:
    """Whether a part is folded away until somebody asks for it."""
    return part.heading not in _OPEN


def answer_in(part: Section | Sections) -> str:
    """What is to be seen in a part that is folded: its answer, or else how much there is in it."""
    if part.answer:
        return part.answer
    sections = part.sections if isinstance(part, Sections) else (part,)
    blocks = [block for section in sections for block in section.blocks]
    lines = [line for block in blocks if isinstance(block, Lines) for line in block.lines]
    rows = sum(len(block.rows) for block in blocks if isinstance(block, Table))
    if lines and not isinstance(blocks[0], Table):
        return lines[0]
    return f"{rows} row{'s' * (rows != 1)}" if rows else ""


def _section(section: Section, pictures: Mapping[str, DrawnChart], inside: bool, above: str) -> dict[str, Any]:
    return {
        "heading": section.heading if inside and section.heading != above else "",
        "pair": "\n".join(section.pair) if section.pair else "",
        "blocks": [_block(block, section, pictures) for block in section.blocks],
    }


def _block(block: Block, section: Section, pictures: Mapping[str, DrawnChart]) -> dict[str, Any]:
    match block:
        case Table():
            return _table(block, section.heading)
        case Lines():
            return {"kind": "lines", "lines": block.lines}
        case Disk():
            return {"kind": "lines", "lines": disk_lines(block.layout)}
        case Answers():
            return {"kind": "answers", "answers": block.pairs}
        case Headlines():
            return {"kind": "headlines", "figures": block.figures}
        case Drawing():
            return _drawing(block, pictures)
    raise TypeError(block)


def _drawing(drawing: Drawing, pictures: Mapping[str, DrawnChart]) -> dict[str, Any]:
    if drawing.chart == "runs":
        return {"kind": "timelines", **timelines(drawing.laid, drawing.rows)}
    return album_block(drawing.laid) if drawing.chart == "album" else _picture(pictures[drawing.key])


def _picture(picture: DrawnChart) -> dict[str, Any]:
    sources = [
        {"media": _media(form), "data": _svg(svg)} for form, svg in picture.svgs.items() if form != (WIDE, False)
    ]
    return {"kind": "picture", "sources": sources, "data": _svg(picture.svgs[WIDE, False]), "told": picture.told}


def _svg(svg: bytes) -> str:
    return "data:image/svg+xml;base64," + base64.b64encode(svg).decode()


def _media(form: Form) -> str:
    """For which screens a form is."""
    width, dark = form
    asks = ["(max-width: 640px)"] * (width == PHONE) + ["(prefers-color-scheme: dark)"] * dark
    return " and ".join(asks)


def _table(table: Table, title: str) -> dict[str, Any]:
    places = [place for place, column in enumerate(table.columns) if not column.bar]
    headings = [{"text": table.columns[place].heading, "number": table.columns[place].right} for place in places]
    rows = [
        {
            "number": row.number,
            "told": row.told,
            "cells": [
                {
                    "text": f"{row.cells[place].text} {row.cells[place].more}".strip(),
                    "number": table.columns[place].right,
                    "value": _sorted_by(row.cells[place].value),
                }
                for place in places
            ],
        }
        for row in table.rows
    ]
    return {"kind": "table", "title": title, "headings": headings, "rows": rows, "key": table.key}


def _sorted_by(value: float | None) -> str | None:
    return None if value is None else f"{value:.3f}"
