"""Reads and writes the cards of releases and rigs; what a person wrote into one, comments included, stays."""

from __future__ import annotations

import re
from collections.abc import Mapping
from math import inf
from pathlib import Path
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Fault
from metrograph.log.faults import Faults, Unreadable, suggest
from metrograph.log.quantities.quantity import Quantity
from metrograph.log.quantities.times import days_of
from metrograph.run.cards import Release, Rig
from metrograph.store.ids import unknown
from metrograph.store.local.card_values import expected, value_of, written
from metrograph.store.local.files import create, read_own, replace
from metrograph.store.local.logbook import Logbook
from metrograph.store.local.toml_places import TomlPath, line_of, places

Card = TypeVar("Card", Release, Rig)

GROUPS: dict[type[Release | Rig], str] = {Release: "releases", Rig: "rigs"}
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
    except (RecursionError, ValueError):
        faults.add(1, 1, "this is nested too deeply, or holds a number with too many digits", expected="key = value")
        return kind(), faults.in_order()
    found = places(text)
    card = kind(**_read_table(data, kind, (), found, faults))
    for key, message, better in card_warnings(card):
        faults.add(line_of(key.split("."), found), 1, message, expected=better, level="warning")
    return card, faults.in_order()


def card_warnings(card: Release | Rig) -> list[tuple[str, str, str]]:
    """What can be read but cannot be so: the key it stands at, a sentence, what could stand there."""
    if isinstance(card, Rig):
        return []
    warned = []
    if card.released and card.supported_until and days_of(card.supported_until)[1] < days_of(card.released)[0]:
        message = f"support ends before the release came out on {card.released}"
        warned.append(("supported_until", message, "a later day"))
    for part in ("memory", "disk", "processors"):
        least, better = (getattr(needs, part, None) for needs in (card.minimum, card.recommended))
        if least is not None and better is not None and _most(better) < _least(least):
            message = f"less {part} is recommended than is the minimum"
            warned.append((f"recommended.{part}", message, "the minimum or more"))
    return warned


def _least(value: int | Quantity) -> float:
    return float(value) if isinstance(value, int) or value.amount is None else value.amount.low  # type: ignore[arg-type]


def _most(value: int | Quantity) -> float:
    if isinstance(value, int):
        return float(value)
    return inf if value.amount is None or value.amount.high is None else value.amount.high


_MOST_UNKNOWN = 100  # keys that are told one by one


def _read_table(
    data: Mapping[str, Any], kind: type[msgspec.Struct], path: TomlPath, found: Mapping[TomlPath, int], faults: Faults
) -> dict[str, Any]:
    """The good values of a table; what is wrong with the others goes to the faults. path: of the table."""
    types = get_type_hints(kind, include_extras=True)
    good: dict[str, Any] = {}
    _refuse_unknown([key for key in data if key not in types], types, path, found, faults)
    for key, value in data.items():
        if key not in types:
            continue
        at, full = line_of((*path, key), found), ".".join((*path, key))
        inner = next((kind for kind in get_args(types[key]) if _is_table(kind)), None)
        if inner is not None and isinstance(value, dict):
            good[key] = inner(**_read_table(value, inner, (*path, key), found, faults))
            continue
        if (named := _named_table(types[key])) is not None and isinstance(value, dict):
            good[key] = _read_named(value, named, (*path, key), found, faults)
            continue
        try:
            good[key] = value_of(value, types[key])
        except msgspec.ValidationError as error:
            faults.add(at, 1, f"“{full}” has a wrong value", repr(value), expected(key, types[key], str(error)))
        except Unreadable as wrong:
            faults.add(at, 1, f"“{full}” has a wrong value", repr(value), wrong.expected)
    return good


def _read_named(
    data: Mapping[str, Any], kind: type[msgspec.Struct], path: TomlPath, found: Mapping[TomlPath, int], faults: Faults
) -> dict[str, Any]:
    """Tables under names of a person's own, the good values of each."""
    good = {}
    for name, value in data.items():
        at = line_of((*path, name), found)
        if not isinstance(value, dict):
            faults.add(
                at, 1, f"“{'.'.join((*path, name))}” has a wrong value", repr(value), expected(path[-1], kind, "")
            )
        elif "." in name:
            faults.add(at, 1, f"“{name}” has a dot in it", name, "a name without dots")
        else:
            good[name] = kind(**_read_table(value, kind, (*path, name), found, faults))
    return good


