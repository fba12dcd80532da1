"""Finds what was tried and how it went: what was tried by its words, how it went by what is said around them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

import msgspec

from metrograph.hearing.speech_patterns import Tried
from metrograph.hearing.stream.line_of_words import LineOfWords

_AHEAD, _BACK = 26, 7
"""Pieces behind the words of something, and before them, in which it is said how it went."""
_NEAR = (3, 8, 15, 26)


class Trial(msgspec.Struct, frozen=True):
    """Something that was tried. went: pass, partly or fail; start, end: where; clues: what speaks for it or against."""

    key: str
    went: str
    start: int
    end: int
    clues: frozenset[str]


def trials(line: LineOfWords, tried: Sequence[Tried], went: Sequence[tuple[str, re.Pattern[str]]]) -> Iterator[Trial]:
    """All that may have been tried, each time it is spoken of, up to where something else is."""
    spoken = sorted(
        (match.start(), match.end(), each.key) for each in tried for match in each.words.finditer(line.line)
    )
    for place, (start, end, key) in enumerate(spoken):
        others = [at for at, _, other in spoken[place + 1 :] if other != key]
        until = min(end + len(line.behind(end, _AHEAD)), others[0] if others else len(line.line))
        yield from _outcomes(line, (start, end, until), key, went)


def _outcomes(
    line: LineOfWords, span: tuple[int, int, int], key: str, went: Sequence[tuple[str, re.Pattern[str]]]
) -> Iterator[Trial]:
    start, end, until = span
    first = max(start - len(line.before(start, _BACK)), 0)
    found = []
    for name, words in went:
        ahead = words.search(line.line, end, until)
        behind = next(words.finditer(line.line, first, start), None) if ahead is None else None
        match = ahead or behind
        if match is not None:
            found.append((name, match, line.piece(match.start()) - line.piece(end - 1)))
    names = {name for name, _, _ in found}
    for name, match, far in found:
        nearest = all(abs(far) <= abs(other) for _, _, other in found)
        clues = {
            f"trial {name}", f"trial {key}", f"trial {name} {_how_far(far)}",
            f"{name} with {' '.join(sorted(names - {name})) or 'nothing'}",
            "the nearest outcome" if nearest else "another outcome is nearer",
        }  # fmt: skip
        yield Trial(key, name, min(start, match.start()), max(end, match.end()), frozenset(clues))


def _how_far(far: int) -> str:
    within = next((limit for limit in _NEAR if abs(far) <= limit), _NEAR[-1])
    return f"within {within} {'before' if far < 0 else 'behind'}"
