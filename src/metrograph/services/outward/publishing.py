"""Publishes a comparison: as a page, an article with its figures, or one figure."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from contextlib import suppress
from itertools import islice
from typing import Any
from urllib.parse import quote

import msgspec

from metrograph.compare.flow_records import Side
from metrograph.core.errors import MetrographError
from metrograph.judging.shortlist_records import Shortlist
from metrograph.ledgers.card_ledger import cards_ledger
from metrograph.ledgers.claims import claims_ledger
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import digest, published_digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.facts import facts_ledger
from metrograph.ledgers.software import software_ledger
from metrograph.ledgers.verdicts import verdicts_ledger, with_shifts
from metrograph.ledgers.weight import weight_ledger
from metrograph.log.lexicon import load_lexicon
from metrograph.services.asking_others import others_of
from metrograph.services.choosing import ShortlistRequest, choose, made_for
from metrograph.services.comparing import Compared, ComparisonRequest, read_compared
from metrograph.services.desk import Desk, masked, masked_and_counted
from metrograph.services.following import FollowedRuns, below_lines, kinship_of, trends_of
from metrograph.show.charts.layouts.album_layout import Album, with_folder
from metrograph.show.charts.layouts.board_layout import lay_board
from metrograph.show.charts.layouts.lanes_layout import at_full_width, lay_lanes
from metrograph.show.charts.registry import CHARTS, draw_all, paper_for
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.markdown import write as write_markdown
from metrograph.show.page.page_writer import FORMS, DrawnChart, Form
from metrograph.show.page.page_writer import write as write_page
from metrograph.show.report.comparing.article import article_report
from metrograph.show.report.comparing.comparison_report import comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from metrograph.store.local.logbook import Logbook
from metrograph.store.local.reader_settings import load_readers
from metrograph.store.reading import LogReader
from metrograph.words.answers.followed_openings import of_kinship, of_trends
from metrograph.words.names import named
from metrograph.words.shortlist_words import of_shortlist, titled

_MOST_SIDES = 6  # releases that are drawn side by side; of more, the baseline and the latest
_CHARTS = ("lanes", "strip", "lead", "album")  # that a report has, in their order


class Published(msgspec.Struct, frozen=True):
    """A report as a file, and the figures that belong beside it, by their names."""

    text: str
    beside: dict[str, bytes] = {}


def page_of(desk: Desk, asked: ComparisonRequest, readers: Sequence[str] | None) -> Published:
    """The whole story of a comparison as one page. readers: whose shortlists it has; all of the logbook for None."""
    compared = read_compared(desk, for_others(asked))
    material, data, hidden = _material(desk, asked, compared, readers)
    drawings = [each for each in material.drawings if each.chart not in {"runs", "album"}]  # the page has its own
    jobs = [
        (each.chart, each.laid, _paper(each, material, compared.title, form, bare=True))
        for each in drawings
        for form in FORMS
    ]
    drawn = iter(draw_all(jobs))
    pictures = {
        each.key: DrawnChart({form: next(drawn) for form in FORMS}, CHARTS[each.chart].describe(each.laid))
        for each in drawings
    }
    return Published(write_page(comparison_report(material), pictures, data, hidden))


def article_of(desk: Desk, asked: ComparisonRequest, readers: Sequence[str] | None, stem: str) -> Published:
    """The skeleton of an article in Markdown; its figures are named after it, ``stem-lanes.svg``."""
    compared = read_compared(desk, for_others(asked))
    material, _, hidden = _material(desk, asked, compared, readers)
    files, beside = {}, {}
    for drawing in material.drawings:
        if drawing.chart in CHARTS:
            name = f"{stem}-{drawing.key}.svg"
            paper = _paper(drawing, material, compared.title, FORMS[-1])
            beside[name] = CHARTS[drawing.chart].draw(drawing.laid, paper, "svg")
            files[drawing.key] = quote(name)
    foot = f"Personal values are masked in {hidden} places." if hidden else ""
    return Published(write_markdown(article_report(material), files, foot), beside)


def for_others(asked: ComparisonRequest) -> ComparisonRequest:
    """A comparison that is published: nothing private is in it."""
    return msgspec.structs.replace(asked, published=True)


def _paper(drawing: Drawing, material: Material, title: str, form: Form, bare: bool = False) -> Paper:
    return paper_for(drawing.chart, CHARTS[drawing.chart].caption, material.comparison, title, form, bare)


def _material(
    desk: Desk, asked: ComparisonRequest, compared: Compared, readers: Sequence[str] | None
) -> tuple[Material, Comparison, int]:
    """All that is told, with human names; the comparison as a program takes it, with ids; how much was masked."""
    book = desk.logbook_or_none(asked.logbook)
    made = _laid_out(desk, compared, book, readers)
    whole, hidden = masked_and_counted(desk, compared.telling, made, asked.show_personal)
    said = others_of(
        desk, asked.archive, whole.comparison, compared.runs_of(whole.comparison.releases[-1]), compared.background.rigs
    )
    whole = _with_pictures(msgspec.structs.replace(whole, others=said), book)
    common, human = compared.names
    return msgspec.structs.replace(named(whole, human), common=common), whole.comparison, hidden


def _laid_out(desk: Desk, compared: Compared, book: Logbook | None, readers: Sequence[str] | None) -> Material:
    """Compares the sides, and lays them out as charts, of many the baseline and the latest."""
    rulings = compared.background.rulings
    few = drawn_sides(compared.sides, compared.baseline)
    digests = {side.name: [digest(run) for run in side.runs] for side in compared.sides}
    origins = tuple(side.line for side in compared.sides)
    group = ReleaseGroup.of(digests, ("",) * len(digests), compared.background.cards, origins)
    comparison = compared.comparison
    beside = comparison if len(few) == len(compared.sides) else compare(few, compared.background, few[0].name)
    drawings = []
    for name in _CHARTS:
        lay_out = CHARTS[name].lay_out
        with suppress(MetrographError):  # two that have no moment in common have no lead, and all the rest
            if lay_out is not None:
                drawings.append(Drawing(name, lay_out(few, beside, rulings), CHARTS[name].title))
    drawings.append(Drawing("runs", lay_lanes(compared.runs), "Every run"))
    shortlists = _shortlists(desk, book, group, readers)
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
    desk: Desk, book: Logbook | None, group: ReleaseGroup, readers: Sequence[str] | None
) -> list[Shortlist]:
    """A shortlist for each reader that was asked for, or for all of the logbook; one that is wrong is told."""
    if book is None:
        return []
    reader = LogReader(book)
    every = [published_digest(each) for each in digests_of(reader, book, desk.track)]
    found = []
    for name in readers or load_readers(book)[0]:
        try:
            found.append(made_for(desk, reader, book, (group, every), name))
        except MetrographError as error:
            if readers:
                raise
            desk.warn(f"{error}; the report has no shortlist for “{name}”")
    return found


def _with_pictures(material: Material, book: Logbook | None) -> Material:
    """The album knows where its pictures are; where no run has any, there is none."""
    drawings = [
        msgspec.structs.replace(drawing, laid=with_folder(drawing.laid, book.path if book else None))
        for drawing in material.drawings
        if not isinstance(drawing.laid, Album) or drawing.laid.rows
    ]
    return msgspec.structs.replace(material, drawings=tuple(drawings))


def drawn_sides(sides: Sequence[Side], baseline: str) -> list[Side]:
    """The sides that are drawn side by side."""
    latest = {side.name for side in sides[-_MOST_SIDES:]}
    latest -= {sides[-_MOST_SIDES].name} if len(sides) > _MOST_SIDES and baseline not in latest else set()
    return [side for side in sides if side.name in latest or side.name == baseline]


# -- one figure -------------------------------------------------------------------------------------------------------


class FigureForm(msgspec.Struct, frozen=True):
    """How a figure is drawn.

    width: pixels; dark: None for as the person has set it; ending: svg, png or pdf.
    whole: whether what somebody does after an installation is drawn as large as the installation itself.
    """

    width: int
    dark: bool | None
    ending: str
    whole: bool = False

    def is_dark(self, desk: Desk) -> bool:
        """Whether it is light on dark."""
        return desk.preferences().theme == "dark" if self.dark is None else self.dark


def figure_of(
    desk: Desk,
    asked: ComparisonRequest,
    chart: str,
    form: FigureForm,
    each_run: bool = False,
    line_up: str | None = None,
) -> bytes:
    """A figure of releases side by side, by its name among the charts.

    each_run, line_up: of lanes, whether every run has one, and which phase begins at one place in all.
    """
    compared = read_compared(desk, for_others(asked))
    comparison, rulings = compared.comparison, compared.background.rulings
    if chart == "lanes":
        laid: Any = lay_board(compared.sides, comparison, each_run, line_up)
    else:
        lay_out = CHARTS[chart].lay_out
        laid = None if lay_out is None else lay_out(compared.sides, comparison, rulings)
    laid = at_full_width(laid) if form.whole else laid
    _, human = compared.names
    shown = masked(desk, compared.telling, named(laid, human), asked.show_personal)
    told = masked(desk, compared.telling, named(comparison, human), asked.show_personal)
    paper = paper_for(chart, CHARTS[chart].caption, told, compared.title, (form.width, form.is_dark(desk)))
    return CHARTS[chart].draw(with_folder(shown, compared.book), paper, form.ending)


def trend_figure(followed: FollowedRuns, figure: str, state: str | None, form: FigureForm) -> bytes:
    """A figure along the releases of each line."""
    along = trends_of(followed, figure, state)
    called = below_lines(followed.named(along))
    title = f"{along[0].words}, release by release" if along else figure
    answer = islice(of_trends(called), 2)
    return _told(followed.desk, "trend", called, title[0].upper() + title[1:], answer, form)


def kinship_figure(followed: FollowedRuns, form: FigureForm) -> bytes:
    """How alike installers are, as a matrix."""
    called = followed.named(kinship_of(followed))
    return _told(followed.desk, "kinship", called, "Kinship of installers", of_kinship(called), form)


def shortlist_figure(desk: Desk, wanted: ShortlistRequest, form: FigureForm) -> bytes:
    """What releases are worth to a reader, and how sure their order is."""
    chosen = choose(desk, wanted)
    made = named(masked(desk, chosen.digests, chosen.made, wanted.show_personal), chosen.names)
    return _told(desk, "shortlist", made, titled(made), islice(of_shortlist(made), 2), form)


def _told(desk: Desk, name: str, laid: Any, title: str, answer: Iterable[str], form: FigureForm) -> bytes:
    """Draws what has a title and an answer of its own."""
    paper = Paper(title, tuple(answer), CHARTS[name].caption, form.width, form.is_dark(desk))
    return CHARTS[name].draw(laid, paper, form.ending)
