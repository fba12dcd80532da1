"""Cards of releases: made, listed, shown, and images held against them."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import (
    JsonOption,
    LogbookOption,
    command_app,
    complete_release,
    examples,
    whole_number,
)
from metrograph.faces.cli.preparing.cards import (
    ask,
    checked,
    list_cards,
    needs_given,
    show_card,
    versions,
    write_card,
)
from metrograph.ledgers.cards import cards_ledger
from metrograph.ledgers.claims import hold_against
from metrograph.run.cards import Release, parts_of_id
from metrograph.show.files.json import image_document
from metrograph.store.local.cards import flat, load_card, update_card
from metrograph.store.local.checksums import published_checksum, read_image
from metrograph.words.ledgers import image_sentences

app = command_app("Cards of releases: what is published; and their images.")
_STATUSES = {"test", "alpha", "beta", "candidate"}
_DAY = ["%Y-%m-%d"]
_LIFETIME = {"version", "edition", "code_name", "status", "released", "supported_until"}
_OWN = _LIFETIME | {
    "image",
    "image_size",
    "checksum",
    "claims",
    "kernel",
    "tools",
    "newest",
    "news",
}  # what the next release does not take over
_ASKED = ("distribution", "version", "edition", "code_name", "status", "released", "supported_until", "image")
Text = str | None
ReleaseId = Annotated[str, typer.Argument(metavar="ID", autocompletion=complete_release)]
SizeText = Annotated[Text, typer.Option(metavar="SIZE", help="As published: '2 GiB', '2 GB'.")]
TimeText = Annotated[Text, typer.Option(metavar="TIME", help="Such as 12:00, '25 min' or '20..25 min'.")]
Count = Annotated[int | None, typer.Option(parser=whole_number, help="How many.")]
Day = Annotated[Text, typer.Option(metavar="DATE", help="As far as known: 2026, 2026-04 or 2026-04-28.")]


@app.command(
    epilog=examples(
        "metrograph release new larkmoor-8.0-heron --released 2026-04-28 --minimum-memory '2 GiB'",
        "metrograph release new larkmoor-9.0-heron --like larkmoor-8.0-heron",
        "metrograph release new larkmoor-8.0-heron --update --image-size '2.6 GiB'",
    )
)
def new(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="ID", help="Distribution, version and edition: larkmoor-8.0-heron.")],
    like: Annotated[
        Text, typer.Option(metavar="ID", autocompletion=complete_release, help="Take over what lasts from this card.")
    ] = None,
    distribution: Annotated[Text, typer.Option(help="Its name; taken from the id unless said.")] = None,
    version: Annotated[Text, typer.Option(help="Taken from the id unless said.")] = None,
    edition: Annotated[Text, typer.Option(help="Taken from the id unless said.")] = None,
    line: Annotated[Text, typer.Option(help="What it continues, where distribution and edition do not say it.")] = None,
    code_name: Annotated[Text, typer.Option(help="The name it goes by besides its version.")] = None,
    status: Annotated[Text, typer.Option(help="test, alpha, beta, candidate or stable.")] = None,
    channel: Annotated[Text, typer.Option(help="fixed, semi-rolling or rolling.")] = None,
    released: Day = None,
    supported_until: Day = None,
    long_term: Annotated[bool | None, typer.Option(help="Whether it is one that is supported for long.")] = None,
    base: Annotated[Text, typer.Option(help="What it is built on.")] = None,
    installer: Annotated[Text, typer.Option(help="The installer and its version.")] = None,
    image: Annotated[Text, typer.Option(help="The image's file name.")] = None,
    image_size: SizeText = None,
    checksum: Annotated[Text, typer.Option(help="sha256: or sha512: and the digits.")] = None,
    source: Annotated[Text, typer.Option(help="Where the image came from.")] = None,
    architecture: Annotated[list[str] | None, typer.Option(help="Repeatable.")] = None,
    minimum_memory: SizeText = None,
    minimum_disk: SizeText = None,
    minimum_processors: Count = None,
    recommended_memory: SizeText = None,
    recommended_disk: SizeText = None,
    recommended_processors: Count = None,
    need: Annotated[
        list[str] | None,
        typer.Option(help="Needed for a purpose: 'with a desktop: memory 2 GiB, disk 20 GB'. Repeatable."),
    ] = None,
    kernel: Annotated[Text, typer.Option(help="The kernel's version.")] = None,
    desktop: Annotated[Text, typer.Option(help="The desktop and its version.")] = None,
    tool: Annotated[list[str] | None, typer.Option(help="Other software: 'Writewell 5.0'. Repeatable.")] = None,
    newest: Annotated[
        list[str] | None, typer.Option(help="The newest that there was of some: 'Writewell 5.1'. Repeatable.")
    ] = None,
    news: Annotated[list[str] | None, typer.Option(help="What is published as new. Repeatable.")] = None,
    claims_memory: SizeText = None,
    claims_disk: SizeText = None,
    claims_installation: TimeText = None,
    claims_boot: TimeText = None,
    notes: Annotated[Text, typer.Option(help="Anything else.")] = None,
    update: Annotated[bool, typer.Option("--update", help="Change a card that is there.")] = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the card of a release; --update changes one and keeps what else stands in it.

    Minimum and recommended are what it is published to need. Claims are what is published of it and can be measured:
    memory in use at rest, disk used, how long the installation and a boot take. At a terminal, without any option, it
    asks for what matters most; an empty answer leaves a thing out.
    """
    environment = environment_of(ctx)
    given: dict[str, Any] = {
        "distribution": distribution, "version": version, "edition": edition, "code_name": code_name, "status": status,
        "channel": channel, "released": released, "long_term": long_term, "base": base,
        "supported_until": supported_until, "installer": installer, "image": image,
        "checksum": checksum and checksum.lower(), "source": source, "architectures": architecture or None,
        "minimum.processors": minimum_processors, "recommended.processors": recommended_processors, "notes": notes,
        "line": line, "image_size": image_size, "minimum.memory": minimum_memory, "minimum.disk": minimum_disk,
        "recommended.memory": recommended_memory, "recommended.disk": recommended_disk,
        "kernel": kernel, "desktop": desktop, "news": news or None,
        "tools": versions("--tool", tool), "newest": versions("--newest", newest), **needs_given(need),
        "claims.memory": claims_memory, "claims.disk": claims_disk,
        "claims.installation": claims_installation, "claims.boot": claims_boot,
    }  # fmt: skip
    said = {path: value for path, value in given.items() if value is not None}
    if not update:
        earlier = flat(load_card(environment.logbook(logbook), Release, like)) if like else {}
        lasting = {path: value for path, value in earlier.items() if path.partition(".")[0] not in _OWN}
        parts = lasting | {key: value for key, value in parts_of_id(name)._asdict().items() if value}
        asked = ask(parts, _ASKED) if not said and not like and environment.is_interactive() else {}
        said = parts | said | asked
    write_card(environment, logbook, name, checked(said, Release), update)
    if not update:
        taken = {key: value for key, value in parts_of_id(name)._asdict().items() if value and said.get(key) == value}
        words = ", ".join(f"{key} {value}" for key, value in taken.items() if given.get(key) is None)
        if words:
            environment.say(f"  taken from the id: {words}")


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
    environment = environment_of(ctx)
    if len(set(names)) < 2:
        raise MetrographError("name two or more cards to compare, each once")
    book = environment.logbook(logbook)
    cards = {name: load_card(book, Release, name) for name in dict.fromkeys(names)}
    ledger = cards_ledger(dict(sorted(cards.items(), key=lambda card: card[1].released or "")))
    if json:
        environment.show_json(ledger)
        return
    from metrograph.show.report.cards import cards_report
    from metrograph.words.names import named, names_of

    common, short = names_of(ledger.releases, cards)
    environment.show(msgspec.structs.replace(cards_report(named(ledger, short)), title=common))


