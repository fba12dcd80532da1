"""Reads what was said as a stream of words with their moments, from captions, recognisers' JSON or timed lines."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Sequence
from html import unescape
from typing import Any, TypeGuard

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.intake.timed_text import LEADING, TAG, TIME, CaptionBlock, caption_blocks, has_captions, text_of
from metrograph.log.quantities.times import milliseconds_of


class Word(msgspec.Struct, frozen=True, gc=False):
    """A word that was said.

    at: seconds from the beginning of the recording.
    text: as it was written, with what stands directly around it.
    pause: seconds of silence before it, as far as the captions tell.
    """

    at: float
    text: str
    pause: float = 0.0


_STAMP = re.compile(rf"<{TIME}>")
_DOCUMENT = re.compile(r"\s*(?:\{|\[\s*\{)")  # of JSON; a line may begin with a bracket too: [0:05]
_NOT_SAID = re.compile(r"\[[^\]]{0,40}\]|\([^)]{0,40}\)|♪+")  # [Music], (laughs)
_PER_SECOND = 2.6  # words that are said in a second where no more is known
_LONGEST = 86_400.0  # seconds of a talk
_APART = 2.0  # seconds between two blocks of which one cannot repeat the other: somebody says it again


class _Block(msgspec.Struct, frozen=True):
    """A block of captions: from when to when, and its words, each with its moment where the block tells it."""

    start: float
    end: float
    words: tuple[tuple[float | None, str], ...]


def read_words(data: bytes, name: str) -> list[Word]:
    """The words of a file of captions (WebVTT, SubRip), of a recogniser's JSON, or of lines with a leading time.

    Blocks that repeat what the block before said, as rolling captions do, say it once.

    Raises MetrographError when the file is too large, not UTF-8, or holds no moment.
    """
    text = text_of(data, name, "captions")
    lines = text.splitlines()
    if _DOCUMENT.match(text):
        blocks = list(_recognised(text, name))
    elif has_captions(lines):
        blocks = [_with_words(block) for block in caption_blocks(lines)]
    else:
        blocks = list(_lines(lines))
    if not blocks:
        raise MetrographError(f"{name} holds nothing that was said at a time; expected: captions, or lines with a time")
    last = max(block.start for block in blocks)
    if last > _LONGEST:
        raise MetrographError(
            f"{name} has something that was said after {last / 3600:.0f} hours; a talk has a day at most"
        )
    return _stream(_unrolled(sorted(blocks, key=lambda block: block.start)))


def _seconds(*groups: str | None) -> float:
    """Seconds from the four groups of ``TIME``."""
    return milliseconds_of(*groups) / 1000  # type: ignore[arg-type]


def _with_words(block: CaptionBlock) -> _Block:
    return _Block(block.at / 1000, block.end / 1000, tuple(_timed(" ".join(block.lines))))


def _timed(text: str) -> Iterator[tuple[float | None, str]]:
    """The words of a block, each with the moment that stands before it in the text."""
    at: float | None = None
    place = 0
    for stamp in [*_STAMP.finditer(text), None]:
        piece = text[place : stamp.start()] if stamp is not None else text[place:]
        plain = _NOT_SAID.sub(" ", unescape(TAG.sub("", piece)))
        for word in plain.split():
            yield at, word
            at = None
        if stamp is not None:
            at, place = _seconds(*stamp.groups()), stamp.end()


def _recognised(text: str, name: str) -> Iterator[_Block]:
    """The JSON of recognisers: segments with words, or words alone, each with a start and maybe an end."""
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise MetrographError(f"{name} cannot be read as JSON: {error}") from error
    found = document if isinstance(document, list) else document.get("segments", document.get("words", []))
    for each in found if isinstance(found, list) else []:
        if isinstance(each, dict):
            yield from _segment(each)


def _segment(each: dict[str, Any]) -> Iterator[_Block]:
    words = each.get("words")
    if isinstance(words, list):
        for word in words:
            if isinstance(word, dict):
                yield from _segment(word)
        return
    start = each.get("start", each.get("from"))
    said = each.get("text", each.get("word", ""))
    if _is_moment(start) and isinstance(said, str) and said.strip():
        end = each.get("end", each.get("to", start))
        yield _Block(float(start), float(end if _is_moment(end) else start), tuple(_timed(said)))


def _is_moment(value: object) -> TypeGuard[float]:
    """Whether a value of a document is a number of seconds; neither what is no number is one, nor a year of them."""
    return isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value <= _LONGEST


def _lines(lines: Sequence[str]) -> Iterator[_Block]:
    """Lines with a leading time, each up to the next."""
    found = [match for line in lines if (match := LEADING.fullmatch(line)) is not None]
    starts = [_seconds(*match.groups()[:4]) for match in found]
    for place, match in enumerate(found):
        words = tuple(_timed(match[5]))
        end = starts[place + 1] if place + 1 < len(starts) else starts[place] + len(words) / _PER_SECOND
        yield _Block(starts[place], max(end, starts[place]), words)


def _unrolled(blocks: Sequence[_Block]) -> Iterator[_Block]:
    """Blocks without what each repeats of the one before: its last words, where they are this one's first."""
    before: list[str] = []
    end = 0.0
    for block in blocks:
        if block.start - end > _APART:
            before = []
        end = max(end, block.end)
        said = [text for _, text in block.words]
        common = next((size for size in range(min(len(before), len(said)), 0, -1) if before[-size:] == said[:size]), 0)
        # Two words alike at a seam are a stammer as often as a repeat; a block that adds nothing is one, however short.
        if common and (common == len(said) or common > 2 or block.words[common][0] is not None):
            yield _Block(block.start, block.end, block.words[common:])
        else:
            yield block
        before = [*before, *said][-40:] if not common else [*before, *said[common:]][-40:]


def _stream(blocks: Iterator[_Block]) -> list[Word]:
    """All words in their order; one without a moment lies between its neighbours, by the letters that are said."""
    words: list[Word] = []
    last_end = 0.0
    for block in blocks:
        if not block.words:
            continue
        known = [block.start if place == 0 and at is None else at for place, (at, _) in enumerate(block.words)]
        letters = [len(text) + 1 for _, text in block.words]
        moments = _between(known, letters, max(block.end, block.start))
        for place, ((_, text), moment) in enumerate(zip(block.words, moments, strict=True)):
            at = max(min(moment, _LONGEST), words[-1].at if words else 0.0)  # what is said later is not earlier
            silent = at - last_end if place == 0 else 0.0
            words.append(Word(round(at, 3), text, round(max(silent, 0.0), 3)))
        last_end = max(block.end, moments[-1])
    return words


def _between(known: Sequence[float | None], letters: Sequence[int], end: float) -> list[float]:
    """Moments for all words of a block from those that are known."""
    moments: list[float] = []
    place = 0
    while place < len(known):
        start = known[place] if known[place] is not None else (moments[-1] if moments else end)
        after = next((at for at in range(place + 1, len(known)) if known[at] is not None), len(known))
        until = known[after] if after < len(known) and known[after] is not None else end
        span, total = max(float(until or 0) - float(start or 0), 0.0), sum(letters[place:after])
        passed = 0
        for at in range(place, after):
            moments.append(float(start or 0) + span * passed / total)
            passed += letters[at]
        place = after
    return moments
