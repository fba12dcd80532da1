"""Commands that show what there is: runs one by one or in a list, with what is wrong in them, and side by side."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    BaselineOption,
    JsonOption,
    LineUpOption,
    LogbookOption,
    NamesArgument,
    OnlyRigOption,
    PersonalOption,
    WholeOption,
    complete_run,
    complete_side,
    examples,
    single,
)

APPS: dict[str, typer.Typer] = {}


@single(APPS, "runs", epilog=examples("metrograph runs", "metrograph runs --json"))
def runs(
    ctx: typer.Context,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """List the runs in the logbook, a line each."""
    from metrograph.services.run_reading import runs_result

    environment = environment_of(ctx)
    environment.give(runs_result(environment, logbook, show_personal), json)


@single(
    APPS, "show", epilog=examples("metrograph show larkmoor-8.0-heron-1", "metrograph show --json notes/first.metro")
)
def show(
    ctx: typer.Context,
    run: Annotated[
        str,
        typer.Argument(
            metavar="RUN",
            autocompletion=complete_run,
            help="A run, a release for its latest run, “latest”, or a log's path.",
        ),
    ],
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show one run: timeline, screens, choices, issues, readings."""
    from metrograph.services.run_reading import run_result

    environment = environment_of(ctx)
    environment.give(run_result(environment, logbook, run, show_personal), json)


@single(
    APPS,
    "lint",
    epilog=examples("metrograph lint", "metrograph lint larkmoor-8.0-heron-1", "metrograph lint rigs/bench-vm.toml"),
)
def lint(
    ctx: typer.Context,
    files: Annotated[
        list[Path] | None, typer.Argument(metavar="[FILE...]", help="Logs or cards, or runs by name; all unless said.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 on a warning, too.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Report every error and warning in logs and cards.

    All in one pass, with the place and what could stand there. Exits with 1 when there is an error.
    """
    from metrograph.services.run_reading import survey

    environment = environment_of(ctx)
    found = survey(environment, logbook, files)
    if json:
        environment.show_json(found)
    else:
        environment.tell_faults(found, leave=False)
    if found.errors or (strict and found.faults):
        raise typer.Exit(1)


class Length(StrEnum):
    """How much a summary says."""

    SHORT = "short"
    POST = "post"
    ARTICLE = "article"


@single(
    APPS,
    "compare",
    epilog=examples(
        "metrograph compare larkmoor-7.0-heron larkmoor-8.0-heron",
        "metrograph compare larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 --line-up desktop",
        "metrograph compare larkmoor-8.0-heron larkmoor-9.0-beta-heron --why Disk",
    ),
)
def compare(
    ctx: typer.Context,
    names: Annotated[
        list[str] | None,
        typer.Argument(
            metavar="[A B C...]",
            autocompletion=complete_side,
            help="Releases, runs, or logs' paths; the two latest of a line unless said.",
        ),
    ] = None,
    baseline: BaselineOption = None,
    only_rig: OnlyRigOption = None,
    why: Annotated[
        str | None, typer.Option(metavar="ROW", help="Tell what led to a row of screens: its number or a title.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 when times cannot be compared.")] = False,
    everything: Annotated[bool, typer.Option("--all", help="Show everything, not only what matters most.")] = False,
    line_up: LineUpOption = None,
    whole: WholeOption = False,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    archive: ArchiveOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Compare installer flows across releases or runs.

    Says first what matters most, then what calls for care, timelines to scale, the ten changes that matter most, and
    trouble. With --all also the aligned screens, all changes, times, effort, what may be concluded from few runs,
    readings, trials, software and verdicts.
    """
    from metrograph.services.comparing import ComparisonRequest, comparison_of, reasons_for

    environment = environment_of(ctx)
    asked = ComparisonRequest(logbook, tuple(names or ()), baseline, only_rig, archive, show_personal)
    if why is not None:
        environment.give(reasons_for(environment, asked, why), json)
        return
    outcome = comparison_of(environment, asked, everything, everything or json, line_up, whole)
    environment.give(outcome.result, json)
    if strict and outcome.incomparable:
        environment.warn(f"times cannot be compared: {', '.join(outcome.incomparable)} differ or are open")
        raise typer.Exit(1)


@single(
    APPS,
    "summary",
    epilog=examples(
        "metrograph summary larkmoor-8.0-heron larkmoor-9.0-beta-heron",
        "metrograph summary larkmoor-9.0-beta-heron --length short",
        "metrograph summary    # the two latest of the line that was installed last",
    ),
)
def summary(
    ctx: typer.Context,
    names: NamesArgument = None,
    only_rig: OnlyRigOption = None,
    length: Annotated[Length, typer.Option(help="Two sentences, a few, or all that there are.")] = Length.POST,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Say in a few sentences what a release is, or what changed.

    To be pasted. Of one name: how it installs, its trouble, what works, what is thought of it. Of two or more: up to
    five sentences for each release against the one before it: what matters most, how sure it is, and one reason for
    care.
    """
    environment = environment_of(ctx)
    if len(set(names or ())) == 1:
        from metrograph.services.outward.reviewing import reviewed

        made = reviewed(environment, logbook, next(iter(names or ())), show_personal)
        document, paragraphs = made.document, made.at_length(length)
    else:
        from metrograph.services.comparing import ComparisonRequest, summary_of

        asked = ComparisonRequest(logbook, tuple(names or ()), None, only_rig, None, show_personal)
        document, paragraphs = summary_of(environment, asked, length)
    if json:
        environment.show_json(document)
    else:
        for place, paragraph in enumerate(paragraphs):
            if place:
                environment.say("")
            environment.say(paragraph)
