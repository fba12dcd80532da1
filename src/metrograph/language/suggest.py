"""Near misses: what a person probably meant by a word that is not known."""

from __future__ import annotations

from collections.abc import Iterable

_MOST, _LIKE = 3, 66
_BEHIND = 10  # a word that is much less like it than the best one is not named beside it


def suggest(word: str, known: Iterable[str]) -> str:
    """What could stand there: the known words most like this one, or all of them when none is like it.

    Returns ``screen``, ``ready or retry``, or ``one of pass, fail, partly, skipped``.
    """
    from rapidfuzz import fuzz, process  # loaded only when somebody has mistyped

    words = list(known)
    found = process.extract(word.lower(), words, scorer=fuzz.ratio, limit=_MOST, score_cutoff=_LIKE)
    near = [match for match, score, _ in found if score >= found[0][1] - _BEHIND]
    if near:
        return " or ".join(near)
    return f"one of {', '.join(words)}" if words else ""
