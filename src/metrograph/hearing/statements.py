"""The record of what was said: one statement, where in the job it is, of whom, and how sure."""

from __future__ import annotations

import msgspec

THIS = "this"
"""The release that is reviewed, among those that something may be said of."""

BYTES = frozenset(
    {"memory", "disk-used", "disk-free", "update-size", "image-size", "download-size", "needs-memory", "needs-disk"}
)
"""What is said in bytes."""

EARLIER = "before"
"""A release before it that is not named."""

IN_WORDS = frozenset({"issue", "verdict", "todo", "wish"})
"""Kinds that are told in the words that were said."""


class Statement(msgspec.Struct, frozen=True):
    """Something that was said.

    at: seconds, of the last word that states it.
    kind, key, value: what it is; see docs/hearing.md. value: in bytes, seconds, a count or a fraction where it is one.
    about: ``this``, or the release that it is said of.
    slot: where in the job; one of ``SLOTS``.
    sure: from 0 to 1.
    said: the words that it rests on, a dozen at most.
    than: the release that a comparison is held against; empty where it is not named.
    clues: what speaks for and against it, by name; what ``sure`` is learnt from.
    """

    at: float
    kind: str
    key: str
    value: str
    about: str
    slot: str
    sure: float = 0.5
    said: str = ""
    clues: frozenset[str] = frozenset()
    than: str = ""
