"""Knows all words that installers use, in every language: what is none of them may be somebody's."""

from __future__ import annotations

from functools import cache

from metrograph.languages.language_tables import tables
from metrograph.watch.reading.words import words_in


@cache
def _vocabulary() -> frozenset[str]:
    """All words that installers are known to use, in every language."""
    return frozenset(word for kind in ("kinds", "screens", "private") for word in words_in(tables(kind)))


@cache
def is_known(word: str) -> bool:
    """Whether a word in small letters is one that installers use, or begins like one of five letters or more."""
    vocabulary = _vocabulary()
    return word in vocabulary or any(word[:length] in vocabulary for length in range(5, len(word)))
