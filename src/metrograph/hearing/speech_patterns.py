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


class Naming(msgspec.Struct, frozen=True):
    """How the names of desktops and their versions are said, as parts of patterns.

    named: a desktop, its name in a group; before: a name that is known; to_version: between a name and its version;
    version: a version, from its figures; language: of the words, by its code of two letters.
    """

    named: re.Pattern[str]
    before: str
    to_version: str
    version: str
    language: str


class Speech(msgspec.Struct, frozen=True):
    """All that is known of how a language says things.

    values: what a word of a set is called in a statement. plain: words that are no names.
    known: words of the patterns' sets, which are no programs.
    as_english: words that tell where in the job somebody is, as those of English from which that was learnt.
    corrections: how somebody takes a figure back, as a part of a pattern.
    about: what stands before a figure that is about right. denied: before what is not so. naming: how names are said.
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
    as_english: Mapping[str, str]
    corrections: str
    about: re.Pattern[str]
    denied: re.Pattern[str]
    naming: Naming
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


_NAME = r"(?P<name>[a-z][a-z']+(?: [a-z][a-z']+)?(?: §n\d+)?)"
_MARKS = {
    "<s>": r"(?P<v>§s\d+)", "<d>": r"(?P<v>§d\d+)", "<n>": r"(?P<v>§n\d+)", "<p>": r"(?P<v>§p\d+)",
    "<name>": _NAME,
}  # fmt: skip
_NEVER = r"(?!)"
_TAUGHT = "en"
"""The language of the narrations that the weights were learnt from; a pattern of another counts as its first one."""


@cache
def speech(language: str) -> Speech:
    """How a language says things, by its code of three letters; nothing for one that has no table."""
    return speech_of(tables("statements").get(language, {}))


def speech_of(table: Mapping[str, Any]) -> Speech:
    """How a language says things, of its table."""
    software = table.get("software", {})
    behind = "|".join(software.get("version-words", ()))
    said = table.get("answers", {})
    denied_units = "|".join(software.get("no-version", ())) or _NEVER
    return Speech(
        patterns=tuple(_patterns(table)),
        values=table.get("values", {}),
        plain=frozenset(table.get("plain", ())),
        known=frozenset(word for words in table.get("sets", {}).values() for each in words for word in each.split()),
        as_english=table.get("as-english", {}),
        corrections="|".join(table.get("corrections", ())) or _NEVER,
        about=re.compile(rf"(?:{'|'.join(table.get('about', ())) or _NEVER})$"),
        denied=re.compile(rf"(?:^| )(?:{'|'.join(table.get('denied', ())) or _NEVER}) $"),
        naming=_naming(table),
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
        version_behind=re.compile(rf"(?: \.)?(?: (?:{behind})){{0,4}} {_version(table)}(?! (?:{denied_units}))"),
        fronts=table.get("fronts", {}),
        topics=tuple(map(_topic, table.get("topics", ()))),
        tried=tuple(Tried(each["key"], _any(each["words"])) for each in table.get("tried", ())),
        went=tuple((name, _any(words)) for name, words in table.get("went", {}).items()),
        questions=tuple(_questions(table)),
        answer_words=AnswerWords(*(_any(said.get(name, [])) for name in AnswerWords.__struct_fields__)),
    )


def _naming(table: Mapping[str, Any]) -> Naming:
    said, point = table.get("naming", {}), [*table.get("numbers", {}).get("point", ()), *table.get("hesitates", ())]
    between = "|".join(f"{each} " for each in point) or _NEVER
    named = "|".join(said.get("desktop", ())) or _NEVER
    return Naming(
        re.compile(rf"(?<![\w§])(?:{named})(?![\w§])"),
        rf"(?:{'|'.join(said.get('before', ())) or _NEVER})",
        rf"(?: (?:{'|'.join(said.get('to-version', ())) or _NEVER}))*",
        rf"§n\d+(?: (?:{between}){{0,2}}§n\d+){{0,3}}(?: beta)?",
        table.get("code", "en"),
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
    version = _version(table)
    taught = table.get("code", "en") == _TAUGHT
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
        for mark, pattern in (*_MARKS.items(), ("<ver>", version)):
            says = says.replace(mark, pattern)
        slots = frozenset(row.get("slots", ()))
        made.append(
            SpeechPattern(
                f"{what} {counts[what] if taught else 1}", row["kind"], row.get("key", ""), _whole(says, r"(?<![\w§])"),
                row.get("value", ""), slots, row.get("weak", False),
            )
        )  # fmt: skip
    return made


def _version(table: Mapping[str, Any]) -> str:
    """A version: a few numbers, with the words for a point between them or not."""
    point = "|".join(f"{each} " for each in table.get("numbers", {}).get("point", ())) or _NEVER
    return rf"(?P<ver>§n\d+(?: (?:{point})?§n\d+){{0,3}})"


def _whole(pattern: str, begin: str = r"(?<!\w)") -> re.Pattern[str]:
    """A pattern that finds whole words."""
    return re.compile(rf"{begin}(?:{pattern})(?!\w)")


def _any(patterns: list[str]) -> re.Pattern[str]:
    return _whole("|".join(patterns) or _NEVER)
