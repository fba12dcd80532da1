"""Commands while a run goes on: opened, recorded, amended, ended."""

from __future__ import annotations

import shlex
import subprocess
from collections.abc import Callable
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    AtOption,
    JsonOption,
    LogbookOption,
    PersonalOption,
    RunArgument,
    RunOption,
    complete_release,
    complete_rig,
    complete_side,
    examples,
    refuse_unknown_options,
    single,
    whole_number,
)
from metrograph.log.cues import Cue
from metrograph.log.quantities.times import format_time, show_duration
from metrograph.log.writer import format_line
from metrograph.services.noting import read_words
from metrograph.store.clock import When
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run

APPS: dict[str, typer.Typer] = {}

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


WayOption = Annotated[
    str, typer.Option("--way", help="fresh, upgrade (with what from), beside, inside; live, tour, later.")
]


ReviewerOption = Annotated[str | None, typer.Option("--reviewer", help="Who records it.")]


@single(
    APPS,
    "begin",
    epilog=examples(
        "metrograph begin larkmoor-8.0-heron --rig bench-vm",
        "metrograph begin larkmoor-8.0-heron --rig bench-vm --begun 10:04",
        "metrograph begin larkmoor-8.0-heron --rig bench-vm --like larkmoor-7.0-heron-1",
    ),
)
def begin(
    ctx: typer.Context,
    release: Annotated[str, typer.Argument(metavar="RELEASE", autocompletion=complete_release)],
    rig: RigOption = None,
    begun: BegunOption = None,
    like: LikeOption = None,
    way: WayOption = "fresh",
    reviewer: ReviewerOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Open a run and start its clock."""
    from metrograph.services.preparing import Opening, open_run

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    run, on = open_run(environment, book, Opening(release, rig, begun, like, way, reviewer), _agree(environment))
    with environment.once_written():
        environment.say(f"{run} on {on}: the clock runs. “metrograph cue screen Boot menu” records the first screen")


def _agree(environment: Environment) -> Callable[[str], bool]:
    """Asks at a terminal; elsewhere nobody can be asked, and what was said holds."""
    return lambda question: not environment.is_interactive() or typer.confirm(question, default=False)


@single(
    APPS,
    "record",
    epilog=examples(
        "metrograph record",
        "metrograph record larkmoor-8.0-heron --rig bench-vm --like larkmoor-7.0-heron",
    ),
)
def record(
    ctx: typer.Context,
    release: Annotated[
        str | None,
        typer.Argument(metavar="[RELEASE]", autocompletion=complete_release, help="Opens a run; else the open one."),
    ] = None,
    rig: RigOption = None,
    like: LikeOption = None,
    begun: BegunOption = None,
    way: WayOption = "fresh",
    reviewer: ReviewerOption = None,
    run: RunOption = None,
    watch: Annotated[
        str | None,
        typer.Option("--watch", metavar="SOURCE", help="Offer what is seen there, as “metrograph watch” takes it."),
    ] = None,
    captions: Annotated[
        Path | None,
        typer.Option(
            "--captions", metavar="FILE", help="Offer what is said: captions that a recogniser goes on writing."
        ),
    ] = None,
    archive: ArchiveOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Record a run live, on one screen: clocks, plan, log, a line.

    The line takes what “cue” takes, completes it with Tab, and says what Enter will do before it does it. A time in
    front of it (2:10, or -0:30 for half a minute ago) sets another moment.

    \b
    Enter      on an empty line: the most likely thing, which is said beside it
    F1 ?       help: the keys, and how cues are written
    F2 Ctrl+N  the plan's next screen, with the choices of last time
    F3 Ctrl+T  the machine works, or is done
    F4 Ctrl+P  pause, or resume
    F5 Ctrl+Z  undo: take the last cue back; its words come to the line
    F6 Ctrl+B  an issue, at this moment
    F7 Ctrl+O  put this moment in front of the line, then type at leisure
    Ctrl+Q     leave; the run stays open
    """
    environment = environment_of(ctx)
    if not environment.is_interactive():
        raise MetrographError("the recorder needs a terminal that shows UTF-8; “metrograph cue” works everywhere")
    book = environment.logbook(logbook)
    if release is not None and run is not None:
        raise MetrographError("name a release to begin a run of it, or an open run with --run, not both")
    if release is None:
        name = _open_one(book, run)
    else:
        from metrograph.services.preparing import Opening, open_run

        name, _ = open_run(environment, book, Opening(release, rig, begun, like, way, reviewer), _agree(environment))
    from metrograph.faces.recorder.keeping_open import RecorderHelpers, keep_open

    keep_open(environment, book, name, RecorderHelpers(watch, captions and environment.folder / captions, archive))


def _open_one(book: Logbook, run: str | None) -> str:
    """The run that goes on."""
    if not book.open_runs() and run is None:
        raise MetrographError("no run is open; “metrograph record RELEASE --rig RIG” begins one")
    return find_run(book, run)


@single(APPS, "status", epilog=examples("metrograph status", "metrograph status --run larkmoor-8.0-heron-1 --json"))
def status(
    ctx: typer.Context,
    run: RunOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show how the open run stands: clocks, screen, issues, next."""
    from metrograph.services.noting import status_result

    environment = environment_of(ctx)
    environment.give(status_result(environment, logbook, run, show_personal), json)


class How(StrEnum):
    """How a run ended."""

    done = "done"
    abandoned = "abandoned"


@single(APPS, "end", epilog=examples("metrograph end", "metrograph end abandoned --at 31:40"))
def end(
    ctx: typer.Context,
    how: Annotated[How, typer.Argument(metavar="[done|abandoned]", help="Whether it came to its end.")] = How.done,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Close a run and say what the record still lacks."""
    from metrograph.services.noting import ended

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    written = book.append(name, [Cue(0, "end", None, how.value)], When(environment.started(), at))
    with environment.once_written():
        known = ended(book, name)
        environment.say(f"{name} ended at {format_time(written.cues[0].at)}: {how.value}")
        environment.say(
            f"  on the clock {show_duration(known.clock.on_clock)}, hands-on {show_duration(known.clock.person)},"
            f" waiting {show_duration(known.clock.machine)}"
        )
        if known.lacking:
            environment.say("Still lacking, and addable with “metrograph cue --run ... --at TIME”:")
        for sentence in known.lacking:
            environment.say(f"  {sentence}")
        if known.todos:
            environment.say("Left to do:")
        for sentence in known.todos:
            environment.say(f"  {sentence}")
        environment.warn_of(known.faults)


@single(APPS, "next", epilog=examples("metrograph next", "metrograph next --same"))
def next_(
    ctx: typer.Context,
    same: Annotated[bool, typer.Option("--same", help="With the answers of last time, too.")] = False,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Write the screen that the plan has next.

    The plan is the run or release that “begin --like” named. With --same, what was kept and chosen on that
    screen last time is written as well; what was typed is not.
    """
    from metrograph.services.noting import next_cues

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    written = book.append(name, next_cues(book, name, same), When(environment.started(), at))
    with environment.once_written():
        for cue in written.cues:
            environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")


@single(APPS, "undo", epilog=examples("metrograph undo", "metrograph undo 14 --run larkmoor-8.0-heron-1"))
def undo(
    ctx: typer.Context,
    line: Annotated[
        int | None, typer.Argument(metavar="[LINE]", parser=whole_number, help="Of the log; else the last cue.")
    ] = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Take the last cue back, or the one on a line of the log."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    taken = book.take_back(name, line)
    with environment.once_written():
        for text in taken.split("\n"):
            environment.say(f"{name}  taken back: {text.rstrip()}")


@single(
    APPS,
    "mend",
    context_settings={"ignore_unknown_options": True},
    epilog=examples(
        "metrograph mend 14 screen Language",
        "metrograph mend 14 --at 2:10",
        "metrograph mend 16 'choose swap = file | was none' --run larkmoor-8.0-heron-1",
    ),
)
def mend(
    ctx: typer.Context,
    line: Annotated[
        int, typer.Argument(metavar="LINE", parser=whole_number, help="Where the cue begins in the log, as lint says.")
    ],
    words: Annotated[list[str] | None, typer.Argument(metavar="[WORDS...]", help="The cue as it should be.")] = None,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Change the words or the time of a cue in the log.

    What is not given stays: the time without --at, the words without any. Everything else in the log stays as it is.
    """
    environment = environment_of(ctx)
    refuse_unknown_options(words or [])
    book = environment.logbook(logbook)
    typed = read_words(" ".join(words), book) if words else None
    if typed is None and at is None:
        raise MetrographError("say what to change: the cue's words, its time with --at, or both")
    name = find_run(book, run)
    when = None if at is None else When(environment.started(), at)
    written = book.change(name, line, typed, when)
    with environment.once_written():
        for text in written.splitlines():
            environment.say(f"{name}  {text}")


@single(APPS, "edit", epilog=examples("metrograph edit", "metrograph edit larkmoor-8.0-heron-1"))
def edit(ctx: typer.Context, run: RunArgument = None, logbook: LogbookOption = None) -> None:
    """Open a run's log in $VISUAL or $EDITOR, then lint it.

    Without a name, the open run. Cues that come meanwhile are kept: an editor that asks before it saves over them is
    answered with no, and the log read anew.
    """
    from metrograph.services.run_reading import survey_run

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    words = _editor(environment)
    try:
        done = subprocess.run([*words, str(book.log(name))], check=False)  # noqa: S603 - the person's own editor
    except OSError as error:
        raise MetrographError(
            f"{words[0]} cannot be started: {error.strerror}; VISUAL or EDITOR names another"
        ) from error
    if done.returncode:
        raise MetrographError(f"{words[0]} left with {done.returncode}; the log was not looked at")
    environment.tell_faults(survey_run(book, name))


def _editor(environment: Environment) -> list[str]:
    """The editor's command."""
    named = environment.variables.get("VISUAL") or environment.variables.get("EDITOR") or "vi"
    words = shlex.split(named)
    if not words:
        raise MetrographError("VISUAL or EDITOR names no editor")
    return words
