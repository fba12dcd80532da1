"""Commands for cards of releases and rigs. Their options are the fields of the cards."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Annotated, Any, TypeVar

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    JsonOption,
    LogbookOption,
    command_app,
    complete_release,
    complete_rig,
    examples,
)
from metrograph.faces.cli.record_options import with_fields
from metrograph.run.cards import Release, Rig
from metrograph.services.preparing import WrittenCard
from metrograph.store.local.logbook import shown_path

APPS: dict[str, typer.Typer] = {}
app = APPS["release"] = command_app("Cards of releases: what is published; and their images.")
rigs = APPS["rig"] = command_app("Cards of rigs: the machines releases go on.")
_DAY = ["%Y-%m-%d"]
_RELEASE_ASKED = (
    "distribution", "version", "edition", "code_name", "status", "released", "supported_until", "image",
)  # fmt: skip
_RIG_ASKED = ("kind", "model", "firmware", "processors", "memory", "disk")
ReleaseId = Annotated[str, typer.Argument(metavar="ID", autocompletion=complete_release)]
Card = TypeVar("Card", Release, Rig)
RigId = Annotated[str, typer.Argument(metavar="ID", autocompletion=complete_rig)]
UpdateOption = Annotated[bool, typer.Option("--update", help="Change a card that is there.")]


@app.command(
    epilog=examples(
        "metrograph release new larkmoor-8.0-heron --released 2026-04-28 --minimum-memory '2 GiB'",
        "metrograph release new larkmoor-9.0-heron --like larkmoor-8.0-heron",
        "metrograph release new larkmoor-8.0-heron --update --image-size '2.6 GiB'",
    )
)
@with_fields(Release)
def new(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="ID", help="Distribution, version and edition: larkmoor-8.0-heron.")],
    said: dict[str, Any],
    like: Annotated[
        str | None,
        typer.Option(metavar="ID", autocompletion=complete_release, help="Take over what lasts from this card."),
    ] = None,
    update: UpdateOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the card of a release; --update changes one and keeps what else stands in it.

    Minimum and recommended are what it is published to need. Claims are what is published of it and can be measured:
    memory in use at rest, disk used, how long the installation and a boot take. At a terminal, without any option, it
    asks for what matters most; an empty answer leaves a thing out.
    """
    from metrograph.services.preparing import change_card, read_said, write_release

    environment = environment_of(ctx)
    book, values = environment.logbook(logbook), read_said(said)
    if update:
        _tell_written(environment, change_card(book, Release, name, values), "changed")
        return
    asking = not values and not like and environment.is_interactive()
    ask = partial(_ask, keys=_RELEASE_ASKED) if asking else None
    _tell_written(environment, write_release(book, name, values, like, ask), "written")


def _tell_written(environment: Environment, card: WrittenCard, done: str) -> None:
    with environment.once_written():
        environment.say(f"{shown_path(card.path)} {done}")
        if card.taken:
            words = ", ".join(f"{key} {value}" for key, value in card.taken.items())
            environment.say(f"  taken from the id: {words}")


def _ask(known: Mapping[str, Any], keys: Sequence[str]) -> dict[str, Any]:
    """What a person at the terminal answers; what is known already is offered, an empty answer leaves a thing out."""
    answers = {}
    for key in keys:
        label = key.replace("_", " ") + (
            ", such as 2026-04-28 or 2026-04" if key in {"released", "supported_until"} else ""
        )
        answers[key] = typer.prompt(label, default=str(known.get(key, "")), show_default=key in known).strip()
    return {key: answer for key, answer in answers.items() if answer}


