"""What `release` and `rig` have in common: making, changing, listing and showing cards."""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

import msgspec

from metrograph.commands.environment import Environment
from metrograph.errors import MetrographError
from metrograph.language.sizes import EXPECTED_SIZE, parse_size
from metrograph.logbook.cards import GROUPS, load_card, new_card, read_card, update_card
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

    environment.show(render_card(name, card, environment.paper()))


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


def checked(card: Card) -> Card:
    """The card, its values held against their types; raises MetrographError when one does not fit."""
    try:
        return msgspec.convert(msgspec.to_builtins(card), type(card))
    except msgspec.ValidationError as error:
        message, _, place = str(error).partition(" - at `$.")
        option = place.rstrip("`").replace("_", "-")
        raise MetrographError(f"--{option} has a wrong value: {message}") from error
