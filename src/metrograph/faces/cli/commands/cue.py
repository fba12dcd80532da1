"""Writes one cue. Loads as little as can be: a person waits for it with a hand on the other machine."""

from __future__ import annotations

import sys
from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, examples, refuse_unknown_options, single
from metrograph.log.quantities.times import format_time
from metrograph.log.verbs import VERBS
from metrograph.log.writer import format_line
from metrograph.services.noting import deviations, read_words, with_list
from metrograph.store.clock import When
from metrograph.store.memory import find_run

APPS: dict[str, typer.Typer] = {}
_HELP = f"""Write one cue now, in the language of the run log.

Verbs: {", ".join(VERBS)}; any beginning that only one verb has will do. Fields follow after a bar,
which the shell wants in quotes. A dash for a list of software takes it from standard input.
"""


@single(
    APPS,
    "cue",  # A ticked list has words that begin with a dash: choose software = +mail, -games
    context_settings={"ignore_unknown_options": True},
    epilog=examples(
        "metrograph cue screen Language",
        "metrograph cue 'choose swap = file | was none | offered none, file, partition'",
        "metrograph cue 'issue disk-hidden: The disk screen lists no disk | severity blocker'",
        "metrograph cue --at 12:30 wait copying files",
        "metrograph cue carries office: - < programs.txt    # one a line, or by commas",
    ),
)
def cue(
    ctx: typer.Context,
    words: Annotated[list[str], typer.Argument(metavar="WORDS...", help="A verb and what it needs, as in a run log.")],
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Writes one cue."""
    environment = environment_of(ctx)
    refuse_unknown_options(words)
    book = environment.logbook(logbook)
    typed = read_words(with_list(" ".join(words), sys.stdin), book)
    name = find_run(book, run)
    written = book.append(name, [typed], When(environment.started(), at))
    with environment.once_written():
        for noted in written.cues:
            environment.say(f"{name}  {format_time(noted.at)}  {format_line(noted)}")
        environment.out.flush()  # the cue is acknowledged before anything else is looked at
        for change in deviations(book, name, written):
            environment.say(f"{name}  off the plan: {change}")
    environment.leave()
