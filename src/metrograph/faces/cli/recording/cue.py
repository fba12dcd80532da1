"""Writes one cue. Loads as little as can be: a person waits for it with a hand on the other machine."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, examples
from metrograph.log.cues import Cue, Log
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.times import format_time
from metrograph.log.reader import parse_line
from metrograph.log.writer import format_line
from metrograph.store.clock import When
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run

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

    Verbs: phase, screen, keep, choose, enter, layout, wait, ready, task, done, issue, tried, fix, fail, retry,
    reading, fact, check, rate, tweak, add, carries, lacks, shot, note, todo, pause, resume, cut, verdict, end; any
    beginning that only one verb has will do. Fields follow after a bar, which the shell wants in quotes.
    """
    environment = environment_of(ctx)
    refuse_unknown_options(words)
    book = environment.logbook(logbook)
    typed = read_words(" ".join(words), book)
    name = find_run(book, run)
    written = book.append(name, [typed], When(environment.started(), at))
    with environment.once_written():
        for noted in written.cues:
            environment.say(f"{name}  {format_time(noted.at)}  {format_line(noted)}")
        if typed.verb in _MAY_DEVIATE and written.log.header.other("like"):
            environment.out.flush()  # the cue is acknowledged before anything else is looked at
            _tell_deviations(environment, book, name, written.log, written.cues)


def _tell_deviations(environment: Environment, book: Logbook, name: str, before: Log, cues: tuple[Cue, ...]) -> None:
    """Says where these cues have left the plan."""
    from metrograph.plan.plan import load_plan, new_deviations
    from metrograph.run.folding.fold import fold
    from metrograph.store.reading import LogReader
    from metrograph.words.changes import deviation

    reader = LogReader(book)
    plan = load_plan(reader, book, before.header.other("like"), name, before.header.rig)
    if plan is not None:
        after = msgspec.structs.replace(before, cues=(*before.cues, *cues))
        runs = (fold(log, name, reader.lexicon) for log in (before, after))
        for change in new_deviations(plan, *runs):
            environment.say(f"{name}  off the plan: {deviation(change)}")


def read_words(line: str, book: Logbook) -> Cue:
    """The cue that was typed; raises MetrographError with what could stand where it is wrong."""
    if not line.isprintable() and any("\ud800" <= sign <= "\udfff" for sign in line):
        raise MetrographError("these words are not UTF-8; set the terminal to that encoding. Nothing was recorded")
    try:
        return parse_line(line, lambda: book.settings().lexicon)
    except Unreadable as wrong:
        raise MetrographError(f"{wrong.sentence}. Nothing was recorded") from wrong


def refuse_unknown_options(words: list[str]) -> None:
    """A misspelt option must not end up in the log as text."""
    for word in words:
        if word.startswith("--") and word[2:3].isalpha():
            raise MetrographError(
                f"there is no option {word.partition('=')[0]}; text that begins so goes in quotes with its verb"
            )