def _named_table(hint: Any) -> type[msgspec.Struct] | None:
    """What stands under each name, where a field holds tables under names of a person's own."""
    for part in (hint, *get_args(hint)):
        if get_origin(part) is dict and _is_table(get_args(part)[1]):
            return get_args(part)[1]  # type: ignore[no-any-return]
    return None


def _refuse_unknown(
    keys: list[str], known: Mapping[str, Any], path: TomlPath, found: Mapping[TomlPath, int], faults: Faults
) -> None:
    """A fault for each key that a table has not; of very many, for the first of them."""
    what = f"“{'.'.join(path)}”" if path else "a card of this kind"
    for number, key in enumerate(keys[:_MOST_UNKNOWN], 1):
        more = f", nor {len(keys) - number} more" if number == _MOST_UNKNOWN < len(keys) else ""
        at = line_of((*path, key), found)
        faults.add(at, 1, f"{what} has no “{key}”{more}", key, suggest(key, known))


def _is_table(kind: object) -> bool:
    return isinstance(kind, type) and issubclass(kind, msgspec.Struct) and kind is not Quantity


def flat(card: msgspec.Struct, path: str = "") -> dict[str, Any]:
    """What a card says by dotted path, ``minimum.memory`` for one; what it does not say is left out."""
    values: dict[str, Any] = {}
    for key in card.__struct_fields__:
        value = getattr(card, key)
        if isinstance(value, msgspec.Struct) and not isinstance(value, Quantity):
            values |= flat(value, f"{path}{key}.")
        elif isinstance(value, dict) and any(map(_is_record, value.values())):
            for name, inner in value.items():
                values |= flat(inner, f"{path}{key}.{name}.")
        elif value is not None:
            values[f"{path}{key}"] = value
    return values


def _is_record(value: object) -> bool:
    return isinstance(value, msgspec.Struct) and not isinstance(value, Quantity)


def load_card(logbook: Logbook, kind: type[Card], name: str) -> Card:
    """A card by its id; raises MetrographError when there is none, or with its first fault when it is wrong."""
    group = GROUPS[kind]
    path = logbook.card(group, name)
    word = group.removesuffix("s")
    if not path.is_file():
        raise unknown(word, name, logbook.card_names(group), f"“metrograph {word} new {name}” makes its card")
    card, faults = read_card(path, kind)
    fault = next((fault for fault in faults if fault.level == "error"), None)
    if fault is not None:
        expected = f"; expected: {fault.expected}" if fault.expected else ""
        raise MetrographError(f"{path}:{fault.line}: {fault.message}: {fault.found}{expected}")
    return card


def read_card(path: Path, kind: type[Card], file: str | None = None) -> tuple[Card, tuple[Fault, ...]]:
    """A card from its file, as far as it can be read, and its faults."""
    try:
        text = read_own(path, "card").decode()
    except UnicodeDecodeError:
        message = "this file is not UTF-8; save it anew in that encoding"
        return kind(), (Fault(file or str(path), 1, 1, "error", message, expected="UTF-8 text"),)
    return parse_card(text, kind, file or str(path))


def load_rigs(logbook: Logbook | None) -> dict[str, Rig]:
    """All cards of rigs that can be read; those that cannot are left to ``lint``."""
    if logbook is None:
        return {}
    return {name: read_card(logbook.card("rigs", name), Rig)[0] for name in logbook.card_names("rigs")}


def load_releases(logbook: Logbook | None) -> dict[str, Release]:
    """All cards of releases that can be read; those that cannot are left to ``lint``."""
    if logbook is None:
        return {}
    return {name: read_card(logbook.card("releases", name), Release)[0] for name in logbook.card_names("releases")}


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
    replace(path, _edited(read_own(path, "card").decode(), _given(card)))
    return path


def _given(card: Release | Rig) -> dict[str, Any]:
    """What a card says by dotted path, in the form a person would write it."""
    return {path: written(value, hint_of(type(card), path)) for path, value in flat(card).items()}


def hint_of(kind: type[msgspec.Struct], path: str) -> Any:
    """The type of a value of a card, by its dotted path; raises KeyError when there is no such value."""
    table, _, key = path.partition(".")
    hint = get_type_hints(kind, include_extras=True)[table]
    inner = next((part for part in get_args(hint) if _is_table(part)), None)
    if key and (named := _named_table(hint)) is not None:
        inner, key = named, key.partition(".")[2]
    return hint_of(inner, key) if key and inner is not None else hint


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
        if isinstance(value, dict) and key in place:
            place[key].update(value)  # what is not given of it stays
        else:
            place[key] = value
    return tomlkit.dumps(document)
