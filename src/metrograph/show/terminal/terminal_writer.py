"""Writes a report for a terminal, or for a program: sections with a blank line between them, each block as it fits."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.log.cues import Fault
from metrograph.run.disks import Layout, Segment, segments
from metrograph.show.palette import CARE, OWN_COLOURS, WORSE
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
)
from metrograph.show.safe import readable
from metrograph.show.terminal.terminal_lanes import render_lanes
from metrograph.show.terminal.text import Medium, fit, render_lines, render_table, shorten, width, wrap
from metrograph.words.figure_words import counted
from metrograph.words.noted_words import disk_title, other_lines, segment_lines

_INK, _FREE, _UNKNOWN = "█▓", "·", "?"  # neighbours differ in ink too, for those without colour
_WIDEST = 100  # columns of the bar with its margins


def render_disk(layout: Layout, paper: Medium) -> str:
    """The bar, below it a line for each piece in the bar's ink, and what else was said."""
    pieces = segments(layout)
    key = "".join(
        f"  {paper.ink(ink, hue)} {line}\n"
        for (ink, hue), line in zip(_inks(pieces), segment_lines(layout), strict=True)
    )
    return (
        render_lines([disk_title(layout)], paper) + _bar(pieces, paper) + key + render_lines(other_lines(layout), paper)
    )


def _inks(pieces: tuple[Segment, ...]) -> list[tuple[str, str]]:
    """For each piece the character and the colour it is drawn with."""
    return [(_ink(piece, number), OWN_COLOURS[number % len(OWN_COLOURS)]) for number, piece in enumerate(pieces)]


def _ink(piece: Segment, number: int) -> str:
    return _FREE if piece.free else _INK[number % 2] if piece.known else _UNKNOWN


def _bar(pieces: tuple[Segment, ...], paper: Medium) -> str:
    """The pieces to scale, where all have a size; every piece has a column at least, and the largest gives them."""
    columns = min(paper.width, _WIDEST) - 4
    sizes = [piece.size for piece in pieces if piece.size is not None]
    if not sum(sizes) or len(sizes) < len(pieces) or len(pieces) > columns:
        return ""
    widths = [max(round(size / sum(sizes) * columns), 1) for size in sizes]
    widths[widths.index(max(widths))] += columns - sum(widths)
    cells = (paper.ink(ink * size, hue) for (ink, hue), size in zip(_inks(pieces), widths, strict=True))
    return f"  {''.join(cells)}\n"


def render_faults(faults: Iterable[Fault], paper: Medium) -> str:
    """A line a fault: where, how bad, what is wrong, what could stand there."""
    return paper.finish("".join(_fault(readable(fault), paper) for fault in faults))


def _fault(fault: Fault, paper: Medium) -> str:
    expected = f"; expected: {fault.expected}" if fault.expected else ""
    text = f"{fault.file}:{fault.line}:{fault.column}: {fault.level}: {fault.message}{expected}"
    level = paper.ink(fault.level, WORSE if fault.level == "error" else CARE)
    return render_lines([text], paper, indent=0).replace(f": {fault.level}:", f": {level}:", 1)


_LABEL = 15  # columns before a value


def write(report: Report, paper: Medium) -> str:
    """The text of a whole report."""
    return paper.finish(_Writer(paper).report(readable(report)))


