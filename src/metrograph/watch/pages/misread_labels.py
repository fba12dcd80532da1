"""Knows a label of something private though letters of it were misread: else what stands beside it might pass."""

from __future__ import annotations

from collections import defaultdict
from functools import cache

from rapidfuzz import fuzz, process

from metrograph.languages.language_tables import words_of
from metrograph.watch.reading.words import plain, without_accents

_READ_WRONGLY = 7  # letters of a label that is known again with one or two of them misread
_ALIKE = 85  # of 100: a letter of seven
_RUNS_TOGETHER = (("rn", "m"), ("vv", "w"), ("cl", "d"), ("|", "l"), ("1", "l"), ("0", "o"))  # letters read as others


@cache
def reads_like_label(text: str) -> bool:
    """Whether a line holds the name of something private with a letter or two misread, as in a language not read."""
    words = _as_seen(text).split()
    for count, labels in _labels_as_seen().items():
        for start in range(len(words) - count + 1):
            said = " ".join(words[start : start + count])
            if said in labels:
                return True
            if len(said) < _READ_WRONGLY:
                continue
            if process.extractOne(said, labels, scorer=fuzz.ratio, score_cutoff=_ALIKE):
                return True
    return False


@cache
def _labels_as_seen() -> dict[int, tuple[str, ...]]:
    """All names of what tells who and where, and of secrets, as a reader may see them, by their number of words.

    What is a label as a whole line only, = before it, is left out: misread, it would be any word.
    """
    found: defaultdict[int, list[str]] = defaultdict(list)
    for word in (*words_of("private", "personal"), *words_of("private", "secret")):
        seen = "" if word.startswith("=") else _as_seen(word)
        if len(seen) >= _READ_WRONGLY - 1:  # two letters may have been read as one
            found[len(seen.split())].append(seen)
    return {count: tuple(dict.fromkeys(words)) for count, words in found.items()}


def _as_seen(text: str) -> str:
    """The words of a line without accents, and with one sign for letters that look like others."""
    said = plain(without_accents(text))
    for letters, sign in _RUNS_TOGETHER:
        said = said.replace(letters, sign)
    return said
