"""The commands of what is followed over releases. To add a ledger, add a row, and one to the services."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Literal, NamedTuple

import msgspec
import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    ClusterOption,
    EverythingOption,
    FigureArgument,
    ForOption,
    JsonOption,
    LogbookOption,
    NamesArgument,
    PersonalOption,
    ReleasesArgument,
    StateOption,
    examples,
    single,
)

APPS: dict[str, typer.Typer] = {}


class LedgerCommand(msgspec.Struct, frozen=True):
    """One ledger's command.

    help: its first line, then what else there is to say.
    asks: what besides the logbook it may ask: an archive, or an archive and a cluster; or whether it may look across
        the whole house.
    """

    name: str
    help: str
    example: str
    asks: Literal["", "archive", "cluster", "everything"] = ""


_LEDGERS = (
    LedgerCommand(
        "issues",
        "Show issues by release: new, still there, gone, back again.\n\nAn issue is gone only where a run came by the"
        " same place without it, on the same kind of rig when it shows on some only. Where nobody came by, it is not"
        " retested.",
        "metrograph issues larkmoor-8.0-heron larkmoor-9.0-beta-heron --json",
        "archive",
    ),
    LedgerCommand(
        "effort",
        "Show screens, decisions, guesses and calls by release.\n\nFigures are medians of a release's runs, with the"
        " least and the most in brackets; --json has every run as well.",
        "metrograph effort larkmoor-8.0-heron-1 larkmoor-8.0-heron-2",
    ),
    LedgerCommand(
        "kinship",
        "Show how alike installers are, from 0 to 1.\n\nScreens and their order count, time and answers do not. Kin"
        " stand beside each other, so that the same installer in another coat is found across editions and"
        " distributions.",
        "metrograph kinship larkmoor-8.0-heron larkmoor-8.0-wren --json",
        "cluster",
    ),
    LedgerCommand(
        "readings",
        "Show readings by release and state, with differences.\n\nValues are medians of a release's runs. Only what was"
        " taken in the same state, and under the same load, is set side by side.",
        "metrograph readings larkmoor-7.0-heron larkmoor-8.0-heron --json",
        "everything",
    ),
    LedgerCommand(
        "checks",
        "Show trials by release: what got worse, what is well again.",
        "metrograph checks larkmoor-7.0-heron larkmoor-8.0-heron --json",
        "everything",
    ),
    LedgerCommand(
        "facts",
        "Show facts by release: raised, replaced, dropped.",
        "metrograph facts larkmoor-7.0-heron larkmoor-8.0-heron --json",
    ),
    LedgerCommand(
        "claims",
        "Hold what is published of releases against what was measured.\n\nMemory and disk are those of the installed"
        " system at rest, before its first update; times are medians of its runs.",
        "metrograph claims larkmoor-7.0-heron larkmoor-8.0-heron --json",
        "archive",
    ),
    LedgerCommand(
        "software",
        "Show software by release: gained, lost, raised, replaced.\n\nWhat “carries”, “lacks” and the probe noted, and"
        " what had to be added. An item that is not named is not there only where others of its group are. Where a card"
        " names the newest versions, what is behind them is told.",
        "metrograph software larkmoor-8.0-heron larkmoor-9.0-beta-heron --json",
    ),
    LedgerCommand(
        "verdicts",
        "Show ratings, scores, verdicts, and what changed in them.\n\nBeside what changed stand the measured"
        " figures and the trials that changed with it, beyond what the runs of either release spread. Whether they are"
        " the reason is for you to say.",
        "metrograph verdicts larkmoor-7.0-heron larkmoor-8.0-heron --json",
    ),
    LedgerCommand(
        "todos",
        "Show what is left to do, by run and release.\n\nWhat “todo” noted, and what the checklist in metrograph.toml"
        " wants of every release and no run of it has: trials, readings, usual tweaks and usual additions.",
        "metrograph todos larkmoor-8.0-heron --json",
    ),
)


def _add(row: LedgerCommand) -> None:
    """Hangs up the command of a row, with the options that it has a use for: an archive to ask, a cluster."""
    add = single(APPS, row.name, help=row.help, epilog=examples(f"metrograph {row.name}", row.example))

    def show_ledger(
        ctx: typer.Context,
        names: NamesArgument = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row.name, ctx, _LedgerOptions(names, logbook, show_personal, json))

    def show_with_others(
        ctx: typer.Context,
        names: NamesArgument = None,
        archive: ArchiveOption = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row.name, ctx, _LedgerOptions(names, logbook, show_personal, json, archive))

    def show_spread(
        ctx: typer.Context,
        names: NamesArgument = None,
        archive: ArchiveOption = None,
        cluster: ClusterOption = None,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row.name, ctx, _LedgerOptions(names, logbook, show_personal, json, archive, cluster))

    def show_across(
        ctx: typer.Context,
        names: NamesArgument = None,
        everything: EverythingOption = False,
        show_personal: PersonalOption = False,
        json: JsonOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        _show(row.name, ctx, _LedgerOptions(names, logbook, show_personal, json, everything=everything))

    commands: dict[str, Callable[..., None]] = {
        "archive": show_with_others, "cluster": show_spread, "everything": show_across,
    }  # fmt: skip
    add(commands.get(row.asks, show_ledger))


class _LedgerOptions(NamedTuple):
    """The options of a ledger's command, as they were given."""

    names: list[str] | None
    logbook: Path | None
    show_personal: bool
    json: bool
    archive: str | None = None
    cluster: str | None = None
    everything: bool = False


