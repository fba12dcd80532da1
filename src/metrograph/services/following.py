"""Follows releases: each ledger from the runs of a logbook, opened with what a reader should know."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from metrograph.archive.answers import followed_in, met_in
from metrograph.core.errors import MetrographError
from metrograph.core.pool import spread
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest, details, digest, route
from metrograph.ledgers.digests.release_groups import ReleaseGroup, group, read_side
from metrograph.ledgers.trend import Trend, names_of_figures, trends
from metrograph.ledgers.weight import WeightLedger, fits, weight_ledger
from metrograph.log.faults import Unreadable
from metrograph.log.lexicon import is_untitled
from metrograph.log.quantities.quantity import parse_exact
from metrograph.log.quantities.units import BYTES, choose_family, family_of
from metrograph.measures.catalogue import MEASURES
from metrograph.run.noted import STATES
from metrograph.run.records import Part
from metrograph.services.asking_others import asked, beside_others, like_of
from metrograph.services.desk import Desk, Result, masked
from metrograph.show.files.documents import fields_of, trouble_documents
from metrograph.show.report.model import Lines, Report, section
from metrograph.store.ids import split_run, unknown
from metrograph.store.local.card_files import load_releases, load_rigs
from metrograph.store.reading import LogReader
from metrograph.words.answers import followed_openings, openings
from metrograph.words.names import full_name, named, names_of

if TYPE_CHECKING:
    from metrograph.archive.place import ArchivePlace
    from metrograph.findings.finding_records import Finding
    from metrograph.run.route import Route


class FollowedRuns:
    """The runs that a ledger is made from, with the cards of their releases.

    Those that are named are held against each other; of a whole logbook, only releases of one line, unless everything
    is wanted: then all are, over lines and distributions.

    each: whether every run is wanted, and not only what a release's come to; over: what much work is spread over.
    """

    def __init__(
        self,
        desk: Desk,
        logbook: Path | None,
        names: Sequence[str] | None,
        each: bool = False,
        cluster: str | None = None,
        everything: bool = False,
    ) -> None:
        self.desk = desk
        self.each, self.over = each, spread(cluster)
        self.book = desk.logbook(logbook)
        self.reader = LogReader(self.book)
        self.cards, self.rigs = load_releases(self.book), load_rigs(self.book)
        self.digests = self._digests(names)
        self.group: ReleaseGroup = group(self.digests, self.cards, one_line=bool(names) or everything)
        # A name that one run tells stands in what others say: all runs of these releases are asked whose it is.
        of = {digest.release for digest in self.digests}
        self.known = digests_of(self.reader, self.book, desk.track, of) if names else self.digests
        desk.warn_of(self.reader.faults)

    def named(self, ledger: Any) -> Any:
        """A ledger with human names: whole ones of a logbook; of releases that were named, what is left of each."""
        releases = self.group.releases
        runs = [digest.run for release in releases for digest in self.group.runs[release]]
        common, names = names_of(releases, self.group.cards, runs)
        if any(self.group.lines):
            whole = {release: full_name(release, self.group.cards.get(release)) for release in releases}
            names = (
                {each: _in_full(each, whole) for each in (*releases, *runs)}
                if len(set(whole.values())) == len(whole)
                else {}
            )
        elif hasattr(ledger, "lines"):
            ledger = msgspec.structs.replace(ledger, lines=(common,) * len(ledger.lines))
        rigs = {rig: card.name for rig, card in self.rigs.items() if card.name}
        return named(ledger, rigs | names)

    def _digests(self, names: Sequence[str] | None) -> list[Digest]:
        if not names:
            return digests_of(self.reader, self.book, self.desk.track)
        sides = [read_side(self.reader, self.book, name, {}) for name in names]
        return list({run.run: digest(run) for side in sides for run in side.runs}.values())


def _in_full(name: str, whole: Mapping[str, str]) -> str:
    """A release, or one of its runs, by its whole name."""
    release, number = split_run(name)
    return whole[name] if name in whole else f"{whole[release]}, run {number}"


class LedgerFlow(msgspec.Struct, frozen=True):
    """How one ledger comes about.

    make: the ledger, from the runs.
    report: the ledger as it is shown; document: as a program gets it.
    opening: says what a reader should know of it.
    others: what others say to it, from the runs, the ledger, an archive, and who asks; None where they say nothing.
    found: what is found in it, with what that rests on; None where its opening is made of figures alone.
    """

    make: Callable[[FollowedRuns], Any]
    report: Callable[[Any], Report]
    opening: Callable[[Any], Iterable[str]]
    document: Callable[[Any], Any] = lambda ledger: ledger
    others: Callable[[FollowedRuns, Any, ArchivePlace, str], Any] | None = None
    found: Callable[[Any], list[Finding]] | None = None


def ledger_result(name: str, followed: FollowedRuns, archive: str | None = None, show_personal: bool = False) -> Result:
    """A ledger by its name in ``LEDGERS``. archive: asked what others say, where they say something to it."""
    flow = LEDGERS[name]
    ledger = masked(followed.desk, followed.known, flow.make(followed), show_personal)
    said = None if flow.others is None else asked(followed.desk, archive, partial(flow.others, followed, ledger))
    called = followed.named(ledger)
    document = flow.document(ledger)
    document = document if isinstance(document, dict) else fields_of(document)
    document |= {"answer": tuple(flow.opening(called))}
    if flow.found is not None:
        document["findings"] = trouble_documents(flow.found(ledger), flow.found(called))

    def report() -> Report:
        shown = opened(flow.report(called), flow.opening(called))
        return shown if said is None else beside_others(shown, followed.named(said))

    return Result(document if said is None else document | {"others": said}, lambda _: report())


def opened(report: Report, sentences: Iterable[str]) -> Report:
    """A report with sentences in front that say what a reader should know of it."""
    return msgspec.structs.replace(report, parts=(*section("", Lines(tuple(sentences), 0)), *report.parts))


# -- what each is made from; modules are loaded for the ledger that is asked for only ---------------------------------


def _from(module: str, function: str, *more: Callable[[FollowedRuns], Any]) -> Callable[[FollowedRuns], Any]:
    """Makes a ledger with a function of the ledgers' room, from the runs by release and what else it needs."""

    def make(followed: FollowedRuns) -> Any:
        made = getattr(import_module(f"metrograph.ledgers.{module}"), function)
        return made(followed.group, *(each(followed) for each in more))

    return make


