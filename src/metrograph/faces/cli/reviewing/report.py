"""The whole story of a comparison, to be published."""

from __future__ import annotations

import webbrowser
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path
from typing import Annotated
from urllib.parse import quote

import msgspec
import typer

from metrograph.compare.records import Side
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.masking import masked_and_counted
from metrograph.faces.cli.options import (
    ArchiveOption,
    BaselineOption,
    LogbookOption,
    NamesArgument,
    OnlyRigOption,
    PersonalOption,
    command_app,
    complete_reader,
    examples,
)
from metrograph.faces.cli.reviewing.judged import made_for
from metrograph.faces.cli.reviewing.sides import Compared, latest_of, read_compared
from metrograph.faces.cli.sharing.others import others_of
from metrograph.judging.records import Shortlist
from metrograph.ledgers.cards import cards_ledger
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.groups import Group
from metrograph.ledgers.facts import facts_ledger
from metrograph.ledgers.software import software_ledger
from metrograph.ledgers.verdicts import verdicts_ledger, with_shifts
from metrograph.ledgers.weight import weight_ledger
from metrograph.log.lexicon import load_lexicon
from metrograph.show.charts.layouts.album import Album, with_folder
from metrograph.show.charts.layouts.lanes import lay_lanes
from metrograph.show.charts.registry import CHARTS, draw_all, paper_for
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.markdown import write as write_markdown
from metrograph.show.page.writer import FORMS, DrawnChart, Form
from metrograph.show.page.writer import write as write_page
from metrograph.show.report.comparing.article import article_report
from metrograph.show.report.comparing.comparison import comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from metrograph.store.local.files import is_stream, write_output
from metrograph.store.local.logbook import Logbook
from metrograph.store.local.readers import load_readers
from metrograph.store.reading import LogReader
from metrograph.words.names import named

app = command_app()
_MOST_SIDES = 6  # releases that are drawn side by side; of more, the baseline and the latest
_CHARTS = ("lanes", "strip", "lead", "album")  # that a report has, in their order


