"""Reads and writes the cards of releases and rigs; what a person wrote into one, comments included, stays."""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path
from typing import Any, TypeVar, get_args, get_type_hints

import msgspec

from metrograph.errors import MetrographError
from metrograph.language.faults import Faults
from metrograph.language.sizes import EXPECTED_SIZE, format_size, parse_size
from metrograph.language.suggest import suggest
from metrograph.language.times import EXPECTED_TIME, format_time, parse_time
from metrograph.logbook.files import create, read_bytes, replace
from metrograph.logbook.folder import Logbook, unknown
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Fault

Card = TypeVar("Card", Release, Rig)

GROUPS: dict[type[Release | Rig], str] = {Release: "releases", Rig: "rigs"}
_SIZES = frozenset({"image_size", "memory", "disk"})
_DURATIONS = frozenset({"installation", "boot"})
_TYPES = {"str": "text in quotes", "int": "a whole number", "bool": "true or false", "date": "a date: 2026-04-30"}
_CHOICES = {
    "status": "test, alpha, beta, candidate or stable",
    "channel": "fixed, semi-rolling or rolling",
    "kind": "virtual or physical",
    "firmware": "uefi or bios",
    "released": _TYPES["date"],
    "supported_until": _TYPES["date"],
    "processors": "a whole number above 0",
    "architectures": 'a list: ["x86-64", "arm64"]',
    "checksum": "sha256: with 64, or sha512: with 128 hexadecimal digits",
    "minimum": "a table with memory, disk or processors",
    "recommended": "a table with memory, disk or processors",
    "claims": "a table with memory, disk, installation or boot",
}
_PLACE = re.compile(r"\(at line (\d+), column (\d+)\)")


def parse_card(text: str, kind: type[Card], file: str) -> tuple[Card, tuple[Fault, ...]]:
    """A card as far as it can be read, and its faults, each with the path to the wrong value."""
    import tomllib

    faults = Faults(file)
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        place = _PLACE.search(str(error))
        line, column = (int(place[1]), int(place[2])) if place else (text.count("\n") + 1, 1)
        faults.add(line, column, f"this is not TOML: {_PLACE.sub('', str(error)).strip()}", expected="key = value")
        return kind(), faults.in_order()
    card = kind(**_read_table(data, kind, "", text, faults))
    for key, message, expected in card_doubts(card):
        faults.add(_line_of(key, text), 1, message, expected=expected, level="doubt")
    return card, faults.in_order()


def card_doubts(card: Release | Rig) -> list[tuple[str, str, str]]:
    """What can be read but cannot be so: the key it stands at, a sentence, what could stand there."""
    if isinstance(card, Rig):
        return []
    found = []
    if card.released and card.supported_until and card.supported_until < card.released:
        message = f"support ends before the release came out on {card.released}"
        found.append(("supported_until", message, "a later day"))
    for part in ("memory", "disk", "processors"):
        least, better = (getattr(needs, part, None) for needs in (card.minimum, card.recommended))
        if least is not None and better is not None and better < least:
            found.append(
                (f"recommended.{part}", f"less {part} is recommended than is the minimum", "the minimum or more")
            )
    return found


def _read_table(
    data: Mapping[str, Any], kind: type[msgspec.Struct], path: str, text: str, faults: Faults
) -> dict[str, Any]:
    """The good values of a table; what is wrong with the others goes to the faults."""
    types = get_type_hints(kind, include_extras=True)
    good: dict[str, Any] = {}
    for key, value in data.items():
        line, full = _line_of(f"{path}{key}", text), f"{path}{key}"
        if key not in types:
            what = f"“{path.rstrip('.')}”" if path else "a card of this kind"
            faults.add(line, 1, f"{what} has no “{key}”", key, suggest(key, types))
            continue
        inner = next((each for each in get_args(types[key]) if _is_table(each)), None)
        if inner is not None and isinstance(value, dict):
            good[key] = inner(**_read_table(value, inner, f"{full}.", text, faults))
            continue
        try:
            good[key] = _convert(key, value, types[key])
        except msgspec.ValidationError as error:
            faults.add(line, 1, f"“{full}” has a wrong value", repr(value), _expected(key, str(error)))
    return good


