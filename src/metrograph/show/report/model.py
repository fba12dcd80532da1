"""The parts of a report. Who makes one knows no terminal and no page; who writes one computes nothing."""

from __future__ import annotations

from typing import Any

import msgspec

from metrograph.run.disks import Layout


class Column(msgspec.Struct, frozen=True):
    """One column of a table.

    right: for numbers. gives: whether it may be shortened where the table is too wide.
    side: whether it is one of those that stand for releases side by side; of too many, the earliest are left out.
    bar: whether its cells are drawn as bars; a program does not get it.
    """

    heading: str
    right: bool = False
    gives: bool = False
    side: bool = False
    bar: bool = False


class Cell(msgspec.Struct, frozen=True):
    """One cell of a table.

    more: what is added where there is room.
    value: what it is sorted by; None for its text.
    exact: what a program gets in the place of the text; None for the text.
    bar: from nothing, where its full part and its thin part end, as shares of the longest.
    shade: how dark it is, 0 to 1; None for no shade.
    """

    text: str
    more: str = ""
    value: float | None = None
    exact: str | None = None
    bar: tuple[float, float] | None = None
    shade: float | None = None


class Row(msgspec.Struct, frozen=True):
    """One row of a table.

    number: of the row of the merged flow that it stands for; None for others.
    told: what is said of it when it is pointed at.
    """

    cells: tuple[Cell, ...]
    number: int | None = None
    told: str = ""


class Room(msgspec.Struct, frozen=True):
    """How much room a table of releases side by side takes, in columns of a terminal.

    fixed: all that is not a release; side: a release; more: what the cells of a release may have in addition.
    least: how many releases are shown at least.
    first: whether of too many the first are shown, as in an order; else the latest.
    whole: whether the table is left out where not all releases fit; note: what is said then.
    """

    fixed: int
    side: int
    more: int = 0
    least: int = 2
    first: bool = False
    whole: bool = False
    note: str = ""


class Table(msgspec.Struct, frozen=True):
    """A table.

    room: where releases stand side by side in it; None for any other.
    of: what the releases in it continue, for the sentence that some were left out.
    key: what its marks mean, for a person.
    more_key: what the additional parts of its cells mean, where they are shown.
    """

    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    room: Room | None = None
    of: str = ""
    key: str = ""
    more_key: str = ""


class Lines(msgspec.Struct, frozen=True):
    """Sentences, a line each. indent: columns before each of them on a terminal."""

    lines: tuple[str, ...]
    indent: int = 2


class Answers(msgspec.Struct, frozen=True):
    """Sentences about some releases, one each; all together in at most so many lines of a terminal."""

    pairs: tuple[tuple[str, str], ...]
    most_lines: int


class Labels(msgspec.Struct, frozen=True):
    """Values, each with what it is called before it."""

    rows: tuple[tuple[str, str], ...]


class Disk(msgspec.Struct, frozen=True):
    """A disk, to be drawn to scale."""

    layout: Layout


class Headline(msgspec.Struct, frozen=True):
    """A figure that matters, with how it differs. better: whether the difference is good; None where nobody can say."""

    label: str
    value: str
    difference: str
    note: str
    better: bool | None = None


class Headlines(msgspec.Struct, frozen=True):
    """The few figures that matter most, to be seen at a glance."""

    figures: tuple[Headline, ...]


def headline_lines(headlines: Headlines) -> list[str]:
    """The figures that matter most, a line each: ``installed after 13:15: 4:30 sooner (2:26 to 6:29 sooner)``."""
    lines = []
    for each in headlines.figures:
        told = ", ".join(part for part in (each.difference, each.note) if part)
        lines.append(f"{each.label} {each.value}" + (f": {told}" if told else ""))
    return lines


class Drawing(msgspec.Struct, frozen=True):
    """A chart that was laid out.

    chart: its name in the registry, or ``runs`` for lanes that answer; title: what it shows.
    of: what tells it from others of its kind, such as a reader.
    rows: of the merged flow, by titles of screens, for those who point at one.
    """

    chart: str
    laid: Any
    title: str = ""
    of: str = ""
    rows: dict[str, int] = {}

    @property
    def key(self) -> str:
        """What it goes by among all drawings of a report."""
        return f"{self.chart}-{self.of}" if self.of else self.chart


Block = Table | Lines | Answers | Labels | Disk | Headlines | Drawing


class Section(msgspec.Struct, frozen=True):
    """Some blocks under a heading.

    heading: empty for none; a plain one is not made bold on a terminal.
    lead: a sentence before the blocks, where there is room for explanations.
    pair: the releases that it is about, where it is about two.
    answer: what is to be seen in it, where it is folded away.
    """

    heading: str
    blocks: tuple[Block, ...]
    plain: bool = False
    lead: str = ""
    pair: tuple[str, str] | None = None
    answer: str = ""


class Sections(msgspec.Struct, frozen=True):
    """Sections that belong together. heading: shown where sections are not told apart by blank lines alone."""

    heading: str
    sections: tuple[Section, ...]
    answer: str = ""


class Report(msgspec.Struct, frozen=True):
    """A report: sections, with the words around them.

    title: what it is about; rest: how its line goes on; strong: what it ends with.
    lines, head: below it, at once.
    empty: what is said when there is nothing else.
    """

    title: str = ""
    rest: str = ""
    strong: str = ""
    lines: tuple[str, ...] = ()
    head: tuple[Section, ...] = ()
    parts: tuple[Section | Sections, ...] = ()
    empty: str = ""


def texts(*words: str) -> tuple[Cell, ...]:
    """Cells that hold words."""
    return tuple(Cell(word) for word in words)


def section(heading: str, *blocks: Block) -> tuple[Section, ...]:
    """One section; none where nothing in it has anything to show."""
    shown = tuple(block for block in blocks if not is_empty(block))
    return (Section(heading, shown),) if shown else ()


def is_empty(block: Block) -> bool:
    """Whether a block has nothing to show."""
    if isinstance(block, Table):
        return not block.rows
    return isinstance(block, Lines) and not block.lines
