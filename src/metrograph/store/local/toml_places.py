"""Finds the lines of a TOML file on which its values stand, which the reader of the standard library does not tell."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

TomlPath = tuple[str, ...]
"""The keys that lead to a value, from the outermost table on."""

_KEY = re.compile(r"""^[ \t]*(?:"(?:[^"\\\n]|\\.)*"|'[^'\n]*'|[A-Za-z0-9_-]+|[ \t]*\.[ \t]*)+[ \t]*=""")
_INNER = re.compile(r"""[{,][ \t]*("(?:[^"\\\n]|\\.)*"|'[^'\n]*'|[A-Za-z0-9_-]+)[ \t]*=""")
_LONG = ('"' * 3, "'" * 3)


def places(text: str) -> dict[TomlPath, int]:
    """The line, from 1, of every table and of every key; of one that stands twice, the first."""
    found: dict[TomlPath, int] = {}
    table: TomlPath = ()
    for number, line in _outside_long_texts(text):
        if line.lstrip().startswith("["):
            table = _path(line.partition("#")[0] if "#" not in _quoted(line) else line) or table
            found.setdefault(table, number)
        elif key := _KEY.match(line):
            path = (*table, *_path(key[0] + "0"))
            found.setdefault(path, number)
            for inner in _INNER.finditer(line, key.end()):
                found.setdefault((*path, *_path(inner[1] + "=0")), number)
    return found


def line_of(place: Sequence[str], found: Mapping[TomlPath, int], text: str = "", value: str = "") -> int:
    """The line of a value, or else of the nearest table that it is in; 1 where even that has none.

    text, value: where the value stands in a list of texts over several lines, the file and what it is.
    """
    path = tuple(place)
    while path and path not in found:
        path = path[:-1]
    first = found.get(path, 1)
    for number, line in enumerate(text.split("\n")[first - 1 :] if value else [], first):
        if value in line:
            return number
    return first


def _outside_long_texts(text: str) -> Iterator[tuple[int, str]]:
    """The lines with their numbers, without those that lie within a text of several lines."""
    within = ""
    for number, line in enumerate(text.split("\n"), 1):
        if not within:
            yield number, line
        for quotes in (within,) if within else _LONG:
            if line.count(quotes) % 2:
                within = "" if within else quotes
                break


def _quoted(line: str) -> str:
    """What stands between quotes in a line."""
    return "".join(re.findall(r""""[^"]*"|'[^']*'""", line))


def _path(line: str) -> TomlPath:
    """The keys that a line of its own leads to; none where it cannot be read by itself."""
    import tomllib

    try:
        value: Any = tomllib.loads(line)
    except (ValueError, RecursionError):
        return ()
    path: list[str] = []
    while isinstance(value, dict | list) and value:
        if isinstance(value, list):
            value = value[0]
            continue
        key = next(iter(value))
        path.append(key)
        value = value[key]
    return tuple(path)
