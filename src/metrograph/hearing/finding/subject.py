"""Finds what a talk is about: the system and its version, the desktop and its version, by how names are said."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from collections.abc import Set as AbstractSet

import msgspec

from metrograph.hearing.stream.line_of_words import LineOfWords
from metrograph.hearing.stream.programs import is_everyday

_OPENING = 90.0  # seconds in which somebody says what it is about
_ALWAYS = 0.8  # of the times that a name is said
_FEW = frozenset({"0", "1", "2"})
"""Numbers that are said of anything."""
_BEGIN, _NAME, _END = r"(?<![\w§])", r"[a-z]{4,}", r"(?![\w§])"
_VERSION = r"§n\d+(?: (?:point |dot )?(?:(?:er|uh|um) )?§n\d+){0,3}(?: beta)?"
_TO_A_VERSION = r"(?: (?:is|at|version|desktop|it's|now|in|the|session))*"
_NAMED = rf"{_BEGIN}(?:({_NAME}) desktop|desktop(?: \.)?(?: (?:is|it's|called|and it's))* ({_NAME})){_END}"
_BEFORE = (
    "it's", "with", "with the", "comes with", "and it's", "we have", "on the", "the", "into", "this is", "that was",
    "there's", "is", "has", "desktop", r"desktop \.",
)  # fmt: skip
_COMES_WITH = rf"(?:{'|'.join(_BEFORE)})"


class SaidName(msgspec.Struct, frozen=True):
    """A name that was said. version: said with it, or empty; start, end: where; sign: by what it is known."""

    name: str
    version: str
    start: int
    end: int
    sign: str


def find_system(line: LineOfWords, plain: AbstractSet[str]) -> SaidName | None:
    """The system that somebody begins with: of names that are said with a number, one that is said so often."""
    found = list(re.finditer(rf"{_BEGIN}({_NAME}) (§n\d+){_END}", line.line))
    pairs = [match for match in found if match[1] not in plain]
    names = [match[1] for match in pairs]
    begin = line.until(_OPENING)
    opening = [match for match in pairs if match.start() < begin]
    telling = [match for match in opening if line.version(match[2]) not in _FEW] or opening
    best = next((match for match in telling if names.count(match[1]) > 1), telling[0] if telling else None)
    if best is None:
        return None
    return SaidName(_whole_name(line.line, best[1]), line.version(best[2]), *best.span(), "system")


def _whole_name(line: str, name: str) -> str:
    """A name with the word that always stands before it: recognisers write one that they don't know as two."""
    before = Counter(re.findall(rf"{_BEGIN}(\w+) {re.escape(name)}(?!\w)", line))
    (word, count), *_ = before.most_common(1) or [("", 0)]
    joined = count > 1 and count >= _ALWAYS * sum(before.values()) and not is_everyday(word)
    return f"{word} {name}" if joined else name


def find_desktops(line: LineOfWords, plain: AbstractSet[str], known: AbstractSet[str]) -> Iterator[SaidName]:
    """The desktops that are named, alone and with their versions. known: names that may be one without more."""
    named = {name for match in re.finditer(_NAMED, line.line) for name in match.groups() if name}
    # Who talks of a desktop's version has said its name before, or says it again.
    with_version = {match[1] for match in re.finditer(rf"{_BEGIN}({_NAME})(?:'s)?(?: at)? §n\d+{_END}", line.line)}
    often = {name for name in with_version if len(re.findall(rf"{_BEGIN}{re.escape(name)}(?!\w)", line.line)) > 1}
    names = {name for name in named | often | known if name not in plain and not is_everyday(name)}
    for name in sorted(names):
        said = rf"{re.escape(name)}(?:'s)?"
        for match in re.finditer(rf"{_BEGIN}{said}{_TO_A_VERSION} ({_VERSION}){_END}", line.line):
            yield SaidName(
                name,
                line.version(match[1]),
                *match.span(),
                "desktop-version" if name in named | known else "version of a name",
            )
        for match in re.finditer(rf"{_BEGIN}{_COMES_WITH} {said}(?: desktop)?{_END}", line.line):
            yield SaidName(name, "", *match.span(), "desktop-name" if name in named | known else "name with a version")
