"""Finds what a page asks below its heading: several screens may stand under one heading, and differ in this alone."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.watch.pages.page import Text
from metrograph.watch.pages.sameness import says_the_same
from metrograph.watch.reading.words import plain
from metrograph.watch.screens.titles import in_list

ASKS = ("?", "？", ";")
"""What questions end with; the last is Greek."""
_LEADS = (":", "：")
_LONGEST = 100  # characters: what is longer explains
_WORDS = 6  # a first line of so many, without a full stop, names what is asked for
_SENTENCE = 4  # words of the shortest sentence that counts
_STOPS = (".", "。", "!", "…")
_ALIKE = 88  # of 100: “mirror” and “mirror country” are two questions


def question_of(lines: Sequence[Text], title: Text | None) -> str:
    """What is asked on a page; nothing where no line asks.

    lines: what is the page's own, from top to bottom; title: its heading.
    """
    below = [line for line in lines if _may_ask(line, title, lines)]
    asks = [line for line in below if line.text.endswith(ASKS)]
    leads = [line for line in below if line.text.endswith(_LEADS)]
    if asks:
        return asks[-1].text
    # Several lines that end in a colon are labels of fields, and none of them is what the page is about.
    if len(leads) == 1:
        return leads[0].text
    first = next((line for line in below if not in_list(line, lines)), None)
    if first is None or first.text.endswith((*_STOPS, *_LEADS)) or len(first.text.split()) > _WORDS:
        return ""
    return first.text


def said_below(lines: Sequence[Text], title: Text | None) -> str:
    """What is asked on a page, or where nothing is, the first sentence below its heading."""
    below = (line for line in lines if title is None or line.top > title.top + title.height // 2)
    wordy = [line for line in below if len(plain(line.text).split()) >= _SENTENCE and not line.button]
    return question_of(lines, title) or next((line.text for line in sorted(wordy, key=lambda line: line.top)), "")


def same_question(one: str, other: str) -> bool:
    """Whether two questions are one: as many words, hardly a letter differing."""
    return len(plain(one).split()) == len(plain(other).split()) and says_the_same(one, other, _ALIKE)


def _may_ask(line: Text, title: Text | None, lines: Sequence[Text]) -> bool:
    if line.button or line.mark or line.field or len(line.text) > _LONGEST or len(plain(line.text)) < 2:
        return False
    if title is not None and (line.top <= title.top or line.text == title.text):
        return False
    return line.text.endswith((*ASKS, *_LEADS)) or not in_list(line, lines)