def _show(name: str, ctx: typer.Context, asked: _LedgerOptions) -> None:
    from metrograph.services.following import FollowedRuns, ledger_result

    environment = environment_of(ctx)
    followed = FollowedRuns(environment, asked.logbook, asked.names, asked.json, asked.cluster, asked.everything)
    environment.give(ledger_result(name, followed, asked.archive, asked.show_personal), asked.json)


for _row in _LEDGERS:
    _add(_row)


@single(
    APPS,
    "trend",
    epilog=examples(
        "metrograph trend desktop", "metrograph trend memory --state live", "metrograph trend updates --json"
    ),
)
def trend(
    ctx: typer.Context,
    figure: FigureArgument,
    names: NamesArgument = None,
    state: StateOption = None,
    everything: EverythingOption = False,
    archive: ArchiveOption = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Follow a figure along the releases of each line.

    With --everything along all that there are: which has least and most.

    A figure is a moment (first-question, installed, desktop, updated), a time (on-clock, hands-on, waiting, lost,
    longest-leave), a count (screens, decisions, kept, chosen, typed, right, wrong, returns, calls, attempts, issues,
    questions, asked-first), or anything that was read, such as memory or updates.
    """
    from metrograph.services.following import FollowedRuns, trend_result

    environment = environment_of(ctx)
    followed = FollowedRuns(environment, logbook, names, everything=everything)
    environment.give(trend_result(followed, figure, state, archive), json)


@single(APPS, "weight", epilog=examples(
        "metrograph weight", "metrograph weight larkmoor-7.0-heron larkmoor-8.0-heron --json",
        "metrograph weight --limit '3 GB'",
    )
)  # fmt: skip
def weight(
    ctx: typer.Context,
    names: NamesArgument = None,
    limit: Annotated[
        str | None, typer.Option(metavar="SIZE", help="What may be downloaded in all; sizes are shown in its units.")
    ] = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show what releases weigh: image, additions, first update.

    With --limit it says what fits, and what is left. A sum of which a part is not known is at least so much.
    """
    from metrograph.services.following import FollowedRuns, weight_result

    environment = environment_of(ctx)
    environment.give(weight_result(FollowedRuns(environment, logbook, names), limit), json)


SeedOption = Annotated[int | None, typer.Option(metavar="NUMBER", min=0, help="What chance begins with.")]


@single(
    APPS,
    "shortlist",
    epilog=examples(
        "metrograph shortlist --for hand-out",
        "metrograph shortlist larkmoor-8.0-heron osterby-2026.1 --for hand-out --json",
    ),
)
def shortlist_command(
    ctx: typer.Context,
    names: ReleasesArgument = None,
    reader: ForOption = None,
    seed: SeedOption = None,
    archive: ArchiveOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Say which release is for whom, and how sure that is.

    Those that lack what the reader requires are left out, each with its figure. The others are ordered by what the
    reader's wishes are worth together. Figures are varied within their ranges and the spread of repeats, and weights
    too; what nobody noted may be anything. Readers stand in metrograph.toml. An archive is asked for what is open: what
    others have is told, and counts for nothing in the order.
    """
    from metrograph.services.choosing import ShortlistRequest, shortlist_result

    environment = environment_of(ctx)
    wanted = ShortlistRequest(logbook, tuple(names or ()), reader, seed, archive, show_personal)
    environment.give(shortlist_result(environment, wanted), json)