@app.command(
    epilog=examples(
        "metrograph release compare larkmoor-8.0-heron larkmoor-9.0-heron",
        "metrograph release compare larkmoor-8.0-heron larkmoor-8.0-wren osterby-2026.1 --json",
    )
)
def compare(
    ctx: typer.Context,
    names: Annotated[list[str], typer.Argument(metavar="A B [C...]", autocompletion=complete_release)],
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Hold cards against each other, before anything is installed.

    What is published: needs by purpose, image, base, kernel, desktop, tools, support, status, news. Oldest first.
    """
    from metrograph.services.preparing import compared_cards

    environment = environment_of(ctx)
    environment.give(compared_cards(environment.logbook(logbook), names), json)


@app.command("list", epilog=examples("metrograph release list", "metrograph release list --json"))
def list_(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the cards of releases."""
    _list(ctx, logbook, Release, json)


@app.command(epilog=examples("metrograph release show larkmoor-8.0-heron"))
def show(ctx: typer.Context, name: ReleaseId, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show the card of a release."""
    _show(ctx, logbook, Release, name, json)


def _list(ctx: typer.Context, logbook: Path | None, kind: type[Card], json: bool) -> None:
    from metrograph.services.preparing import cards_result

    environment = environment_of(ctx)
    environment.give(cards_result(environment, logbook, kind), json)


def _show(ctx: typer.Context, logbook: Path | None, kind: type[Card], name: str, json: bool) -> None:
    from metrograph.services.preparing import card_result

    environment = environment_of(ctx)
    environment.give(card_result(environment.logbook(logbook), kind, name), json)


@app.command(
    "check-image",
    epilog=examples(
        "metrograph release check-image larkmoor-8.0-heron heron.iso",
        "metrograph release check-image larkmoor-8.0-heron heron.iso --checksums SHA256SUMS",
    ),
)
def check_image(
    ctx: typer.Context,
    name: ReleaseId,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="The image.")],
    checksums: Annotated[
        Path | None, typer.Option(metavar="FILE", help="A file of checksums that came with the image.")
    ] = None,
    on: Annotated[
        datetime | None, typer.Option(formats=_DAY, metavar="DATE", help="The install day; else today.")
    ] = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Check an image against its card, and fill in what the card lacks.

    Reads the file once. Exits with 1 when its size or checksum is not what the card or the file of checksums says;
    the card stays as it is then.
    """
    from metrograph.services import preparing

    environment = environment_of(ctx)
    book, path = environment.logbook(logbook), environment.folder / file
    checked = preparing.check_image(environment, book, name, path, checksums, on.date() if on else None)
    if json:
        environment.show_json(checked.document)
    else:
        for line in checked.sentences:
            environment.say(f"{file.name}: {line}")
    if not checked.is_right:
        raise typer.Exit(1)
    if checked.filled and not json:
        environment.say(f"{name}: filled in {', '.join(checked.filled).replace('_', ' ')}")


@rigs.command(
    "new",
    epilog=examples(
        "metrograph rig new bench-vm --firmware uefi --memory '4 GiB' --disk '25 GiB'",
        "metrograph rig new loan-laptop --here",
    ),
)
@with_fields(Rig)
def new_rig(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="ID", help="A name of yours, such as bench-vm.")],
    said: dict[str, Any],
    here: Annotated[bool, typer.Option("--here", help="Fill it in from this machine.")] = False,
    update: UpdateOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the card of a rig; --update changes one and keeps what else stands in it.

    At a terminal, without any option, it asks for what matters most; an empty answer leaves a thing out.
    """
    from metrograph.services.preparing import change_card, write_rig

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    if update:
        _tell_written(environment, change_card(book, Rig, name, said, here), "changed")
        return
    if not (said or here) and environment.is_interactive():
        said = _ask({}, _RIG_ASKED)
    _tell_written(environment, write_rig(book, name, said, here), "written")


@rigs.command("list", epilog=examples("metrograph rig list", "metrograph rig list --json"))
def list_rigs(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the cards of rigs."""
    _list(ctx, logbook, Rig, json)


@rigs.command("show", epilog=examples("metrograph rig show bench-vm"))
def show_rig(ctx: typer.Context, name: RigId, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show the card of a rig."""
    _show(ctx, logbook, Rig, name, json)