@app.command(
    epilog=examples(
        "metrograph report larkmoor-8.0-heron larkmoor-9.0-beta-heron -o beta.html",
        "metrograph report larkmoor-7.0-heron larkmoor-8.0-heron -o heron.md",
    )
)
def report(
    ctx: typer.Context,
    names: NamesArgument = None,
    output: Annotated[
        Path,
        typer.Option("-o", "--output", metavar="FILE", help="Ends in .html or .md; - for the page."),
    ] = Path("report.html"),
    baseline: BaselineOption = None,
    only_rig: OnlyRigOption = None,
    readers: Annotated[
        list[str] | None,
        typer.Option("--for", metavar="READER", autocompletion=complete_reader, help="Repeatable; all unless said."),
    ] = None,
    show: Annotated[bool, typer.Option("--open", help="Open it afterwards in the usual program.")] = False,
    archive: ArchiveOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write a comparison as one page, or as Markdown.

    The page needs no network: open it from the disk or put it anywhere. Markdown is the skeleton of an article: the
    answer, what is new, installing it, first start, software, weight, trouble, verdict, for whom; its figures are
    written beside it. Readers of metrograph.toml have a shortlist in both.
    """
    environment = environment_of(ctx)
    ending = ".html" if is_stream(output) else output.suffix.lower()
    if ending not in {".html", ".md"}:
        raise MetrographError(f"{output} should end in .html or .md, to say how to write it")
    compared = read_compared(environment, logbook, names or latest_of(environment, logbook), baseline, only_rig)
    made = _material(environment, compared, environment.logbook_or_none(logbook), readers)
    whole, hidden = masked_and_counted(environment, compared.runs, made, show_personal)
    whole = msgspec.structs.replace(whole, others=others_of(environment, archive, compared, whole.comparison))
    whole = _with_pictures(whole, environment.logbook_or_none(logbook))
    common, human = compared.names
    material = msgspec.structs.replace(named(whole, human), common=common)
    path = environment.folder / output
    if ending == ".html":
        text = _page(material, compared.title, whole.comparison, hidden)
    else:
        text = _markdown(material, hidden, compared.title, path)
    environment.write(output, text.encode())
    if show:
        webbrowser.open(path.resolve().as_uri())


def _material(
    environment: Environment, compared: Compared, book: Logbook | None, readers: Sequence[str] | None
) -> Material:
    """Compares the sides, and lays them out as charts, of many the baseline and the latest."""
    rulings = compared.background.rulings
    few = chosen(compared.sides, compared.baseline)
    digests = {side.name: [digest(run) for run in side.runs] for side in compared.sides}
    origins = tuple(side.line for side in compared.sides)
    group = Group.of(digests, ("",) * len(digests), compared.background.cards, origins)
    comparison = compare(compared.sides, compared.background, compared.baseline)
    beside = comparison if len(few) == len(compared.sides) else compare(few, compared.background, few[0].name)
    drawings = []
    for name in _CHARTS:
        lay_out = CHARTS[name].lay_out
        with suppress(MetrographError):  # two that have no moment in common have no lead, and all the rest
            if lay_out is not None:
                drawings.append(Drawing(name, lay_out(few, beside, rulings), CHARTS[name].title))
    drawings.append(Drawing("runs", lay_lanes(compared.runs), "Every run"))
    shortlists = _shortlists(environment, book, group, readers)
    drawings += [Drawing("shortlist", made, "Shortlist", of=made.reader) for made in shortlists]
    cards = {side.name: card for side in compared.sides if (card := compared.background.cards.get(side.name))}
    lexicon = compared.background.lexicon or load_lexicon()
    return Material(
        comparison, tuple(drawings), facts_ledger(group), claims_ledger(group, compared.background.rigs),
        weight_ledger(group), cards=cards_ledger(cards) if len(cards) > 1 else None,
        groups=software_ledger(group).groups, shifts=with_shifts(verdicts_ledger(group), group, lexicon).shifts,
        shortlists=tuple(shortlists), runs=tuple(compared.runs),
    )  # fmt: skip


def _shortlists(
    environment: Environment, book: Logbook | None, group: Group, readers: Sequence[str] | None
) -> list[Shortlist]:
    """A shortlist for each reader that was asked for, or for all of the logbook; one that is wrong is told."""
    if book is None:
        return []
    reader = LogReader(book)
    every = digests_of(reader, book, environment.track)
    found = []
    for name in readers or load_readers(book)[0]:
        try:
            found.append(made_for(environment, reader, book, (group, every), name))
        except MetrographError as error:
            if readers:
                raise
            environment.warn(f"{error}; the report has no shortlist for “{name}”")
    return found


def _with_pictures(material: Material, book: Logbook | None) -> Material:
    """The album knows where its pictures are; where no run has any, there is none."""
    drawings = [
        msgspec.structs.replace(drawing, laid=with_folder(drawing.laid, book.path if book else None))
        for drawing in material.drawings
        if not isinstance(drawing.laid, Album) or drawing.laid.rows
    ]
    return msgspec.structs.replace(material, drawings=tuple(drawings))


def chosen(sides: Sequence[Side], baseline: str) -> list[Side]:
    """The sides that are drawn side by side."""
    latest = {side.name for side in sides[-_MOST_SIDES:]}
    latest -= {sides[-_MOST_SIDES].name} if len(sides) > _MOST_SIDES and baseline not in latest else set()
    return [side for side in sides if side.name in latest or side.name == baseline]


def _page(material: Material, title: str, data: Comparison, hidden: int) -> str:
    """The page. data: the comparison as a program takes it from there, with ids."""
    drawings = [each for each in material.drawings if each.chart not in {"runs", "album"}]  # the page has its own
    jobs = [
        (each.chart, each.laid, _paper(each, material, title, form, bare=True)) for each in drawings for form in FORMS
    ]
    drawn = iter(draw_all(jobs))
    pictures = {
        each.key: DrawnChart({form: next(drawn) for form in FORMS}, CHARTS[each.chart].describe(each.laid))
        for each in drawings
    }
    return write_page(comparison_report(material), pictures, data, hidden)


def _paper(drawing: Drawing, material: Material, title: str, form: Form, bare: bool = False) -> Paper:
    return paper_for(drawing.chart, CHARTS[drawing.chart].caption, material.comparison, title, form, bare)


def _markdown(material: Material, hidden: int, title: str, path: Path) -> str:
    """The text; its charts are written beside it under its name."""
    files = {}
    for drawing in material.drawings:
        if drawing.chart in CHARTS:
            beside = path.with_name(f"{path.stem}-{drawing.key}.svg")
            paper = _paper(drawing, material, title, FORMS[-1])
            write_output(beside, CHARTS[drawing.chart].draw(drawing.laid, paper, "svg"))
            files[drawing.key] = quote(beside.name)
    foot = f"Personal values are masked in {hidden} places." if hidden else ""
    return write_markdown(article_report(material), files, foot)
