"""Opens a run as `begin` and `record` do, with the options they share."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.commands.environment import Environment, complete_rig, complete_side
from metrograph.errors import MetrographError
from metrograph.language.header import WAYS
from metrograph.language.suggest import suggest
from metrograph.logbook.cards import load_card
from metrograph.logbook.folder import Logbook, unknown
from metrograph.logbook.journal import begin, open_runs
from metrograph.logbook.moments import begin_time
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Header

RigOption = Annotated[
    str | None,
    typer.Option("--rig", metavar="RIG", autocompletion=complete_rig, help="May be left out where there is one only."),
]
BegunOption = Annotated[
    str | None, typer.Option("--begun", metavar="TIME", help="When it began, for a record after the fact.")
]
LikeOption = Annotated[
    str | None,
    typer.Option(
        "--like", metavar="RUN", autocompletion=complete_side, help="The run or release whose path this one repeats."
    ),
]
WayOption = Annotated[str, typer.Option("--way", help="fresh, upgrade (with what from), beside or inside.")]
ReviewerOption = Annotated[str | None, typer.Option("--reviewer", help="Who records it.")]


def open_run(
    environment: Environment,
    book: Logbook,
    release: str,
    rig: str | None,
    begun: str | None,
    like: str | None,
    way: str,
    reviewer: str | None,
) -> tuple[str, str]:
    """Opens the next run of a release, and warns where others are open; returns its name and its rig.

    Raises MetrographError when a card is missing or a value cannot be; nothing is written then.
    """
    load_card(book, Release, release)
    rig = rig or _only_rig(book)
    load_card(book, Rig, rig)
    if like is not None:
        _check_plan(book, like)
    if way.partition(" ")[0] not in WAYS:
        raise MetrographError(f"there is no way to install called “{way}”; expected: {suggest(way, WAYS)}")
    others = {"way": None if way == "fresh" else way, "reviewer": reviewer, "like": like}
    said = tuple((key, " ".join(value.split())) for key, value in others.items() if value)
    others_open = open_runs(book)
    header = Header(release, rig, begin_time(environment.started(), begun), said)
    run = begin(book, header, environment.started())
    if others_open:
        environment.warn(f"still open besides: {', '.join(others_open)}; say which run a cue is for with --run")
    return run, rig


def _check_plan(book: Logbook, like: str) -> None:
    known = [*book.run_names(), *book.cards("releases")]
    if not (like in known and (book.log(like).is_file() or book.run_names(like))):
        raise unknown("run or release with runs", like, known, "“metrograph runs” lists them")


def _only_rig(book: Logbook) -> str:
    rigs = book.cards("rigs")
    if len(rigs) != 1:
        known = f"; known: {', '.join(rigs)}" if rigs else "; “metrograph rig new ID” makes the card of one"
        raise MetrographError(f"say which rig with --rig{known}")
    return rigs[0]
