"""Commands around everything else: a logbook made, settings, readers, the demo."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, PlainCommand, examples, single
from metrograph.run.readers import Reader
from metrograph.show.charts.sheets.paper import WIDE
from metrograph.store.local.files import replace_bytes
from metrograph.store.local.logbook import MARK, Logbook, logbook_above, make_logbook, shown_path
from metrograph.store.preferences import EXPECTED, set_preference

APPS: dict[str, typer.Typer] = {}


@single(APPS, "init", epilog=examples("metrograph init", "metrograph init ~/reviews"))
def init(
    ctx: typer.Context,
    folder: Annotated[Path | None, typer.Argument(metavar="[DIR]", help="The folder; this one unless said.")] = None,
    within: Annotated[bool, typer.Option("--within", help="Also in a folder of another logbook.")] = False,
) -> None:
    """Make a logbook, a folder for cards and logs."""
    environment = environment_of(ctx)
    path = environment.folder / (folder or "")
    outer = logbook_above(path.resolve().parent)
    if outer is not None and not within and logbook_above(path) != path:
        _ask_within(environment, path, outer)
    made = make_logbook(path)
    environment.say(f"{path} is a logbook now" if made else f"{path} is a logbook already; nothing was changed")


def _ask_within(environment: Environment, path: Path, outer: Path) -> None:
    """Asks at a terminal whether a logbook within another one is meant; commands in it see that one only."""
    what = f"{path} lies in the logbook {outer}"
    if not environment.is_interactive():
        raise MetrographError(f"{what}; nothing was made. “metrograph init --within” makes one there all the same")
    if not typer.confirm(f"{what}. Make another one in it?", default=False):
        raise MetrographError("nothing was made")


@single(
    APPS,
    "settings",
    epilog=examples(
        "metrograph settings", "metrograph settings reviewer 'Wren Ashby'", "metrograph settings theme --unset"
    ),
)
def settings(
    ctx: typer.Context,
    name: Annotated[str | None, typer.Argument(metavar="[NAME]", help=f"One of {', '.join(EXPECTED)}.")] = None,
    value: Annotated[str | None, typer.Argument(metavar="[VALUE]", help="What it is set to, in all logbooks.")] = None,
    unset: Annotated[bool, typer.Option("--unset", help="Take it away again.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show your own settings and where each comes from, or set one.

    They hold in all logbooks. A logbook's metrograph.toml comes before them, and before both what a command says.
    """
    from metrograph.services.preparing import settings_result

    environment = environment_of(ctx)
    if value is not None or unset:
        if name is None or (value is not None and unset):
            raise MetrographError("say what is to be set, and to what: metrograph settings NAME VALUE")
        path = set_preference(name, value)
        environment.say(f"{path}: {name} is " + (f"“{value}”" if value is not None else "not set any more"))
        return
    environment.give(settings_result(environment, logbook, name), json)


readers_app = APPS["readers"] = typer.Typer(
    help="Readers, for whom releases are chosen: their wishes.",
    rich_markup_mode=None, add_completion=False, invoke_without_command=True,
    epilog=examples("metrograph readers", "metrograph readers --json", "metrograph readers new hand-out"),
)  # fmt: skip
_REQUIRED_EXAMPLE, _WISH_EXAMPLE = "memory (updated) <= 1.5 GiB", "hands-on weight 3 from 20:00 to 5:00"


