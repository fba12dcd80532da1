"""Readers, for whom releases are chosen: listed, and written into the settings of a logbook."""

from __future__ import annotations

import re
from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, PlainCommand, examples
from metrograph.faces.cli.reviewing.judged import names_of_readers
from metrograph.log.faults import Unreadable
from metrograph.run.readers import Reader, Wish
from metrograph.store.local.logbook import MARK, shown_path
from metrograph.store.local.readers import (
    EXPECTED_NAME,
    add_reader,
    is_reader_name,
    load_readers,
    parse_requirement,
    parse_wish,
    with_reader,
)

app = typer.Typer(
    help="Readers, for whom releases are chosen: their wishes.",
    rich_markup_mode=None, add_completion=False, invoke_without_command=True,
    epilog=examples("metrograph readers", "metrograph readers --json", "metrograph readers new hand-out"),
)  # fmt: skip
_WISH = re.compile(r"(?P<name>.+?)(?: weight (?P<weight>[0-9.]+))?(?:,? from (?P<worst>.+) to (?P<best>.+))?")
_REQUIRED_EXAMPLE, _WISH_EXAMPLE = "memory (updated) <= 1.5 GiB", "hands-on weight 3 from 20:00 to 5:00"


@app.callback()
def readers(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the readers of a logbook, or write one with new.

    A reader is somebody for whom a release is chosen. What is required must be there; wishes have weights, and say
    between what they are worth nothing and everything.
    """
    if ctx.invoked_subcommand is not None:
        return
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    found, faults = load_readers(book)
    text = (book.path / MARK).read_text("utf-8")
    environment.warn_of((*faults, *names_of_readers(environment, book, tuple(found.values()), text)))
    if json:
        environment.show_json([_document(reader) for reader in found.values()], "readers")
        return
    from metrograph.show.report.judgements import readers_report

    environment.show(readers_report(tuple(found.values())))


def _document(reader: Reader) -> dict[str, object]:
    """A reader as settings have it."""
    wishes = [
        {
            "name": wish.name, "weight": wish.weight,
            "from": wish.worst.text if wish.worst else None, "to": wish.best.text if wish.best else None,
        }
        for wish in reader.wishes
    ]  # fmt: skip
    required = [each.text for each in reader.required]
    return {
        "name": reader.name, "about": reader.about, "required": required, "wishes": wishes, "weights": reader.weights,
    }  # fmt: skip


@app.command(
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
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    if not is_reader_name(name):
        raise MetrographError(f"“{name}” is no name for a reader; expected: {EXPECTED_NAME}")
    asking = about is None and not require and not wish and environment.is_interactive()
    made = _ask(environment, name) if asking else _made(name, about or "", require or [], wish or [])
    if not made.required and not made.wishes:
        raise MetrographError("say what is required with --require, or what counts with --wish")
    for fault in names_of_readers(environment, book, (made,), with_reader(book, made)):
        told = f"{fault.message}; expected: {fault.expected}"
        if fault.level == "error":
            raise MetrographError(told)
        environment.warn(f"warning: {told}")
    add_reader(book, made)
    with environment.once_written():
        environment.say(f"{shown_path(book.path / MARK)}: the reader “{name}” is written")
        environment.say(f"  metrograph shortlist --for {name}")


def _made(name: str, about: str, required: list[str], wishes: list[str]) -> Reader:
    try:
        return Reader(name, about, tuple(map(parse_requirement, required)), tuple(map(_wish, wishes)))
    except Unreadable as wrong:
        raise MetrographError(f"“{wrong.found}”: {wrong.sentence}") from wrong


def _wish(said: str) -> Wish:
    """A wish in one line: ``hands-on weight 3 from 20:00 to 5:00``."""
    match = _WISH.fullmatch(" ".join(said.split()))
    if match is None:
        raise Unreadable("this cannot be read", said, _WISH_EXAMPLE)
    table: dict[str, object] = {"weight": float(match["weight"] or 1)}
    table |= {"from": match["worst"], "to": match["best"]} if match["worst"] else {}
    return parse_wish(match["name"], table)


def _ask(environment: Environment, name: str) -> Reader:
    """What a person at the terminal answers; what cannot be read is asked for again."""
    made = Reader(name, typer.prompt("Who is that, in a few words", default="", show_default=False))
    for question, field, read in (
        (f"Required, such as {_REQUIRED_EXAMPLE} (empty: no more)", "required", parse_requirement),
        (f"A wish, such as {_WISH_EXAMPLE} (empty: no more)", "wishes", _wish),
    ):
        while said := typer.prompt(question, default="", show_default=False).strip():
            try:
                made = msgspec.structs.replace(made, **{field: (*getattr(made, field), read(said))})
            except Unreadable as wrong:
                environment.warn(wrong.sentence)
    return made
