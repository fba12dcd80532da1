"""What `release` and `rig` have in common: making, changing, listing and showing cards."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar

import msgspec
import typer

from metrograph.commands.environment import Environment
from metrograph.errors import MetrographError
from metrograph.language.sizes import EXPECTED_SIZE, parse_size
from metrograph.language.times import EXPECTED_TIME, parse_time
from metrograph.logbook.cards import GROUPS, card_doubts, flat, load_card, new_card, read_card, update_card
from metrograph.logbook.selection import shown_path
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Fault

Card = TypeVar("Card", Release, Rig)


def write_card(environment: Environment, logbook: Path | None, name: str, card: Card, update: bool) -> None:
    """Makes a card, or changes one that is there."""
    book = environment.logbook(logbook)
    path = update_card(book, name, card) if update else new_card(book, name, card)
    environment.say(f"{shown_path(path)} {'changed' if update else 'written'}")


def list_cards(environment: Environment, logbook: Path | None, kind: type[Card], fields: list[str], json: bool) -> None:
    """Lists all cards of a kind; those that are wrong as far as they can be read."""
    book = environment.logbook(logbook)
    faults: list[Fault] = []
    cards = {}
    for name in book.cards(GROUPS[kind]):
        path = book.card(GROUPS[kind], name)
        cards[name], wrong = read_card(path, kind, shown_path(path))
        faults += wrong
    environment.warn_of(faults)
    if json:
        environment.show_json([_document(name, card) for name, card in cards.items()])
        return
    from metrograph.views.lists import render_cards

    environment.show(render_cards(cards, fields, environment.paper()))


def show_card(environment: Environment, logbook: Path | None, kind: type[Card], name: str, json: bool) -> None:
    """Shows all that a card says."""
    card = load_card(environment.logbook(logbook), kind, name)
    if json:
        environment.show_json(_document(name, card))
        return
    from metrograph.views.lists import render_card

    environment.show(render_card(name, flat(card), environment.paper()))


def _document(name: str, card: Release | Rig) -> dict[str, object]:
    return {"id": name} | {field: getattr(card, field) for field in card.__struct_fields__}


def size_of(text: str | None, option: str) -> int | None:
    """Bytes of a size given as an option; raises MetrographError when it is none."""
    if text is None:
        return None
    size = parse_size(text)
    if size is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_SIZE}")
    return size


def seconds_of(text: str | None, option: str) -> float | None:
    """Seconds of a time given as an option; raises MetrographError when it is none."""
    milliseconds = parse_time(text) if text is not None else None
    if text is not None and milliseconds is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_TIME}")
    return None if milliseconds is None else milliseconds / 1000


def option_of(path: str) -> str:
    """The option that gives a value of a card."""
    return "--" + path.replace("_", "-").replace(".", "-")


def ask(known: dict[str, Any], keys: Sequence[str]) -> dict[str, Any]:
    """What a person at the terminal answers; what is known already is offered, an empty answer leaves a thing out."""
    answers = {}
    for key in keys:
        label = key.replace("_", " ") + (", such as 2026-04-28" if key in {"released", "supported_until"} else "")
        answers[key] = typer.prompt(label, default=str(known.get(key, "")), show_default=key in known).strip()
    return {key: answer for key, answer in answers.items() if answer}


def checked(said: dict[str, Any], kind: type[Card]) -> Card:
    """The card that says this by dotted path; raises MetrographError when values do not fit, alone or together."""
    tables: dict[str, Any] = {}
    for path, value in said.items():
        table, _, key = path.rpartition(".")
        (tables.setdefault(table, {}) if table else tables)[key] = value
    try:
        card = msgspec.convert(tables, kind)
    except msgspec.ValidationError as error:
        message, _, place = str(error).partition(" - at `$.")
        raise MetrographError(f"{option_of(place.rstrip('`'))} has a wrong value: {message}") from error
    for path, message, expected in card_doubts(card):
        raise MetrographError(f"{option_of(path)}: {message}; expected: {expected}")
    return card
