"""Writes one cue. Loads as little as can be: a person waits for it with a hand on the other machine."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.commands.environment import (
    AtOption,
    Environment,
    LogbookOption,
    RunOption,
    command_app,
    environment_of,
    examples,
)
from metrograph.errors import MetrographError
from metrograph.language.faults import Unreadable
from metrograph.language.line import parse_line
from metrograph.language.spills import refuse_spilled
from metrograph.language.times import format_time
from metrograph.language.writer import format_line
from metrograph.logbook.folder import Logbook
from metrograph.logbook.journal import find_run, record
from metrograph.logbook.moments import cue_time
from metrograph.model.cues import Cue, Log

app = command_app()
_MAY_DEVIATE = frozenset({"screen", "phase", "keep", "choose", "enter", "check"})


@app.command(
    # A ticked list has words that begin with a dash: choose software = +mail, -games
    context_settings={"ignore_unknown_options": True},
    epilog=examples(
        "metrograph cue screen Language",
        "metrograph cue 'choose swap = file | was none | offered none, file, partition'",
        "metrograph cue 'issue disk-hidden: The disk screen lists no disk | severity blocker'",
        "metrograph cue --at 12:30 wait copying files",
    ),
)
def cue(
    ctx: typer.Context,
    words: Annotated[list[str], typer.Argument(metavar="WORDS...", help="A verb and what it needs, as in a run log.")],
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Write one cue now, in the language of the run log.

    Verbs: phase, screen, keep, choose, enter, layout, wait, ready, issue, fix, fail, retry, reading, fact, check,
    tweak, add, shot, note, pause, resume, cut, verdict, end; any beginning that only one verb has will do. Fields
    follow behind a bar, which the shell wants in quotes.
    """
    environment = environment_of(ctx)
    refuse_unknown_options(words)
    book = environment.logbook(logbook)
    said = read_words(" ".join(words), book)
    name = find_run(book, run)
    before: list[Log] = []

    def make(log: Log) -> Cue:
        before.append(log)
        return msgspec.structs.replace(said, at=cue_time(log, environment.started(), at))

    written = record(book, name, make, environment.started())
    environment.say(f"{name}  {format_time(written.at)}  {format_line(written)}")
    like = before[0].header.other("like")
    if like and written.verb in _MAY_DEVIATE:
        environment.out.flush()  # the cue is acknowledged before anything else is looked at
        _tell_deviations(environment, book, name, like, before[0], written)


def _tell_deviations(environment: Environment, book: Logbook, name: str, like: str, before: Log, cue: Cue) -> None:
    """Says where this cue has left the plan."""
    from metrograph.analysis.fold import fold
    from metrograph.analysis.plan import new_deviations
    from metrograph.logbook.selection import Reader
    from metrograph.views.sentences import deviation

    reader = Reader(book)
    plan = reader.plan(like, name)
    if plan is not None:
        after = msgspec.structs.replace(before, cues=(*before.cues, cue))
        runs = (fold(log, name, reader.lexicon) for log in (before, after))
        for change in new_deviations(plan, *runs):
            environment.say(f"{name}  off the plan: {deviation(change)}")


def read_words(line: str, book: Logbook) -> Cue:
    """The cue that was typed; raises MetrographError with what could stand where it is wrong."""
    if not line.isprintable() and any("\ud800" <= each <= "\udfff" for each in line):
        raise MetrographError("these words are not UTF-8; set the terminal to that encoding. Nothing was recorded")
    try:
        cue = parse_line(line, lambda: book.lexicon().kinds)
        refuse_spilled(cue)
    except Unreadable as wrong:
        expected = f"; expected: {wrong.expected}" if wrong.expected else ""
        raise MetrographError(f"{wrong.message}{expected}. Nothing was recorded") from wrong
    return cue


def refuse_unknown_options(words: list[str]) -> None:
    """A misspelt option must not end up in the log as text."""
    for word in words:
        if word.startswith("--") and word[2:3].isalpha():
            raise MetrographError(
                f"there is no option {word.partition('=')[0]}; text that begins so goes in quotes with its verb"
            )
