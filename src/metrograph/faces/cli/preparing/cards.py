"""What `release` and `rig` have in common: making, changing, listing and showing cards."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment
from metrograph.log.cues import Fault
from metrograph.log.faults import Unreadable
from metrograph.run.cards import Needs, Release, Rig
from metrograph.store.local.card_values import expected, value_of
from metrograph.store.local.cards import (
    GROUPS,
    card_warnings,
    flat,
    hint_of,
    load_card,
    new_card,
    read_card,
    update_card,
)
from metrograph.store.local.logbook import shown_path

Card = TypeVar("Card", Release, Rig)


def write_card(environment: Environment, logbook: Path | None, name: str, card: Card, update: bool) -> None:
    """Makes a card, or changes one that is there."""
    book = environment.logbook(logbook)
    path = update_card(book, name, card) if update else new_card(book, name, card)
    with environment.once_written():
        environment.say(f"{shown_path(path)} {'changed' if update else 'written'}")


def list_cards(environment: Environment, logbook: Path | None, kind: type[Card], fields: list[str], json: bool) -> None:
    """Lists all cards of a kind; those that are wrong as far as they can be read."""
    book = environment.logbook(logbook)
    faults: list[Fault] = []
    cards = {}
    for name in book.card_names(GROUPS[kind]):
        path = book.card(GROUPS[kind], name)
        cards[name], wrong = read_card(path, kind, shown_path(path))
        faults += wrong
    environment.warn_of(faults)
    if json:
        environment.show_json([_document(name, card) for name, card in cards.items()], "cards")
        return
    from metrograph.show.report.lists import cards_report

    environment.show(cards_report(cards, fields))


def show_card(environment: Environment, logbook: Path | None, kind: type[Card], name: str, json: bool) -> None:
    """Shows all that a card says."""
    card = load_card(environment.logbook(logbook), kind, name)
    if json:
        environment.show_json(_document(name, card))
        return
    from metrograph.show.report.lists import card_report

    environment.show(card_report(name, flat(card)))


def _document(name: str, card: Release | Rig) -> dict[str, object]:
    return {"id": name} | {field: getattr(card, field) for field in card.__struct_fields__}


def option_of(path: str) -> str:
    """The option that gives a value of a card."""
    return "--" + path.replace("_", "-").replace(".", "-")


def ask(known: dict[str, Any], keys: Sequence[str]) -> dict[str, Any]:
    """What a person at the terminal answers; what is known already is offered, an empty answer leaves a thing out."""
    answers = {}
    for key in keys:
        label = key.replace("_", " ") + (
            ", such as 2026-04-28 or 2026-04" if key in {"released", "supported_until"} else ""
        )
        answers[key] = typer.prompt(label, default=str(known.get(key, "")), show_default=key in known).strip()
    return {key: answer for key, answer in answers.items() if answer}


def versions(option: str, said: Sequence[str] | None) -> dict[str, str] | None:
    """Software with its version, from what was said of each: ``Writewell 5.0``."""
    if not said:
        return None
    found = {}
    for each in said:
        name, _, version = " ".join(each.split()).rpartition(" ")
        if not name:
            raise MetrographError(f"{option} “{each}” has a wrong value; expected: a name and a version: Writewell 5.0")
        found[name] = version
    return found


def needs_given(said: Sequence[str] | None) -> dict[str, str]:
    """What is needed by purpose, by dotted path: ``with a desktop: memory 2 GiB, disk 20 GB``."""
    found: dict[str, str] = {}
    for each in said or ():
        purpose, colon, parts = " ".join(each.split()).partition(": ")
        pairs = [part.strip().partition(" ") for part in parts.split(",")]
        if not colon or "." in purpose or not all(value for _, _, value in pairs):
            expected_ = "'with a desktop: memory 2 GiB, disk 20 GB, processors 2, display 1024x768'"
            raise MetrographError(f"--need “{each}” has a wrong value; expected: {expected_}")
        found |= {f"needs.{purpose}.{part}": value for part, _, value in pairs}
    return found


def checked(given: dict[str, Any], kind: type[Card]) -> Card:
    """The card that says this by dotted path; raises MetrographError when values do not fit, alone or together.

    given: values of a card, or what a person wrote for them.
    """
    tables: dict[str, Any] = {}
    for path, value in given.items():
        *outer, key = path.split(".")
        inner = tables
        for table in outer:
            inner = inner.setdefault(table, {})
        inner[key] = _value(path, value, kind)
    try:
        card = msgspec.convert(tables, kind)
    except msgspec.ValidationError as error:
        place = str(error).partition(" - at `$.")[2].rstrip("`")
        raise MetrographError(_refusal(place, given.get(place), kind)) from error
    for path, message, wanted in card_warnings(card):
        raise MetrographError(f"{option_of(path)}: {message}; expected: {wanted}")
    return card


def _refusal(path: str, value: Any, kind: type[Card]) -> str:
    wanted = expected(path.rpartition(".")[2], hint_of(kind, path), "another value")
    return f"{option_of(path)} “{value}” has a wrong value; expected: {wanted}"


def _value(path: str, value: Any, kind: type[Card]) -> Any:
    try:
        hint = hint_of(kind, path)
    except KeyError as error:
        known = ", ".join(Needs.__struct_fields__)
        raise MetrographError(f"nothing is needed of “{path.rpartition('.')[2]}”; expected: {known}") from error
    if path.endswith(".processors") and isinstance(value, str) and value.isdecimal():
        value = int(value)
    try:
        return value_of(value, hint)
    except msgspec.ValidationError as error:
        raise MetrographError(_refusal(path, value, kind)) from error
    except Unreadable as wrong:
        raise MetrographError(f"{option_of(path)} “{value}”: {wrong.sentence}") from wrong