def _shown(module: str, function: str) -> Callable[[Any], Any]:
    """A function of the room that shows, loaded when it is called."""

    def show(ledger: Any) -> Any:
        return getattr(import_module(f"metrograph.show.{module}"), function)(ledger)

    return show


def _verdicts(followed: FollowedRuns) -> Any:
    from metrograph.ledgers.verdicts import verdicts_ledger, with_shifts

    return with_shifts(verdicts_ledger(followed.group), followed.group, followed.reader.lexicon)


def kinship_of(followed: FollowedRuns) -> Any:
    """How alike the installers of the releases are."""
    from metrograph.compare.kinship import kinship

    taken = {
        release: [route(run) for run in digests if Part.INSTALLATION in details(run).covers]
        for release, digests in followed.group.runs.items()
    }
    # What shows hardly a screen that anybody could name is evidence of nothing, not of being like no other.
    passed = {release: [way for way in routes if _is_told_apart(way)] for release, routes in taken.items()}
    routes = {release: ways for release, ways in passed.items() if ways}
    return kinship(
        routes, followed.reader.rulings, lambda parts: followed.desk.track(parts, "comparing routes"), followed.over
    )


_FEWEST_KNOWN = 3
"""Screens with a title from which an installer can be told from others."""


def _is_told_apart(way: Route) -> bool:
    known = sum(not is_untitled(screen.title) for screen in way.screens)
    return known >= _FEWEST_KNOWN and 2 * known > len(way.screens)


def _nearest(followed: FollowedRuns, _ledger: Any, place: ArchivePlace, own: str) -> Any:
    """The nearest installers of an archive, for the latest release of each line; never the release itself."""
    from metrograph.archive.nearest import nearest_in

    latest = dict(zip(followed.group.origins, followed.group.releases, strict=True))
    ways = {release: route(followed.group.runs[release][-1]) for release in latest.values()}
    return nearest_in(place, {release: way for release, way in ways.items() if way.screens}, own)


def _met(_followed: FollowedRuns, ledger: Any, place: ArchivePlace, own: str) -> Any:
    return met_in(place, {row.name: row.summary for row in ledger.rows if row.name}, own)


def _measured(followed: FollowedRuns, ledger: Any, place: ArchivePlace, own: str) -> Any:
    from metrograph.archive.measured import claimed, heard_in

    return heard_in(place, claimed(ledger), like_of(followed.group, followed.rigs), own)


