"""Opens a run as `begin` and `record` do, with the options they share."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment
from metrograph.faces.cli.options import complete_rig, complete_side
from metrograph.log.cues import Header
from metrograph.log.faults import suggest
from metrograph.log.header import WAYS
from metrograph.run.cards import Release, Rig
from metrograph.store.clock import begin_time
from metrograph.store.local.cards import load_card
from metrograph.store.local.logbook import Logbook
from metrograph.store.names import unknown

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
    personal = environment.personal()
    rig = rig_for(book, release, rig, personal.rig)
    reviewer = reviewer or personal.reviewer
    if like is not None:
        _check_plan(book, like)
    if way.partition(" ")[0] not in WAYS:
        raise MetrographError(f"there is no way to install called “{way}”; expected: {suggest(way, WAYS)}")
    others = {"way": None if way == "fresh" else way, "reviewer": reviewer, "like": like}
    lines = tuple((key, " ".join(value.split())) for key, value in others.items() if value)
    others_open = book.open_runs()
    _ask_for_second(environment, book, rig, others_open)
    present = environment.started()
    header = Header(release, rig, begin_time(present, begun), lines)
    run = book.begin(header, present)
    if others_open:
        with environment.once_written():
            environment.warn(f"still open besides: {', '.join(others_open)}; say which run a cue is for with --run")
    return run, rig


def _ask_for_second(environment: Environment, book: Logbook, rig: str, others_open: list[str]) -> None:
    """Asks at a terminal whether a second run is meant, as a machine is seldom installed twice at a time."""
    there = next((run for run in others_open if book.header(run).rig == rig), None)
    if there is None or not environment.is_interactive():
        return
    if not typer.confirm(f"{there} is still open on {rig}. Open another run on it?", default=False):
        raise MetrographError(f"no run was opened; “metrograph end done --run {there}” closes that one")


def _check_plan(book: Logbook, like: str) -> None:
    known = [*book.run_names(), *book.card_names("releases")]
    if not (like in known and (book.has(like) or book.run_names(like))):
        raise unknown("run or release with runs", like, known, "“metrograph runs” lists them")


def rig_for(book: Logbook, release: str, rig: str | None, usual: str | None = None) -> str:
    """The rig that a release goes on: as said, the usual one, or the only one.

    Raises MetrographError when a card is missing.
    """
    load_card(book, Release, release)
    rig = rig or (usual if usual in book.card_names("rigs") else None) or _only_rig(book)
    load_card(book, Rig, rig)
    return rig


def _only_rig(book: Logbook) -> str:
    rigs = book.card_names("rigs")
    if len(rigs) != 1:
        known = f"; known: {', '.join(rigs)}" if rigs else "; “metrograph rig new ID” makes the card of one"
        raise MetrographError(f"say which rig with --rig{known}")
    return rigs[0]
