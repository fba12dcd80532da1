"""One release reviewed: its runs are read, gathered with its card and its neighbours, and told in every form."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path
from urllib.parse import quote

import msgspec

from metrograph.findings.release_review import ReleaseReview, ReviewBackground, place_of, review_of
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.ledgers.digests.release_groups import begun, read_side
from metrograph.log.lexicon import Checklist
from metrograph.run.audience import published
from metrograph.run.records import Part, Run
from metrograph.services.comparing import Compared, ComparisonRequest, read_compared
from metrograph.services.desk import Desk, Result, masked_and_counted
from metrograph.show.charts.layouts.board_layout import lay_board
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.charts.registry import CHARTS, draw_all, paper_for
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.markdown import write as write_markdown
from metrograph.show.page.page_writer import FORMS, DrawnChart, Form
from metrograph.show.page.page_writer import write as write_page
from metrograph.show.report.model import Drawing
from metrograph.show.report.review_report import ReviewMaterial, review_report
from metrograph.store.ids import split_run
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import select
from metrograph.store.reading import LogReader
from metrograph.words.answers.review_answers import before_answer, review_answer, siblings_answers
from metrograph.words.names import full_name, named


class Reviewed(msgspec.Struct, frozen=True):
    """A review as others may see it.

    material: with human names; document: as a program gets it, with ids; hidden: in how many places it is masked.
    """

    material: ReviewMaterial
    document: dict[str, object]
    hidden: int

    @property
    def sentences(self) -> tuple[str, ...]:
        """The answer: what a reader decides by."""
        return review_answer(self.material.review)

    def at_length(self, length: str) -> list[str]:
        """The answer in two sentences, a few, or all that there are, with what differs from the release before."""
        review = self.material.review
        if length == "short":
            return [" ".join(review_answer(review, 2))]
        if length == "post":
            return [" ".join(review_answer(review))]
        paragraphs = [" ".join(review_answer(review, 99)), " ".join(before_answer(review))]
        return [paragraph for paragraph in paragraphs if paragraph]


def reviewed(desk: Desk, logbook: Path | None, name: str, show_personal: bool = False) -> Reviewed:
    """Reviews a release, a run of one, or a log by its path; raises MetrographError where there is none."""
    compared = read_compared(desk, ComparisonRequest(logbook, (name,), published=True, least=1))
    book = desk.logbook_or_none(logbook)
    reader, selected = LogReader(book), select(book, name)
    whole = sorted((reader.run(run, selected.store) for run in selected.runs), key=begun)
    runs, cards, release = [published(run) for run in whole], dict(compared.background.cards), whole[0].release
    installed = list(dict.fromkeys(split_run(run)[0] for run in book.run_names())) if book is not None else []
    place = place_of(release, cards, installed)
    others = {each: _runs_of(reader, book, each) for each in _spoken_of(runs) if each in installed}

    def against(other: str) -> Comparison:
        side = read_side(reader, book, other, cards)
        side = msgspec.structs.replace(side, runs=tuple(map(published, side.runs)))
        return compare([side, compared.sides[0]], compared.background, side.name)

    before = against(place.earlier) if place.earlier in installed and place.earlier is not None else None
    review = review_of(
        place, compared.comparison, runs, ReviewBackground(cards, compared.background.rigs, others), before
    )
    siblings = tuple(against(each) for each in place.siblings if each in installed)
    review = msgspec.structs.replace(review, siblings=siblings)
    card = cards.get(release)
    made = ReviewMaterial(
        review, _drawings(compared, runs), card.checksum if card else None, _to_try(reader.settings.checklist, runs)
    )
    shown, hidden = masked_and_counted(desk, (*whole, *compared.telling), made, show_personal)
    # Beside a lane there is room for what tells releases apart, and the title says the rest.
    short = msgspec.structs.replace(shown, drawings=named(shown.drawings, compared.names[1]))
    told = named(short, _human(compared, name, release, [*installed, *cards, *_spoken_of(runs)]))
    return Reviewed(told, _document(shown.review, told.review), hidden)


def _spoken_of(runs: Sequence[Run]) -> list[str]:
    """The releases that are spoken of beside this one."""
    said = [each.release for run in runs for each in run.beside]
    said += [each.release for run in runs for each in run.same_as]
    return list(dict.fromkeys(said))


def _runs_of(reader: LogReader, book: Logbook | None, release: str) -> list[Run]:
    return [published(reader.run(run)) for run in select(book, release).runs]


def _drawings(compared: Compared, runs: Sequence[Run]) -> tuple[Drawing, ...]:
    """The lanes of an installation: of every run for a terminal and a page that answers, of the release as a figure."""
    installing = [run for run in runs if Part.INSTALLATION in run.covers]
    if not installing:
        return ()
    board = lay_board(compared.sides, compared.comparison)
    return Drawing("lanes", board, "Timelines"), Drawing("runs", lay_lanes(installing), "Every run")


def _human(compared: Compared, name: str, release: str, others: Sequence[str]) -> dict[str, str]:
    """What releases, runs and rigs are called."""
    cards = compared.background.cards
    number = split_run(name)[1] if name != release and name.startswith(release) else 0
    title = full_name(release, cards.get(release)) + (f", run {number}" if number else "")
    names = {each: full_name(each, cards.get(each)) for each in others}
    rigs = {rig: card.name for rig, card in compared.background.rigs.items() if card.name}
    runs = {run.run: f"run {split_run(run.run)[1]}" for run in compared.runs if split_run(run.run)[1]}
    return rigs | names | runs | {release: title, compared.sides[0].name: title}


def _to_try(checklist: Checklist, runs: Sequence[Run]) -> tuple[str, ...]:
    made = {check.name for run in runs for check in run.checks}
    return tuple(name for name in checklist.checks if name not in made)


def _document(review: ReleaseReview, told: ReleaseReview) -> dict[str, object]:
    """A review as a program gets it: the record, the sentences, and what differs from the release before."""
    return {
        "release": review.release,
        "sentences": review_answer(told),
        "before": {"release": review.place.earlier, "sentences": before_answer(told)},
        "siblings": siblings_answers(told),
        "covers": review.covers,
        "place": review.place,
        "cards": review.cards,
        "facts": review.facts,
        "claims": review.claims,
        "beside": review.beside,
        "as_there": review.as_there,
        "runs": review.runs,
        "figures": review.whole.figures[0],
        "issues": review.whole.issues,
        "checks": review.whole.checks,
        "readings": review.whole.readings,
        "software": review.whole.software,
        "ratings": review.whole.ratings,
        "verdicts": review.whole.verdicts,
    }


def review_result(made: Reviewed) -> Result:
    """A review for a terminal, or as a document."""
    return Result(made.document, lambda _: review_report(made.material))


def review_page(made: Reviewed) -> str:
    """A review as one page that needs no network, with its data in it."""
    figures = [each for each in made.material.drawings if each.chart in CHARTS]
    drawn = iter(draw_all([(each.chart, each.laid, _paper(made, each, form)) for each in figures for form in FORMS]))
    pictures = {
        each.key: DrawnChart({form: next(drawn) for form in FORMS}, CHARTS[each.chart].describe(each.laid))
        for each in figures
    }
    return write_page(review_report(made.material), pictures, made.document, made.hidden)


def _paper(made: Reviewed, drawing: Drawing, form: Form) -> Paper:
    review = made.material.review
    return paper_for(drawing.chart, CHARTS[drawing.chart].caption, review.whole, review.release, form, bare=True)


def review_article(made: Reviewed, stem: str | None) -> tuple[str, dict[str, bytes]]:
    """A review in Markdown with front matter, and its figures by name, ``stem-lanes.svg``; no figure without a stem."""
    beside, files = dict[str, bytes](), dict[str, str]()
    for drawing in made.material.drawings:
        if stem is not None and drawing.chart in CHARTS:
            name = f"{stem}-{drawing.key}.svg"
            beside[name] = CHARTS[drawing.chart].draw(drawing.laid, _paper(made, drawing, FORMS[-1]), "svg")
            files[drawing.key] = quote(name)
    foot = f"Personal values are masked in {made.hidden} places." if made.hidden else ""
    return _front_matter(made.material) + write_markdown(review_report(made.material), files, foot), beside


def _front_matter(material: ReviewMaterial) -> str:
    """Title, date and tags as generators of static sites read them; every value quoted, so that none means anything."""
    review = material.review
    days = [run.begun.date().isoformat() for run in review.runs if run.begun]
    tags = dict.fromkeys(word for word in (review.place.line, *map(str, review.covers)) if word)
    lines = [f"title: {_quoted(review.release)}", f"date: {_quoted(max(days))}" if days else "", "tags:"]
    lines += [f"  - {_quoted(tag)}" for tag in tags]
    return "---\n" + "\n".join(line for line in lines if line) + "\n---\n\n"


def _quoted(text: str) -> str:
    """A value between double quotes: JSON's are YAML's."""
    return json.dumps(text, ensure_ascii=False)
