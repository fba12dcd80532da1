"""Commands that take the record from what is there already: recordings, displays, talks, drafts of all."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.commands.run_commands import BegunOption, RigOption
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    JsonOption,
    LogbookOption,
    PersonalOption,
    complete_release,
    complete_run,
    examples,
    single,
)
from metrograph.watch.drafts.review import Review
from metrograph.words.figure_words import counted

APPS: dict[str, typer.Typer] = {}

DraftedRelease = Annotated[
    str | None,
    typer.Argument(metavar="[RELEASE]", autocompletion=complete_release, help="Write a draft for this release."),
]


SpeechOption = Annotated[
    Path | None,
    typer.Option("--speech", metavar="MODEL", help="Recognise what is said in FILE, with the model in this folder."),
]


@single(
    APPS,
    "scan",
    epilog=examples(
        "metrograph scan install.mkv",
        "metrograph scan install.mkv larkmoor-9.0-heron --rig bench-vm --captions install.vtt",
        "metrograph scan console.cast --json",
    ),
)
def scan(
    ctx: typer.Context,
    file: Annotated[
        Path, typer.Argument(metavar="FILE", help="A film, a folder of pictures, or a terminal's recording.")
    ],
    release: DraftedRelease = None,
    rig: RigOption = None,
    begun: BegunOption = None,
    captions: Annotated[
        Path | None, typer.Option("--captions", metavar="FILE", help="Captions of the recording: WebVTT or SubRip.")
    ] = None,
    speech: SpeechOption = None,
    timing: Annotated[
        Path | None, typer.Option("--timing", metavar="FILE", help="The times beside what “script” recorded.")
    ] = None,
    pictures: Annotated[bool, typer.Option("--pictures/--no-pictures", help="Keep a small picture a screen.")] = True,
    anew: Annotated[bool, typer.Option("--anew", help="Begin again, not where it was stopped.")] = False,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Go through a recording, and propose its log.

    It says what was on the screen: titles, times, waiting.

    With a RELEASE, it is proposed as a draft in the logbook, which “metrograph confirm” turns into a run; a draft is
    in no comparison. Interrupted, it keeps what it has found, and goes on there the next time.
    """
    from metrograph.services import seeing

    environment = environment_of(ctx)
    book = environment.logbook(logbook) if release is not None else environment.logbook_or_none(logbook)
    beside = None if timing is None else environment.folder / timing
    if speech is not None and captions is not None:
        raise MetrographError("--captions says what was said, and --speech has it recognised; give one of them")
    model = speech and environment.folder / speech
    recorded = seeing.Recorded(environment.folder / file, beside, begun, captions, pictures, anew, model)
    target = None if release is None else seeing.Target(release, rig)
    seen = seeing.scan(environment, book, recorded, target, show_personal)
    environment.give(seen.result, json)
    if seen.drafting is not None and not json:
        if seen.mismatch is not None:
            environment.warn(seen.mismatch)
        environment.say("")
        environment.say(seen.drafting.closing())


