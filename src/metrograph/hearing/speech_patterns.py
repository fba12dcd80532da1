"""Reads the patterns of a language: what is stated where they are found, and what speaks against it around them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache
from typing import Any

import msgspec

from metrograph.languages.language_tables import tables


class SpeechPattern(msgspec.Struct, frozen=True):
    """A pattern of a language.

    name: what it is known by among the clues. kind, key, value: of what is stated; see docs/hearing.md.
    slots: where in the job alone it says so; anywhere where there are none.
    weak: whether another pattern goes before it where both say the same.
    """

    name: str
    kind: str
    key: str
    says: re.Pattern[str]
    value: str = ""
    slots: frozenset[str] = frozenset()
    weak: bool = False


class Speech(msgspec.Struct, frozen=True):
    """All that is known of how a language says things.

    values: what a word of a set is called in a statement. plain: words that are no names.
    others: what says that it is of another release. against: what speaks against a statement, by the name of its kind.
    software: signs around a program's name. fronts: the screen in front when a part of the job begins.
    """

    patterns: tuple[SpeechPattern, ...]
    values: Mapping[str, str]
    plain: frozenset[str]
    others: tuple[re.Pattern[str], ...]
    against: Mapping[str, re.Pattern[str]]
    lacks_before: re.Pattern[str]
    lacks_after: re.Pattern[str]
    neither: Mapping[str, re.Pattern[str]]
    version_behind: re.Pattern[str]
    fronts: Mapping[str, str]


_MARKS = {"<s>": r"(?P<v>§s\d+)", "<d>": r"(?P<v>§d\d+)", "<n>": r"(?P<v>§n\d+)", "<p>": r"(?P<v>§p\d+)"}
_VERSION = r"(?P<ver>§n\d+(?: (?:point |dot )?§n\d+){0,3})"
_NEVER = r"(?!)"


@cache
def speech(language: str) -> Speech:
    """How a language says things, by its code of three letters; nothing for one that has no table."""
    table = tables("statements").get(language, {})
    software = table.get("software", {})
    behind = "|".join(software.get("version-words", ()))
    return Speech(
        patterns=tuple(_patterns(table)),
        values=table.get("values", {}),
        plain=frozenset(table.get("plain", ())),
        others=tuple(_whole(each) for each in table.get("others", ())),
        against={name: _any(words) for name, words in table.get("against", {}).items()},
        lacks_before=re.compile(rf"(?<!\w)(?:{'|'.join(software.get('lacks-before', ())) or _NEVER})$"),
        lacks_after=re.compile(rf"\s*(?:{'|'.join(software.get('lacks-after', ())) or _NEVER})(?!\w)"),
        neither={name: _any(words) for name, words in software.get("neither", {}).items()},
        version_behind=re.compile(rf"(?: \.)?(?: (?:{behind})){{0,4}} {_VERSION}(?! (?:of|and a))"),
        fronts=table.get("fronts", {}),
    )


def _patterns(table: Mapping[str, Any]) -> list[SpeechPattern]:
    sets = {name: "|".join(sorted(map(re.escape, words), key=len, reverse=True)) for name, words
            in table.get("sets", {}).items()}  # fmt: skip
    counts: dict[str, int] = {}
    made = []
    for row in table.get("rules", ()):
        what = f"{row['kind']} {row.get('key', '')}".strip()
        counts[what] = counts.get(what, 0) + 1
        says = row["says"]
        for name, words in sets.items():
            says = says.replace(f"<{name}>", f"(?:{words})").replace(f"<={name}>", f"(?P<t>{words})")
        for mark, pattern in _MARKS.items():
            says = says.replace(mark, pattern)
        slots = frozenset(row.get("slots", ()))
        made.append(
            SpeechPattern(
                f"{what} {counts[what]}", row["kind"], row.get("key", ""), _whole(says, r"(?<![\w§])"),
                row.get("value", ""), slots, row.get("weak", False),
            )
        )  # fmt: skip
    return made


def _whole(pattern: str, begin: str = r"(?<!\w)") -> re.Pattern[str]:
    """A pattern that finds whole words; tables are read in small letters, which names of groups are not written in."""
    return re.compile(rf"{begin}(?:{pattern.replace('(?p<', '(?P<')})(?!\w)")


def _any(patterns: list[str]) -> re.Pattern[str]:
    return _whole("|".join(patterns) or _NEVER)