@readers_app.callback()
def readers(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the readers of a logbook, or write one with new.

    A reader is somebody for whom a release is chosen. What is required must be there; wishes have weights, and say
    between what they are worth nothing and everything.
    """
    from metrograph.services.choosing import readers_result

    if ctx.invoked_subcommand is None:
        environment = environment_of(ctx)
        environment.give(readers_result(environment, logbook), json)


@readers_app.command(
    cls=PlainCommand,
    epilog=examples(
        "metrograph readers new hand-out",
        "metrograph readers new pupil --require 'wireless: pass' --wish printer",
        f"metrograph readers new volunteer --wish '{_WISH_EXAMPLE}'",
    ),
)
def new(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="NAME", help="A name of yours, such as hand-out.")],
    about: Annotated[str | None, typer.Option(help="Who that is, in a few words.")] = None,
    require: Annotated[
        list[str] | None, typer.Option(help="What a release must have, such as 'wireless: pass'. Repeatable.")
    ] = None,
    wish: Annotated[list[str] | None, typer.Option(help=f"What counts, such as '{_WISH_EXAMPLE}'. Repeatable.")] = None,
    logbook: LogbookOption = None,
) -> None:
    """Write a reader into metrograph.toml.

    At a terminal, without any option, it asks; an empty answer ends a list. A wish is the name of a figure, a reading
    with its state, a trial, a rating, or “carries” with software. A figure without from and to runs from the worst to
    the best of those that are compared.
    """
    from metrograph.services.choosing import made_reader, write_reader

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    asking = about is None and not require and not wish and environment.is_interactive()
    made = _ask_reader(environment, name) if asking else made_reader(name, about or "", require or [], wish or [])
    write_reader(environment, book, made)
    with environment.once_written():
        environment.say(f"{shown_path(book.path / MARK)}: the reader “{name}” is written")
        environment.say(f"  metrograph shortlist --for {name}")


def _ask_reader(environment: Environment, name: str) -> Reader:
    """What a person at the terminal answers; what cannot be read is asked for again."""
    from metrograph.services.choosing import made_reader

    about = typer.prompt("Who is that, in a few words", default="", show_default=False)
    answers: tuple[list[str], list[str]] = ([], [])
    for question, said in zip(
        (
            f"Required, such as {_REQUIRED_EXAMPLE} (empty: no more)",
            f"A wish, such as {_WISH_EXAMPLE} (empty: no more)",
        ),
        answers,
        strict=True,
    ):
        while answer := typer.prompt(question, default="", show_default=False).strip():
            try:
                made_reader(name, about, *([answer] if each is said else [] for each in answers))
            except MetrographError as error:
                environment.warn(str(error))
            else:
                said.append(answer)
    return made_reader(name, about, *answers)


_SHOWN = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")
_FILMED = "larkmoor-9.0-heron"
_BESIDE = ("larkmoor-8.0-heron", "larkmoor-9.0-beta-heron", _FILMED)


@single(
    APPS,
    "demo",
    epilog=examples("metrograph demo", "metrograph demo /tmp/workshop --force", "metrograph demo --no-scan"),
)
def demo(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to put it.")] = Path("metrograph-demo"),
    force: Annotated[bool, typer.Option("--force", help="Write over the files of an earlier demo.")] = False,
    scan: Annotated[bool, typer.Option("--scan/--no-scan", help="Go through the recording in it as well.")] = True,
) -> None:
    """Make a made-up logbook and compare three releases in it.

    One of them is taken from a recording, in front of you. That needs the extra for watching; without it,
    only releases are compared that were written down.
    """
    from metrograph.demo import copy_demo
    from metrograph.services.seeing import can_watch

    environment = environment_of(ctx)
    book = copy_demo(environment.folder / folder, force)
    where = shown_path(book.path)
    environment.say(f"{where}: a logbook with {len(book.run_names())} recorded installations, all made up")
    if scan and can_watch():
        _scan_film(environment, book, where)
        _compare(environment, book, where, _BESIDE)
        return
    if scan:
        environment.warn("to see it take a run from a recording: pip install 'metrograph[watch]'")
    _compare(environment, book, where, _SHOWN)


def _scan_film(environment: Environment, book: Logbook, where: str) -> None:
    """Goes through the film in front of the user, and takes what is sure."""
    from metrograph.demo import RECORDINGS
    from metrograph.services import seeing
    from metrograph.watch.drafts.seen import SURE

    film = book.path / RECORDINGS / f"{_FILMED}.mp4"
    captions = film.with_suffix(".vtt")
    environment.say(f"metrograph scan {shown_path(film)} {_FILMED} --rig bench-vm --captions {shown_path(captions)}")
    environment.out.flush()
    recorded = seeing.Recorded(film, begun="2026-11-14T10:02:00+00:00", captions=captions)
    seen = seeing.scan(environment, book, recorded, seeing.Target(_FILMED, "bench-vm"), show_personal=False)
    environment.print("\n")
    environment.give(seen.result)
    if seen.drafting is None:
        return
    environment.print("\n")
    environment.say(seen.drafting.heard_in_words())
    review = seeing.reviewed(book, seen.drafting.name)
    written, left = review.finish(SURE, environment.started())
    environment.print("\n")
    environment.say(f"metrograph confirm {review.name} --accept {SURE:g} --logbook {where}")
    environment.say(f"{review.name}: {written} cues written, {left} that are less sure stay in its draft")
    environment.print("\n")


def _compare(environment: Environment, book: Logbook, where: str, names: tuple[str, ...]) -> None:
    """Compares releases on the terminal and draws their timelines."""
    from metrograph.services.comparing import ComparisonRequest, comparison_of
    from metrograph.services.outward.publishing import FigureForm, figure_of

    asked = ComparisonRequest(book.path, names, show_personal=True)
    replace_bytes(book.path / "lanes.png", figure_of(environment, asked, "lanes", FigureForm(WIDE, False, "png")))
    environment.say(f"{where}/lanes.png: the same timelines as below, drawn")
    environment.say(f"metrograph compare {' '.join(names)} --logbook {where}")
    environment.print("\n")
    # In the middle of what is said a pager would be a riddle.
    unpaged = msgspec.structs.replace(environment, variables=dict(environment.variables) | {"PAGER": ""})
    unpaged.give(comparison_of(environment, asked).result)
    environment.print("\n")
    environment.say(f"Go on with: metrograph show {book.run_names()[-1]} --logbook {where}")
