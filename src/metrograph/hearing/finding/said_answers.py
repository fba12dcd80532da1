"""Finds the answers that somebody gives to an installer: what was asked, what was said to it, and who said it first."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from itertools import groupby

import msgspec

from metrograph.hearing.speech_patterns import AnswerWords, InstallerQuestion
from metrograph.hearing.stream.line_of_words import LineOfWords

_REACH = 26  # pieces behind the words of a question in which it is answered


class Answer(msgspec.Struct, frozen=True):
    """An answer. kind: ``choose`` or ``keep``; sign: by what that is known; start, end: where it is said."""

    kind: str
    key: str
    value: str
    sign: str
    start: int
    end: int


def answers(line: LineOfWords, questions: Sequence[InstallerQuestion], words: AnswerWords) -> Iterator[Answer]:
    """The answers in a line; the words behind a question answer it, up to those of the next."""
    asked = sorted(
        (match.span(), place) for place, question in enumerate(questions) for match in question.asks.finditer(line.line)
    )
    runs = [[span for span, _ in found] for _, found in groupby(asked, key=lambda each: each[1])]
    named = [questions[place] for place, _ in groupby(place for _, place in asked)]
    for question, spans, after in zip(named, runs, [*runs[1:], [(len(line.line), 0)]][: len(runs)], strict=True):
        until = min(after[0][0], spans[-1][1] + len(line.behind(spans[-1][1], _REACH)))
        answer = _answer(line.line, (spans[0][0], spans[0][1], until), question, words)
        if answer is not None:
            yield answer


def _answer(line: str, span: tuple[int, int, int], question: InstallerQuestion, words: AnswerWords) -> Answer | None:
    start, asked, until = span
    kept = _last(words.kept, line, asked, until)
    chosen = _last(words.chosen, line, asked, until)
    value = _value(line, asked, until, question, words, chosen)
    if value is None:
        return None
    said, end = value
    if not kept and not chosen:
        # Who only says no leaves a box as it was.
        kind, sign = ("keep" if said == question.off else "choose"), "bare"
    else:
        kind, sign = ("keep", "kept") if kept and (not chosen or kept[0] > chosen[0]) else ("choose", "chosen")
    ends = [found[1] for found in (kept, chosen) if found]
    return Answer(kind, question.key, said, sign, start, max([end, *ends]))


def _value(
    line: str, start: int, until: int, question: InstallerQuestion, words: AnswerWords, chosen: tuple[int, int] | None
) -> tuple[str, int] | None:
    """What was answered, and where that ends: behind what says that it was chosen, or else the last of all."""
    if question.values is None:
        for said, pattern in ((question.off, words.off), ("on", words.on)):
            found = _last(pattern, line, start, until)
            if found:
                return said, found[1]
        return None
    found_all = list(question.values.finditer(line, start, until))
    if not found_all:
        return None
    behind = [match for match in found_all if chosen and match.start() >= chosen[1]]
    match = (behind or found_all[::-1])[0]
    return match[0], match.end()


def _last(pattern: re.Pattern[str], line: str, start: int, until: int) -> tuple[int, int] | None:
    spans = [match.span() for match in pattern.finditer(line, start, until)]
    return spans[-1] if spans else None