class _Writer:
    """Writes one report. legends: what has to be explained at its end."""

    def __init__(self, paper: Medium) -> None:
        self.paper = paper
        self.legends: dict[str, None] = {}

    def report(self, report: Report) -> str:
        parts = [self.part(part) for part in report.parts]
        shown = [part for part in parts if part]
        if not shown and report.empty:
            return self.title(report) + f"{report.empty}\n"
        legends = [render_lines(list(self.legends), self.paper)] if self.legends and not self.paper.piped else []
        title = self.title(report)
        return "\n".join([*([title] if title else []), *shown, *legends])

    def title(self, report: Report) -> str:
        """The title, whose line may go on, and what stands below it at once."""
        if not report.title:
            return ""
        lines = render_lines([report.title + report.rest], self.paper, indent=0).splitlines()
        if report.rest and lines[0].startswith(report.title):
            head = self.paper.heading(report.title) + "\n".join(lines).removeprefix(report.title)
        else:
            head = "\n".join(map(self.paper.heading, lines))
        below = "".join(map(self.below, report.lines)) + "".join(map(self.section, report.head))
        return f"{head}{self.paper.ink(report.strong, bold=True)}\n{below}"

    def below(self, line: str) -> str:
        """A line below the title, whose columns are kept while it fits."""
        if width(line) <= self.paper.width:
            return f"{line}\n"
        return render_lines([line], self.paper, indent=len(line) - len(line.lstrip()))

    def part(self, part: Section | Sections) -> str:
        if isinstance(part, Sections):
            return "".join(self.section(section) for section in part.sections)
        return self.section(part)

    def section(self, section: Section) -> str:
        """The blocks under their heading, and which releases found no room."""
        left_out: dict[tuple[str, str], int] = {}
        body = "".join(self.block(block, left_out) for block in section.blocks)
        notes = [
            f"{counted(count, f'{which} release')}{f' of {line}' if line else ''} {'is' if count == 1 else 'are'} left"
            " out; --json has all."
            for (line, which), count in left_out.items()
        ]
        if not body:
            return ""
        return self.heading(section) + body + render_lines(notes, self.paper)

    def heading(self, section: Section) -> str:
        if not section.heading:
            return ""
        if section.plain:
            return render_lines([section.heading], self.paper, indent=0)
        return f"{self.paper.heading(section.heading)}\n"

    def block(self, block: Block, left_out: dict[tuple[str, str], int]) -> str:
        match block:
            case Table():
                return self.table(block, left_out)
            case Lines():
                return render_lines(block.lines, self.paper, block.indent)
            case Answers():
                return self.answers(block)
            case Labels():
                return "".join(self.label(label, value) for label, value in block.rows)
            case Disk():
                return render_disk(block.layout, self.paper)
            case Drawing() | Headlines():  # what another figure shows, or the table of times has, is not drawn
                drawn = isinstance(block, Drawing) and block.chart == "runs"
                return render_lanes(block.laid, self.paper) if drawn else ""  # type: ignore[union-attr]  # drawn says so

    def table(self, table: Table, left_out: dict[tuple[str, str], int]) -> str:
        fitted = fit(table, self.paper)
        if fitted is None:
            return render_lines([table.room.note], self.paper) if table.room is not None else ""
        if fitted.left_out:
            in_order = table.room is not None and table.room.first
            left_out[table.of, "lower" if in_order else "earlier"] = fitted.left_out
        if fitted.more and any(cell.more for row in table.rows for cell in row.cells):
            self.legends[table.more_key] = None
        return render_table(table, fitted, self.paper) + self.key(table)

    def key(self, table: Table) -> str:
        """What the marks of a table mean, below it; at the end where such a table is one of several alike."""
        if self.paper.piped or not table.key:
            return ""
        if table.room is not None:
            self.legends[table.key] = None
            return ""
        return "".join(f"{self.paper.ink(line, dim=True)}\n" for line in wrap(table.key, self.paper.width, 0))

    def answers(self, answers: Answers) -> str:
        """What is said of each release, of too many the latest, in at most so many lines; for a program in one each."""
        pairs = answers.pairs[-answers.most_lines :]
        most = max(answers.most_lines // max(len(pairs), 1), 1)
        return "".join(self.answer(f"{name}: {answer}" if name else answer, most) for name, answer in pairs)

    def answer(self, text: str, most: int) -> str:
        if self.paper.piped:
            return f"  {text}\n"
        lines = wrap(text, self.paper.width, 2)
        if len(lines) > most:
            rest = " ".join(line.strip() for line in lines[most - 1 :])
            start = lines[most - 1][:4] if most > 1 else "  "
            lines = [*lines[: most - 1], start + shorten_end(rest, self.paper.width - 4)]
        return "".join(f"{line}\n" for line in lines)

    def label(self, label: str, value: str) -> str:
        """A label with its value after it, which goes on below itself where the line is too short."""
        lines = render_lines([value], self.paper, indent=_LABEL)
        return f"  {label:{_LABEL - 2}}{lines[_LABEL:]}"


def shorten_end(text: str, columns: int) -> str:
    """A text of too many columns without its end, at the last thing that is said in full."""
    if len(text) <= columns:
        return text
    cut = text[: columns - 2]
    whole = cut.rpartition(". ")[0] or cut.rpartition(" ")[0]
    return f"{shorten(whole, columns - 2)} …"
