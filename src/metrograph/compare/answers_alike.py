"""Says when two answers, read from a picture, typed or told, are the same answer in another spelling."""

from __future__ import annotations

import locale
import re
from functools import lru_cache

from metrograph.log.escapes import split_list


def same_value(one: str, other: str) -> bool:
    """Whether two values are one: ticked lists are the same in any order, and capitals and signs say nothing."""
    if one[:1] in {"+", "-"} and other[:1] in {"+", "-"}:
        return {(each[:1], alike(each)) for each in split_list(one)} == {
            (each[:1], alike(each)) for each in split_list(other)
        }
    return one == other or alike(one) == alike(other)


@lru_cache(4096)
def alike(value: str) -> str:
    """A value as all its spellings have it: ``Before updates`` and ``before updates``, ``en_GB`` and ``English (UK)``.

    Names of languages and their codes are those of the standard library's table of locale aliases.
    """
    words = re.sub(r"[\W_]+", "_", value.casefold()).strip("_")
    known = locale.normalize(words)
    return known.partition(".")[0].casefold() if known.partition(".")[0] != words else words or value
