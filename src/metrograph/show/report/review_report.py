"""The review of one release as a report: the answer, what it is, installing it, trouble, what works, for whom, how."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.findings.release_review import ReleaseReview
from metrograph.ledgers.card_ledger import CardGroup, CardRow
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.units import show_size
from metrograph.measures.catalogue import unit_of
from metrograph.measures.reducing import Spread
from metrograph.measures.show import show_figure
from metrograph.run.audience import highlights_first
from metrograph.run.records import RECORDING, Part, Run
from metrograph.show.report import model as m
from metrograph.show.report.card_report import cards_sections
from metrograph.show.report.comparing import comparing_tables as tables
from metrograph.show.report.judgements import ratings_table, verdict_sections
from metrograph.show.report.ledger_reports import claims_sections, facts_table
from metrograph.show.report.run import answers_given, phase_times, screens_table, tried_again
from metrograph.words import noted_words as noted
from metrograph.words.answers.review_answers import (
    before_answer,
    beside_told,
    hearsay,
    method_lines,
    review_answer,
    siblings_answers,
)
from metrograph.words.figure_words import show_spread
from metrograph.words.grammar import listed
from metrograph.words.ledger_words import issue_story
from metrograph.words.runs import choice


class ReviewMaterial(msgspec.Struct, frozen=True):
    """All that a review tells. drawings: charts of it, laid out; checksum: of the image, as the card has it."""

    review: ReleaseReview
    drawings: tuple[m.Drawing, ...] = ()
    checksum: str | None = None
    to_try: tuple[str, ...] = ()


def review_report(material: ReviewMaterial, whole: bool = True) -> m.Report:
    """The whole review; or, where not all of it is wanted, the answer and what it rests on.

    whole: whether screens and answers one by one, and every reading, are told.
    """
    review = material.review
    parts: list[m.Section] = [
        *_at_a_glance(review),
        *_installing(material),
        *_around(review),
        *_trials(review),
        *_trouble(review),
        *_asks(review),
        *_on_board(review),
        *_figures(review),
        *_judged(review),
        *_questions(review),
        *_beside(review),
        *_what_it_is(review),
        *(_one_by_one(review) if whole else ()),
        *_remaining(review),
        *_method(material),
    ]
    named = tuple(_about_it(part, review.release) for part in parts)
    head = m.section("In short", m.Answers((("", " ".join(review_answer(review))),), _ANSWER_LINES))
    return m.Report(title=review.release, head=head, parts=named)


_ANSWER_LINES = 12  # of a terminal


def _about_it(section: m.Section, release: str) -> m.Section:
    """A section in whose tables the release is not named once more above its own column."""
    blocks = tuple(_unnamed(block, release) if isinstance(block, m.Table) else block for block in section.blocks)
    return msgspec.structs.replace(section, blocks=blocks)


def _unnamed(table: m.Table, release: str) -> m.Table:
    columns = [
        msgspec.structs.replace(each, heading="as noted") if each.heading == release else each for each in table.columns
    ]
    return msgspec.structs.replace(table, columns=tuple(columns), room=None, key="", more_key="")


def _lines(heading: str, lines: Sequence[str]) -> tuple[m.Section, ...]:
    return m.section(heading, m.Lines(tuple(dict.fromkeys(lines))))


def _at_a_glance(review: ReleaseReview) -> Iterator[m.Section]:
    """The figures that matter most: when it is there, how often somebody is called, what it takes."""
    figures = review.whole.figures[0]
    times = {
        name: m.Headline(label, show_spread(figures[name], name), "", _of_runs(figures[name], name))
        for name, label in _GLANCE.items()
        if figures.get(name) is not None
    }
    memory = [
        m.Headline(f"memory, {row.state}", show_figure(row.values[0], row.unit, row.name), "", "")
        for row in review.whole.readings
        if row.name == "memory" and row.load in {None, "rest"} and row.values[0] is not None and row.state != "live"
    ]
    calls = times.pop("calls", None)
    shown = [*times.values(), *memory[:1], *([calls] if calls else [])][:_MOST_HEADLINES]
    if shown[1:]:  # one alone stands in the answer already
        yield from m.section("At a glance", m.Headlines(tuple(shown)))


_MOST_HEADLINES = 4  # that stand in one line of a page
_GLANCE = {
    "installed": "installed after", "desktop": "desktop after", "updated": "fully updated after",
    "calls": "calls to the keyboard",
}  # fmt: skip


def _of_runs(figure: Spread, name: str) -> str:
    """From the least to the most, where runs differ."""
    if figure.runs == 1 or figure.most is None or figure.least == figure.most:
        return ""
    unit = unit_of(name)
    ends = (show_figure(Range(end, end), unit, name) for end in (figure.least, figure.most))
    return " to ".join(ends)


def _installing(material: ReviewMaterial) -> Iterator[m.Section]:
    """Its lane, and where the time went; nothing where nothing was installed."""
    if Part.INSTALLATION in material.review.covers:
        yield from m.section("How it goes", *material.drawings)


def _asks(review: ReleaseReview) -> Iterator[m.Section]:
    """The questions whose answer was not left as it stood: what to look out for."""
    if Part.INSTALLATION in review.covers:
        lines = [
            f"{screen.title}: {choice(answer)}"
            for screen in _fullest(review).screens
            for answer in screen.choices
            if screen.kept and answer.how == "chosen"
        ]
        yield from _lines("What it asks, and was set otherwise", lines)


def _what_it_is(review: ReleaseReview) -> Iterator[m.Section]:
    """The card, the place among other releases, what it is made of, and what is published of it."""
    place = review.place
    rows = [("continues", place.line)]
    rows += [("after", place.earlier)] if place.earlier else []
    rows += [("before", place.later)] if place.later else []
    rows += [("beside it", listed(place.siblings))] if place.siblings else []
    cards = review.cards
    alone = cards is not None and len(cards.releases) == 1
    if cards is not None and alone:
        rows += [(_card_label(row), _card_value(row)) for row in cards.rows]
        rows += [("new, as published", text) for text in cards.news[0]]
    table = m.Table(
        (m.Column("", gives=True), m.Column("as published", gives=True)), tuple(m.Row(m.texts(*row)) for row in rows)
    )
    yield from m.section("What it is", table)
    if cards is not None and not alone:
        yield from cards_sections(cards)
    yield from m.section("Facts", facts_table(review.facts))
    yield from claims_sections(review.claims)


def _card_label(row: CardRow) -> str:
    return f"needs {row.of}: {row.name}" if row.group is CardGroup.NEEDS else row.name


def _card_value(row: CardRow) -> str:
    size, value = row.sizes[0], row.values[0] or ""
    return show_size(size.low) if size is not None and value == f"{size.low:.0f}" else value


def _around(review: ReleaseReview) -> Iterator[m.Section]:
    """What was opened where nothing was installed."""
    if Part.INSTALLATION not in review.covers:
        seen = [screen.title for run in review.runs for screen in run.screens]
        yield from _lines("What was opened", list(dict.fromkeys(seen)))


def _fullest(review: ReleaseReview) -> Run:
    """The run that tells most of the way: the latest of those with the most screens."""
    return max(review.runs, key=lambda run: (Part.INSTALLATION in run.covers, len(run.screens), run.run))


def _trouble(review: ReleaseReview) -> Iterator[m.Section]:
    rows = [row for row in review.whole.issues if row.area != RECORDING]
    told = [
        msgspec.structs.replace(row, name=None) for row in rows
    ]  # what ties it to other runs is no word for a reader
    yield from _lines("Trouble", [issue_story(row, review.whole.releases) for row in told])
    for run in review.runs:
        yield from tried_again(run)


def _trials(review: ReleaseReview) -> tuple[m.Section, ...]:
    """How each trial came out, with what, and what was said of it."""
    rows = [
        m.Row(m.texts(row.name, row.condition or "", str(row.results[0]), row.details[0] if row.details else ""))
        for row in review.whole.checks
    ]
    columns = (
        m.Column("trial", gives=True), m.Column("with", gives=True), m.Column("result"), m.Column("", gives=True),
    )  # fmt: skip
    return m.section("What works, and what does not", m.Table(columns, tuple(rows)))


def _on_board(review: ReleaseReview) -> Iterator[m.Section]:
    """Software by group, what is missing, what had to be added, and what had to be changed."""
    software = {line: None for run in review.runs for line in noted.software_lines(run)}
    yield from _lines("On board", list(software))
    as_there: dict[tuple[str, str], list[str]] = {}
    for each in review.as_there:
        told = each.name if each.value == "on board" else f"{each.name} ({each.value})"
        as_there.setdefault((each.release, each.kind), []).append(told)
    lines = [f"{kind}, as in {release}: {', '.join(names)}" for (release, kind), names in as_there.items()]
    yield from _lines("As there, by what was said", lines)
    yield from _lines("Added", [line for run in review.runs for line in map(noted.addition, run.added)])
    yield from _lines(
        "Changed to be able to work", [line for run in review.runs for line in map(noted.tweak, run.tweaks)]
    )


def _figures(review: ReleaseReview) -> Iterator[m.Section]:
    yield from tables.readings(review.whole)


def _judged(review: ReleaseReview) -> Iterator[m.Section]:
    remarks = highlights_first([each for run in review.runs for each in run.remarks], lambda each: each.tell)
    yield from _lines("Liked and not", list(map(noted.remark, remarks)))
    yield from m.section("Ratings", ratings_table(review.whole.ratings, review.whole.releases, (0,)))
    yield from verdict_sections(review.whole.verdicts)


def _questions(review: ReleaseReview) -> Iterator[m.Section]:
    asked = [each for run in review.runs for each in run.questions]
    yield from _lines("Own questions", list(map(noted.question, asked)))


def _beside(review: ReleaseReview) -> Iterator[m.Section]:
    """What differs from those before and beside it, measured and as said."""
    yield from _lines("Beside the release before", list(before_answer(review)))
    yield from _lines("Beside its siblings", list(siblings_answers(review)))
    said = [noted.same_as(each) for run in review.runs for each in run.same_as]
    said += map(beside_told, review.beside)
    yield from _lines("Beside others, as said", said)


def _one_by_one(review: ReleaseReview) -> Iterator[m.Section]:
    """Where the time went, every screen with its answers, the disk."""
    if Part.INSTALLATION in review.covers:
        run = _fullest(review)
        yield from m.section("Where the time went", *phase_times(run))
        yield from m.section("Screen by screen", screens_table(run), m.Lines(tuple(answers_given(run))))
        yield from (m.section("Disk layout", m.Disk(run.layout)) if run.layout else ())


def _remaining(review: ReleaseReview) -> Iterator[m.Section]:
    """Remarks, with those that are to be told first before the rest; and what is hearsay."""
    notes = highlights_first([each for run in review.runs for each in run.notes if not each.heard], lambda n: n.tell)
    yield from _lines("Remarks", [f"{each.day}: {each.text}" if each.day else each.text for each in notes])
    yield from _lines("Hearsay", hearsay(review))


def _method(material: ReviewMaterial) -> Iterator[m.Section]:
    lines = [*method_lines(material.review)]
    lines += [f"image: {material.checksum}"] if material.checksum else []
    lines += [f"not tried yet: {listed(material.to_try)}"] if material.to_try else []
    yield from _lines("How it was reviewed", lines)