def _is_table(kind: object) -> bool:
    return isinstance(kind, type) and issubclass(kind, msgspec.Struct)


def flat(card: msgspec.Struct, path: str = "") -> dict[str, Any]:
    """What a card says by dotted path, ``minimum.memory`` for one; what it does not say is left out."""
    found: dict[str, Any] = {}
    for key in card.__struct_fields__:
        value = getattr(card, key)
        if isinstance(value, msgspec.Struct):
            found |= flat(value, f"{path}{key}.")
        elif value is not None:
            found[f"{path}{key}"] = value
    return found


def load_card(logbook: Logbook, kind: type[Card], name: str) -> Card:
    """A card by its id; raises MetrographError when there is none, or with its first fault when it is wrong."""
    group = GROUPS[kind]
    path = logbook.card(group, name)
    word = group.removesuffix("s")
    if not path.is_file():
        raise unknown(word, name, logbook.cards(group), f"“metrograph {word} new {name}” makes its card")
    card, faults = read_card(path, kind)
    fault = next((each for each in faults if each.level == "error"), None)
    if fault is not None:
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


def load_releases(logbook: Logbook | None) -> dict[str, Release]:
    """All cards of releases that can be read; those that cannot are left to ``lint``."""
    if logbook is None:
        return {}
    return {name: read_card(logbook.card("releases", name), Release)[0] for name in logbook.cards("releases")}


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
    """What a card says by dotted path, in the form a person would write it."""
    return {path: _written(path.rpartition(".")[2], value) for path, value in flat(card).items()}


def _written(key: str, value: Any) -> Any:
    if key in _SIZES:
        return format_size(value)
    if key in _DURATIONS:
        return format_time(round(value * 1000))
    return list(value) if isinstance(value, tuple) else value


def _edited(text: str, values: Mapping[str, Any]) -> str:
    import tomlkit

    document = tomlkit.parse(text)
    for path, value in values.items():
        *tables, key = path.split(".")
        place: Any = document
        for table in tables:
            if table not in place:
                place[table] = tomlkit.table()
            place = place[table]
        place[key] = value
    return tomlkit.dumps(document)


def _convert(key: str, value: object, kind: Any) -> Any:
    if key in _SIZES and isinstance(value, str):
        value = parse_size(value)
    elif key in _DURATIONS and isinstance(value, str):
        time = parse_time(value)
        value = None if time is None else time / 1000
    if value is None:
        raise msgspec.ValidationError("not a size or a time")
    return msgspec.convert(value, kind)


def _expected(key: str, error: str) -> str:
    """What could stand there, from what the converter says."""
    if key in _SIZES:
        return EXPECTED_SIZE
    if key in _DURATIONS:
        return EXPECTED_TIME
    found = re.match(r"Expected `(.+?)`", error)
    if key in _CHOICES:
        return _CHOICES[key]
    return " or ".join(_TYPES.get(word, word) for word in found[1].split(" | ") if word != "null") if found else error


def _line_of(path: str, text: str) -> int:
    """The line on which a value stands, by its dotted path: below its table, or with it in front."""
    table, _, key = path.rpartition(".")
    start = 0
    if table:
        head = re.search(rf"^[ \t]*\[?{re.escape(table)}[ \t]*[\]=.]", text, re.MULTILINE)
        start = head.start() if head else 0
    word = rf"[\"']?{re.escape(key)}[\"']?[ \t]*[=.\]]"
    found = re.compile(rf"^[ \t]*\[?{word}|[{{,.][ \t]*{word}" if table else rf"^[ \t]*\[?{word}", re.MULTILINE).search(
        text, start
    )
    return text.count("\n", 0, found.end()) + 1 if found else text.count("\n", 0, start) + 1
