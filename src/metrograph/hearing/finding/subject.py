"""Finds what a talk is about: the system and its version, the desktop and its version, by how names are said."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from collections.abc import Set as AbstractSet

import msgspec

from metrograph.hearing.speech_patterns import Speech
from metrograph.hearing.stream.line_of_words import LineOfWords
from metrograph.hearing.stream.programs import is_everyday

_OPENING = 90.0  # seconds in which somebody says what it is about
_ALWAYS = 0.8  # of the times that a name is said
_FEW = frozenset({"0", "1", "2"})
"""Numbers that are said of anything."""
_BEGIN, _NAME, _END = r"(?<![\w§])", r"[^\W\d_]{4,}", r"(?![\w§])"


class SaidName(msgspec.Struct, frozen=True):
    """A name that was said. version: said with it, or empty; start, end: where; sign: by what it is known."""

    name: str
    version: str
    start: int
    end: int
    sign: str


def find_system(line: LineOfWords, speech: Speech) -> SaidName | None:
    """The system that somebody begins with: of names that are said with a number, one that is said so often."""
    found = list(re.finditer(rf"{_BEGIN}({_NAME}) (§n\d+){_END}", line.line))
    pairs = [match for match in found if match[1] not in speech.plain]
    names = [match[1] for match in pairs]
    begin = line.until(_OPENING)
    opening = [match for match in pairs if match.start() < begin]
    telling = [match for match in opening if line.version(match[2]) not in _FEW] or opening
    best = next((match for match in telling if names.count(match[1]) > 1), telling[0] if telling else None)
    if best is None:
        return None
    return SaidName(
        _whole_name(line.line, best[1], speech.naming.language), line.version(best[2]), *best.span(), "system"
    )


def _whole_name(line: str, name: str, language: str) -> str:
    """A name with the word that always stands before it: recognisers write one that they don't know as two."""
    before = Counter(re.findall(rf"{_BEGIN}(\w+) {re.escape(name)}(?!\w)", line))
    (word, count), *_ = before.most_common(1) or [("", 0)]
    joined = count > 1 and count >= _ALWAYS * sum(before.values()) and not is_everyday(word, language)
    return f"{word} {name}" if joined else name


def find_desktops(
    line: LineOfWords, speech: Speech, plain: AbstractSet[str], known: AbstractSet[str] = frozenset()
) -> Iterator[SaidName]:
    """The desktops that are named, alone and with their versions.

    plain: words that are no names here; known: names that may be one without more.
    """
    naming = speech.naming
    named = {name for match in naming.named.finditer(line.line) for name in match.groups() if name}
    # Who talks of a desktop's version has said its name before, or says it again.
    with_version = {match[1] for match in re.finditer(rf"{_BEGIN}({_NAME})(?:'s)?(?: at)? §n\d+{_END}", line.line)}
    often = {name for name in with_version if len(re.findall(rf"{_BEGIN}{re.escape(name)}(?!\w)", line.line)) > 1}
    names = {name for name in named | often | known if name not in plain and not is_everyday(name, naming.language)}
    for name in sorted(names):
        is_one = name in named | known
        said = rf"{re.escape(name)}(?:'s)?"
        for match in re.finditer(rf"{_BEGIN}{said}{naming.to_version} ({naming.version}){_END}", line.line):
            sign = "desktop-version" if is_one else "version of a name"
            yield SaidName(name, line.version(match[1]), *match.span(), sign)
        for match in re.finditer(rf"{_BEGIN}{naming.before} {said}(?: desktop)?{_END}", line.line):
            yield SaidName(name, "", *match.span(), "desktop-name" if is_one else "name with a version")
