"""Writes a report in Markdown in which no text from a log means anything, with links to charts beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from metrograph.show.report.model import (
    Answers,
    Block,
    Disk,
    Drawing,
    Headlines,
    Labels,
    Lines,
    Report,
    Section,
    Sections,
    Table,
    headline_lines,
)
from metrograph.show.safe import readable
from metrograph.words.noted_words import disk_lines

_SIGNS = re.compile(r"([\\`*_{}\[\]#|~<>&])")
_LINKS = re.compile(r"(?<=:)(?=//)|(?<=www)(?=\.)", re.IGNORECASE)  # addresses that would become links by themselves
_FIRST = re.compile(r"^([-+=]|\d+(?=[.)](?:\s|$)))")  # what would begin a list, or make a heading of the line before


def plain(text: str) -> str:
    """A text in which no sign means anything, on one line."""
    escaped = _LINKS.sub(r"\\", _SIGNS.sub(r"\\\1", " ".join(text.split())))
    return _FIRST.sub(lambda match: f"{match[0]}\\" if match[0].isdigit() else f"\\{match[0]}", escaped)


def table(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table; its cells are plain text."""
    lines = [list(map(plain, headings)), ["---"] * len(headings), *([plain(cell) for cell in row] for row in rows)]
    return "\n".join("| " + " | ".join(cell or " " for cell in line) + " |" for line in lines)


def bullets(lines: Sequence[str]) -> str:
    """Sentences, a line each."""
    return "\n".join(f"- {plain(line)}" for line in lines)


_NO_FILES: Mapping[str, str] = {}


def write(report: Report, files: Mapping[str, str] = _NO_FILES, foot: str = "") -> str:
    """The whole report. files: for each chart, the name of the file that it was drawn into; foot: a last sentence."""
    report = readable(report)
    head = [
        f"# {plain(report.title)}",
        plain((report.rest + report.strong).removeprefix(" ")),
        *map(plain, report.lines),
    ]
    parts = [*head, *(_part(part, files) for part in (*report.head, *report.parts)), plain(foot)]
    return "\n\n".join(part for part in parts if part) + "\n"


def _part(part: Section | Sections, files: Mapping[str, str]) -> str:
    if isinstance(part, Section):
        return _section(part, files)
    named = any(section.heading == part.heading for section in part.sections)
    inside = [written for section in part.sections if (written := _section(section, files, level=2 if named else 3))]
    heading = [f"## {plain(part.heading)}"] if part.heading and inside and not named else []
    return "\n\n".join([*heading, *inside])


def _section(section: Section, files: Mapping[str, str], level: int = 2) -> str:
    """The blocks under their heading; nothing where none of them can be written."""
    blocks = [written for block in section.blocks if (written := _block(block, section, files))]
    heading = [f"{'#' * level} {plain(section.heading)}"] if section.heading else []
    return "\n\n".join([*heading, *blocks]) if blocks else ""


def _block(block: Block, section: Section, files: Mapping[str, str]) -> str:
    match block:
        case Table():
            return _table(block)
        case Lines():
            return bullets(block.lines)
        case Answers():
            return "\n\n".join((f"**{plain(name)}**: " if name else "") + plain(answer) for name, answer in block.pairs)
        case Labels() | Disk() | Headlines():
            return bullets(_lines(block))
        case Drawing():
            file = files.get(block.key)
            return f"![{plain(block.title or section.heading)}]({file})" if file else ""


def _lines(block: Labels | Disk | Headlines) -> list[str]:
    match block:
        case Labels():
            return [f"{label}: {value}" for label, value in block.rows]
        case Disk():
            return list(disk_lines(block.layout))
        case Headlines():
            return headline_lines(block)


def _table(block: Table) -> str:
    places = [place for place, column in enumerate(block.columns) if not column.bar]
    headings = [block.columns[place].heading for place in places]
    rows = [[f"{row.cells[place].text} {row.cells[place].more}".strip() for place in places] for row in block.rows]
    key = f"\n\n{plain(block.key)}" if block.key else ""
    return table(headings, rows) + key
