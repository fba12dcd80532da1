"""The ledgers, a row each: what is asked of the runs, and how it is shown. To add one, add a row."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import msgspec
import typer

from metrograph.archive.answers import met_in
from metrograph.archive.place import Place
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import (
    ArchiveOption,
    ClusterOption,
    JsonOption,
    LogbookOption,
    NamesArgument,
    PersonalOption,
    command_app,
    examples,
)
from metrograph.faces.cli.reviewing.ledger_runs import Runs
from metrograph.faces.cli.sharing.others import asked, beside_others, like_of
from metrograph.ledgers.digests.digest import route
from metrograph.show.files.json import fields_of
from metrograph.store.local.cards import load_rigs


class LedgerCommand(msgspec.Struct, frozen=True):
    """One command.

    help: its first line, then what else there is to say.
    make: the ledger, from the runs.
    opening: the function of ``present.wording.answers.ledgers`` that says what a reader should know of it.
    report: the ledger as it is shown; document: as it is printed with --json.
    others: what others say to it, from the runs, the ledger, an archive, and who asks; None where they say nothing.
    is_spread: whether it is so much work that a cluster may be asked.
    """

    name: str
    help: str
    example: str
    make: Callable[[Runs], Any]
    report: Callable[[Any], Any]
    document: Callable[[Any], Any] = lambda ledger: ledger
    opening: str = ""
    others: Callable[[Runs, Any, Place, str], Any] | None = None
    is_spread: bool = False


def _issues(runs: Runs) -> Any:
    from metrograph.ledgers.issues import issues_ledger

    return issues_ledger(runs.group, load_rigs(runs.book), runs.reader.rulings)


def _effort(runs: Runs) -> Any:
    from metrograph.ledgers.trend import effort_ledger

    return effort_ledger(runs.group, runs.each)


def kinship_of(runs: Runs) -> Any:
    """How alike the installers of the releases are."""
    from metrograph.compare.kinship import kinship

    taken = {release: [route(run) for run in digests] for release, digests in runs.group.runs.items()}
    # A run without a screen has no route, and a release of such runs is like nothing, not like no other.
    passed = {release: [way for way in routes if way.screens] for release, routes in taken.items()}
    routes = {release: ways for release, ways in passed.items() if ways}
    return kinship(
        routes, runs.reader.rulings, lambda parts: runs.environment.track(parts, "comparing routes"), runs.over
    )


def nearest_of(place: Place, runs: Runs, own: str) -> Any:
    """The nearest installers of an archive, for the latest release of each line; never the release itself."""
    from metrograph.archive.nearest import nearest_in

    latest = dict(zip(runs.group.origins, runs.group.releases, strict=True))
    ways = {release: route(runs.group.runs[release][-1]) for release in latest.values()}
    return nearest_in(place, {release: way for release, way in ways.items() if way.screens}, own)


def _readings(runs: Runs) -> Any:
    from metrograph.ledgers.readings import readings_ledger

    return readings_ledger(runs.group, runs.reader.lexicon)


def _checks(runs: Runs) -> Any:
    from metrograph.ledgers.checks import checks_ledger

    return checks_ledger(runs.group)


def _facts(runs: Runs) -> Any:
    from metrograph.ledgers.facts import facts_ledger

    return facts_ledger(runs.group)


def _claims(runs: Runs) -> Any:
    from metrograph.ledgers.claims import claims_ledger

    return claims_ledger(runs.group, load_rigs(runs.book))


def _heard_of_claims(runs: Runs, ledger: Any, place: Place, own: str) -> Any:
    from metrograph.archive.measured import claimed, heard_in

    return heard_in(place, claimed(ledger), like_of(runs.group, load_rigs(runs.book)), own)


def _software(runs: Runs) -> Any:
    from metrograph.ledgers.software import software_ledger

    return software_ledger(runs.group)


def _verdicts(runs: Runs) -> Any:
    from metrograph.ledgers.verdicts import verdicts_ledger, with_shifts

    return with_shifts(verdicts_ledger(runs.group), runs.group, runs.reader.lexicon)


def _todos(runs: Runs) -> Any:
    from metrograph.ledgers.todos import todos_ledger

    return todos_ledger(runs.group, runs.reader.settings.checklist)


def _shown(module: str, name: str) -> Callable[[Any], Any]:
    """A function of the report package, loaded when it is called."""

    def show(ledger: Any) -> Any:
        from importlib import import_module

        return getattr(import_module(f"metrograph.show.{module}"), name)(ledger)

    return show


_LEDGERS = (
    LedgerCommand(
        "issues",
        "Show issues by release: new, still there, gone, back again.\n\nAn issue is gone only where a run came by the"
        " same place without it, on the same kind of rig when it shows on some only. Where nobody came by, it is not"
        " retested.",
        "metrograph issues larkmoor-8.0-heron larkmoor-9.0-beta-heron --json",
        _issues,
        _shown("report.trouble", "issues_report"),
        opening="of_issues",
        others=lambda _, ledger, place, own: met_in(
            place, {row.name: row.summary for row in ledger.rows if row.name}, own
        ),
    ),
    LedgerCommand(
        "effort",
        "Show screens, decisions, guesses and calls by release.\n\nFigures are medians of a release's runs, with the"
        " least and the most in brackets; --json has every run as well.",
        "metrograph effort larkmoor-8.0-heron-1 larkmoor-8.0-heron-2",
        _effort,
        _shown("report.effort", "effort_report"),
        opening="of_effort",
    ),
    LedgerCommand(
        "kinship",
        "Show how alike installers are, from 0 to 1.\n\nScreens and their order count, time and answers do not. Kin"
        " stand beside each other, so that the same installer in another coat is found across editions and"
        " distributions.",
        "metrograph kinship larkmoor-8.0-heron larkmoor-8.0-wren --json",
        kinship_of,
        _shown("report.effort", "kinship_report"),
        opening="of_kinship",
        others=lambda runs, _, place, own: nearest_of(place, runs, own),
        is_spread=True,
    ),
    LedgerCommand(
        "readings",
        "Show readings by release and state, with differences.\n\nValues are medians of a release's runs. Only what was"
        " taken in the same state, and under the same load, is set side by side.",
        "metrograph readings larkmoor-7.0-heron larkmoor-8.0-heron --json",
        _readings,
        _shown("report.ledgers", "readings_report"),
        _shown("files.json", "readings_document"),
        opening="of_readings",
    ),
    LedgerCommand(
        "checks",
        "Show trials by release: what got worse, what is well again.",
        "metrograph checks larkmoor-7.0-heron larkmoor-8.0-heron --json",
        _checks,
        _shown("report.ledgers", "checks_report"),
        opening="of_checks",
    ),
    LedgerCommand(
        "facts",
        "Show facts by release: raised, replaced, dropped.",
        "metrograph facts larkmoor-7.0-heron larkmoor-8.0-heron --json",
        _facts,
        _shown("report.ledgers", "facts_report"),
        opening="of_facts",
    ),
    LedgerCommand(
        "claims",
        "Hold what is published of releases against what was measured.\n\nMemory and disk are those of the installed"
        " system at rest, before its first update; times are medians of its runs.",
        "metrograph claims larkmoor-7.0-heron larkmoor-8.0-heron --json",
        _claims,
        _shown("report.ledgers", "claims_report"),
        opening="of_claims",
        others=_heard_of_claims,
    ),
    LedgerCommand(
        "software",
        "Show software by release: gained, lost, raised, replaced.\n\nWhat “carries”, “lacks” and the probe noted, and"
        " what had to be added. An item that is not named is not there only where others of its group are. Where a card"
        " names the newest versions, what is behind them is told.",
        "metrograph software larkmoor-8.0-heron larkmoor-9.0-beta-heron --json",
        _software,
        _shown("report.software", "software_report"),
        opening="of_software",
    ),
    LedgerCommand(
        "verdicts",
        "Show ratings, scores, verdicts, and what changed in them.\n\nBeside what changed stand the measured"
        " figures and the trials that changed with it, beyond what the runs of either release spread. Whether they are"
        " the reason is for you to say.",
        "metrograph verdicts larkmoor-7.0-heron larkmoor-8.0-heron --json",
        _verdicts,
        _shown("report.judgements", "verdicts_report"),
        opening="of_verdicts",
    ),
    LedgerCommand(
        "todos",
        "Show what is left to do, by run and release.\n\nWhat “todo” noted, and what the checklist in metrograph.toml"
        " wants of every release and no run of it has: trials, readings, usual tweaks and usual additions.",
        "metrograph todos larkmoor-8.0-heron --json",
        _todos,
        _shown("report.judgements", "todos_report"),
        opening="of_todos",
    ),
)


def opened(report: Any, opening: str, ledger: Any) -> Any:
    """A report with the sentences in front that say what a reader should know of it."""
    from metrograph.show.report import model as m
    from metrograph.words import openings

    sentences = m.section("", m.Lines(tuple(getattr(openings, opening)(ledger)), 0))
    return msgspec.structs.replace(report, parts=(*sentences, *report.parts))


def _app(row: LedgerCommand) -> typer.Typer:
    """The command of a row, with the options that it has a use for: an archive to ask, a cluster to work on."""
    command = command_app()
    add = command.command(row.name, help=row.help, epilog=examples(f"metrograph {row.name}", row.example))

    def show_ledger(
        ctx: typer.Context,
        names: NamesArgument = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row, ctx, Runs(environment_of(ctx), logbook, names, json), show_personal, json)

    def show_with_others(
        ctx: typer.Context,
        names: NamesArgument = None,
        archive: ArchiveOption = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row, ctx, Runs(environment_of(ctx), logbook, names, json), show_personal, json, archive)

    def show_spread(
        ctx: typer.Context,
        names: NamesArgument = None,
        archive: ArchiveOption = None,
        cluster: ClusterOption = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row, ctx, Runs(environment_of(ctx), logbook, names, json, cluster), show_personal, json, archive)

    add(show_spread if row.is_spread else show_ledger if row.others is None else show_with_others)
    return command


def _show(
    row: LedgerCommand, ctx: typer.Context, runs: Runs, show_personal: bool, json: bool, archive: str | None = None
) -> None:
    environment = environment_of(ctx)
    ledger = masked(environment, runs.known, row.make(runs), show_personal)
    said = None if row.others is None else asked(environment, archive, partial(row.others, runs, ledger))
    if json:
        document = row.document(ledger)
        environment.show_json(document if said is None else fields_of(document) | {"others": said})
        return
    called = runs.named(ledger)
    report = opened(row.report(called), row.opening, called)
    environment.show(report if said is None else beside_others(report, runs.named(said)))


APPS = {row.name: _app(row) for row in _LEDGERS}