@app.command("list", epilog=examples("metrograph release list", "metrograph release list --json"))
def list_(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the cards of releases."""
    fields = ["distribution", "version", "edition", "status", "released"]
    list_cards(environment_of(ctx), logbook, Release, fields, json)


@app.command(epilog=examples("metrograph release show larkmoor-8.0-heron"))
def show(ctx: typer.Context, name: ReleaseId, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show the card of a release."""
    show_card(environment_of(ctx), logbook, Release, name, json)


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
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    card = load_card(book, Release, name)
    published = [card.checksum, checksums and published_checksum(checksums, file.name)]
    said = [checksum for checksum in published if checksum]
    path = environment.folder / file
    with environment.progress(f"reading {file.name}") as progress:
        image = read_image(path, {checksum.partition(":")[0] for checksum in said} or {"sha256"}, progress)
    day = on.date() if on else environment.present().wall.date()
    result = hold_against(card, image.size, image.checksums, said, day)
    if json:
        environment.show_json(image_document(result))
    else:
        for line in image_sentences(result):
            environment.say(f"{file.name}: {line}")
    if not result.is_right:
        raise typer.Exit(1)
    checksum = said[0] if said else f"sha256:{image.checksums['sha256']}"
    missing: dict[str, Any] = {"image": file.name, "image_size": image.size, "checksum": checksum}
    new = {key: value for key, value in missing.items() if getattr(card, key) is None}
    if new:
        update_card(book, name, Release(**new))
        if not json:
            environment.say(f"{name}: filled in {', '.join(new).replace('_', ' ')}")
