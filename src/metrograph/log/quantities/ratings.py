"""Reads what somebody thinks of a thing: in words, as a share, in stars, in per cent."""

from __future__ import annotations

import re

import msgspec

from metrograph.log.quantities.quantity import parse_share

RATING_WORDS = ("awful", "poor", "fair", "good", "very good", "excellent")
"""The words of a rating, the worst first."""


class RatingSaid(msgspec.Struct, frozen=True):
    """A rating: so many of so many.

    in_words: whether it was a word, whose place among ``RATING_WORDS`` is then the part. Words are held against words
        alone: nobody knows how many stars a “good” is.
    """

    part: float
    whole: float
    in_words: bool = False


def parse_rating(text: str) -> RatingSaid | None:
    """A rating such as ``good``, ``7 of 10``, ``7``, ``4 stars`` or ``80 %``; None where it is none."""
    plain = " ".join(text.casefold().replace("-", " ").split())
    if plain in RATING_WORDS:
        return RatingSaid(float(RATING_WORDS.index(plain) + 1), float(len(RATING_WORDS)), in_words=True)
    starred = re.fullmatch(r"(.+?) stars?(?: (?:of|out of) ([0-9]{1,2}))?", plain)
    if starred is not None:
        return _rating(starred[1] if " of " in starred[1] else f"{starred[1]} of {starred[2] or 5}")
    if shared := re.fullmatch(r"(.+?) ?%", plain):
        return _rating(f"{shared[1]} of 100")
    return _rating(plain) or _rating(f"{plain} of 10")


def _rating(text: str) -> RatingSaid | None:
    share = parse_share(text)
    return None if share is None else RatingSaid(share.part, share.whole)


def rating_in_words(part: float) -> str:
    """The word that stands at a place among ``RATING_WORDS``, from 1; between two, both."""
    below, above = int(part), -int(-part // 1)
    words = dict.fromkeys(RATING_WORDS[min(max(place, 1), len(RATING_WORDS)) - 1] for place in (below, above))
    return " to ".join(words)
