"""Reads and writes the cards of releases and rigs; what a person wrote into one, comments included, stays."""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path
from typing import Any, TypeVar, get_type_hints

import msgspec

from metrograph.errors import MetrographError
from metrograph.language.faults import Faults
from metrograph.language.sizes import EXPECTED_SIZE, format_size, parse_size
from metrograph.language.suggest import suggest
from metrograph.logbook.files import create, read_bytes, replace
from metrograph.logbook.folder import Logbook, unknown
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Fault

Card = TypeVar("Card", Release, Rig)

GROUPS: dict[type[Release | Rig], str] = {Release: "releases", Rig: "rigs"}
_SIZES = frozenset({"image_size", "memory", "disk"})
_TYPES = {"str": "text in quotes", "int": "a whole number", "bool": "true or false", "date": "a date: 2026-04-30"}
_CHOICES = {
    "status": "test, alpha, beta, candidate or stable",
    "channel": "fixed, semi-rolling or rolling",
    "kind": "virtual or physical",
    "firmware": "uefi or bios",
    "released": _TYPES["date"],
    "supported_until": _TYPES["date"],
    "processors": "a whole number above 0",
}
_PLACE = re.compile(r"\(at line (\d+), column (\d+)\)")


def parse_card(text: str, kind: type[Card], file: str) -> tuple[Card, tuple[Fault, ...]]:
    """A card as far as it can be read, and its faults."""
    import tomllib

    faults = Faults(file)
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        place = _PLACE.search(str(error))
        line, column = (int(place[1]), int(place[2])) if place else (text.count("\n") + 1, 1)
        faults.add(line, column, f"this is not TOML: {_PLACE.sub('', str(error)).strip()}", expected="key = value")
        return kind(), faults.in_order()
    types = get_type_hints(kind, include_extras=True)
    good: dict[str, Any] = {}
    for key, value in data.items():
        line = _line_of(key, text)
        if key not in types:
            faults.add(line, 1, f"a card of this kind has no “{key}”", key, suggest(key, types))
            continue
        try:
            good[key] = _convert(key, value, types[key])
        except msgspec.ValidationError as error:
            faults.add(line, 1, f"“{key}” has a wrong value", repr(value), _expected(key, str(error)))
    return kind(**good), faults.in_order()


def load_card(logbook: Logbook, kind: type[Card], name: str) -> Card:
    """A card by its id; raises MetrographError when there is none, or with its first fault when it is wrong."""
    group = GROUPS[kind]
    path = logbook.card(group, name)
    word = group.removesuffix("s")
    if not path.is_file():
        raise unknown(word, name, logbook.cards(group), f"“metrograph {word} new {name}” makes its card")
    card, faults = read_card(path, kind)
    if faults:
        fault = faults[0]
        expected = f"; expected: {fault.expected}" if fault.expected else ""
        raise MetrographError(f"{path}:{fault.line}: {fault.message}: {fault.found}{expected}")
    return card


def read_card(path: Path, kind: type[Card], file: str | None = None) -> tuple[Card, tuple[Fault, ...]]:
    """A card from its file, as far as it can be read, and its faults."""
    try:
        text = read_bytes(path, "card").decode()
    except UnicodeDecodeError:
        message = "this file is not UTF-8; save it anew in that encoding"
        return kind(), (Fault(file or str(path), 1, 1, "error", message, expected="UTF-8 text"),)
    return parse_card(text, kind, file or str(path))


def load_rigs(logbook: Logbook | None) -> dict[str, Rig]:
    """All cards of rigs that can be read; those that cannot are left to ``lint``."""
    if logbook is None:
        return {}
    return {name: read_card(logbook.card("rigs", name), Rig)[0] for name in logbook.cards("rigs")}


def new_card(logbook: Logbook, name: str, card: Release | Rig) -> Path:
    """Writes a card that is not there yet; raises MetrographError when it is."""
    path = logbook.card(GROUPS[type(card)], name)
    if not create(path, _edited("", _given(card))):
        raise MetrographError(f"{path} is there already; --update changes what you give and keeps the rest")
    return path


def update_card(logbook: Logbook, name: str, card: Card) -> Path:
    """Writes what this card says into the one that is there; everything else in the file stays, comments included."""
    load_card(logbook, type(card), name)
    path = logbook.card(GROUPS[type(card)], name)
    replace(path, _edited(path.read_text("utf-8"), _given(card)))
    return path


def _given(card: Release | Rig) -> dict[str, Any]:
    """What a card says, in the form a person would write it."""
    given = {key: getattr(card, key) for key in card.__struct_fields__ if getattr(card, key) is not None}
    return {key: format_size(value) if key in _SIZES else value for key, value in given.items()}


def _edited(text: str, values: Mapping[str, Any]) -> str:
    import tomlkit

    document = tomlkit.parse(text)
    for key, value in values.items():
        document[key] = value
    return tomlkit.dumps(document)


def _convert(key: str, value: object, kind: Any) -> Any:
    if key in _SIZES and isinstance(value, str):
        size = parse_size(value)
        if size is None:
            raise msgspec.ValidationError("not a size")
        return size
    return msgspec.convert(value, kind)


def _expected(key: str, error: str) -> str:
    """What could stand there, from what the converter says."""
    if key in _SIZES:
        return EXPECTED_SIZE
    found = re.match(r"Expected `(.+?)`", error)
    if key in _CHOICES:
        return _CHOICES[key]
    return " or ".join(_TYPES.get(word, word) for word in found[1].split(" | ") if word != "null") if found else error


def _line_of(key: str, text: str) -> int:
    found = re.search(rf"^[ \t]*\[?[\"']?{re.escape(key)}[\"']?[ \t]*[=.\]]", text, re.MULTILINE)
    return text.count("\n", 0, found.start()) + 1 if found else 1
