"""Finds lists of steps by what they say: a column of names for several things is no form and no list to pick from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from statistics import median

from metrograph.log.lexicon import OTHER
from metrograph.privacy.secrets import is_secret
from metrograph.watch.pages.page import Text, in_column

_STEPS = 4  # lines of a column that make it a list of steps
_KINDS = 3  # kinds of screens that its lines name: a form names one or two, languages and places none
_EVEN = 0.7  # of its distances are alike
_PITCH = 4  # pixels by which they may differ
_WORDS = 6  # a longer line is a sentence
_VALUES = 0.7  # of its lines have another right beside them: then they are labels with values, as overviews have them
_LEVEL = 3  # pixels by which a value may stand higher or lower than its label


def step_lines(lines: Sequence[Text], kind_of: Callable[[str], str]) -> set[Text]:
    """The lines of all lists of steps on a page."""
    found: set[Text] = set()
    wordy = [line for line in lines if line.mark is None and not line.field and line.text]
    for line in wordy:
        if line in found:
            continue
        column = in_column(line, wordy)
        if len(column) >= _STEPS and _names_steps(column, kind_of) and not _has_values(column, lines):
            found |= set(column)
    return found


def _names_steps(column: Sequence[Text], kind_of: Callable[[str], str]) -> bool:
    gaps = [after.top - before.top for before, after in pairwise(sorted(column, key=lambda line: line.top))]
    usual = median(gaps)
    even = sum(abs(gap - usual) <= _PITCH for gap in gaps) >= _EVEN * len(gaps)
    short = all(len(line.text.split()) <= _WORDS and ":" not in line.text for line in column)
    secret = any(is_secret(line.text) for line in column)
    return even and short and not secret and len({kind_of(line.text) for line in column} - {OTHER}) >= _KINDS


def _has_values(column: Sequence[Text], lines: Sequence[Text]) -> bool:
    beside = sum(
        any(other.left > line.right and abs(other.bottom - line.bottom) <= _LEVEL for other in lines) for line in column
    )
    return beside >= _VALUES * len(column)
