"""Reads the patterns of a language: what is stated where they are found, and what speaks against it around them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
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


class FigureTopic(msgspec.Struct, frozen=True):
    """What a figure may be of.

    of: the marks of figures that it may be. usual: the least and the most that it usually is, in bytes, seconds, or a
    count. slots: where in the job it is usually said. words: that speak of it, apart from the figure.
    """

    kind: str
    key: str
    of: str
    usual: tuple[float, float]
    slots: frozenset[str]
    words: re.Pattern[str]


class Tried(msgspec.Struct, frozen=True):
    """Something that is tried. words: that speak of it."""

    key: str
    words: re.Pattern[str]


class InstallerQuestion(msgspec.Struct, frozen=True):
    """Something that an installer asks.

    asks: the words of it; values: those of its answers, None where it is on or off; off: what that is called.
    """

    key: str
    asks: re.Pattern[str]
    values: re.Pattern[str] | None
    off: str


class AnswerWords(msgspec.Struct, frozen=True):
    """How somebody says that an answer was left as it stood, was chosen, is on or off."""

    kept: re.Pattern[str]
    chosen: re.Pattern[str]
    on: re.Pattern[str]
    off: re.Pattern[str]


class Speech(msgspec.Struct, frozen=True):
    """All that is known of how a language says things.

    values: what a word of a set is called in a statement. plain: words that are no names.
    known: words of the patterns' sets, which are no programs. desktops: names of desktops.
    others: what names another release, its version in ``other``, and in ``then`` what goes on about that one.
    compared: what names a release that this one is held against. earlier: what says that it is of one before.
    against: what speaks against a statement, by the name of its kind.
    favour: what speaks for one, by the same.
    lacks_before, lacks_after, neither, version_behind: signs around the name of a program; lacks_unlisted: before one
    that is not on the machine, where that is known. purposes: what programs are for.
    fronts: the screen in front when a part of the job begins. questions, answer_words: of an installer and to it.
    """

    patterns: tuple[SpeechPattern, ...]
    values: Mapping[str, str]
    plain: frozenset[str]
    known: frozenset[str]
    desktops: frozenset[str]
    others: tuple[re.Pattern[str], ...]
    compared: tuple[re.Pattern[str], ...]
    earlier: re.Pattern[str]
    against: Mapping[str, re.Pattern[str]]
    favour: Mapping[str, re.Pattern[str]]
    lacks_before: re.Pattern[str]
    lacks_unlisted: re.Pattern[str]
    lacks_after: re.Pattern[str]
    purposes: re.Pattern[str]
    neither: Mapping[str, re.Pattern[str]]
    version_behind: re.Pattern[str]
    fronts: Mapping[str, str]
    topics: tuple[FigureTopic, ...]
    tried: tuple[Tried, ...]
    went: tuple[tuple[str, re.Pattern[str]], ...]
    questions: tuple[InstallerQuestion, ...]
    answer_words: AnswerWords


_VERSION = r"(?P<ver>§n\d+(?: (?:point |dot )?§n\d+){0,3})"
_NAME = r"(?P<name>[a-z][a-z']+(?: [a-z][a-z']+)?(?: §n\d+)?)"
_MARKS = {
    "<s>": r"(?P<v>§s\d+)", "<d>": r"(?P<v>§d\d+)", "<n>": r"(?P<v>§n\d+)", "<p>": r"(?P<v>§p\d+)",
    "<name>": _NAME, "<ver>": _VERSION,
}  # fmt: skip
_NEVER = r"(?!)"


@cache
def speech(language: str) -> Speech:
    """How a language says things, by its code of three letters; nothing for one that has no table."""
    return speech_of(tables("statements").get(language, {}))


def speech_of(table: Mapping[str, Any]) -> Speech:
    """How a language says things, of its table."""
    software = table.get("software", {})
    behind = "|".join(software.get("version-words", ()))
    said = table.get("answers", {})
    return Speech(
        patterns=tuple(_patterns(table)),
        values=table.get("values", {}),
        plain=frozenset(table.get("plain", ())),
        known=frozenset(word for words in table.get("sets", {}).values() for each in words for word in each.split()),
        desktops=frozenset(table.get("desktops", ())),
        others=tuple(map(_whole, table.get("others", ()))),
        compared=tuple(map(_whole, table.get("compared", ()))),
        earlier=_any(table.get("earlier", [])),
        against={name: _any(words) for name, words in table.get("against", {}).items()},
        favour={name: _any(words) for name, words in table.get("favour", {}).items()},
        lacks_before=re.compile(rf"(?<!\w)(?:{'|'.join(software.get('lacks-before', ())) or _NEVER})$"),
        lacks_unlisted=re.compile(rf"(?<!\w)(?:{'|'.join(software.get('lacks-before-unlisted', ())) or _NEVER})$"),
        purposes=_any(software.get("purposes", [])),
        lacks_after=re.compile(rf"\s*(?:{'|'.join(software.get('lacks-after', ())) or _NEVER})(?!\w)"),
        neither={name: _any(words) for name, words in software.get("neither", {}).items()},
        version_behind=re.compile(rf"(?: \.)?(?: (?:{behind})){{0,4}} {_VERSION}(?! (?:of|and a))"),
        fronts=table.get("fronts", {}),
        topics=tuple(map(_topic, table.get("topics", ()))),
        tried=tuple(Tried(each["key"], _any(each["words"])) for each in table.get("tried", ())),
        went=tuple((name, _any(words)) for name, words in table.get("went", {}).items()),
        questions=tuple(_questions(table)),
        answer_words=AnswerWords(*(_any(said.get(name, [])) for name in AnswerWords.__struct_fields__)),
    )


def _topic(row: Mapping[str, Any]) -> FigureTopic:
    low, high = row["usual"]
    return FigureTopic(row["kind"], row["key"], row["of"], (low, high), frozenset(row["slots"]), _any(row["words"]))


def _questions(table: Mapping[str, Any]) -> Iterator[InstallerQuestion]:
    for row in table.get("questions", ()):
        values = [re.escape(each) for name in row.get("sets", ()) for each in table["sets"][name]]
        values += row.get("values", [])
        values.sort(key=len, reverse=True)
        yield InstallerQuestion(row["key"], _any(row["asks"]), _any(values) if values else None, row.get("off", "off"))


def _patterns(table: Mapping[str, Any]) -> list[SpeechPattern]:
    sets = {name: "|".join(sorted(map(re.escape, words), key=len, reverse=True)) for name, words
            in table.get("sets", {}).items()}  # fmt: skip
    phrases = table.get("phrases", {})
    counts: dict[str, int] = {}
    made = []
    for row in table.get("rules", ()):
        what = f"{row['kind']} {row.get('key', '')}".strip()
        counts[what] = counts.get(what, 0) + 1
        says = row["says"]
        for name, words in sets.items():
            says = says.replace(f"<{name}>", f"(?:{words})").replace(f"<={name}>", f"(?P<t>{words})")
        for name, phrase in phrases.items():
            says = says.replace(f"<{name}>", f"(?:{phrase})")
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
