"""Near misses: what a person probably meant by a word that is not known."""

from __future__ import annotations

from collections.abc import Iterable


def suggest(word: str, known: Iterable[str]) -> str:
    """What could stand there: the known words most like this one, or all of them when none is like it.

    Returns ``screen``, ``ready or retry``, or ``one of pass, fail, partly, skipped``.
    """
    from difflib import get_close_matches  # loaded only when somebody has mistyped

    words = list(known)
    near = get_close_matches(word.lower(), words, n=3, cutoff=0.6)
    if near:
        return " or ".join(near)
    return f"one of {', '.join(words)}" if words else ""