@single(
    APPS,
    "hear",
    epilog=examples(
        "metrograph hear talk.vtt",
        "metrograph hear talk.vtt larkmoor-9.0-heron --rig bench-vm --packages packages.tsv",
        "metrograph hear talk.vtt --run larkmoor-9.0-heron-1 --starts 0:40",
        "metrograph hear talk.vtt --json",
    ),
)
def hear(
    ctx: typer.Context,
    file: Annotated[
        Path,
        typer.Argument(metavar="FILE", help="Captions: WebVTT, SubRip, a recogniser's JSON, lines with their time."),
    ],
    release: DraftedRelease = None,
    rig: RigOption = None,
    begun: BegunOption = None,
    run: Annotated[
        str | None,
        typer.Option(
            "--run",
            metavar="RUN",
            help="A run that is there: propose what its log does not have.",
            autocompletion=complete_run,
        ),
    ] = None,
    starts: Annotated[
        str | None,
        typer.Option(metavar="TIME", help="Where on the run's time the talk begins; -1:05 if it began before."),
    ] = None,
    cut: Annotated[
        list[str] | None,
        typer.Option(metavar="AT=LENGTH", help="Real time that it leaves out, exactly: 12:30=8:00; repeatable."),
    ] = None,
    packages: Annotated[
        Path | None,
        typer.Option(
            "--packages", metavar="FILE", help="What is on it: a probe's file, or package, tab, shown name a line."
        ),
    ] = None,
    names: Annotated[
        Path | None, typer.Option("--names", metavar="FILE", help="Other programs that may be meant, in the same form.")
    ] = None,
    speech: SpeechOption = None,
    keep: Annotated[
        Path | None,
        typer.Option("--keep", metavar="FILE", help="Keep what was recognised: hearing it again takes as long."),
    ] = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Listen to what a reviewer says, and propose its log.

    It says what was stated: figures, versions, software, choices, screens, trouble, judgements; each with the words
    that it rests on and how sure it is. English and German are understood.

    With a RELEASE, what is said of it is proposed as a draft in the logbook, which “metrograph confirm” turns into a
    run; a draft is in no comparison. With --run, what the log of that run does not have yet is proposed beside it.
    """
    from metrograph.services.listening_in import BesideRun, hear, hear_beside
    from metrograph.services.seeing import Target
    from metrograph.services.talks import Talk

    environment = environment_of(ctx)
    folder = environment.folder
    refusals = {
        "a RELEASE makes a new draft, and --run adds to a run that is there; give one of them": bool(run and release),
        "--starts and --cut lay a talk on the time of a run; --run says which": not run and bool(starts or cut),
        "--keep keeps what --speech recognised; captions are kept already": bool(keep and not speech),
        "--rig and --begun are of a new draft; the run of --run has them already": bool(run and (rig or begun)),
    }
    _refuse(refusals)
    needed = release is not None or run is not None
    book = environment.logbook(logbook) if needed else environment.logbook_or_none(logbook)
    lists = packages and folder / packages, names and folder / names
    talk = Talk(folder / file, begun, *lists, speech=speech and folder / speech, keep=keep and folder / keep)
    target = None if release is None else Target(release, rig)
    if run is not None and book is not None:
        heard = hear_beside(environment, book, talk, BesideRun(run, starts, tuple(cut or ())), show_personal)
    else:
        heard = hear(environment, book, talk, target, show_personal)
    environment.give(heard.result, json)
    if heard.closing and not json:
        environment.say("")
        environment.say(heard.closing)


def _refuse(refusals: Mapping[str, bool]) -> None:
    """Says the first of some refusals that holds."""
    for why, holds in refusals.items():
        if holds:
            raise MetrographError(why)


def complete_draft(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the name of a draft."""
    from metrograph.store.local.drafts import draft_names

    try:
        names = draft_names(environment_of(ctx).logbook(ctx.params.get("logbook")))
    except (MetrographError, OSError):
        return []
    return [name for name in names if name.startswith(incomplete)]


@single(
    APPS,
    "confirm",
    epilog=examples("metrograph confirm", "metrograph confirm larkmoor-9.0-heron-1", "metrograph confirm --accept 0.9"),
)
def confirm(
    ctx: typer.Context,
    draft: Annotated[
        str | None,
        typer.Argument(
            metavar="[DRAFT]", autocompletion=complete_draft, help="May be left out where there is one only."
        ),
    ] = None,
    accept: Annotated[
        float | None,
        typer.Option("--accept", metavar="SURE", min=0, max=1, help="Take what is at least so sure, and ask nothing."),
    ] = None,
    film: Annotated[
        Path | None,
        typer.Option("--film", metavar="FILE", help="The recording that o plays; else looked for by its name."),
    ] = None,
    logbook: LogbookOption = None,
) -> None:
    """Go through a draft, and make a run of it.

    Enter takes a proposal; one key each gives it another title or kind, words it otherwise, says that it is of
    another release, joins it with the one before, says that it was no screen, plays the moment, and goes to the next
    that is unsure. What was hardly heard is shown when asked for. Every decision is kept at once. What stays
    undecided stays in the draft.
    """
    from metrograph.services.seeing import reviewed

    environment = environment_of(ctx)
    review = reviewed(environment.logbook(logbook), draft)
    bound = _ask(environment, review, film) if accept is None else accept
    if bound is None:
        environment.say(f"drafts/{review.name}.metro stays as you left it")
        return
    written, left = review.finish(bound, environment.started())
    with environment.once_written():
        environment.say(f"{review.name}  {counted(written, 'cue')} written")
        if left:
            environment.warn(f"{counted(left, 'proposal')} less sure than {bound:g} stay in drafts/{review.name}.metro")


def _ask(environment: Environment, review: Review, film: Path | None) -> float | None:
    if not environment.is_interactive():
        raise MetrographError("confirming needs a terminal; --accept 0.9 takes what is sure without asking")
    from metrograph.faces.recorder.confirm import Confirmer

    confirmer = Confirmer(review, film, environment.preferences().player)
    confirmer.run()
    if confirmer.failure is not None:
        raise confirmer.failure
    return confirmer.bound
