"""Cards of releases."""

from __future__ import annotations

import re
from datetime import datetime
from typing import Annotated, Any

import typer

from metrograph.commands.cards import checked, list_cards, show_card, size_of, write_card
from metrograph.commands.environment import (
    JsonOption,
    LogbookOption,
    command_app,
    complete_release,
    environment_of,
    examples,
)
from metrograph.model.cards import Release

app = command_app("Cards of releases: what is published about each.")
_STATUSES = {"test", "alpha", "beta", "candidate"}
_DAY = ["%Y-%m-%d"]
Text = str | None
ReleaseId = Annotated[str, typer.Argument(metavar="ID", autocompletion=complete_release)]


@app.command(
    epilog=examples(
        "metrograph release new larkmoor-8.0-heron --released 2026-04-28",
        "metrograph release new larkmoor-8.0-heron --update --image-size '2.6 GiB'",
    )
)
def new(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="ID", help="Distribution, version and edition: larkmoor-8.0-heron.")],
    distribution: Annotated[Text, typer.Option(help="Its name; taken from the id unless said.")] = None,
    version: Annotated[Text, typer.Option(help="Taken from the id unless said.")] = None,
    edition: Annotated[Text, typer.Option(help="Taken from the id unless said.")] = None,
    code_name: Annotated[Text, typer.Option(help="The name it goes by besides its version.")] = None,
    status: Annotated[Text, typer.Option(help="test, alpha, beta, candidate or stable.")] = None,
    channel: Annotated[Text, typer.Option(help="fixed, semi-rolling or rolling.")] = None,
    released: Annotated[datetime | None, typer.Option(formats=_DAY, help="The day it came out.")] = None,
    supported_until: Annotated[datetime | None, typer.Option(formats=_DAY, help="The last day of support.")] = None,
    base: Annotated[Text, typer.Option(help="What it is built on.")] = None,
    installer: Annotated[Text, typer.Option(help="The installer and its version.")] = None,
    image: Annotated[Text, typer.Option(help="The image's file name.")] = None,
    image_size: Annotated[Text, typer.Option(help="The image's size, such as '2.6 GiB'.")] = None,
    notes: Annotated[Text, typer.Option(help="Anything else.")] = None,
    update: Annotated[bool, typer.Option("--update", help="Change a card that is there.")] = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the card of a release; --update changes one and keeps what else stands in it."""
    given: dict[str, Any] = {
        "distribution": distribution, "version": version, "edition": edition, "code_name": code_name, "status": status,
        "channel": channel, "released": released.date() if released else None, "base": base, "installer": installer,
        "supported_until": supported_until.date() if supported_until else None, "image": image, "notes": notes,
        "image_size": size_of(image_size, "--image-size"),
    }  # fmt: skip
    said = {key: value for key, value in given.items() if value is not None}
    card = checked(Release(**said if update else parts_of_id(name) | said))
    write_card(environment_of(ctx), logbook, name, card, update)


@app.command("list", epilog=examples("metrograph release list", "metrograph release list --json"))
def list_(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the cards of releases."""
    fields = ["distribution", "version", "edition", "status", "released"]
    list_cards(environment_of(ctx), logbook, Release, fields, json)


@app.command(epilog=examples("metrograph release show larkmoor-8.0-heron"))
def show(ctx: typer.Context, name: ReleaseId, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show the card of a release."""
    show_card(environment_of(ctx), logbook, Release, name, json)


def parts_of_id(name: str) -> dict[str, str]:
    """What an id says by itself: ``larkmoor-9.0-beta-heron`` is Larkmoor 9.0, a beta, edition Heron."""
    found = re.fullmatch(r"([a-z][a-z0-9._-]*?)-(\d[\d.]*)(?:-(.+))?", name)
    if not found:
        return {}
    words = (found[3] or "").split("-")
    edition = " ".join(word.capitalize() for word in words if word and word not in _STATUSES)
    parts = {"distribution": found[1].capitalize(), "version": found[2], "edition": edition}
    parts["status"] = next((word for word in words if word in _STATUSES), "")
    return {key: value for key, value in parts.items() if value}
