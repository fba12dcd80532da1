"""The report of a comparison as the skeleton of an article, in the order in which a review is written."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.ledgers.comparison import Comparison
from metrograph.show.report import model as m
from metrograph.show.report.card_report import cards_sections
from metrograph.show.report.comparing import comparing_tables as tables
from metrograph.show.report.comparing.change_sections import changes, concluded
from metrograph.show.report.comparing.comparison_report import (
    answers,
    at_a_glance,
    beside_others,
    each_run,
    effort_in_short,
    figure,
    for_readers,
    issues_in_short,
    linked,
    software_sections,
    title,
    with_care,
)
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.effort import effort_table
from metrograph.show.report.issue_report import issue_blocks
from metrograph.show.report.judgements import ratings_table, shift_sections, verdict_sections
from metrograph.show.report.ledger_reports import claims_sections, facts_table, weight_table

_INSTALLING = ("lanes", "strip", "lead")
"""The figures that show how it is installed."""


def article_report(material: Material) -> m.Report:
    """Answer, what is new, installing it, first start, software, weight, trouble, verdict, for whom; then every run."""
    whole = material.comparison
    drawn = {drawing.key: linked(drawing, whole) for drawing in material.drawings}
    readers = tuple(for_readers(material.shortlists, drawn))
    parts = (
        _part("What is new", *_new(material)),
        _part("Installing it", *_installing(whole, drawn)),
        _part("First start", *_first_start(material, drawn)),
        _part("Software", *software_sections(material, whole)),
        _part("Weight", *_weight(material)),
        _part("Trouble", *_trouble(whole)),
        _part("Verdict", *_verdict(material)),
        _part("For whom", *(section for reader in readers for section in _under(reader))),
    )
    return m.Report(
        title=title(whole, crowded=False, common=material.common),
        head=answers(whole),
        parts=(
            *at_a_glance(whole), *with_care(whole), *(part for part in parts if part.sections),
            *beside_others(material), *map(each_run, material.runs),
        ),
    )  # fmt: skip


def _part(heading: str, *sections: m.Section) -> m.Sections:
    return m.Sections(heading, tuple(sections))


def _new(material: Material) -> Iterator[m.Section]:
    """What is published as new, and what changed on the screens."""
    if material.cards is not None:
        yield from cards_sections(material.cards)
    yield from changes(material.comparison).sections


def _installing(whole: Comparison, drawn: dict[str, m.Drawing]) -> Iterator[m.Section]:
    """The timelines and where the time went, what is asked, screen by screen."""
    for name in _INSTALLING:
        if name in drawn:
            yield from figure(drawn[name], whole)
    yield from tables.times(whole)
    yield from m.section("Effort", m.Lines((effort_in_short(whole),)), effort_table(whole.releases, whole.figures))
    yield from tables.screens(whole)
    yield from concluded(whole).sections


def _first_start(material: Material, drawn: dict[str, m.Drawing]) -> Iterator[m.Section]:
    """What it looks like and takes once it runs."""
    if "album" in drawn:
        yield from figure(drawn["album"], material.comparison)
    yield from tables.readings(material.comparison)
    if material.facts is not None:
        yield from m.section("Facts", facts_table(material.facts))


def _weight(material: Material) -> Iterator[m.Section]:
    if material.weight is not None:
        yield from m.section("Downloads and disk", weight_table(material.weight))
    if material.claims is not None:
        yield from claims_sections(material.claims)


def _trouble(whole: Comparison) -> Iterator[m.Section]:
    """Issues, and trials that say what works."""
    blocks = issue_blocks(whole.releases, range(len(whole.releases)), whole.issues)
    yield from m.section("Issues", m.Lines((issues_in_short(whole),)), *blocks)
    yield from tables.checks(whole)


def _verdict(material: Material) -> Iterator[m.Section]:
    whole = material.comparison
    yield from m.section("Ratings", ratings_table(whole.ratings, whole.releases, range(len(whole.releases))))
    yield from shift_sections(material.shifts)
    yield from verdict_sections(whole.verdicts)


def _under(reader: m.Sections) -> Iterator[m.Section]:
    """The sections of a reader, the first of them under the reader's own heading."""
    first, *rest = reader.sections
    yield m.Section(reader.heading, first.blocks)
    yield from rest
