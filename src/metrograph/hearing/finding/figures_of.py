"""Says what each figure may be of: by the words that speak of it around, how near they are, and how large it is."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterator, Sequence

import msgspec

from metrograph.hearing.speech_patterns import FigureTopic
from metrograph.hearing.statements import BYTES
from metrograph.hearing.stream.line_of_words import LineOfWords
from metrograph.hearing.stream.said_figures import SaidFigure, bare_size

_FAR_BEFORE, _FAR_BEHIND = 40, 8
"""Pieces before and behind a figure in which somebody speaks of what it is of."""
_NEAR = (1, 3, 7, 15, 40)
_CLOSE, _CLOSE_BEHIND = 7, 2  # pieces before and behind a figure in which a word speaks of it for sure


class FigureOf(msgspec.Struct, frozen=True):
    """What a figure may be of. start, end: where it is said; clues: what speaks for and against it."""

    topic: FigureTopic
    value: str
    start: int
    end: int
    clues: frozenset[str]


def figures_of(line: LineOfWords, topics: Sequence[FigureTopic], slot_of: Callable[[int], str]) -> Iterator[FigureOf]:
    """All that the figures of a line may be of. slot_of: where in the job a place in the line is."""
    spoken = [
        _Places(sorted({line.piece(match.end() - 1) for match in each.words.finditer(line.line)})) for each in topics
    ]
    last: dict[str, int] = {}
    for number, (start, end) in enumerate(line.figure_spans):
        if not line.is_said(start):
            continue
        figure, piece = line.figures[number], line.piece(start)
        between = last.get(figure.kind, -1)
        last[figure.kind] = piece
        near = {place: spoken[place].distance(piece) for place, topic in enumerate(topics) if figure.kind in topic.of}
        nearest = min((far for far in near.values() if far is not None), default=None, key=abs)
        slot = slot_of(end)
        for place, far in near.items():
            topic = topics[place]
            value = _value(figure, topic.key)
            if value is not None and (far is not None or figure.kind != "n"):
                held = {"usual size": _is_usual(value, topic), "in place": slot in topic.slots} | _words_near(
                    far, nearest
                )
                clues = {name for name, holds in held.items() if holds}
                clues |= {f"{len(clues)} speak for it", f"{topic.key} {len(clues)} for it", f"figure by {figure.kind}"}
                clues |= {f"word {_how_far(far)}"} if far is not None else {"without a word"}
                clues |= {"another figure between"} if far is not None and far < 0 and piece + far < between else set()
                yield FigureOf(topic, value, start, end, frozenset(clues))


def _words_near(far: int | None, nearest: int | None) -> dict[str, bool]:
    """Whether a word that speaks of something is near a figure, and nearer than those of all else."""
    return {
        "a word is near": far is not None and -_CLOSE <= far <= _CLOSE_BEHIND,
        "the nearest word": far is not None and far == nearest,
    }


class _Places:
    """The pieces of a line in which somebody speaks of something."""

    def __init__(self, pieces: Sequence[int]) -> None:
        self._pieces = pieces

    def distance(self, piece: int) -> int | None:
        """How far the nearest of them is, less than nought before; None where all are too far."""
        place = bisect_left(self._pieces, piece)
        before = self._pieces[place - 1] - piece if place else -_FAR_BEFORE - 1
        behind = self._pieces[place] - piece if place < len(self._pieces) else _FAR_BEHIND + 1
        near = [far for far in (before, behind) if -_FAR_BEFORE <= far <= _FAR_BEHIND]
        return min(near, key=abs, default=None)


def _value(figure: SaidFigure, key: str) -> str | None:
    return bare_size(figure.value) if figure.kind == "n" and key in BYTES else figure.value


def _is_usual(value: str, topic: FigureTopic) -> bool:
    low, high = topic.usual
    return low <= float(value.lstrip("~<>").partition("..")[0]) <= high


def _how_far(far: int) -> str:
    within = next(limit for limit in _NEAR if abs(far) <= limit)
    return f"within {within} {'before' if far < 0 else 'behind'}"