LEDGERS: dict[str, LedgerFlow] = {
    "issues": LedgerFlow(
        _from("issues", "issues_ledger", lambda runs: runs.rigs, lambda runs: runs.reader.rulings),
        _shown("report.issue_report", "issues_report"),
        followed_openings.of_issues,
        others=_met,
        found=followed_openings.found_in_issues,
    ),
    "effort": LedgerFlow(
        _from("trend", "effort_ledger", lambda runs: runs.each),
        _shown("report.effort", "effort_report"),
        followed_openings.of_effort,
    ),
    "kinship": LedgerFlow(
        kinship_of, _shown("report.effort", "kinship_report"), followed_openings.of_kinship, others=_nearest
    ),
    "readings": LedgerFlow(
        _from("readings", "readings_ledger", lambda runs: runs.reader.lexicon),
        _shown("report.ledger_reports", "readings_report"),
        followed_openings.of_readings,
        document=_shown("files.documents", "readings_document"),
    ),
    "checks": LedgerFlow(
        _from("checks", "checks_ledger"),
        _shown("report.ledger_reports", "checks_report"),
        followed_openings.of_checks,
        found=followed_openings.found_in_checks,
    ),
    "facts": LedgerFlow(
        _from("facts", "facts_ledger"), _shown("report.ledger_reports", "facts_report"), openings.of_facts
    ),
    "claims": LedgerFlow(
        _from("claims", "claims_ledger", lambda runs: runs.rigs),
        _shown("report.ledger_reports", "claims_report"),
        openings.of_claims,
        others=_measured,
    ),
    "software": LedgerFlow(
        _from("software", "software_ledger"), _shown("report.software_report", "software_report"), openings.of_software
    ),
    "verdicts": LedgerFlow(_verdicts, _shown("report.judgements", "verdicts_report"), openings.of_verdicts),
    "todos": LedgerFlow(
        _from("todos", "todos_ledger", lambda runs: runs.reader.settings.checklist),
        _shown("report.judgements", "todos_report"),
        openings.of_todos,
    ),
}
"""Every ledger that is a command of its own. To add one, add a row, and one to the commands."""


# -- one figure, and what releases weigh ------------------------------------------------------------------------------


def trend_result(followed: FollowedRuns, figure: str, state: str | None, archive: str | None) -> Result:
    """A figure along the releases of each line; raises MetrographError when there is no such figure or state."""
    along = trends_of(followed, figure, state)
    releases = followed.group.releases
    said = asked(followed.desk, archive, lambda place, own: followed_in(place, figure, releases, own))

    def report() -> Report:
        called = followed.named(along)
        shown = opened(
            _shown("report.effort", "trends_report")(below_lines(called)), followed_openings.of_trends(called)
        )
        return shown if said is None else beside_others(shown, followed.named(said))

    return Result({"trends": along} | ({} if said is None else {"others": said}), lambda _: report())


def trends_of(followed: FollowedRuns, figure: str, state: str | None) -> tuple[Trend, ...]:
    """The trends that were asked for; raises MetrographError when there is no such figure or state."""
    if state is not None and state not in STATES:
        raise unknown("state", state, list(STATES))
    known = names_of_figures(followed.group)
    if figure not in known:
        raise unknown("figure", figure, known, "“metrograph trend --help” lists them; readings go by their names")
    return trends(followed.group, figure, followed.reader.lexicon, state)


def figure_names() -> tuple[str, ...]:
    """The names of the figures that every run has."""
    return tuple(MEASURES)


def below_lines(trends: Sequence[Trend]) -> tuple[Trend, ...]:
    """Trends whose releases go by what is left of their names below that of their line."""

    def short(trend: Trend) -> Trend:
        names = tuple(name.removeprefix(f"{trend.line} ") for name in trend.releases)
        return msgspec.structs.replace(trend, releases=names)

    return tuple(map(short, trends))


def weight_result(followed: FollowedRuns, limit: str | None) -> Result:
    """What releases weigh, and whether that keeps to a limit, such as ``3 GB``; sizes are shown in its units.

    Raises MetrographError when the limit cannot be read.
    """
    most = None if limit is None else _bytes(limit)
    ledger = weight_ledger(followed.group)
    if limit is not None:
        choose_family(lambda: family_of(limit))
    document = fields_of(ledger) | {"limit": most, "fits": () if most is None else fits(ledger, most)}

    def report() -> Report:
        from metrograph.show.report.ledger_reports import fits_sections, weight_report

        called: WeightLedger = followed.named(ledger)
        shown = opened(weight_report(called), openings.of_weight(called))
        if most is None or limit is None:
            return shown
        return msgspec.structs.replace(shown, parts=(*fits_sections(fits(called, most), limit), *shown.parts))

    return Result(document, lambda _: report())


def _bytes(limit: str) -> float:
    try:
        return parse_exact(limit, BYTES)
    except Unreadable as wrong:
        raise MetrographError(f"--limit: {wrong.sentence}") from wrong
